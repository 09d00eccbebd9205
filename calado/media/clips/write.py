"""Encoding pictures into a file without sound, one after another; times are the numbers of the frames."""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.container import OutputContainer
from av.error import FFmpegError
from av.video.frame import PictureType, VideoFrame
from av.video.stream import VideoStream

from calado.errors import MediaError
from calado.media.clips.facts import ClipFacts, Tags
from calado.media.clips.formats import PACKED, ClipTarget
from calado.media.clips.mastering import mastering_options
from calado.media.clips.planes import Picture

_RANGE = {True: 2, False: 1}
# one encoder tells its settings at every start; what goes wrong it still says
os.environ.setdefault("SVT_LOG", "1")


#: frames by which this encoder's packets come ahead in the order of decoding
AHEAD = {"libx265": 2}
#: pixels from which on an encoder looks fewer frames ahead, in its own turn: at 4K each costs 20 MB
LARGE = 4_000_000


def _x264(pixels: int) -> dict[str, str]:
    """Return what x264 is to be told for pictures of so many pixels."""
    said = [*_steady(), *(["rc-lookahead=10", "sync-lookahead=0"] if pixels >= LARGE else [])]
    return {"x264-params": ":".join(said)} if said else {}


def _steady() -> list[str]:
    """Return what x264 is to be told so that the same pictures give the same file.

    Measured: its code for AVX-512 reads memory that was never written where a row is not a multiple of eight blocks of
    16 pixels, and a file comes out differently from run to run. The code for AVX2, which such a machine has too, does
    not.
    """
    try:
        wide = "avx512f" in Path("/proc/cpuinfo").read_text()
    except OSError:
        wide = False
    return ["asm=AVX2"] if wide else []


class PictureWriter:
    """Takes pictures in order."""

    def __init__(self, container: OutputContainer, stream: VideoStream, pixel_format: str, tags: Tags) -> None:
        self._container, self._stream = container, stream
        self._format, self._tags = pixel_format, tags
        self._count = 0

    def write(self, picture: Picture) -> None:
        """Encode one more picture."""
        frame = _frame_of(picture, self._format)
        if self._stream.pix_fmt != self._format:
            frame = frame.reformat(format=self._stream.pix_fmt)
        frame.pts, frame.time_base = self._count, self._stream.codec_context.time_base
        # the source's own kinds of picture must not be forced on the encoder
        frame.pict_type = PictureType.NONE
        _tag(frame, self._tags)
        self._count += 1
        self._mux(frame)

    def finish(self) -> None:
        """Encode what the encoder still holds."""
        self._mux(None)

    def _mux(self, frame: VideoFrame | None) -> None:
        try:
            packets = self._stream.encode(frame)
            ahead = AHEAD.get(self._stream.codec_context.name, 0)
            if self._count <= ahead:
                # x265 reads these from memory that it has not set where no more frames come than it reorders
                for packet in packets:
                    packet.dts = packet.pts - ahead if packet.pts is not None else None
            self._container.mux(packets)
        except (FFmpegError, OSError) as error:
            raise MediaError(f"The clip could not be written: {error.strerror}.", code="media.write") from error


@contextmanager
def picture_writer(
    path: Path, facts: ClipFacts, size: tuple[int, int], target: ClipTarget, pixel_format: str
) -> Iterator[PictureWriter]:
    """Yield a writer of pictures of a size, with the clip's rate, tags and shape of pixels.

    The file gets its name when all is written, and none if anything fails.
    """
    part = path.with_name(f".{path.stem}.part{path.suffix}")
    kind = target.kind
    try:
        with av.open(str(part), "w") as container:
            options = _options(facts, size, target)
            stream = container.add_stream(kind.encoder, rate=Fraction(facts.rate), options=options)
            assert isinstance(stream, VideoStream)
            stream.width, stream.height = size
            packed = PACKED.get(pixel_format) if kind.encoder == "ffv1" else None
            stream.pix_fmt = packed or pixel_format
            context = stream.codec_context
            context.time_base = 1 / facts.rate
            context.thread_type = "FRAME" if kind.encoder == "libx264" else context.thread_type
            context.thread_count = 2
            context.sample_aspect_ratio = facts.pixel_shape
            _tag(context, facts.tags)
            writer = PictureWriter(container, stream, pixel_format, facts.tags)
            yield writer
            writer.finish()
        part.replace(path)
    except BaseException:
        part.unlink(missing_ok=True)
        raise


def _options(facts: ClipFacts, size: tuple[int, int], target: ClipTarget) -> dict[str, str]:
    """Return the encoder's settings: the format's, what it needs to be steady, and how the clip was mastered."""
    encoder = target.kind.encoder
    options = {**target.options, **(_x264(size[0] * size[1]) if encoder == "libx264" else {})}
    for setting, words in mastering_options(encoder, facts.display, facts.light).items():
        options[setting] = ":".join([*filter(None, [options.get(setting)]), *words])
    return options


def _tag(thing: object, tags: Tags) -> None:
    """Set the tags; on the encoder they reach the file, and ProRes wants them on the frames too."""
    for name, value in (
        ("color_range", _RANGE[tags.full_range]),
        ("colorspace", tags.matrix),
        ("color_primaries", tags.primaries),
        ("color_trc", tags.transfer),
    ):
        setattr(thing, name, value)


def _frame_of(picture: Picture, pixel_format: str) -> VideoFrame:
    frame = VideoFrame(picture.width, picture.height, pixel_format)
    # the library keeps green, blue and red in this order
    order = (1, 2, 0, 3) if picture.layout.kind == "rgb" else range(len(picture.planes))
    for k, plane in enumerate(frame.planes):
        codes = picture.planes[order[k]]
        held = np.frombuffer(memoryview(plane), codes.dtype).reshape(plane.height, plane.line_size // codes.itemsize)
        held[:, : plane.width] = codes
        # x264 reads beyond the border: with whatever lay there, one clip in a hundred came out differently
        held[:, plane.width :] = 0
    return frame
