"""Nothing looks under a cover: every hidden pixel is exchanged, and not a byte of any file differs."""

from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest import TestCase

import numpy as np
import OpenImageIO as oiio
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as some

from calado.colour.spaces import SRGB
from calado.export import export_region, export_still
from calado.media.formats import FORMATS
from calado.media.write import Target
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve
from calado.render.source import Source, source_of
from calado.sheet.models import Part, Pass, Region, Sheet
from calado.tests.test_any_sheet import ASPECT, PICTURE, USABLE, parts, regions, share, treatments

NOISE = np.random.default_rng(5).random(PICTURE.shape, np.float32)
#: parts that read the picture; a solid's own shape must not, or it shows what it hides
SEEING = ("luminance", "colours", "sampled")
patient = settings(
    max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)


def blind(region: Region) -> bool:
    similar = any(stroke.colour_tolerance for part in region.parts for stroke in part.strokes)
    return not similar and all(part.kind not in SEEING for part in region.parts)


@some.composite
def passes(draw: Any, id: str, regions_: tuple[str, ...]) -> Pass:
    return Pass(
        id=id,
        name=id,
        region=draw(some.sampled_from(regions_)),
        strength=draw(some.floats(0, 2)),
        mix=draw(share),
        inside=draw(treatments(USABLE)),
        outside=draw(treatments(USABLE)) if draw(some.booleans()) else {},
    )


@some.composite
def covered_orders(draw: Any) -> Order:
    """Draw a shot's sheet and a project's, with a solid cover on some side of one, among any other passes."""
    whole: tuple[Any, ...] = (None,)
    hides = draw(regions().filter(blind))
    shelf = (hides.model_copy(update={"id": "hides"}), draw(regions()))
    side = draw(some.sampled_from(("inside", "outside")))
    other = {"inside": "outside", "outside": "inside"}[side]
    cover = Pass(
        id="cover",
        name="cover",
        region="hides",
        strength=draw(some.floats(0, 2)),
        mix=draw(share),
        **{
            side: {**draw(treatments(USABLE)), "solid": {"amount": draw(some.floats(0.01, 1))}},
            other: draw(treatments(USABLE)) if draw(some.booleans()) else {},
        },
    )
    names = ("hides", "here", *whole)
    before = tuple(draw(passes(f"before-{k}", names)) for k in range(draw(some.integers(0, 2))))
    after = tuple(draw(passes(f"after-{k}", names)) for k in range(draw(some.integers(0, 2))))
    made = Sheet(regions=shelf, passes=(*before, cover, *after))
    there = (draw(parts(0)), draw(parts(1)))
    far = Region(id="here", name="here", parts=there)
    project = Sheet(regions=(far,), passes=(draw(passes("project", ("here", *whole))),))
    return Order(project, made) if draw(some.booleans()) else Order(made, project)


def exchanged(order: Order) -> tuple[Source, Source]:
    """Return the picture, and the same with noise wherever the solid covers."""
    source = source_of(PICTURE, SRGB, "picture")
    hidden = [
        matte
        for cover, matte in Engine().hidden(source, order, source.full())
        if cover.plan.where and cover.plan.where.region.id == "hides" and cover.blind
    ]
    gone = np.max(hidden, axis=0) > 0
    return source, source_of(np.where(gone, NOISE, PICTURE).astype(np.float32), SRGB, "exchanged")


def written(source: Source, order: Order, format_: str) -> bytes:
    with TemporaryDirectory() as folder:
        path = Path(folder) / f"out.{FORMATS[format_].suffixes[0]}"  # type: ignore[index]
        if format_ == "exr":
            sheet, below, above = (order.sheet, (), (order.project,))
            where = resolve(sheet, "here", None, below, above)
            assert where is not None
            export_region(source, order, where, "matte", path, Target("exr", 32))
        else:
            export_still(source, order, path, Target(format_, 8))  # type: ignore[arg-type]
        # the headers of these tell the time
        pixels = oiio.ImageBuf(str(path)).get_pixels() if format_ in ("exr", "tiff") else None
        return path.read_bytes() if pixels is None else bytes(np.asarray(pixels).tobytes())


def without_noise(order: Order) -> Order:
    """Return an order without noise that is another in each export, and so cannot be compared."""

    def less(treatment: dict[str, Any]) -> dict[str, Any]:
        return {id: values for id, values in treatment.items() if id != "scramble"}

    def each(sheet: Sheet) -> Sheet:
        made = [p.model_copy(update={"inside": less(p.inside), "outside": less(p.outside)}) for p in sheet.passes]
        return sheet.model_copy(update={"passes": tuple(made)})

    return Order(each(order.sheet), each(order.project))


class NothingUnderACover(TestCase):
    @patient
    @given(covered_orders(), some.sampled_from(("png", "jpeg", "tiff", "exr")))
    def test_no_byte_of_any_file_depends_on_a_hidden_pixel(self, order: Order, format_: str) -> None:
        order = without_noise(order)
        one, other = exchanged(order)
        self.assertEqual(written(one, order, format_), written(other, order, format_))

    @patient
    @given(covered_orders(), share)
    def test_nor_does_a_preview_of_any_size(self, order: Order, scale: float) -> None:
        one, other = exchanged(order)
        window = one.full(0.2 + 0.8 * scale)
        made = [Engine().picture(each, order, window) for each in (one, other)]
        np.testing.assert_array_equal(*made)

    def test_the_trial_would_notice(self) -> None:
        """The same range as a later pass, on a cover that need not hold, prints what is under it."""
        oval = Region(
            id="hides",
            name="hides",
            parts=(Part(id="p", kind="ellipse", values={"x": ASPECT / 2, "y": 0.5, "width": 0.6, "height": 0.6}),),
        )
        lights = Region(id="here", name="here", parts=(Part(id="p", kind="luminance", values={"low": 0.6}),))
        solid = Pass(id="cover", name="cover", region="hides", inside={"solid": {"amount": 1.0}})
        reads = Pass(id="after", name="after", region="here", inside={"exposure": {"amount": 2.0}})
        held = Order(Sheet(regions=(oval, lights), passes=(solid, reads)))
        one, other = exchanged(held)
        loose = Order(held.sheet.model_copy(update={"passes": (solid.model_copy(update={"must_cover": False}), reads)}))
        differs = [
            not np.array_equal(*(Engine().picture(each, order, one.full()) for each in (one, other)))
            for order in (held, loose)
        ]
        self.assertEqual(differs, [False, True])
