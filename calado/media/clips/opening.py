"""Opening a clip's file: only known kinds, no other file through it, nothing too large, before anything is decoded."""

from pathlib import Path

import av
from av.codec import CodecContext
from av.container import InputContainer
from av.error import FFmpegError
from av.video.codeccontext import VideoCodecContext
from av.video.format import VideoFormat
from av.video.stream import VideoStream

from calado.errors import MediaError
from calado.media.clips.planes import Layout

#: containers that are read; a list of pictures or of other files is not among them
FORMATS = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mxf,h264,hevc"
#: kinds of picture files that share the box structure of MP4
_STILL_BRANDS = (b"avif", b"avis", b"heic", b"heix", b"mif1", b"msf1")
MAX_SIDE, MAX_PIXELS = 16_384, 40_000_000
MIN_SIDE = 8
#: formats whose planes are packed or swapped, and the planar one that holds the same codes
PLANAR = {
    "nv12": "yuv420p",
    "nv21": "yuv420p",
    "nv16": "yuv422p",
    "nv24": "yuv444p",
    "yuyv422": "yuv422p",
    "uyvy422": "yuv422p",
    "p010le": "yuv420p10le",
    "p210le": "yuv422p10le",
    "rgb24": "gbrp",
    "bgr24": "gbrp",
    "rgba": "gbrap",
    "bgra": "gbrap",
    "rgb0": "gbrp",
    "bgr0": "gbrp",
    "rgb48le": "gbrp16le",
    "rgba64le": "gbrap16le",
    "ya8": "gray",
    "ya16le": "gray16le",
    "pal8": "gbrp",
}
#: codecs whose transparency only these decoders read
ALPHA_BESIDE = {"vp8": "libvpx", "vp9": "libvpx-vp9"}
_UNREADABLE = "This is not a clip that can be read here. Save it as MP4, MOV, MKV or WebM and add it again."


def looks_like_clip(path: Path) -> bool:
    """Return whether a file begins as clips do, whatever its name says."""
    with path.open("rb") as file:
        head = file.read(400)
    box, brand = head[4:8], head[8:12]
    return (
        (box == b"ftyp" and brand not in _STILL_BRANDS)
        or box in (b"moov", b"mdat", b"wide", b"free", b"skip")
        or head.startswith((b"\x1aE\xdf\xa3", b"\x00\x00\x01\xba", b"\x06\x0e+4", b"\x00\x00\x00\x01"))
        or (head.startswith(b"RIFF") and brand == b"AVI ")
        or (head[:1] == b"G" and head[188:189] == b"G")
    )


def open_container(path: Path) -> InputContainer:
    """Return an open file, of a known kind, that can open no other.

    Raises
    ------
    MediaError
        when it is none.
    """
    try:
        return av.open(
            str(path), options={"format_whitelist": FORMATS, "protocol_whitelist": "file"}, metadata_errors="replace"
        )
    except (FFmpegError, ValueError, OSError) as error:
        raise MediaError(_UNREADABLE, code="media.clip") from error


def picture_stream(container: InputContainer) -> VideoStream:
    """Return the stream of pictures; a cover picture is none.

    Raises
    ------
    MediaError
        when there is none, or its pictures are too large or too small.
    """
    found = [each for each in container.streams.video if not (int(each.disposition) & 0x400)]
    if not found:
        says = "This file has sound and no pictures." if container.streams.audio else _UNREADABLE
        raise MediaError(says, code="media.clip")
    stream = found[0]
    width, height = stream.width, stream.height
    if stream.codec_context is None or not width or not height:
        raise MediaError(_UNREADABLE, code="media.clip")
    if max(width, height) > MAX_SIDE or width * height > MAX_PIXELS:
        raise MediaError(
            f"The pictures of this clip are {width} × {height} px; up to {MAX_PIXELS // 1_000_000} million pixels and"
            f" {MAX_SIDE} a side are taken.",
            code="media.large",
        )
    if min(width, height) < MIN_SIDE:
        raise MediaError(f"The pictures of this clip are only {width} × {height} px.", code="media.small")
    return stream


def alpha_beside(stream: VideoStream) -> bool:
    """Return whether a stream's transparency lies beside its packets; some files write the word in capitals."""
    return any(name.lower() == "alpha_mode" and value == "1" for name, value in stream.metadata.items())


def decoder_of(stream: VideoStream) -> VideoCodecContext:
    """Return what decodes a stream of pictures.

    VP8 and VP9 with transparency hold it beside their packets, which the usual decoder drops.
    """
    usual = stream.codec_context
    if usual.name in ALPHA_BESIDE and alpha_beside(stream):
        made = CodecContext.create(ALPHA_BESIDE[usual.name], "r")
        assert isinstance(made, VideoCodecContext)
        made.color_primaries, made.color_trc = usual.color_primaries, usual.color_trc
        made.thread_count = 2
        return made
    usual.thread_type, usual.thread_count = "AUTO", 2
    return usual


def layout_of(format_: VideoFormat, *, sited_top: bool) -> Layout:
    """Return the layout of a pixel format; one that is not planar is that of the planar one of the same codes."""
    name = PLANAR.get(format_.name, format_.name)
    planar = VideoFormat(name)
    bits = max(component.bits for component in planar.components)
    if planar.is_big_endian or not 8 <= bits <= 16 or name.endswith(("f32le", "f16le")):
        raise MediaError(f"Clips in the pixel format {format_.name} are not read here.", code="media.format")
    alpha = any(component.is_alpha for component in planar.components)
    if planar.is_rgb:
        return Layout("rgb", bits, alpha=alpha)
    if len(planar.components) < 3:
        return Layout("grey", bits)
    across = round(16 / max(planar.chroma_width(16), 1))
    down = round(16 / max(planar.chroma_height(16), 1))
    if across > 2 or down > 2:
        raise MediaError(f"Clips in the pixel format {format_.name} are not read here.", code="media.format")
    return Layout("yuv", bits, across, down, sited_top and down == 2, alpha)
