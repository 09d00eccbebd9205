"""Sheets: reading and refusing, round trip, steps and their inverses, the schema, the words."""

import json
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from calado.adjust.registry import ADJUSTMENTS
from calado.catalogue import CATALOGUE
from calado.errors import SheetError
from calado.region.kinds import PARTS
from calado.sheet.check import read_sheet
from calado.sheet.declare import Choice, Curve, Declaration, Number, Reference
from calado.sheet.models import Part, Pass, Region, Sheet, Stroke
from calado.sheet.numbers import say_number
from calado.sheet.schema import sheet_schema
from calado.sheet.sentence import describe, describe_sheet
from calado.sheet.steps import (
    PartStep,
    Step,
    StrokesStep,
    apply_step,
    read_step,
    sheet_data,
    step_between,
    step_data,
)

names = st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), min_size=1, max_size=20)
REGIONS = ("oval", "spot", "lamp")


def values(declaration: Declaration) -> st.SearchStrategy[dict[str, float | str]]:
    def one(parameter: Number | Choice) -> st.SearchStrategy[float | str]:
        if isinstance(parameter, Number):
            return st.floats(parameter.floor, parameter.ceiling)
        if isinstance(parameter, Reference):
            return st.just("")
        if isinstance(parameter, Curve):
            return st.sampled_from([(), ((0.0, 0.1), (1.0, 0.8)), ((0.0, 0.0), (0.5, 0.2), (1.0, 1.0))])
        return st.sampled_from([option.id for option in parameter.options])

    return st.fixed_dictionaries({}, optional={p.id: one(p) for p in declaration.parameters})


parts = st.one_of(
    *(
        st.builds(
            Part,
            id=st.just("p"),
            kind=st.just(kind.id),
            join=st.sampled_from(["add", "subtract", "intersect"]),
            complement=st.booleans(),
            opacity=st.floats(0, 1),
            values=values(kind),
        )
        for kind in PARTS.values()
    )
)
treatments = st.fixed_dictionaries({}, optional={a.id: values(a) for a in ADJUSTMENTS.values()})


@st.composite
def sheets(draw: st.DrawFn) -> Sheet:
    regions = tuple(
        Region(id=id, name=draw(names), parts=draw(st.lists(parts, max_size=1).map(tuple)))
        for id in draw(st.lists(st.sampled_from(REGIONS), unique=True))
    )
    where = st.sampled_from([None, *(region.id for region in regions)])
    passes = tuple(
        Pass(
            id=f"pass-{k}",
            name=draw(names),
            region=draw(where),
            on=draw(st.booleans()),
            strength=draw(st.floats(0, 2)),
            mix=draw(st.floats(0, 1)),
            inside=draw(treatments),
            outside=draw(treatments),
        )
        for k in range(draw(st.integers(0, 3)))
    )
    return Sheet(regions=regions, passes=passes)


class RoundTrip(TestCase):
    @settings(max_examples=60, deadline=None)
    @given(sheets())
    def test_json_there_and_back(self, sheet: Sheet) -> None:
        self.assertEqual(read_sheet(sheet.model_dump_json(), CATALOGUE), sheet)

    @settings(max_examples=60, deadline=None)
    @given(sheets(), sheets())
    def test_a_step_and_its_inverse(self, one: Sheet, other: Sheet) -> None:
        self.assertEqual(apply_step(one, step_between(one, other), CATALOGUE), other)
        self.assertEqual(apply_step(other, step_between(other, one), CATALOGUE), one)
        # as it goes over the wire and lies on disk
        self.assertEqual(apply_step(one, read_step(step_data(step_between(one, other))), CATALOGUE), other)

    @settings(max_examples=60, deadline=None)
    @given(sheets())
    def test_every_sheet_can_be_told(self, sheet: Sheet) -> None:
        self.assertEqual(len(describe_sheet(sheet, CATALOGUE)), len(sheet.passes))
        for told in describe_sheet(sheet, CATALOGUE):
            self.assertTrue(told.plain.startswith(("Inside ", "Outside ")))
            self.assertTrue(told.plain.endswith((".", "nothing yet.")))


def bad(**fields: object) -> dict[str, object]:
    oval = {"id": "oval", "name": "oval", "parts": [{"id": "p", "kind": "ellipse"}]}
    return {"regions": [oval], "passes": [{"id": "a", "name": "Edge", "region": "oval", **fields}]}


