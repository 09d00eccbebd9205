"""What a clip is written as: every format once, with its encoder and what it can hold."""

from dataclasses import dataclass, replace
from typing import Literal

import av

from calado.errors import MediaError
from calado.media.clips.planes import Layout
from calado.media.formats import What

ClipFormatId = Literal["h264", "h264-mov", "h265", "av1", "vp9", "ffv1", "prores", "prores-4444"]
#: planar formats, and the packed ones of the same codes that an encoder may take instead
PACKED = {"gbrp": "bgr0", "gbrap": "bgra"}
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
    takes; any other is encoded as ``voice``. ``even``: its pictures have even sides. ``alpha``: it holds transparency.
    ``pixels``, where given, are all of its encoder's pixel formats that it is written in.
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
    alpha: bool = False
    pixels: tuple[str, ...] = ()

    @property
    def holds(self) -> tuple[What, ...]:
        """What can be written in it."""
        return ("picture", "matte", "cutout") if self.alpha else ("picture", "matte")

    def layout_for(self, source: Layout, *, alpha: bool = False) -> tuple[Layout, str]:
        """Return the layout nearest to a source's that loses nothing of it if there is one, and its pixel format.

        With ``alpha`` it is one that has it, where the format does.
        """
        known = set(self.pixels) or {each.name for each in av.codec.Codec(self.encoder, "w").video_formats or []}
        known |= {planar for planar, packed in PACKED.items() if packed in known}
        loses = lambda each: (  # noqa: E731
            each.across > source.across,
            each.down > source.down,
            each.bits < source.bits,
            abs(each.bits - source.bits),
            source.across - each.across + source.down - each.down,
        )
        offered = [replace(each, alpha=True) for each in _LAYOUTS] if alpha and self.alpha else _LAYOUTS
        fitting = [each for each in offered if _named(each) in known]
        same = [each for each in fitting if each.kind == source.kind] or [e for e in fitting if e.kind == "yuv"]
        best = min(same, key=loses)
        return replace(best, sited_top=source.sited_top and best.down == 2), _named(best)


_LAYOUTS = (
    *(Layout("yuv", bits, *chroma) for bits in (8, 10, 12, 16) for chroma in ((2, 2), (2, 1), (1, 1))),
    *(Layout("rgb", bits) for bits in (8, 10, 12, 16)),
    *(Layout("grey", bits) for bits in (8, 10, 12, 16)),
)


def _named(layout: Layout) -> str:
    deep = "" if layout.bits == 8 else f"{layout.bits}le"
    if layout.kind == "yuv":
        return f"yuv{'a' * layout.alpha}{_CHROMA[layout.across, layout.down]}p{deep}"
    return f"gbr{'a' * layout.alpha}p{deep}" if layout.kind == "rgb" else f"{'y' * layout.alpha}gray{deep}"


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
            alpha=True,
        ),
        ClipFormat("ffv1", "FFV1 in Matroska, lossless", "mkv", "ffv1", (), _MKV, "flac", lossless=True, alpha=True),
        ClipFormat(
            "prores",
            "ProRes 422 HQ in MOV",
            "mov",
            "prores_ks",
            (),
            _MOV,
            "aac",
            (("profile", "3"),),
            pixels=("yuv422p10le",),
        ),
        ClipFormat(
            "prores-4444",
            "ProRes 4444 in MOV",
            "mov",
            "prores_ks",
            (),
            _MOV,
            "aac",
            (("profile", "4"),),
            alpha=True,
            pixels=("yuv444p10le", "yuva444p10le"),
        ),
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


def clip_fits(what: What, target: ClipTarget) -> None:
    """Refuse a format that cannot hold what is to be written.

    Raises
    ------
    MediaError
        with what to choose instead.
    """
    if what not in target.kind.holds:
        *early, last = (each.name for each in CLIP_FORMATS.values() if what in each.holds)
        raise MediaError(
            f"{target.kind.name} holds no transparency. A cut-out is written as {', '.join(early)} or {last}, or as"
            " numbered pictures.",
            code="media.format",
        )


def clip_format_of(suffix: str) -> ClipFormat | None:
    """Return the usual format of a file name's ending, without its dot, or None."""
    return next((each for each in CLIP_FORMATS.values() if each.suffix == suffix.lower()), None)
