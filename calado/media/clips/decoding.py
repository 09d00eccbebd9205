"""Decoding a clip: frame n, exactly, whatever stands between the keyframes.

This runs in a process of its own (:mod:`calado.media.clips.child`), since the file may be hostile. A seek is verified:
it must land on a known keyframe, not later than the one meant, and the first picture out must not be past the one
wanted; else one keyframe back, at last from the start. What was decoded on the way is kept, bounded in bytes, so that
going back in a clip of a single keyframe costs nothing.
"""

from collections import OrderedDict
from collections.abc import Callable, Iterator, Mapping
from contextlib import suppress
from fractions import Fraction
from itertools import chain
from pathlib import Path
from typing import Any

import av
import numpy as np
from av.container import InputContainer
from av.error import FFmpegError
from av.video.frame import VideoFrame

from calado.errors import MediaError
from calado.media.clips.facts import ClipFacts, SoundTrack, rate_of
from calado.media.clips.index import Index, index_of, silent
from calado.media.clips.mastering import mastering_of
from calado.media.clips.opening import PLANAR, decoder_of, layout_of, open_container, picture_stream
from calado.media.clips.planes import CodePlane, Picture
from calado.media.clips.tags import Told, said_of, tags_of
from calado.media.clips.wrap import place_of, wrapped


