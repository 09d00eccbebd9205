"""Two lanes of tests: what fails in either fails the whole, and both are told."""

import io
import sys
from contextlib import redirect_stdout
from unittest import TestCase

from tools.lanes import lanes


def _ends(code: int, says: str = "") -> list[str]:
    return [sys.executable, "-c", f"print({says!r}); raise SystemExit({code})"]


class LanesTest(TestCase):
    """The two commands side by side."""

    def test_the_whole_ends_well_only_when_both_do(self) -> None:
        for first, beside, well in ((0, 0, True), (1, 0, False), (0, 1, False), (2, 3, False)):
            with self.subTest(first=first, beside=beside), redirect_stdout(io.StringIO()):
                self.assertEqual(lanes(_ends(first), _ends(beside)) == 0, well)

    def test_what_ran_beside_is_told_whole(self) -> None:
        with redirect_stdout(io.StringIO()) as told:
            lanes(_ends(0), _ends(1, "3 tests failed: a, b, ü"))
        self.assertIn("3 tests failed: a, b, ü", told.getvalue())

    def test_what_failed_first_is_told_again_at_the_end(self) -> None:
        with redirect_stdout(io.StringIO()) as told:
            lanes(_ends(1, "failed: one\nelse"), _ends(0, "many lines"))
        self.assertTrue(told.getvalue().endswith("many lines\nfailed: one\n"), told.getvalue())
