"""Ten things that a user comes for, on the demo's stills, with what must be true of each picture afterwards."""

import io

import numpy as np
from django.test import tag
from PIL import Image

from e2e.marking import OnAFreshShot

PUPPET = (
    *((390, 293), (440, 180), (557, 150), (690, 172), (760, 280), (740, 410), (680, 465), (724, 645), (757, 838)),
    *((703, 845), (660, 820), (663, 1010), (516, 1032), (504, 815), (420, 778), (440, 586), (470, 470), (396, 410)),
)
JAR = ((870, 352), (1163, 352), (1216, 527), (1172, 790), (1084, 850), (938, 850), (835, 790), (803, 557))
FACE = ((430, 230), (700, 180), (1000, 230), (1130, 400), (1080, 640), (960, 860), (760, 960), (600, 850), (470, 620))


class OnTheStills(OnAFreshShot):
    """Places are in pixels of the full-size still."""

    def on(self, *places: tuple[float, float]) -> list[tuple[float, float]]:
        scale, left, top = self.view()
        return [(left + scale * x, top + scale * y) for x, y in places]

    def outline(self, places: tuple[tuple[float, float], ...]) -> None:
        self.begin("curve")
        self.path(*self.on(*places, places[0]), steps=6)
        self.drawn(1)

    def start_on(self, starter: str, region: str | None = None) -> None:
        before = self.page.locator("[data-pass]").count()
        self.page.get_by_role("button", name="+ start a pass…").click()
        if region:
            self.starts_on.get_by_role("radio", name=region, exact=True).click()
        self.page.locator(f"[data-starter={starter}]").click()
        self.until(self.page.locator("[data-pass]").count, before + 1)
        self.settled()

    def codes(self, view: str = "picture", sheet: object = None) -> np.ndarray:
        """Return the whole shot at half its size as the server renders it, shape (H, W, 3)."""
        answer = self.asked("preview", sheet, view=view, rectangle=[0, 0, 1600, 1067], scale=0.5, format="png")
        return np.asarray(Image.open(io.BytesIO(answer.body())).convert("RGB")).astype(float)

    def box(self, codes: np.ndarray, left: float, top: float, right: float, bottom: float) -> np.ndarray:
        return codes[int(top / 2) : int(bottom / 2), int(left / 2) : int(right / 2)]

    def finding(self, kind: str) -> bool:
        answer = self.asked("second-look")
        return any(each["kind"] == kind for each in answer.json())


