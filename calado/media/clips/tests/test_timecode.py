"""Timecode by SMPTE ST 12-1."""

from fractions import Fraction
from unittest import TestCase

from calado.media.clips.timecode import advanced

NTSC = Fraction(30000, 1001)


class Timecode(TestCase):
    def test_as_the_standard_counts(self) -> None:
        cases = (
            ("01:00:00:00", 25, Fraction(25), "01:00:01:00"),
            ("23:59:59:24", 1, Fraction(25), "00:00:00:00"),
            ("10:00:00:00", 30, Fraction(24000, 1001), "10:00:01:06"),
            # the standard's own: 00:00:59;29 is followed by 00:01:00;02, 00:09:59;29 by 00:10:00;00
            ("00:00:59;29", 1, NTSC, "00:01:00;02"),
            ("00:09:59;29", 1, NTSC, "00:10:00;00"),
            ("00:00:00;00", 17982, NTSC, "00:10:00;00"),
            ("00:00:00;00", 107892, NTSC, "01:00:00;00"),
            ("00:00:59;59", 1, 2 * NTSC, "00:01:00;04"),
            ("00:00:59:29", 1, NTSC, "00:01:00:00"),
        )
        for code, frames, rate, later in cases:
            with self.subTest(code=code, frames=frames):
                self.assertEqual(advanced(code, frames, rate), later)

    def test_step_by_step_is_as_far_as_at_once(self) -> None:
        code = "00:58:59;20"
        for _ in range(1900):
            code = advanced(code, 1, NTSC)
        self.assertEqual(code, advanced("00:58:59;20", 1900, NTSC))

    def test_what_is_none_stays(self) -> None:
        self.assertEqual(advanced("", 5, NTSC), "")
        self.assertEqual(advanced("reel 4", 5, NTSC), "reel 4")
