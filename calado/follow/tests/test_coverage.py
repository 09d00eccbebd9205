"""In which frames a cover holds: counted frame by frame here, as runs there."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from calado.catalogue import CATALOGUE
from calado.errors import SheetError
from calado.follow.carried import SURE, sheet_in_time
from calado.follow.coverage import coverage, covers_of
from calado.follow.motion import Motion, Step, no_motions
from calado.sheet.check import check_sheet
from calado.sheet.models import Declared, Fix, Part, Pass, Region, Sheet, Span, Track
from calado.sheet.sentence import describe

DIGEST = "b" * 64
FRAMES = 40
PART = Part(id="o", kind="ellipse", values={"x": 0.5, "y": 0.5, "width": 0.2, "height": 0.2})


def sheet(track: Track | None = None, covers: dict[str, Declared] | None = None, **more: object) -> Sheet:
    region = Region(id="r", name="plate", parts=(PART,), track=track, covers=covers or {})
    cover = Pass(id="p", name="Cover", region="r", inside={"solid": {"amount": 1}}, **more)  # type: ignore[arg-type]
    return Sheet(regions=(region,), passes=(cover,))


def states(made: Sheet, motion: Motion | None = None) -> list[str]:
    found = coverage(made, "r", FRAMES, lambda digest: motion)
    assert found is not None
    return [run.state for run in found.runs for _ in range(run.first, run.last + 1)]


sureness = st.lists(st.floats(0, 1), min_size=FRAMES, max_size=FRAMES)


class Covered(unittest.TestCase):
    @given(sureness, st.sets(st.integers(0, FRAMES - 1)), st.integers(0, 30), st.integers(0, 9))
    def test_each_frame_is_one_of_three(self, sure: list[float], fixed: set[int], first: int, more: int) -> None:
        motion = Motion("clip", 5, (0.5, 0.5), {k: Step(np.eye(3), each) for k, each in enumerate(sure)})
        track = Track(motion=DIGEST, at=5, fixes={str(k): Fix() for k in fixed})
        for says in ("absent", "seen"):
            made = sheet(track, {str(first): Declared(last=first + more, says=says)})  # type: ignore[arg-type]
            for frame, state in enumerate(states(made, motion)):
                if first <= frame <= first + more:
                    self.assertEqual(state, "absent" if says == "absent" else "covered")
                else:
                    self.assertEqual(state == "open", sure[frame] < SURE and frame not in fixed)

    def test_runs_follow_each_other_without_a_gap_and_say_who(self) -> None:
        covers = {"3": Declared(last=7, says="absent", who="Odile", when="2026-11-30T10:00:00Z")}
        found = coverage(sheet(None, covers, span=Span(first=0, last=29)), "r", FRAMES, no_motions)
        assert found is not None
        self.assertEqual(
            [(run.first, run.last, run.state, run.who) for run in found.runs],
            [(0, 2, "covered", ""), (3, 7, "absent", "Odile"), (8, 29, "covered", ""), (30, 39, "off", "")],
        )
        self.assertEqual(found.says, "lies by hand in 25, absent in 5, off in 10")

    def test_a_motion_that_is_gone_leaves_every_frame_open(self) -> None:
        self.assertEqual(states(sheet(Track(motion=DIGEST, at=0))), ["open"] * FRAMES)

    def test_only_what_must_be_covered_is_counted(self) -> None:
        for more in ({"must_cover": False}, {"on": False}):
            self.assertEqual(covers_of(sheet(None, None, **more), FRAMES, no_motions), [])

    def test_where_it_is_absent_nothing_is_laid_over_the_picture(self) -> None:
        made = sheet(None, {"3": Declared(last=7, says="absent"), "9": Declared(last=9, says="seen")})
        lit = [sheet_in_time(made, frame, no_motions).passes[0].on for frame in range(11)]
        self.assertEqual([frame for frame, on in enumerate(lit) if not on], [3, 4, 5, 6, 7])
        light = made.model_copy(update={"passes": (Pass(id="p", name="Light", region="r", inside={"exposure": {}}),)})
        self.assertTrue(sheet_in_time(light, 5, no_motions).passes[0].on)


class Declarations(unittest.TestCase):
    def test_two_of_one_frame_and_an_end_before_the_beginning_are_refused(self) -> None:
        for covers in ({"3": 7, "7": 9}, {"8": 7}):
            made = sheet(None, {first: Declared(last=last, says="seen") for first, last in covers.items()})
            with self.assertRaisesRegex(SheetError, "declared"):
                check_sheet(made, CATALOGUE)

    def test_the_sentence_says_so(self) -> None:
        made = sheet(None, {"3": Declared(last=7, says="absent")})
        self.assertIn("which must cover (declared absent in 5 frames)", describe(made, CATALOGUE))
