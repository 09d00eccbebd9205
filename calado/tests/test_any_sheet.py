"""Sheets drawn at random from the declarations: whatever is combined, it is read, told, rendered and keeps in place."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as some

from calado.adjust.kind import ClearAdjustment
from calado.adjust.registry import ADJUSTMENTS
from calado.catalogue import CATALOGUE
from calado.colour.spaces import SPACES, SRGB
from calado.region.kinds import PARTS
from calado.region.refine.registry import REFINE
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve
from calado.render.source import source_of
from calado.sheet.check import read_sheet
from calado.sheet.declare import Choice, Curve, Declaration, Number
from calado.sheet.models import Part, Pass, Region, Sheet, Stroke
from calado.sheet.sentence import describe_sheet

HEIGHT, WIDTH = 40, 60
ASPECT = WIDTH / HEIGHT
PICTURE = np.random.default_rng(17).random((3, HEIGHT, WIDTH), np.float32)
#: these stand for another region or a file
REFERRING = {kind.id for kind in PARTS.values() if kind.reference("file") or kind.reference("region")}
#: this solves for each picture what a subject's edge is, which takes longer than all else together
SOLVED = {"rough"}
DRAWN = [kind for kind in PARTS.values() if kind.id not in REFERRING | SOLVED]
#: a ring goes round the outside of its region by intent; these leave the colours as they are
BEYOND = {"ring", *(each.id for each in ADJUSTMENTS.values() if isinstance(each, ClearAdjustment))}
USABLE = [each for each in ADJUSTMENTS.values() if not any(p.id == "file" for p in each.parameters)]
LOCAL = [each for each in USABLE if each.id not in BEYOND and not each.of_a_region]

share = some.floats(0, 1, width=32)


@some.composite
def values(draw: Any, of: Declaration) -> dict[str, Any]:
    """Draw values between the ends of each fader, some of them left out."""
    made: dict[str, Any] = {}
    for each in of.parameters:
        if isinstance(each, Number):
            found: Any = draw(some.none() | some.floats(each.low, each.high))
        elif isinstance(each, Choice):
            found = draw(some.none() | some.sampled_from([option.id for option in each.options]))
        elif isinstance(each, Curve):
            found = draw(some.none() | some.tuples(share, share).map(lambda ends: ((0.0, ends[0]), (1.0, ends[1]))))
        else:
            continue
        if found is not None:
            made[each.id] = found
    return made


@some.composite
def strokes(draw: Any) -> tuple[Stroke, ...]:
    """Draw one to three strokes across the picture."""
    place = some.tuples(some.floats(-0.2, ASPECT + 0.2), some.floats(-0.2, 1.2), share)
    ways = draw(some.lists(some.lists(place, min_size=1, max_size=4), min_size=1, max_size=3))
    sizes = some.floats(0.01, 0.5)
    return tuple(
        Stroke(
            points=tuple(each for point in way for each in point),
            does=draw(some.sampled_from(("add", "erase"))) if number else "add",
            size=draw(sizes),
            hardness=draw(share),
        )
        for number, way in enumerate(ways)
    )


@some.composite
def parts(draw: Any, number: int) -> Part:
    """Draw a part of any kind."""
    kind = draw(some.sampled_from(DRAWN))
    return Part(
        id=f"part-{number}",
        kind=kind.id,
        join=draw(some.sampled_from(("add", "subtract", "intersect"))) if number else "add",
        complement=draw(some.booleans()) if number else False,
        opacity=draw(share),
        values={**kind.place(ASPECT), **draw(values(kind))},
        points=kind.corners(ASPECT),
        strokes=draw(strokes()) if kind.strokes else (),
    )


@some.composite
def regions(draw: Any) -> Region:
    """Draw a region of one to three parts, some of them refined."""
    made = tuple(draw(parts(number)) for number in range(draw(some.integers(1, 3))))
    return Region(id="here", name="here", parts=made, refine=draw(some.just({}) | values(REFINE)))


@some.composite
def treatments(draw: Any, of: list[Any]) -> dict[str, Any]:
    """Draw a treatment of up to four adjustments."""
    chosen = draw(some.lists(some.sampled_from(of), min_size=1, max_size=4, unique_by=lambda each: each.id))
    return {each.id: draw(values(each)) for each in chosen}


@some.composite
def sheets(draw: Any, of: list[Any], outside: bool = True) -> Sheet:
    """Draw a sheet of one to three passes on one region."""
    passes = tuple(
        Pass(
            id=f"pass-{number}",
            name=f"Pass {number}",
            region="here",
            strength=draw(some.floats(0, 2)),
            mix=draw(share),
            inside=draw(treatments(of)),
            outside=draw(treatments(of)) if outside and draw(some.booleans()) else {},
        )
        for number in range(draw(some.integers(1, 3)))
    )
    return Sheet(regions=(draw(regions()),), passes=passes)


def rendered(sheet: Sheet, window: dict[str, int] | None = None, picture: np.ndarray = PICTURE) -> np.ndarray:
    source = source_of(picture, SRGB)
    whole = source.full()
    return np.asarray(Engine().picture(source, Order(sheet), replace(whole, **window) if window else whole))


patient = settings(
    max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)


class AnySheet(TestCase):
    @patient
    @given(sheets(USABLE))
    def test_it_is_read_again_as_it_was_written_and_told(self, sheet: Sheet) -> None:
        self.assertEqual(read_sheet(sheet.model_dump(mode="json"), CATALOGUE), sheet)
        told = describe_sheet(sheet, CATALOGUE)
        self.assertEqual([each.id for each in told], [each.id for each in sheet.passes])
        for each in told:
            said = each.plain
            self.assertRegex(said, r"\.$")
            self.assertNotRegex(said, r"nan|inf\b|None|_|  ")

    @patient
    @given(sheets(USABLE), some.sampled_from(sorted(SPACES)))
    def test_it_gives_numbers_and_the_same_ones_each_time(self, sheet: Sheet, space: str) -> None:
        source = source_of(PICTURE, SPACES[space])
        first, second = (Engine().picture(source, Order(sheet), source.full()) for _ in range(2))
        self.assertTrue(np.isfinite(first).all())
        np.testing.assert_array_equal(first, second)

    @patient
    @given(sheets(LOCAL, outside=False))
    def test_what_is_inside_only_leaves_all_else_bit_for_bit(self, sheet: Sheet) -> None:
        source = source_of(PICTURE, SRGB)
        where = resolve(sheet, "here")
        assert where is not None
        matte = Engine().matte(source, where, source.full())
        self.assertTrue(((matte >= 0) & (matte <= 1)).all())
        np.testing.assert_array_equal(rendered(sheet)[:, matte == 0], PICTURE[:, matte == 0])

    @patient
    @given(sheets(USABLE), some.integers(0, 20), some.integers(0, 30))
    def test_a_window_of_it_is_that_place_of_the_whole(self, sheet: Sheet, top: int, left: int) -> None:
        part = rendered(sheet, {"left": left, "top": top, "width": 30, "height": 20})
        whole = rendered(sheet)[:, top : top + 20, left : left + 30]
        np.testing.assert_allclose(part, whole, atol=2e-4)

    @patient
    @given(sheets(USABLE))
    def test_switched_off_it_is_the_source(self, sheet: Sheet) -> None:
        off = sheet.model_copy(update={"passes": tuple(each.model_copy(update={"on": False}) for each in sheet.passes)})
        np.testing.assert_array_equal(rendered(off), PICTURE)
