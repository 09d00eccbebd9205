"""The index of a clip: which frames are shown, in order, and from where each can be reached.

It comes from the packets, without decoding: what the file's edit list hides is left out, and what its decoder never
gives before the first picture. A file whose packets do not tell (no times, or the same twice, or a container whose
times are not those of its pictures) is indexed by decoding it once from end to end, and read in that order.
"""

from bisect import bisect_right
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

import av
from av.container import InputContainer
from av.error import FFmpegError
from av.video.stream import VideoStream

from calado.errors import MediaError
from calado.media.clips.opening import decoder_of, open_container, picture_stream

MAX_FRAMES = 1_000_000
#: containers whose packet times are those of the pictures, and in which a seek lands where it says
STEADY = ("mov", "matroska", "webm", "mp4")
#: at the start so many pictures are decoded, to see which of those that are announced never come
FIRST = 8
#: after so many packets it is told how far the reading is
EVERY = 250

Told = Callable[[float], None]


def silent(share: float) -> None:
    """Hear how far something is, and do nothing."""


@dataclass(frozen=True)
class Key:
    """A picture that stands by itself: its time, and its place in the order of decoding."""

    pts: int
    order: int


@dataclass(frozen=True)
class Index:
    """``pts`` of the shown frames in order; ``order`` of each in the file; ``linear``: to be read from the start."""

    pts: tuple[int, ...]
    order: tuple[int, ...]
    keys: tuple[Key, ...]
    linear: bool

    def number(self, pts: int) -> int | None:
        """Return the number of the frame shown at a time, or None."""
        at = bisect_right(self.pts, pts) - 1
        return at if at >= 0 and self.pts[at] == pts else None

    def before(self, frame: int) -> list[Key]:
        """Return the keys from which a frame can be reached, the nearest first."""
        return [key for key in reversed(self.keys) if key.pts <= self.pts[frame] and key.order <= self.order[frame]]


def index_of(path: Path, told: Told = silent) -> Index:
    """Return the index of a clip; ``told(share)`` hears how much of the file was read, 0…1.

    Raises
    ------
    MediaError
        when it shows no frame.
    """
    with open_container(path) as container:
        stream = picture_stream(container)
        found = _told(container, stream, told)
        came = _first_pictures(container, stream) if found else []
    # pictures that come in another order than their times say have the times of others
    if found is None or came != sorted(came):
        with open_container(path) as container:  # not every file can be wound back
            return _linear(container, picture_stream(container), told)
    seen, keys = found
    if came:
        # between the first and the last picture that came, what is announced and did not come never does
        last = max(came)
        seen = [each for each in seen if each[0] in came or each[0] > last]
    if not seen:
        raise MediaError("No frame of this clip can be read.", code="media.empty")
    pts, order_of = zip(*seen, strict=True)
    return Index(pts, order_of, tuple(keys), linear=False)


def _told(container: InputContainer, stream: VideoStream, told: Told) -> tuple[list[tuple[int, int]], list[Key]] | None:
    """Return times and places of the shown pictures, by time, and the keys, or None where packets do not tell."""
    seen: list[tuple[int, int]] = []
    keys: list[Key] = []
    for order, packet in enumerate(_packets(container, stream)):
        _tell(container, packet, order, told)
        if packet.is_discard or packet.size == 0:
            continue
        if packet.pts is None:
            return None
        seen.append((packet.pts, order))
        if packet.is_keyframe:
            keys.append(Key(packet.pts, order))
        _refuse_endless(len(seen))
    # where each picture stands by itself a seek cannot land on half of what it needs
    steady = container.format.name.split(",")[0] in STEADY or len(keys) == len(seen)
    if not steady or not keys or len({pts for pts, _ in seen}) < len(seen):
        return None
    return sorted(seen), keys


def _tell(container: InputContainer, packet: av.Packet, order: int, told: Told) -> None:
    if order % EVERY == 0 and packet.pos is not None and container.size > 0:
        told(min(packet.pos / container.size, 1.0))


def _refuse_endless(count: int) -> None:
    if count > MAX_FRAMES:
        raise MediaError(f"A clip of more than {MAX_FRAMES:,} frames is not taken. Cut it.", code="media.long")


def _packets(container: InputContainer, stream: VideoStream) -> Iterable[av.Packet]:
    """Return the packets, as far as they can be read."""
    try:
        yield from container.demux(stream)
    except FFmpegError:
        return


def _first_pictures(container: InputContainer, stream: VideoStream) -> list[int]:
    container.seek(stream.start_time or 0, stream=stream, backward=True)
    context = decoder_of(stream)
    came: list[int] = []
    for packet in _packets(container, stream):
        try:
            came += [frame.pts for frame in context.decode(packet) if frame.pts is not None]
        except FFmpegError:
            continue
        if len(came) >= FIRST:
            break
    return came


def _linear(container: InputContainer, stream: VideoStream, told: Told) -> Index:
    """Return the index of what comes when all is decoded; times that are missing or go back are counted instead."""
    times: list[int] = []
    context = decoder_of(stream)
    for order, packet in enumerate(_packets(container, stream)):
        _tell(container, packet, order, told)
        try:
            decoded = context.decode(packet)
        except FFmpegError:
            continue
        for frame in decoded:
            if frame.pts is None or (times and frame.pts <= times[-1]):
                times.append(times[-1] + 1 if times else 0)
            else:
                times.append(frame.pts)
        _refuse_endless(len(times))
    if not times:
        raise MediaError("No frame of this clip can be read.", code="media.empty")
    return Index(tuple(times), tuple(range(len(times))), (), linear=True)
