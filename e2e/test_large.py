"""A still of 24 megapixels: added, worked on and exported, the same picture at any size."""

import io

import cv2
import numpy as np
from django.test import tag
from PIL import Image

from calado.media.stills import read_still
from e2e.support import ROOT, InBrowser

LARGE = ROOT / "demo" / "stills" / "more" / "a_bench_large.jpg"
FULL = (6000, 4000)


@tag("e2e")
class LargeTest(InBrowser):
    def test_a_vignette_on_24_megapixels(self) -> None:
        self.contact_sheet()
        self.page.locator("input[type=file]").set_input_files(LARGE)
        self.page.get_by_role("link", name="Open A bench large").click()
        self.settled()
        self.page.get_by_text("6000 × 4000 px").wait_for()
        self.start("vignette")
        shown = self._shown()
        exported = self._exported()
        self.assertEqual(exported.shape[1::-1], FULL)
        reduced = cv2.resize(exported, shown.shape[1::-1], interpolation=cv2.INTER_AREA)
        self.assertLess(float(np.abs(reduced.astype(float) - shown).mean()), 1.5)
        source = np.moveaxis(read_still(LARGE).samples, 0, -1).astype(float)
        edge, middle = np.s_[3600:, :500], np.s_[1700:2300, 1900:2500]
        self.assertLess(float(exported[edge].mean()), 0.8 * float(source[edge].mean()))
        self.assertAlmostEqual(float(exported[middle].mean()), float(source[middle].mean()), delta=1)

    def _shown(self) -> np.ndarray:
        """Return the whole shot at a tenth of its size as the screen gets it, shape (400, 600, 3)."""
        answer = self.asked("preview", rectangle=[0, 0, *FULL], scale=0.1, format="png")
        return np.asarray(Image.open(io.BytesIO(answer.body())).convert("RGB")).astype(float)

    def _exported(self) -> np.ndarray:
        self.page.get_by_role("button", name="Export…").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_role("radio", name="JPEG", exact=True).click()
        dialog.get_by_role("button", name="Export", exact=True).click()
        ready = dialog.locator("[data-export]").first.get_by_role("link", name="download")
        with self.page.expect_download() as got:
            ready.click()
        return np.moveaxis(read_still(got.value.path()).samples, 0, -1)
