"""What a clip says of itself, measured rather than believed: header counts and rates are never trusted."""

from dataclasses import asdict, dataclass
from fractions import Fraction
from typing import Any

from calado.media.clips.mastering import Mastering


@dataclass(frozen=True)
class Tags:
    """How a clip's codes are meant, as ITU-T H.273 numbers them; ``assumed`` names what the file leaves open."""

    matrix: int
    primaries: int
    transfer: int
    full_range: bool
    assumed: tuple[str, ...] = ()


@dataclass(frozen=True)
class SoundTrack:
    """One track of sound; ``priming`` in samples is what a decoder drops at its start."""

    codec: str
    rate: int
    channels: int


@dataclass(frozen=True)
class ClipFacts:
    """A clip's size, frames, rate, tags and sound.

    ``width`` and ``height`` are of the upright picture; ``turn`` degrees anticlockwise make it upright from how it is
    stored. ``rate`` is frames a second, exact; where times are not even, ``even`` is False and the rate a mean.
    ``pixel_shape`` is a pixel's width over its height. ``first`` is the number of the first frame in the file, where a
    clip is a part of one. ``display`` is what it was mastered on, ``light`` its most light and the most of a frame's
    mean, in cd/m², where it says so.
    """

    width: int
    height: int
    frames: int
    rate: Fraction
    even: bool
    container: str
    codec: str
    pixel_format: str
    bits: int
    tags: Tags
    pixel_shape: Fraction = Fraction(1)
    turn: int = 0
    timecode: str = ""
    sound: tuple[SoundTrack, ...] = ()
    notes: tuple[str, ...] = ()
    first: int = 0
    display: Mastering | None = None
    light: tuple[int, int] | None = None

    @property
    def seconds(self) -> float:
        """How long it lasts."""
        return float(self.frames / self.rate)

    @property
    def note(self) -> str:
        """All there is to say about it, as sentences."""
        return " ".join(self.notes)


def facts_data(facts: ClipFacts) -> dict[str, Any]:
    """Return facts as plain data."""
    data = asdict(facts)
    for name in ("rate", "pixel_shape"):
        data[name] = str(data[name])
    return data


def facts_from(data: dict[str, Any]) -> ClipFacts:
    """Return facts from plain data, as :func:`facts_data` made them."""
    return ClipFacts(
        **{
            **data,
            "rate": Fraction(data["rate"]),
            "pixel_shape": Fraction(data["pixel_shape"]),
            "tags": Tags(**{**data["tags"], "assumed": tuple(data["tags"]["assumed"])}),
            "sound": tuple(SoundTrack(**each) for each in data["sound"]),
            "notes": tuple(data["notes"]),
            "display": _mastering(data.get("display")),
            "light": tuple(data["light"]) if data.get("light") else None,
        }
    )


def _mastering(data: dict[str, Any] | None) -> Mastering | None:
    return Mastering(tuple(data["places"]), data["most"], data["least"]) if data else None


#: rates that clips have, as SMPTE ST 2051 and common practice list them
KNOWN_RATES = tuple(
    Fraction(n, d)
    for n, d in (
        (24000, 1001),
        (24, 1),
        (25, 1),
        (30000, 1001),
        (30, 1),
        (48000, 1001),
        (48, 1),
        (50, 1),
        (60000, 1001),
        (60, 1),
        (100, 1),
        (120000, 1001),
        (120, 1),
        (12, 1),
        (15, 1),
        (10, 1),
        (8, 1),
        (240, 1),
    )
)


def rate_of(times: list[int], tick: Fraction) -> tuple[Fraction, bool]:
    """Return the rate that all times fit within half a tick (and whether any does), else a mean rate.

    ``times`` are rising, in ticks of ``tick`` seconds. The nearest of the known rates is tried first, then the mean as
    a plain number of frames a second. A single frame counts as 24 a second.
    """
    if len(times) < 2:
        return Fraction(24), True
    span = (times[-1] - times[0]) * tick
    mean = (len(times) - 1) / span
    nearest = sorted(KNOWN_RATES, key=lambda rate: abs(rate - mean))
    for rate in (*nearest[:3], Fraction(round(mean * 1001), 1001), Fraction(round(mean))):
        if rate > 0 and _fits(times, tick, rate):
            return rate, True
    return mean.limit_denominator(1001), False


def _fits(times: list[int], tick: Fraction, rate: Fraction) -> bool:
    # a file rounds each time by itself: half a tick each way, from the first frame's own rounding on
    step = 1 / (rate * tick)
    return all(abs((time - times[0]) - step * n) <= 1 for n, time in enumerate(times))
