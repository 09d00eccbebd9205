"""The core's speed: previews of a 1600 × 1067 still, against a copy and against NumPy with OpenCV."""

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image

from benchmarks import plain, sheets
from benchmarks.clock import Time, copy_floor, least
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
    """One line of the table: ours, the plain way where there is one, and the target as a multiple of the copy."""

    what: str
    ours: Time
    plain: Time | None = None
    target: str = ""


def still() -> Source:
    """Return the measured still, 1600 × 1067."""
    read = read_still(STILL)
    return source_of(read.samples, read.space, "bench")


def _preview(source: Source, drawn: Iterable[Sheet], *, draft: bool = False, fresh: bool = False) -> Time:
    """Return the time of a preview with its JPEG, while the sheet goes through ``drawn``."""
    engine = Engine()
    view = View("picture", (0.0, 0.0, float(source.width), float(source.height)), 1.0, draft=draft)

    def work(sheet: Sheet) -> None:
        render_preview(Engine() if fresh else engine, source, Order(sheet), view)

    return least(work, drawn)


def _plain_whole(picture: plain.Picture, drawn: Iterable[Sheet]) -> Time:
    return least(lambda sheet: plain.jpeg(plain.encode(plain.finished(picture, sheet))), drawn, warm=1)


def rows() -> tuple[Time, list[Row]]:
    """Return the copy's time and the table of the core."""
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
    made = [
        Row("three passes, first view", _preview(source, [three] * ROUNDS, fresh=True), plain_three),
        Row("three passes, last fader moves", _preview(source, faders), plain_three, "≤ 12 × copy"),
        Row("three passes, last ellipse moves", _preview(source, moved), plain_three),
        Row("… at half size, as while dragging", _preview(source, moved, draft=True), None, "≤ 8 ms"),
        Row("five point passes, first view", _preview(source, five, fresh=True), plain_five, "≤ 12 × copy"),
        Row("five point passes, last fader moves", _preview(source, five), plain_five, "≤ 4 ms"),
        Row("a last pass within a tenth of the frame", _preview(source, small), None, "≤ 5 ms"),
        _blur_row(source, picture),
    ]
    return copy_floor(source.width, source.height), made


def _blur_row(source: Source, picture: plain.Picture) -> Row:
    window = source.full()
    planes = source.planes(window)
    whole = np.ones(picture.shape[:2], np.float32)
    out = np.empty_like(planes)

    def ours(_: object) -> None:
        blur(planes, None, window, (45.0, 45.0), outside=False).rows_into(0, window.height, 0, out)

    theirs = least(lambda _: plain.blurred(picture, whole, 45.0), range(4), warm=1)
    return Row("σ 45 Gaussian, whole picture", least(ours, range(ROUNDS)), theirs, "≤ 3 × copy")


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
