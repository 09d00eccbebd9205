"""A picture for the screen: what was asked for, at the pixels of the screen, as a JPEG or PNG."""

from dataclasses import dataclass
from math import ceil
from typing import Literal

import imagecodecs
import numpy as np
import simplejpeg
from numpy.typing import NDArray

from calado.arrays import Codes, Matte, Planes
from calado.errors import RequestError
from calado.region.solve.foreground import freed
from calado.render.beyond import beyond_view
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.plate import plate_of
from calado.render.resolve import resolve
from calado.render.source import Source
from calado.render.views import (
    PLAIN_LATTICE,
    Ground,
    Lattice,
    Place,
    ViewName,
    cutout_view,
    difference_view,
    lattice_view,
    matte_view,
    outline_view,
)
from calado.window import Window, window_of_rectangle

MAX_SIDE = 8192
DRAFT_QUALITY, REST_QUALITY = 80, 90


@dataclass(frozen=True)
class View:
    """What to show: ``rectangle`` (left, top, width, height) in full-size pixels at ``scale`` screen pixels per pixel.

    A scale above 1 is rendered at full size and enlarged only where the view draws at the screen's pixels.
    ``draft`` renders at half the scale, for the time of a drag.
    """

    name: ViewName
    rectangle: tuple[float, float, float, float]
    scale: float
    region: str | None = None
    ground: Ground = "grey"
    lattice: Lattice = PLAIN_LATTICE
    draft: bool = False
    format: Literal["jpeg", "png"] = "jpeg"


@dataclass(frozen=True)
class Preview:
    """An encoded picture and where it belongs: ``rectangle`` in full-size pixels, which it covers exactly."""

    data: bytes
    format: Literal["jpeg", "png"]
    rectangle: tuple[float, float, float, float]
    coarse: bool


def render_preview(engine: Engine, source: Source, order: Order, view: View) -> Preview:
    """Return a view of a shot, encoded for the screen.

    Raises
    ------
    RequestError
        for a region that does not exist, or a rectangle outside of the picture.
    """
    scale = min(view.scale, 1.0) * (0.5 if view.draft else 1.0)
    _check(view, scale)
    window = window_of_rectangle((source.width, source.height), scale, view.rectangle)
    codes = _codes(engine, source, order, view, window)
    rectangle = (window.left / scale, window.top / scale, window.width / scale, window.height / scale)
    return Preview(_encoded(codes, view), view.format, rectangle, view.draft)


def _check(view: View, scale: float) -> None:
    width, height = view.rectangle[2:]
    if not scale > 0 or not np.isfinite([scale, *view.rectangle]).all():
        raise RequestError("The scale and the rectangle must be numbers above 0.", code="render.scale")
    if max(width, height) * scale > MAX_SIDE:
        raise RequestError(f"A view has at most {MAX_SIDE} pixels a side. Ask for less.", code="render.size")


def _codes(engine: Engine, source: Source, order: Order, view: View, window: Window) -> Codes:
    if view.name == "matte":
        return matte_view(_matte(engine, source, order, view, window))
    if view.name == "source":
        codes = screen_codes(engine.source(source, window), source.space)
        return _on_checker(codes, engine.clear(source, Order(), window), window)
    if view.name == "surround":
        return _surround(engine, engine.covered(source, order.sheets), order, view, window)
    planes = engine.picture(source, order, window)
    if view.name == "cutout" and not view.draft:
        planes = own_colours(engine, source, order, view.region, planes, window)
    codes = _on_checker(screen_codes(planes, source.space), engine.clear(source, order, window), window)
    if view.name == "picture":
        return codes
    if view.name == "beyond":
        return beyond_view(codes, planes, source.space, Place(window.left, window.top))
    if view.name == "difference":
        return difference_view(codes, screen_codes(engine.source(source, window), source.space))
    matte = _matte(engine, source, order, view, window)
    if view.name == "cutout":
        return cutout_view(codes, matte, view.ground, Place(window.left, window.top))
    return _threaded(codes, matte, view, window)


