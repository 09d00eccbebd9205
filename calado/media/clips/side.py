"""What goes along beside picture and sound: subtitles by their packets, and chapters."""

from collections.abc import Iterator
from fractions import Fraction
from typing import TYPE_CHECKING, Any

import av
from av.container import InputContainer, OutputContainer
from av.packet import Packet

if TYPE_CHECKING:
    from av.container.core import Chapter


def opened(path: str) -> InputContainer:
    """Open a file that may be hostile; no other file is opened through it."""
    return av.open(path, options={"protocol_whitelist": "file"}, metadata_errors="replace")


def begin_of(source: InputContainer) -> Fraction:
    """Return when the pictures begin, in seconds of the file's own time."""
    stream = source.streams.video[0]
    return (stream.start_time or 0) * Fraction(stream.time_base or 1)


def subtitles(
    source: InputContainer, made: OutputContainer, start: Fraction, end: Fraction
) -> tuple[Iterator[Packet], str]:
    """Return the packets of all subtitles that a container takes, from ``start`` to ``end`` seconds, which become 0 on.

    What it does not take is left out and named in the sentence that comes with them.
    """
    into: dict[int, Any] = {}
    left: set[str] = set()
    for track in source.streams.subtitles:
        try:
            into[track.index] = made.add_stream_from_template(track)
            if track.language:
                into[track.index].metadata["language"] = track.language
        except ValueError:
            left.add(track.codec_context.name if track.codec_context else "of an unknown kind")
    said = f"Its subtitles ({', '.join(sorted(left))}) were left out: this kind of file does not hold them."
    return _within(source, into, start, end), said if left else ""


def _within(source: InputContainer, into: dict[int, Any], start: Fraction, end: Fraction) -> Iterator[Packet]:
    """Return packets that are shown within a range, cut to it and moved so that it begins at 0."""
    begins = begin_of(source)
    start, end = start + begins, end + begins
    tracks = [track for track in source.streams.subtitles if track.index in into]
    # asked for no track, the library gives the packets of all
    for packet in source.demux(tracks) if tracks else ():
        tick = Fraction(packet.time_base)
        if packet.size == 0 or packet.pts is None or packet.pts * tick >= end:
            continue
        length = packet.duration or 0
        first, last = max(packet.pts * tick, start), min((packet.pts + length) * tick, end)
        # one without a length stays until the next
        if length and last <= start:
            continue
        packet.pts = packet.dts = round((first - start) / tick)
        packet.duration = round((last - first) / tick) if length else 0
        packet.stream = into[packet.stream.index]
        yield packet


def chapters(source: InputContainer, start: Fraction, end: Fraction) -> "list[Chapter]":
    """Return the chapters that lie within ``start`` to ``end`` seconds, cut to them, as a container takes them."""
    begins = begin_of(source)
    found: list[Chapter] = []
    for each in source.chapters():
        tick = each["time_base"] or Fraction(1, 1000)
        first = max(each["start"] * tick - begins, start) - start
        last = min(each["end"] * tick - begins, end) - start
        if last > first:
            found.append(
                {
                    "id": len(found) + 1,
                    "start": round(first * 1000),
                    "end": round(last * 1000),
                    "time_base": Fraction(1, 1000),
                    "metadata": dict(each["metadata"]),
                }
            )
    return found