@tag("e2e")
class TenTest(OnTheStills):
    def test_vignette_with_protected_lamps(self) -> None:
        self.bench("Portrait by lamplight")
        with self.acts_of(2):
            self.start_on("vignette")
        before, after = self.codes("source"), self.codes()
        lamp = self.box(before, 60, 290, 160, 390).mean() - self.box(after, 60, 290, 160, 390).mean()
        curtain = self.box(before, 20, 20, 120, 200), self.box(after, 20, 20, 120, 200)
        self.assertLess(curtain[1].mean() / curtain[0].mean(), 0.8)
        self.assertLess(lamp / self.box(before, 60, 290, 160, 390).mean(), 0.1)

    def test_spotlight_kept_legible(self) -> None:
        self.bench("Night rehearsal")
        with self.acts_of(5):
            self.start_on("spotlight")
            self.change_words.filter(has_text="exposure").last.click()
            self.type_number("amount", "-6")
        self.assertFalse(self.finding("crushed"))
        self.change_words.filter(has_text="legible").click()
        self.type_number("floor", "0")
        self.assertTrue(self.finding("crushed"))
        self.page.get_by_role("button", name="Undo").click()
        self.settled()

    def test_soft_surround_of_the_fringe_haired_puppet(self) -> None:
        self.bench("The bench by the window")
        with self.acts_of(5):
            self.outline(PUPPET)
            self.start_on("selective-focus", "curve")
        self.change_words.filter(has_text="lens blur").click()
        before, after = self.codes("source"), self.codes()
        self.assertLess(self.box(after, 900, 20, 1600, 700).std(), self.box(before, 900, 20, 1600, 700).std())
        np.testing.assert_array_equal(self.box(after, 520, 500, 640, 760), self.box(before, 520, 500, 640, 760))
        self.page.keyboard.press("g")
        self.page.get_by_role("button", name="The edge as a strip").locator("img").wait_for()

    def test_colour_accent_with_greys_by_hue(self) -> None:
        self.bench("Five pots")
        with self.acts_of(5):
            self.outline(JAR)
            self.start_on("colour-accent", "curve")
        after = self.codes()
        jar, pot = self.box(after, 950, 500, 1100, 700), self.box(after, 1360, 450, 1500, 700)
        self.assertGreater(np.ptp(jar, axis=2).mean(), 40)
        self.assertLess(np.ptp(pot, axis=2).max(), 3)
        level = pot.mean()
        self.change_words.filter(has_text="monochrome").click()
        self.type_number("red", "-60")
        self.assertLess(self.box(self.codes(), 1360, 450, 1500, 700).mean(), level - 10)

    def test_calm_face_with_eyes_and_lips_untouched(self) -> None:
        self.bench("Portrait by lamplight")
        with self.acts_of(14):
            self.outline(FACE)
            for around in (((440, 380), (600, 530)), ((750, 350), (940, 520)), ((560, 690), (790, 820))):
                self.join("subtract", "ellipse", *self.on(*around))
            self.start_on("calm-skin", "curve")
        before, after = self.codes("source"), self.codes()
        for left, top, right, bottom in ((500, 435, 540, 475), (825, 415, 865, 455), (645, 740, 705, 770)):
            np.testing.assert_array_equal(
                self.box(after, left, top, right, bottom), self.box(before, left, top, right, bottom)
            )
        cheek = [np.abs(np.diff(self.box(each, 860, 560, 1000, 720).mean(axis=2))).mean() for each in (before, after)]
        self.assertLess(cheek[1], 0.75 * cheek[0])

    def test_tamed_lamp_with_its_reflection(self) -> None:
        self.bench("Dusk on the cobbles")
        with self.acts_of(2):
            self.start_on("hot-spot")
        parts = self.regions()[0]["parts"]
        self.assertGreaterEqual(len(parts), 2)
        self.assertGreater(parts[1]["values"]["y"], parts[0]["values"]["y"])
        before, after = self.codes("source"), self.codes()
        x, y = parts[0]["values"]["x"] * 1067, parts[0]["values"]["y"] * 1067
        near = (x - 20, y - 20, x + 20, y + 20)
        self.assertLess(self.box(after, *near).mean(), self.box(before, *near).mean() - 8)

    def test_grain_only_in_the_light(self) -> None:
        self.bench("Night rehearsal")
        with self.acts_of(2):
            self.start_on("grain-in-light")
        difference = np.abs(self.codes() - self.codes("source"))
        # fine grain: some three quarters of a code in the mean of a lamp, which is nearly white
        self.assertGreater(self.box(difference, 260, 110, 340, 200).mean(), 0.6)
        self.assertLess(self.box(difference, 500, 60, 560, 300).mean(), 0.2)

    def test_streaked_background_at_ninety_per_cent(self) -> None:
        self.bench("The bench by the window")
        with self.acts_of(5):
            self.outline(PUPPET)
            self.start_on("motion-streak", "curve")
        self.reads("Outside curve: motion blur 15.0 % at +90.0°.")
        self.page.get_by_text("mix 90").wait_for()
        before, after = self.codes("source"), self.codes()
        # the window, whose level bars the streak lays along the upright ones
        rows = [np.abs(np.diff(self.box(each, 960, 60, 1500, 400), axis=0)).mean() for each in (before, after)]
        self.assertLess(rows[1], 0.5 * rows[0])
        np.testing.assert_array_equal(self.box(after, 520, 500, 640, 760), self.box(before, 520, 500, 640, 760))

    def test_peephole(self) -> None:
        self.bench("Ticket booth")
        with self.acts_of(2):
            self.start_on("peephole")
        after = self.codes()
        for corner in (after[:30, :30], after[-30:, -30:]):
            self.assertEqual(corner.max(), 0)
        self.assertGreater(after[260:270, 380:420].mean(), 10)

    def test_plate_and_notice_concealed(self) -> None:
        self.bench("Ticket booth")
        with self.acts_of(8):
            self.begin("rectangle")
            self.path(*self.on((112, 730), (318, 800)))
            self.drawn(1)
            self.join("add", "rectangle", *self.on((1196, 415), (1536, 840)))
            self.start_on("conceal", "rectangle")
        plate = self.box(self.codes(), 130, 750, 300, 790)
        self.assertEqual(np.ptp(plate.reshape(-1, 3), axis=0).max(), 0)
        self.change_words.first.click()
        self.page.get_by_text("Covered by a solid: nothing of it is left.").wait_for()
        self.change_words.filter(has_text="solid").click()
        self.type_number("amount", "0", nth=0)
        self.type_number("size", "0.6")
        self.weakness.filter(has_text="lettering under it can be undone").wait_for()
