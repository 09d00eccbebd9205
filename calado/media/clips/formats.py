"""What a clip is written as: every format once, with its encoder and what it can hold."""

from dataclasses import dataclass
from typing import Literal

import av

from calado.errors import MediaError
from calado.media.clips.planes import Layout

ClipFormatId = Literal["h264", "h264-mov", "h265", "av1", "vp9", "ffv1", "prores"]
_CHROMA = {(1, 1): "444", (2, 1): "422", (2, 2): "420", (1, 2): "440"}


@dataclass(frozen=True)
class Quality:
    """A constant quality: the encoder's number, and what a person may expect of it."""

    number: int
    says: str


@dataclass(frozen=True)
class ClipFormat:
    """A format: its name, ending, encoder, its qualities, and the sound it takes as it comes.

    ``qualities`` are constant ones, the usual first; none: it has one only. ``sound`` are the codecs whose packets it
    takes; any other is encoded as ``voice``. ``even``: its pictures have even sides.
    """

    id: ClipFormatId
    name: str
    suffix: str
    encoder: str
    qualities: tuple[Quality, ...]
    sound: tuple[str, ...]
    voice: str
    options: tuple[tuple[str, str], ...] = ()
    even: bool = False
    lossless: bool = False

    def layout_for(self, source: Layout) -> tuple[Layout, str]:
        """Return the layout nearest to a source's that loses nothing of it if there is one, and its pixel format."""
        known = {each.name for each in av.codec.Codec(self.encoder, "w").video_formats or []}
        loses = lambda each: (  # noqa: E731
            each.across > source.across,
            each.down > source.down,
            each.bits < source.bits,
            abs(each.bits - source.bits),
            source.across - each.across + source.down - each.down,
        )
        fitting = [each for each in _LAYOUTS if _named(each) in known or (_named(each) == "gbrp" and "bgr0" in known)]
        same = [each for each in fitting if each.kind == source.kind] or [e for e in fitting if e.kind == "yuv"]
        best = min(same, key=loses)
        return Layout(best.kind, best.bits, best.across, best.down, source.sited_top and best.down == 2), _named(best)


_LAYOUTS = (
    *(Layout("yuv", bits, *chroma) for bits in (8, 10, 12, 16) for chroma in ((2, 2), (2, 1), (1, 1))),
    *(Layout("rgb", bits) for bits in (8, 10, 12, 16)),
    *(Layout("grey", bits) for bits in (8, 10, 12, 16)),
)


def _named(layout: Layout) -> str:
    deep = "" if layout.bits == 8 else f"{layout.bits}le"
    if layout.kind == "yuv":
        return f"yuv{_CHROMA[layout.across, layout.down]}p{deep}"
    return f"gbrp{deep}" if layout.kind == "rgb" else f"gray{deep}"


def _quality(*pairs: tuple[int, str]) -> tuple[Quality, ...]:
    return tuple(Quality(number, says) for number, says in pairs)


_MP4 = ("aac", "mp3", "ac3", "eac3", "alac", "opus", "flac")
_MOV = ("aac", "mp3", "ac3", "alac", "pcm_s16le", "pcm_s24le", "pcm_s32le", "pcm_s16be", "pcm_s24be", "pcm_f32le")
#: sound whose decoder drops a beginning that only MP4 and MOV can mark is encoded anew there
_MKV = ("opus", "vorbis", "flac", "pcm_s16le", "pcm_s24le", "pcm_s32le", "pcm_f32le", "ac3", "eac3", "mp2")
_X264 = _quality((18, "hardly to be told from the source"), (14, "for further work"), (23, "smaller, for the web"))
# measured: with the default way of threading the same clip came out differently from run to run
_FRAMES = (("threads", "2"), ("preset", "medium"))

CLIP_FORMATS: dict[ClipFormatId, ClipFormat] = {
    each.id: each
    for each in (
        ClipFormat("h264", "H.264 in MP4", "mp4", "libx264", _X264, _MP4, "aac", _FRAMES, even=True),
        ClipFormat("h264-mov", "H.264 in MOV", "mov", "libx264", _X264, _MOV, "aac", _FRAMES, even=True),
        ClipFormat(
            "h265",
            "H.265 in MP4",
            "mp4",
            "libx265",
            _quality((20, "hardly to be told from the source"), (16, "for further work"), (26, "smaller, for the web")),
            _MP4,
            "aac",
            (("preset", "medium"), ("x265-params", "open-gop=0:log-level=error")),
            even=True,
        ),
        ClipFormat(
            "av1",
            "AV1 in MP4",
            "mp4",
            "libsvtav1",
            _quality((24, "hardly to be told from the source"), (16, "for further work"), (34, "smaller, for the web")),
            _MP4,
            "aac",
            (("preset", "8"),),
            even=True,
        ),
        ClipFormat(
            "vp9",
            "VP9 in WebM",
            "webm",
            "libvpx-vp9",
            _quality((24, "hardly to be told from the source"), (16, "for further work"), (33, "smaller, for the web")),
            ("opus", "vorbis"),
            "libopus",
            (("b", "0"), ("cpu-used", "4"), ("row-mt", "1")),
        ),
        ClipFormat("ffv1", "FFV1 in Matroska, lossless", "mkv", "ffv1", (), _MKV, "flac", lossless=True),
        ClipFormat("prores", "ProRes 422 HQ in MOV", "mov", "prores_ks", (), _MOV, "aac", (("profile", "3"),)),
    )
}


@dataclass(frozen=True)
class ClipTarget:
    """What clip to write; ``quality`` is the encoder's number, None: the usual one."""

    format: ClipFormatId
    quality: int | None = None
    sound: bool = True

    def __post_init__(self) -> None:
        """Refuse a quality that the format does not have."""
        if self.quality is not None and self.quality not in {each.number for each in self.kind.qualities}:
            raise MediaError(f"{self.kind.name} has no quality {self.quality}.", code="media.quality")

    @property
    def kind(self) -> ClipFormat:
        """The format."""
        return CLIP_FORMATS[self.format]

    @property
    def options(self) -> dict[str, str]:
        """The encoder's options."""
        best = self.quality if self.quality is not None else (self.kind.qualities or (Quality(0, ""),))[0].number
        return {**dict(self.kind.options), **({"crf": str(best)} if self.kind.qualities else {})}


def clip_format_of(suffix: str) -> ClipFormat | None:
    """Return the usual format of a file name's ending, without its dot, or None."""
    return next((each for each in CLIP_FORMATS.values() if each.suffix == suffix.lower()), None)
