"""A region looked at along its way: frames cut out round where it lies, without what covers it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
import simplejpeg
from numpy.typing import NDArray

from calado.follow.carried import sheet_in_time, weakest
from calado.follow.motion import Motions, no_motions
from calado.media.clips.frames import Frames
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve, sides_concealed
from calado.render.source import Source
from calado.sheet.models import Fix, Region, Sheet
from calado.sheet.timed import declared_at, fix_at
from calado.sheet.within import region_called, with_region
from calado.window import Window

#: of so many frames a half are evenly spaced, a half the least sure
SHOWN = 20
#: so many frames a loop has at most, and so many of them stand in a row of its picture
LOOP, ROW = 96, 12
#: how much is shown, in sizes of the region
ROUND = 2.2
#: lines at which a region is measured
LINES = 180
QUALITY = 85


@dataclass(frozen=True)
class Stop:
    """A frame on the way: where the region's middle lies, the side of what is shown, both in picture heights.

    ``sure`` is how sure it is to lie there, 0…1; ``fix`` is how its motion is corrected there.
    """

    frame: int
    x: float
    y: float
    side: float
    sure: float
    fix: Fix


def stops(frames: Frames, engine: Engine, sheet: Sheet, region: str, motions: Motions) -> list[Stop]:
    """Return frames on the way of a region that follows, in order; none for one that does not, or is nowhere."""
    way = _way(frames, engine, sheet, region, motions)
    if way is None:
        return []
    seen, stop = way
    track = region_called(sheet, region).track
    motion = motions(track.motion) if track else None
    assert motion is not None  # there is a way
    return [stop(frame) for frame in sorted({*_even(seen, SHOWN // 2), *weakest(seen, motion)})]


def loop_of(frames: Frames, engine: Engine, sheet: Sheet, region: str, motions: Motions) -> list[Stop]:
    """Return the frames in which a region that follows shows, evenly spaced where they are many, to be played."""
    way = _way(frames, engine, sheet, region, motions)
    if way is None:
        return []
    seen, stop = way
    return [stop(frame) for frame in seen[:: -(-len(seen) // LOOP) or 1]]


def _even(seen: list[int], count: int) -> set[int]:
    return {seen[round(k * (len(seen) - 1) / (count - 1))] for k in range(count)} if seen else set()


def _way(
    frames: Frames, engine: Engine, sheet: Sheet, region: str, motions: Motions
) -> tuple[list[int], Callable[[int], Stop]] | None:
    """Return the frames in which a region may show, and what gives one as a stop; None for one that does not follow."""
    found = region_called(sheet, region)
    motion = motions(found.track.motion) if found.track else None
    if found.track is None or motion is None:
        return None
    measured = _measured(frames, engine, sheet, found)
    if measured is None:
        return None
    x, y, size = measured
    track = found.track

    def stop(frame: int) -> Stop:
        anchor = sheet_in_time(sheet, frame, motions).region(region).anchor  # type: ignore[union-attr]
        side = min(max(ROUND * size * anchor.scale, 0.05), 1.5)
        at_x, at_y = anchor.place(x, y)
        return Stop(frame, at_x, at_y, side, motion.near(frame).sureness, fix_at(track, frame))

    # where somebody said that it does not show there is nothing to look at
    return [frame for frame in range(frames.clip.facts.frames) if not _absent(found, frame)], stop


def _absent(region: Region, frame: int) -> bool:
    declared = declared_at(region, frame)
    return declared is not None and declared.says == "absent"


def _measured(frames: Frames, engine: Engine, sheet: Sheet, region: Region) -> tuple[float, float, float] | None:
    """Return the middle and the size of a region where it was marked, in picture heights."""
    assert region.track is not None
    still = with_region(sheet, region.model_copy(update={"track": None, "covers": {}}))
    where = resolve(sheet_in_time(still, region.track.at, no_motions), region.id)
    assert where is not None  # it is on the sheet
    source = frames.source(region.track.at)
    matte = engine.matte(source, where, source.full(min(1.0, LINES / source.height))) > 0.5
    y, x = np.nonzero(matte)
    if not len(x):
        return None
    high = matte.shape[0]
    middle = (x.min() + x.max() + 1) / 2 / high, (y.min() + y.max() + 1) / 2 / high
    return (*middle, max(np.ptp(x), np.ptp(y)) / high)  # type: ignore[return-value]


def square_at(
    frames: Frames, engine: Engine, sheets: tuple[Sheet, Sheet], motions: Motions, stop: Stop, pixels: int
) -> bytes:
    """Return a square of ``pixels`` round a place on the way as JPEG; nothing in it is covered."""
    return squares_at(frames, engine, sheets, motions, [stop], pixels)


def squares_at(
    frames: Frames,
    engine: Engine,
    sheets: tuple[Sheet, Sheet],
    motions: Motions,
    way: Sequence[Stop],
    pixels: int,
    outlined: str = "",
) -> bytes:
    """Return the same of many places in rows of ``ROW``, as one picture; ``outlined``: whose outline shows."""
    sheet, project = (_bare(each) for each in sheets)
    rows = -(-len(way) // ROW)
    made = np.zeros((rows * pixels, min(len(way), ROW) * pixels, 3), np.uint8)
    for place, stop in enumerate(way):
        order = Order(sheet_in_time(sheet, stop.frame, motions), sheet_in_time(project, stop.frame, no_motions))
        y, x = pixels * (place // ROW), pixels * (place % ROW)
        square = _square(frames.source(stop.frame), engine, order, stop, pixels, outlined)
        made[y : y + pixels, x : x + pixels] = square
    return bytes(simplejpeg.encode_jpeg(made, quality=QUALITY, colorsubsampling="420"))


def square_of(frames: Frames, engine: Engine, place: tuple[float, float, float], frame: int, pixels: int) -> bytes:
    """Return a square of ``pixels`` of a frame as it came, as JPEG; ``place``: its middle and side, in heights.

    Raises
    ------
    MediaError
        when there is no such frame, or it cannot be decoded.
    """
    x, y, side = place
    square = _square(frames.source(frame), engine, Order(Sheet()), Stop(frame, x, y, side, 1.0, Fix()), pixels)
    return bytes(simplejpeg.encode_jpeg(square, quality=QUALITY, colorsubsampling="420"))


def _bare(sheet: Sheet) -> Sheet:
    """Return a sheet without its covers."""
    return sheet.model_copy(update={"passes": tuple(each for each in sheet.passes if not sides_concealed(each))})


def _square(
    source: Source, engine: Engine, order: Order, stop: Stop, pixels: int, outlined: str = ""
) -> NDArray[np.uint8]:
    scale = min(1.0, pixels / (stop.side * source.height))
    whole = source.full(scale)
    side = max(2, round(stop.side * whole.height))
    left, top = (round(n * whole.height - side / 2) for n in (stop.x, stop.y))
    square, inside = np.zeros((side, side, 3), np.uint8), np.zeros((side, side), np.float32)
    where = resolve(order.sheet, outlined) if outlined else None
    x0, y0, x1, y1 = max(left, 0), max(top, 0), min(left + side, whole.width), min(top + side, whole.height)
    if x1 > x0 and y1 > y0:
        window = Window(source.width, source.height, scale, x0, y0, x1 - x0, y1 - y0)
        codes = screen_codes(engine.picture(source, order, window), source.space)
        square[y0 - top : y1 - top, x0 - left : x1 - left] = codes
        if where is not None:
            inside[y0 - top : y1 - top, x0 - left : x1 - left] = engine.matte(source, where, window)
    made = np.asarray(cv2.resize(square, (pixels, pixels), interpolation=cv2.INTER_AREA), np.uint8)
    if where is not None:
        _draw(made, cv2.resize(inside, (pixels, pixels), interpolation=cv2.INTER_LINEAR) > 0.5)
    return made


def _draw(square: NDArray[np.uint8], inside: NDArray[np.bool_]) -> None:
    """Draw the outline of what is inside, light on dark."""
    lines, _ = cv2.findContours(inside.astype(np.uint8), cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    for colour, width in ((30, 3), (245, 1)):
        cv2.polylines(square, lines, True, (colour,) * 3, width, cv2.LINE_AA)