class Refusals(TestCase):
    """What is refused, and a piece of the sentence that says why."""

    CASES = (
        ("{", "not valid JSON"),
        ("[" * 100000, "not valid JSON"),
        ("[]", "not an object"),
        ({"version": 99}, "newer Calado"),
        ({"version": 0}, "never existed"),
        ({"colour": 1}, "cannot be read at colour"),
        (bad(region="lamp"), "not on the shelf"),
        (bad(strength=3), "strength"),
        (bad(mix=float("nan")), "mix"),
        (bad(outside={"sparkle": {}}), "unknown adjustment"),
        (bad(outside={"exposure": {"glow": 1}}), "no parameter"),
        (bad(outside={"exposure": {"amount": 90}}), "between -12 and 12, got 90"),
        (bad(outside={"exposure": {"amount": float("inf")}}), "cannot be read"),
        (bad(outside={"exposure": {"amount": "lots"}}), "must be a number"),
        (bad(outside={"blur": {"grade": "sideways"}}), "one of mix, radius"),
        ({"regions": [{"id": "a", "name": "a"}] * 2}, "Two times"),
        ({"regions": [{"id": "a", "name": "a", "parts": [{"id": "p", "kind": "cube"}]}]}, "unknown kind"),
        ({"regions": [{"id": "a b", "name": "a"}]}, "regions > 0 > id"),
        ({"passes": [{"id": "a", "name": ""}]}, "name"),
    )

    def test_each_with_a_sentence(self) -> None:
        for data, piece in self.CASES:
            with self.assertRaises(SheetError, msg=piece) as caught:
                read_sheet(data, CATALOGUE)  # type: ignore[arg-type]
            self.assertIn(piece, str(caught.exception))
            self.assertTrue(caught.exception.code.startswith("sheet."))

    def test_steps_that_do_not_fit(self) -> None:
        part = {"id": "p", "kind": "brush"}
        sheet = read_sheet({"regions": [{"id": "r", "name": "r", "parts": [part]}]}, CATALOGUE)
        stroke = {"points": [0, 0, 1]}
        for data, piece in (
            ({"shelf": ["r", "x"]}, "no region “x”"),
            ({"shelf": ["r", "r"]}, "twice"),
            ({"order": ["a"]}, "no pass “a”"),
            ({"joined": {"r": ["p", "q"]}}, "no part “q”"),
            ({"joined": {"x": []}}, "no region “x”"),
            ({"parts": [{"region": "x", "part": part}]}, "no region “x”"),
            ({"strokes": [{"region": "r", "part": "q", "keep": 0}]}, "no part “q”"),
            ({"strokes": [{"region": "r", "part": "p", "keep": 2, "add": [stroke]}]}, "keeps 2 strokes"),
            ({"regions": [{"region": {"id": "x", "name": "x"}, "parts_stay": True}]}, "no region “x”"),
            ({"passes": [{"id": "a", "name": "a", "region": "lamp"}]}, "not on the shelf"),
            ({"passes": [{"id": "a"}]}, "passes > 0 > name"),
            ({"strokes": [{"region": "r", "part": "p", "keep": 0, "add": [{"points": [0, 0, 2]}]}]}, "pressure"),
            ({"shelf": []}, ""),
            ({"move": "/passes/0"}, "move"),
        ):
            with self.subTest(data=data):
                if not piece:
                    self.assertEqual(apply_step(sheet, read_step(data), CATALOGUE).regions, ())
                    continue
                with self.assertRaises(SheetError) as caught:
                    apply_step(sheet, read_step(data), CATALOGUE)
                self.assertIn(piece, str(caught.exception))

    def test_a_part_never_has_too_many_strokes_nor_a_sheet_too_many_numbers(self) -> None:
        stroke = Stroke(points=(0.0, 0.0, 1.0) * 2000)
        part = Part(id="p", kind="brush", strokes=(stroke,) * 200)
        sheet = Sheet(regions=(Region(id="r", name="r", parts=(part,)),))
        short = Stroke(points=(0.0, 0.0, 1.0))
        many = Step(strokes=(StrokesStep(region="r", part="p", keep=200, add=(short,) * 4900),))
        with self.assertRaisesRegex(SheetError, "leads nowhere"):
            apply_step(sheet, many, CATALOGUE)
        again = Step(parts=tuple(PartStep(region="r", part=part.model_copy(update={"id": f"p{k}"})) for k in range(2)))
        with self.assertRaisesRegex(SheetError, "more strokes and outlines"):
            apply_step(sheet, again, CATALOGUE)

    def test_a_step_is_as_large_as_its_change(self) -> None:
        strokes = tuple(Stroke(points=tuple(float(k % 7) for k in range(240))) for _ in range(40))
        regions = tuple(
            Region(id=id, name=id, parts=(Part(id="p", kind="brush", strokes=strokes),)) for id in ("a", "b")
        )
        sheet = Sheet(regions=regions)
        without = sheet.model_copy(update={"regions": regions[1:]})
        self.assertEqual(step_data(step_between(sheet, without)), {"shelf": ["b"]})
        renamed = sheet.model_copy(update={"regions": (regions[0].model_copy(update={"name": "oval"}), regions[1])})
        self.assertLess(len(str(step_data(step_between(sheet, renamed)))), 200)
        more = regions[1].parts[0].model_copy(update={"strokes": (*strokes, strokes[0])})
        painted = sheet.model_copy(update={"regions": (regions[0], regions[1].model_copy(update={"parts": (more,)}))})
        step = step_between(sheet, painted)
        self.assertEqual([(each.keep, len(each.add)) for each in step.strokes], [(40, 1)])
        self.assertLess(len(str(step_data(step))), 2000)


