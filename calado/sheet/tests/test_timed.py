"""Time in a sheet: keys, spans, what stands still."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from calado.catalogue import CATALOGUE
from calado.errors import SheetError
from calado.sheet.check import read_sheet
from calado.sheet.models import Key, Part, Pass, PointKey, Region, Sheet, Span
from calado.sheet.sentence import describe
from calado.sheet.timed import frames_of, part_at, sheet_at, span_share, value_at

KEYS = st.dictionaries(
    st.integers(0, 400).map(str),
    st.builds(Key, value=st.floats(-5, 5), ease=st.sampled_from(["hold", "linear", "smooth"])),
    min_size=1,
    max_size=8,
)


def oval(**more: object) -> Part:
    return Part(id="o", kind="ellipse", values={"x": 0.5, "y": 0.5, "width": 0.3, "height": 0.4}, **more)


def moving(*passes: Pass) -> Sheet:
    part = oval(keys={"x": {"0": Key(value=0.2), "10": Key(value=0.8)}})
    return Sheet(regions=(Region(id="r", name="r", parts=(part,)),), passes=passes)


class Ways(TestCase):
    @given(KEYS, st.integers(0, 500))
    def test_it_holds_outside_and_stays_between_its_neighbours_inside(self, keys: dict[str, Key], frame: int) -> None:
        order = sorted(map(int, keys))
        made = value_at(keys, frame)
        if frame <= order[0]:
            self.assertEqual(made, keys[str(order[0])].value)
        elif frame >= order[-1]:
            self.assertEqual(made, keys[str(order[-1])].value)
        else:
            before = max(each for each in order if each <= frame)
            after = min(each for each in order if each > frame)
            ends = (keys[str(before)].value, keys[str(after)].value)
            self.assertTrue(min(ends) <= made <= max(ends))
            if keys[str(before)].ease == "hold":
                self.assertEqual(made, ends[0])

    @given(KEYS)
    def test_it_goes_through_every_key(self, keys: dict[str, Key]) -> None:
        for frame, key in keys.items():
            self.assertAlmostEqual(value_at(keys, int(frame)), key.value, places=12)

    def test_smooth_is_the_monotone_cubic_and_straight_is_straight(self) -> None:
        at, values = [0, 8, 20, 33], [0.1, 0.7, 0.6, 0.9]
        smooth = {str(f): Key(value=v) for f, v in zip(at, values, strict=True)}
        straight = {f: key.model_copy(update={"ease": "linear"}) for f, key in smooth.items()}
        frames = range(34)
        np.testing.assert_allclose(
            [value_at(smooth, f) for f in frames], PchipInterpolator(at, values)(frames), atol=1e-12
        )
        np.testing.assert_allclose([value_at(straight, f) for f in frames], np.interp(frames, at, values), atol=1e-12)

    def test_an_outline_moves_point_by_point(self) -> None:
        points = ((0.1, 0.1), (0.5, 0.1), (0.3, 0.6))
        away = tuple((x + 0.4, y) for x, y in points)
        keys = {"4": PointKey(points=points, ease="linear"), "8": PointKey(points=away)}
        part = Part(id="p", kind="polygon", points=points, point_keys=keys)
        np.testing.assert_allclose(part_at(part, 6).points, [(x + 0.2, y) for x, y in points])
        self.assertEqual(frames_of(part), (4, 8))


class AtAFrame(TestCase):
    def test_what_stands_still_is_the_same_object(self) -> None:
        still = Sheet(
            regions=(Region(id="r", name="r", parts=(oval(),)),), passes=(Pass(id="p", name="p", region="r"),)
        )
        self.assertIs(sheet_at(still, 17, CATALOGUE), still)
        made = sheet_at(moving(Pass(id="p", name="p", region="r")), 5, CATALOGUE)
        self.assertAlmostEqual(made.regions[0].parts[0].values["x"], 0.5)
        self.assertEqual(made.regions[0].parts[0].keys, {})

    def test_a_span_with_its_fades(self) -> None:
        each = Pass(id="p", name="p", mix=0.8, span=Span(first=10, last=19, fade_in=4, fade_out=1))
        shares = [span_share(each, frame) for frame in (9, 10, 13, 14, 18, 19, 20)]
        self.assertEqual(shares, [0, 0.2, 0.8, 1, 1, 0.5, 0])
        at = sheet_at(Sheet(passes=(each,)), 10, CATALOGUE).passes[0]
        self.assertAlmostEqual(at.mix, 0.16)
        self.assertFalse(sheet_at(Sheet(passes=(each,)), 20, CATALOGUE).passes[0].on)

    def test_strength_and_mix_move(self) -> None:
        keys = {"strength": {"0": Key(value=0, ease="linear"), "10": Key(value=2)}, "mix": {"3": Key(value=0.5)}}
        at = sheet_at(Sheet(passes=(Pass(id="p", name="p", keys=keys),)), 5, CATALOGUE).passes[0]
        self.assertEqual((at.strength, at.mix), (1.0, 0.5))

    def test_grain_is_another_in_each_frame_and_a_cover_s_noise_is_not(self) -> None:
        inside = {"grain": {"amount": 0.5}, "scramble": {"amount": 1.0}}
        sheet = Sheet(passes=(Pass(id="p", name="p", inside=inside),))
        seeds = {sheet_at(sheet, frame, CATALOGUE).passes[0].inside["grain"].get("seed") for frame in range(50)}
        self.assertEqual(len(seeds), 50)
        self.assertEqual(sheet_at(sheet, 9, CATALOGUE).passes[0].inside["scramble"], inside["scramble"])


class Written(TestCase):
    def test_json_there_and_back(self) -> None:
        each = Pass(id="p", name="p", region="r", span=Span(first=3, fade_in=2), inside={"exposure": {"amount": 1.0}})
        sheet = moving(each)
        self.assertEqual(read_sheet(sheet.model_dump_json(), CATALOGUE), sheet)

    def test_it_is_told(self) -> None:
        span = Span(first=36, last=80, fade_in=12)
        said = describe(
            moving(Pass(id="p", name="Glow", region="r", span=span, inside={"exposure": {"amount": 1.0}})), CATALOGUE
        )
        self.assertIn("which moves (2 keyframes), from frame 36 to 80, coming over 12: exposure", said)

    def test_what_cannot_be_is_refused(self) -> None:
        faults = {
            "no “colour”": moving().model_copy(
                update={"regions": (Region(id="r", name="r", parts=(oval(keys={"colour": {"0": Key(value=1)}}),)),)}
            ),
            "no keyframe": Sheet(regions=(Region(id="r", name="r", parts=(oval(keys={"x": {}}),)),)),
            "must lie between": Sheet(
                regions=(Region(id="r", name="r", parts=(oval(keys={"x": {"0": Key(value=900)}}),)),)
            ),
            "before it begins": Sheet(passes=(Pass(id="p", name="p", span=Span(first=9, last=3)),)),
            "the same points": Sheet(
                regions=(
                    Region(
                        id="r",
                        name="r",
                        parts=(
                            Part(
                                id="p",
                                kind="polygon",
                                points=((0, 0), (1, 0), (0, 1)),
                                point_keys={"0": PointKey(points=((0, 0), (1, 0)))},
                            ),
                        ),
                    ),
                )
            ),
        }
        for said, sheet in faults.items():
            with self.subTest(said), self.assertRaisesRegex(SheetError, said):
                read_sheet(sheet.model_dump_json(), CATALOGUE)
        with self.assertRaises(SheetError):
            read_sheet(
                {
                    **moving().model_dump(mode="json"),
                    "regions": [
                        {
                            "id": "r",
                            "name": "r",
                            "parts": [{"id": "o", "kind": "ellipse", "keys": {"x": {"-1": {"value": 1}}}}],
                        }
                    ],
                },
                CATALOGUE,
            )