class Decoder:
    """An open clip, read by one at a time.

    Raises
    ------
    MediaError
        with a sentence, when it cannot be read.
    """

    #: what is kept of decoded frames; of a clip that is only gone through, and at least so many frames
    KEPT_BYTES, PASSING_BYTES, LEAST = 320 * 2**20, 48 * 2**20, 3

    def __init__(self, path: Path, told: Callable[[float], None] = silent) -> None:
        self._copy = wrapped(path, lambda share: told(share / 2))
        #: what is read: the file, or its pictures wrapped anew
        self._path = path if self._copy is None else place_of(self._copy)
        self.index: Index = index_of(self._path, told if self._copy is None else lambda share: told((1 + share) / 2))
        self._container = open_container(self._path)
        self._stream = picture_stream(self._container)
        self._context = decoder_of(self._stream)
        self._kept: OrderedDict[int, Picture] = OrderedDict()
        self._bytes = 0
        #: whether frames are asked for in their order, once each
        self.onward = False
        self._coming: Iterator[tuple[int, VideoFrame]] = iter(())
        self._at = -1
        self.shape = (0, 0)
        first = self._first()
        self._layout = layout_of(first.format, sited_top=int(first.color_primaries) == 9)
        with open_container(path) as told_by:
            self.facts = self._facts(first, told_by)

    def picture(self, frame: int) -> Picture:
        """Return the planes of frame ``frame``, as stored.

        Raises
        ------
        MediaError
            when there is no such frame.
        """
        if not 0 <= frame < len(self.index.pts):
            raise MediaError(f"This clip has frames 0 to {len(self.index.pts) - 1}, got {frame}.", code="media.frame")
        if frame in self._kept:
            self._kept.move_to_end(frame)
            return self._kept[frame]
        if not (self._at < frame and self._near(frame)):
            self._seek(frame)
        found = self._take(frame)
        if found is None:
            # nothing comes from here: damaged, or its keyframe is none; from the start all that can come does
            self._begin()
            found = self._take(frame)
        if found is None:
            found = self._neighbour(frame)
        return found

    def _near(self, frame: int) -> bool:
        """Return whether going on from here is as quick as seeking."""
        if self.index.linear:
            return True
        keys = self.index.before(frame)
        return not keys or (0 <= self._at < len(self.index.pts) and keys[0].pts <= self.index.pts[self._at])

    def _seek(self, frame: int) -> None:
        keys = self.index.before(frame)
        for key in keys[:2]:
            if self._from(key.pts, key.order, frame):
                return
        self._begin()

    def _from(self, pts: int, order: int, frame: int) -> bool:
        """Begin at a keyframe; return whether the frame wanted can still come."""
        try:
            self._container.seek(pts, stream=self._stream, backward=True, any_frame=False)
        except FFmpegError:
            return False
        self._context.flush_buffers()
        packets = self._packets()
        first = next(packets, None)
        known = {key.pts: key.order for key in self.index.keys}
        if first is None or first.pts not in known or known[first.pts] > order:
            return False
        self._coming = self._decoded(packets, first)
        number, picture = next(self._coming, (len(self.index.pts), None))
        if picture is None or number > frame:
            return False
        self._keep(number, picture)
        self._at = number
        return True

    def _begin(self) -> None:
        self._container.close()
        self._container = open_container(self._path)
        self._stream = picture_stream(self._container)
        self._context = decoder_of(self._stream)
        self._coming, self._at = self._decoded(self._packets()), -1

    def _packets(self) -> Iterator[av.Packet]:
        with suppress(FFmpegError):
            yield from self._container.demux(self._stream)

    def _decoded(
        self, packets: Iterator[av.Packet], first: av.Packet | None = None
    ) -> Iterator[tuple[int, VideoFrame]]:
        """Return the frames that come, each with its number; what the index does not hold is passed over."""
        count = -1
        for packet in packets if first is None else chain((first,), packets):
            if self.index.linear:
                for frame in self._pictures(packet):
                    count += 1
                    yield count, frame
            else:
                yield from self._numbered(self._pictures(packet))

    def _numbered(self, frames: list[VideoFrame]) -> Iterator[tuple[int, VideoFrame]]:
        for frame in frames:
            number = None if frame.pts is None else self.index.number(frame.pts)
            if number is not None:
                yield number, frame

    def _pictures(self, packet: av.Packet) -> list[VideoFrame]:
        try:
            return list(self._context.decode(packet))
        except FFmpegError:  # one damaged packet: what follows may still come
            return []

    def _take(self, frame: int) -> Picture | None:
        """Return a frame from what comes, keeping what comes before it."""
        if frame in self._kept:
            return self._kept[frame]
        for number, picture in self._coming:
            self._at = number
            kept = self._keep(number, picture)
            if number == frame:
                return kept
            if number > frame:
                return None
        self._at = len(self.index.pts)
        return None

    def _neighbour(self, frame: int) -> Picture:
        """Return what a player would show where a frame cannot be decoded: the one before it, or the one after."""
        for number in (*range(frame - 1, max(frame - 240, -1), -1), *range(frame + 1, frame + 240)):
            if number in self._kept:
                return self._kept[number]
        raise MediaError(f"Frame {frame} of this clip is damaged.", code="media.damaged")

    def _keep(self, number: int, frame: VideoFrame) -> Picture:
        picture = self._planes_of(frame)
        self._kept.pop(number, None)
        self._kept[number] = picture
        self._bytes = sum(plane.nbytes for each in self._kept.values() for plane in each.planes)
        most, least = (self.PASSING_BYTES, self.LEAST) if self.onward else (self.KEPT_BYTES, 1)
        while self._bytes > most and len(self._kept) > least:
            _, removed = self._kept.popitem(last=False)
            self._bytes -= sum(plane.nbytes for plane in removed.planes)
        return picture

    def _planes_of(self, frame: VideoFrame) -> Picture:
        if (frame.width, frame.height) != self.shape:
            frame = frame.reformat(width=self.shape[0], height=self.shape[1])
        planar = PLANAR.get(frame.format.name)
        if planar:
            frame = frame.reformat(format=planar)
        names = (2, 0, 1) if self._layout.kind == "rgb" else (0, 1, 2)[: 1 if self._layout.kind == "grey" else 3]
        if self._layout.alpha:
            names = (*names, 3)
        return Picture(self._layout, tuple(_codes(frame.planes[k], self._layout.bits) for k in names))

    def _first(self) -> VideoFrame:
        self._coming = self._decoded(self._packets())
        number, frame = next(self._coming, (0, None))
        if frame is None:
            raise MediaError("No frame of this clip can be read.", code="media.empty")
        self.shape = (frame.width, frame.height)
        self._layout = layout_of(frame.format, sited_top=int(frame.color_primaries) == 9)
        self._at = number
        self._keep(number, frame)
        return frame

    def _facts(self, first: VideoFrame, container: InputContainer) -> ClipFacts:
        stream = picture_stream(container)
        rate, even = rate_of(list(self.index.pts), Fraction(self._stream.time_base or Fraction(1, 1000)))
        if self.index.linear and not even and stream.average_rate:
            rate = Fraction(stream.average_rate)
        told = Told(
            int(first.colorspace), int(first.color_primaries), int(first.color_trc), int(first.color_range) == 2
        )
        full = told.full_range or first.format.name.startswith("yuvj") or self._layout.kind == "rgb"
        told = Told(told.matrix, told.primaries, told.transfer, full)
        tags = tags_of(told, first.height, rgb=self._layout.kind == "rgb")
        turn = round(float(first.rotation or 0) / 90) * 90 % 360
        width, height = self.shape if turn % 180 == 0 else self.shape[::-1]
        shape = Fraction(stream.sample_aspect_ratio or 1)
        return ClipFacts(
            width,
            height,
            len(self.index.pts),
            rate,
            even,
            container.format.name.split(",")[0],
            stream.codec_context.name,
            first.format.name,
            self._layout.bits,
            tags,
            shape,
            turn,
            _timecode(stream.metadata) or _timecode(container.metadata),
            tuple(_track(each) for each in container.streams.audio),
            tuple(self._notes(first, said_of(tags), shape, even=even)),
            0,
            *mastering_of(first),
        )

    def _notes(self, first: VideoFrame, assumed: str, shape: Fraction, *, even: bool) -> Iterator[str]:
        if shape != 1:
            yield (
                f"Its pixels are {float(shape):.2f} times as wide as they are high: they are shown as they are stored,"
                " and keep that shape in what is written."
            )
        if assumed:
            yield assumed
        if not even:
            yield "Its frames do not follow each other evenly; their times are kept as they are."
        if first.interlaced_frame:
            yield "It is interlaced; its frames are worked on whole."
        if self._layout.alpha:
            yield "It has transparency, which is not shown; it is kept where the file written can hold it."
        if self.index.linear:
            yield "It tells no times that could be relied on: a far frame takes as long as all before it."


def _timecode(metadata: Mapping[str, str]) -> str:
    """Return the timecode of the first frame; some files write the word in capitals."""
    return next((value for name, value in metadata.items() if name.lower() == "timecode"), "")


def _track(stream: Any) -> SoundTrack:
    return SoundTrack(str(stream.codec_context.name), int(stream.rate or 0), int(stream.codec_context.channels or 0))


def _codes(plane: Any, bits: int) -> CodePlane:
    """Return a plane's codes, shape (H, W), copied out of the decoder's buffer."""
    kind: Any = np.uint8 if bits == 8 else np.uint16
    whole = np.frombuffer(plane, kind).reshape(plane.height, plane.line_size // np.dtype(kind).itemsize)
    return np.ascontiguousarray(whole[:, : plane.width])
