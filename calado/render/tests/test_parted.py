"""A surround out of focus beside a solved edge, against composites of which everything is known.

The way that photographs come about: α · F + (1 − α) · K∗B, subject and surround mixed in linear light (PorterDuff1984).
"""

from unittest import TestCase

import numpy as np
from scipy import ndimage

from calado.render.tests.composed import SIDE, Composite, Edge, composite, difference, naive, treated, truth

SEEDS = range(1, 5)
SIGMAS = (4.0, 12.0)


def blur(sigma: float) -> dict[str, dict[str, object]]:
    return {"blur": {"radius": sigma / SIDE}}


class Parted(TestCase):
    def test_focus_blur_is_that_of_a_lens(self) -> None:
        # mean CIEDE2000 within 12 pixels of where both show: median and worst of the trials
        for edge, median, worst in (("disc", 0.55, 1.0), ("hair", 0.5, 0.8)):
            made = [self._trial(seed, edge, sigma) for seed in SEEDS for sigma in SIGMAS]
            ours, usual, mixed = np.array(made).T
            self.assertLess(np.median(ours), median, edge)
            self.assertLess(ours.max(), worst, edge)
            self.assertTrue((ours < 0.6 * usual).all(), (edge, made))
            # it is the parting of colours that does it
            self.assertLess(np.median(ours), 0.8 * np.median(mixed), edge)

    def _trial(self, seed: int, edge: Edge, sigma: float) -> tuple[float, float, float]:
        made, near = composite(seed, edge), composite(seed, edge).near()
        wanted = truth(made, sigma)
        each = (treated(made, blur(sigma)), naive(made, sigma), treated(made, blur(sigma), parted=False))
        return tuple(difference(one, wanted, near) for one in each)  # type: ignore[return-value]

    def test_only_where_both_show_anything_differs_from_a_drawn_edge(self) -> None:
        made = composite(3, "disc")
        ours, drawn = treated(made, blur(5)), treated(made, blur(5), parted=False)
        np.testing.assert_array_equal(ours[:, made.alpha == 1], made.picture[:, made.alpha == 1])
        far = ndimage.distance_transform_edt(made.alpha < 0.02) > 6 * 5
        np.testing.assert_allclose(ours[:, far], drawn[:, far], atol=1e-4)

    def test_what_else_is_done_to_the_surround_is_done_to_its_own_colours(self) -> None:
        # a dark surround behind a bright subject: half a pixel of the subject must not be darkened twice
        made = composite(2, "disc")
        soft = {**blur(4), "exposure": {"amount": -1.0}}
        wanted = made.over(0.5 * np.stack([ndimage.gaussian_filter(each, 4, mode="nearest") for each in made.back]))
        ours, drawn = (difference(treated(made, soft, parted=each), wanted, made.near()) for each in (True, False))
        self.assertLess(ours, 0.6 * drawn)

    def test_light_beyond_white_is_parted_too(self) -> None:
        plain = composite(1, "disc")
        bright = Composite(20 * plain.front, 20 * plain.back, plain.alpha)
        np.testing.assert_allclose(treated(bright, blur(6)) / 20, treated(plain, blur(6)), atol=0.02)
