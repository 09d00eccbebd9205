"""Lanes of tests: what fails in any fails the whole, and all are told."""

import io
import sys
from contextlib import redirect_stdout
from unittest import TestCase

from tools.lanes import ROOT, SECOND, lanes


def _ends(code: int, says: str = "") -> list[str]:
    return [sys.executable, "-c", f"print({says!r}); raise SystemExit({code})"]


class LanesTest(TestCase):
    """The commands side by side."""

    def test_the_whole_ends_well_only_when_all_do(self) -> None:
        for codes in ((0, 0), (0, 0, 0), (1, 0, 0), (0, 1, 0), (0, 0, 1), (2, 3)):
            with self.subTest(codes=codes), redirect_stdout(io.StringIO()):
                self.assertEqual(lanes([_ends(each) for each in codes], []) == 0, not any(codes))

    def test_what_waits_is_run_whatever_became_of_what_came_before(self) -> None:
        for codes in ((0, 1, 0), (1, 0, 0), (0, 0, 1), (0, 0, 0)):
            later = [_ends(codes[1], "the later one"), _ends(codes[2], "the last one")]
            with self.subTest(codes=codes), redirect_stdout(io.StringIO()) as told:
                self.assertEqual(lanes([_ends(codes[0]), _ends(0)], later) == 0, not any(codes))
            for name in ("the later one", "the last one"):
                self.assertEqual(told.getvalue().count(name), 1)

    def test_what_goes_in_the_second_lane_is_there(self) -> None:
        for each in SECOND:
            self.assertTrue((ROOT / "e2e" / f"test_{each}.py").exists(), each)

    def test_what_ran_beside_is_told_whole(self) -> None:
        with redirect_stdout(io.StringIO()) as told:
            lanes([_ends(0), _ends(1, "3 tests failed: a, b, ü")], [])
        self.assertIn("3 tests failed: a, b, ü", told.getvalue())

    def test_what_failed_first_is_told_again_at_the_end(self) -> None:
        with redirect_stdout(io.StringIO()) as told:
            lanes([_ends(1, "failed: one\nelse"), _ends(0, "many lines")], [])
        self.assertTrue(told.getvalue().endswith("many lines\nfailed: one\n"), told.getvalue())