def _on_checker(codes: Codes, left: Matte | None, window: Window) -> Codes:
    return codes if left is None else cutout_view(codes, left, "checker", Place(window.left, window.top))


def own_colours(
    engine: Engine, source: Source, order: Order, region: str | None, planes: Planes, window: Window
) -> Planes:
    """Return planes, shape (3, H, W), whose edge has the subject's own colours, where the region was read from it."""
    where = resolve(order.sheet, region, above=(order.project,))
    return planes if where is None or not where.sees else freed(planes, engine.matte(source, where, window))


def _surround(engine: Engine, source: Source, order: Order, view: View, window: Window) -> Codes:
    """Return the picture, untouched but for its covers, without what lies inside.

    It is read whole, so that a crop shows what the whole shows.
    """
    outside = np.float32(1) - _matte(engine, source, order, view, window.whole)
    rows, columns = window.inside(window.whole)
    plate = plate_of(engine.source(source, window.whole), outside)[:, rows, columns]
    return screen_codes(np.ascontiguousarray(plate), source.space)


def _matte(engine: Engine, source: Source, order: Order, view: View, window: Window) -> Matte:
    where = resolve(order.sheet, view.region, above=(order.project,))
    if where is None:
        raise RequestError(f"The sheet has no region “{view.region}”. Choose one from the shelf.", code="render.region")
    return engine.matte(source, where, window)


def _threaded(codes: Codes, matte: Matte, view: View, window: Window) -> Codes:
    """Return the lattice or the outline at the pixels of the screen, after the zoom: their threads never grow."""
    zoom = view.scale / window.scale
    if abs(zoom - 1) < 1e-6:
        return _drawn(codes, matte, view, Place(window.left, window.top))
    size = (ceil(codes.shape[0] * zoom), ceil(codes.shape[1] * zoom))
    if max(size) > MAX_SIDE:
        return codes
    place = Place(round(window.left * zoom), round(window.top * zoom))
    return _drawn(_enlarged(codes, size), _evenly(matte, size), view, place)


def _drawn(codes: Codes, matte: Matte, view: View, place: Place) -> Codes:
    return outline_view(codes, matte) if view.name == "outline" else lattice_view(codes, matte, place, view.lattice)


def _evenly(matte: Matte, size: tuple[int, int]) -> Matte:
    """Return a matte enlarged linearly: a line drawn along it must not go in steps."""
    rows = np.clip((np.arange(size[0]) + 0.5) * matte.shape[0] / size[0] - 0.5, 0, matte.shape[0] - 1)
    columns = np.clip((np.arange(size[1]) + 0.5) * matte.shape[1] / size[1] - 0.5, 0, matte.shape[1] - 1)
    i, j = rows.astype(np.intp), columns.astype(np.intp)
    fy, fx = (rows - i).astype(np.float32)[:, None], (columns - j).astype(np.float32)
    below, right = np.minimum(i + 1, matte.shape[0] - 1), np.minimum(j + 1, matte.shape[1] - 1)
    lines = matte[i] * (1 - fy) + matte[below] * fy
    return np.ascontiguousarray(lines[:, j] * (1 - fx) + lines[:, right] * fx)


def _enlarged(array: NDArray, size: tuple[int, int]) -> NDArray:  # type: ignore[type-arg]
    rows = np.arange(size[0]) * array.shape[0] // size[0]
    columns = np.arange(size[1]) * array.shape[1] // size[1]
    return np.ascontiguousarray(array[rows][:, columns])


def _encoded(codes: Codes, view: View) -> bytes:
    if view.format == "png":
        return bytes(imagecodecs.png_encode(codes, level=1))
    quality = DRAFT_QUALITY if view.draft else REST_QUALITY
    sampling = "420" if view.draft else "444"
    return bytes(simplejpeg.encode_jpeg(codes, quality=quality, colorsubsampling=sampling, fastdct=True))
