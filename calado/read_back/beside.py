"""What a clip that was written carries beside picture and sound, against its source: subtitles, chapters, timecode.

They go along as they stand, and may name what is covered, so that they are there is said.
"""

from collections.abc import Iterator, Sequence
from fractions import Fraction
from pathlib import Path

from av.container import InputContainer

from calado.clip_chunks import Take
from calado.media.clips.facts import ClipFacts
from calado.media.clips.side import begin_of, chapters, opened
from calado.media.clips.timecode import advanced
from calado.media.clips.weave import Heard

#: seconds by which what is shown may come earlier or later than in the source: containers count in thousandths
APART = Fraction(1, 200)
#: when a line or a chapter begins and ends in seconds, None: with the next, and what it says
Shown = tuple[Fraction, Fraction | None, bytes]


def differs_beside(takes: Sequence[Take], path: Path, written: ClipFacts) -> Iterator[str]:
    """Yield in what subtitles, chapters or timecode of a file are not those of the clips it was written of."""
    came = takes[0].facts
    code = advanced(came.timecode, takes[0].range[0], came.rate)
    if written.timecode not in ("", code):
        yield f"Its timecode begins at {written.timecode}, that of its source at {code or 'nothing'}."
    with opened(str(path)) as made:
        lines, parts = _subtitles(made, Fraction(0), None), _chapters(made, Fraction(0), None)
    source: tuple[list[list[Shown]], list[Shown]] = ([], [])
    if len(takes) == 1:
        start, end = Heard(takes[0].path, came, takes[0].range).seconds
        with opened(str(takes[0].path)) as file:
            source = _subtitles(file, start, end), _chapters(file, start, end)
    # a kind of file that holds no subtitles has none, which was said when it was written
    if any(all(not _alike(track, other) for other in source[0]) for track in lines):
        yield "Its subtitles are not those of its source."
    if parts and not _alike(parts, source[1]):
        yield "Its chapters are not those of its source."


def carried_beside(path: Path) -> str:
    """Return a sentence on the subtitles and chapters that a file has, or none."""
    with opened(str(path)) as made:
        lines, parts = len(made.streams.subtitles), len(made.chapters())
    many = [
        f"{count} {word}{'s' * (count > 1)}" for count, word in ((lines, "subtitle track"), (parts, "chapter")) if count
    ]
    return f"It carries {' and '.join(many)} of its source, words and all." if many else ""


def _subtitles(file: InputContainer, start: Fraction, end: Fraction | None) -> list[list[Shown]]:
    """Return what each track of subtitles shows within a range of seconds, which becomes 0 on."""
    tracks: dict[int, list[Shown]] = {track.index: [] for track in file.streams.subtitles}
    begins = begin_of(file)
    for packet in file.demux(list(file.streams.subtitles)) if tracks else ():
        if packet.size == 0 or packet.pts is None:
            continue
        at = packet.pts * Fraction(packet.time_base) - begins - start
        until = at + packet.duration * Fraction(packet.time_base) if packet.duration else None
        if (end is None or at < end - start) and (until is None or until > 0):
            last = until if until is None or end is None else min(until, end - start)
            tracks[packet.stream.index].append((max(at, Fraction(0)), last, bytes(packet)))
    return list(tracks.values())


def _chapters(file: InputContainer, start: Fraction, end: Fraction | None) -> list[Shown]:
    whole = end if end is not None else start + 10**9
    return [
        (
            each["start"] * each["time_base"],
            each["end"] * each["time_base"],
            each["metadata"].get("title", "").encode(),
        )
        for each in chapters(file, start, whole)
        if each["time_base"] is not None
    ]


def _alike(one: list[Shown], other: list[Shown]) -> bool:
    return len(one) == len(other) and all(map(_same, one, other))


def _same(one: Shown, other: Shown) -> bool:
    ends = one[1] is None or other[1] is None or abs(one[1] - other[1]) <= APART
    return one[2] == other[2] and abs(one[0] - other[0]) <= APART and ends
