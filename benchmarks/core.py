"""The core's speed: previews of a 1600 × 1067 still, against a copy and against NumPy with OpenCV."""

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image

from benchmarks import plain, sheets
from benchmarks.clock import Time, least
from benchmarks.figure import Figure
from calado.adjust.blur.cells import blur
from calado.colour.spaces import SRGB
from calado.media.stills import read_still
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.preview import View, render_preview
from calado.render.source import Source, source_of
from calado.sheet.models import Sheet

STILL = Path(__file__).resolve().parents[1] / "demo" / "stills" / "a_bench.png"
ROUNDS = 14


@dataclass(frozen=True)
class Row:
    """One measurement: ours, the plain way where there is one, and what is to be reached, as multiples of the copy."""

    what: str
    ours: Time
    plain: Time | None = None
    reach: float | None = None
    stretch: float | None = None

    @property
    def figure(self) -> Figure:
        """It as a multiple of a copy's time."""
        against = self.plain.copies / self.ours.copies if self.plain else None
        return Figure(self.what, self.ours.copies, "× copy", self.reach, self.stretch, against)


def still() -> Source:
    """Return the measured still, 1600 × 1067."""
    read = read_still(STILL)
    return source_of(read.samples, read.space, "bench")


def _picture(source: Source, drawn: Iterable[Sheet], *, scale: float = 1.0, fresh: bool = False) -> Time:
    """Return the time of a whole picture's codes for the screen, while the sheet goes through ``drawn``."""
    engine, window = Engine(), source.full(scale)

    def work(sheet: Sheet) -> None:
        screen_codes((Engine() if fresh else engine).picture(source, Order(sheet), window), source.space)

    return least(work, drawn)


def _band(source: Source, drawn: Iterable[Sheet]) -> Time:
    """Return the time of a preview with its JPEG, of the rows that the last pass can change."""
    engine = Engine()
    band = (0.0, 0.3 * source.height, float(source.width), 0.4 * source.height)

    def work(sheet: Sheet) -> None:
        render_preview(engine, source, Order(sheet), View("picture", band, 1.0))

    return least(work, drawn)


def _plain_whole(picture: plain.Picture, drawn: Iterable[Sheet]) -> Time:
    return least(lambda sheet: plain.jpeg(plain.encode(plain.finished(picture, sheet))), drawn, warm=1)


def rows() -> list[Row]:
    """Return the measurements of the core."""
    source = still()
    codes = np.asarray(Image.open(STILL).convert("RGB"))
    picture = plain.decode(codes)
    three = sheets.three_passes()
    faders = [sheets.three_passes(last=(10 + k / 4) / source.height) for k in range(ROUNDS)]
    moved = [sheets.three_passes(x=0.7 + k / 100) for k in range(ROUNDS)]
    five = [sheets.five_point_passes(-0.2 - k / 100) for k in range(ROUNDS)]
    small = [sheets.small_last_pass(0.2 + k / 50) for k in range(ROUNDS)]
    plain_three = _plain_whole(picture, [three] * 5)
    plain_five = _plain_whole(picture, five[:5])
    return [
        Row("three passes, first", _picture(source, [three] * ROUNDS, fresh=True), plain_three, 11, 8),
        Row("… last fader moves, a blur's", _picture(source, faders), plain_three, 4.5, 3),
        Row("… last ellipse moves", _picture(source, moved), plain_three, 6.5, 4.5),
        Row("… at half size", _picture(source, moved, scale=0.5), None, 3, 2),
        Row("five two-sided point passes, first", _picture(source, five, fresh=True), plain_five, 15, 11),
        Row("… last fader moves", _picture(source, five), plain_five, 4, 2.5),
        Row("… first, at half size", _picture(source, five, fresh=True, scale=0.5), None, 4, 3),
        Row("last pass on a tenth of the frame, with the JPEG of its band", _band(source, small), None, 1.5, 0.8),
        _blur_row(source, picture),
    ]


def figures() -> list[Figure]:
    """Return the core's figures."""
    mean, most = agreement()
    return [
        *(row.figure for row in rows()),
        Figure("three passes, ours and the plain picture differ by, mean", mean, "codes"),
        Figure("… at the 99.9 % rank", most, "codes"),
    ]


def _blur_row(source: Source, picture: plain.Picture) -> Row:
    window = source.full()
    planes = source.planes(window)
    whole = np.ones(picture.shape[:2], np.float32)
    out = np.empty_like(planes)

    def ours(_: object) -> None:
        blur(planes, None, window, (45.0, 45.0), outside=False).rows_into(0, window.height, 0, out)

    theirs = least(lambda _: plain.blurred(picture, whole, 45.0), range(4), warm=1)
    return Row("σ 45 Gaussian, whole picture", least(ours, range(ROUNDS)), theirs, 1.9, 1.2)


def agreement() -> tuple[float, float]:
    """Return the mean and the 99.9 % difference, in 8-bit codes, between our picture and the plain one.

    The plain way's feather stands on a distance to drawn pixels, hence is itself half a pixel uncertain.
    """
    source = still()
    sheet = sheets.three_passes()
    ours = screen_codes(Engine().picture(source, Order(sheet), source.full()), SRGB)
    theirs = plain.encode(plain.finished(plain.decode(np.asarray(Image.open(STILL).convert("RGB"))), sheet))
    difference = np.abs(ours.astype(int) - theirs.astype(int))
    return float(difference.mean()), float(np.quantile(difference, 0.999))