class Words(TestCase):
    """Sentences as LOOK's grammar wants them."""

    oval = Region(id="oval", name="stage oval", parts=(Part(id="p", kind="ellipse"),))

    def told(self, **fields: object) -> str:
        sheet = Sheet(regions=(self.oval,), passes=(Pass(id="a", name="Vignette", **fields),))
        return describe_sheet(sheet, CATALOGUE)[0].plain

    def test_one_side(self) -> None:
        treatment = {"saturation": {"amount": -0.3}, "exposure": {"amount": -1.2}}
        self.assertEqual(
            self.told(region="oval", outside=treatment),
            "Outside stage oval: exposure −1.2\u00a0EV, saturation −30\u00a0%.",
        )

    def test_two_sides_are_two_sentences(self) -> None:
        self.assertEqual(
            self.told(region="oval", inside={"exposure": {"amount": 0.35}}, outside={"exposure": {"amount": -1}}),
            "Inside stage oval: exposure +0.35\u00a0EV. Outside stage oval: exposure −1.0\u00a0EV.",
        )

    def test_whole_picture_choices_and_neutral(self) -> None:
        self.assertEqual(
            self.told(inside={"blur": {"radius": 0.0045, "grade": "radius"}, "exposure": {"amount": 0}}),
            "Inside whole picture: blur 0.45\u00a0% growing by radius.",
        )
        self.assertEqual(self.told(region="oval"), "Inside stage oval: nothing yet.")

    def test_the_whole_sheet(self) -> None:
        self.assertEqual(describe(Sheet(), CATALOGUE), "Nothing is done to this shot yet.")
        off = Sheet(passes=(Pass(id="a", name="Lamp", on=False), Pass(id="b", name="Edge", strength=0.8, mix=0.5)))
        first, _, second, _ = describe(off, CATALOGUE).split("\n")
        self.assertEqual((first, second), ("1 Lamp, off", "2 Edge, strength 80 %, mix 50 %"))

    def test_numbers(self) -> None:
        exposure, saturation = ADJUSTMENTS["exposure"].numbers[0], ADJUSTMENTS["saturation"].numbers[0]
        blur, turn = ADJUSTMENTS["blur"].numbers[0], PARTS["ellipse"].parameter("turn")
        assert isinstance(turn, Number)
        for value, number, said in (
            (-1.25, exposure, "−1.25\u00a0EV"),
            (2, exposure, "+2.0\u00a0EV"),
            (0.355, saturation, "+35.5\u00a0%"),
            (-0.0001, saturation, "0.0\u00a0%"),
            (0.0125, blur, "1.3\u00a0%"),
            (0.0045, blur, "0.45\u00a0%"),
            (-8, turn, "−8.0°"),
        ):
            self.assertEqual(say_number(value, number), said)


class Schema(TestCase):
    def test_every_declaration_is_in_it(self) -> None:
        text = json.dumps(sheet_schema(CATALOGUE))
        for declaration in (*ADJUSTMENTS.values(), *PARTS.values()):
            self.assertIn(f'"{declaration.id}"', text)
            for parameter in declaration.parameters:
                self.assertIn(f'"{parameter.id}"', text)

    def test_plain_data_is_json(self) -> None:
        self.assertEqual(json.loads(json.dumps(sheet_data(Sheet()))), {"version": 2, "regions": [], "passes": []})
