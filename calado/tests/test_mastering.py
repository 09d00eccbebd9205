"""How a clip of high range was mastered goes along into what is written, and what may no longer be true does not."""

from fractions import Fraction
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

import av
from av.sidedata.sidedata import Type

from calado.clip_export import export_clip
from calado.clip_render import ClipOrder
from calado.media.clips.clip import Clip
from calado.media.clips.facts import facts_data, facts_from
from calado.media.clips.formats import ClipTarget
from calado.media.clips.frames import Frames
from calado.media.clips.tests.made import make
from calado.sheet.models import EMPTY_SHEET, Pass, Sheet

#: SMPTE ST 2086 of a display with P3 primaries and the white D65 (EG 432-1), 1000 cd/m² down to 0.005, in H.265's units
DISPLAY = "G(13250,34500)B(7500,3000)R(34000,16000)WP(15635,16450)L(10000000,50)"
PLACES = (34000, 16000, 13250, 34500, 7500, 3000, 15635, 16450)
BESIDE = (Type.MASTERING_DISPLAY_METADATA, Type.CONTENT_LIGHT_LEVEL)
DARK = Sheet(passes=(Pass(id="p", name="p", inside={"exposure": {"amount": -1.0}}),))


class Mastered(TestCase):
    def setUp(self) -> None:
        held = TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        said = f"log-level=error:master-display={DISPLAY}:max-cll=830,210"
        self.source = make(
            self.folder / "a.mp4", 3, "libx265", "yuv420p10le", tags=(1, 9, 9, 16), options={"x265-params": said}
        )

    def exported(self, sheet: Sheet, target: ClipTarget) -> tuple[dict[Type, bytes], str]:
        """Return what the library reads beside the first frame written, and what was said."""
        out = self.folder / f"out.{target.kind.suffix}"
        with Clip(self.source) as clip:
            says = export_clip(Frames(clip, "a"), self.source, ClipOrder(sheet), out, target)
        with av.open(str(out)) as written:
            frame = next(written.decode(video=0))
            return {each: bytes(frame.side_data[each]) for each in BESIDE if frame.side_data.get(each)}, says

    def test_it_is_read(self) -> None:
        with Clip(self.source) as clip:
            facts = clip.facts
        assert facts.display is not None
        self.assertEqual((facts.display.places, facts.display.most, facts.display.least), (PLACES, 10_000_000, 50))
        self.assertEqual(facts.light, (830, 210))
        self.assertEqual(facts_from(facts_data(facts)), facts)

    def test_it_goes_along_where_the_format_can_hold_it(self) -> None:
        for id in ("h264", "h265", "av1"):
            with self.subTest(id):
                beside, says = self.exported(EMPTY_SHEET, ClipTarget(id))
                numbers = memoryview(beside[Type.MASTERING_DISPLAY_METADATA]).cast("i").tolist()
                # three primaries, the white, least and most light
                wanted = [Fraction(n, 50_000) for n in PLACES] + [Fraction(50, 10_000), Fraction(1000)]
                for got, want in zip(zip(numbers[0:20:2], numbers[1:20:2], strict=True), wanted, strict=True):
                    # AV1 keeps 16 bits of a fraction, and 14 below cd/m²
                    self.assertAlmostEqual(float(Fraction(*got)), float(want), delta=1 / 16_384)
                light = memoryview(beside[Type.CONTENT_LIGHT_LEVEL]).cast("I").tolist()
                self.assertEqual((light, says), ([830, 210], ""))

    def test_how_much_light_it_has_is_not_said_of_what_was_corrected(self) -> None:
        beside, says = self.exported(DARK, ClipTarget("h265"))
        self.assertIn(Type.MASTERING_DISPLAY_METADATA, beside)
        # CTA-861.3: 0 is “not known”
        self.assertFalse(any(beside.get(Type.CONTENT_LIGHT_LEVEL, b"")))
        self.assertIn("MaxCLL", says)
        with Clip(self.folder / "out.mp4") as clip:
            self.assertIsNone(clip.facts.light)

    def test_a_format_that_cannot_hold_it_says_so(self) -> None:
        beside, says = self.exported(EMPTY_SHEET, ClipTarget("ffv1"))
        self.assertNotIn(Type.MASTERING_DISPLAY_METADATA, beside)
        self.assertIn("without the display", says)
