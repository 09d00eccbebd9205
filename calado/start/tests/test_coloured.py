"""Things of one colour, against exact mattes of pots of four colours."""

from unittest import TestCase

import cv2
import numpy as np
from scipy import ndimage

from calado.edit.tests.test_sample import still, truth
from calado.render.engine import Engine
from calado.start.analysis import analyse
from calado.start.coloured import coloured_things, hanging_together


class Coloured(TestCase):
    def test_what_hangs_together_stays_on_the_pots(self) -> None:
        lch = analyse(Engine(), still("d_shelf")).lch
        size = (lch.shape[1], lch.shape[0])
        for name in ("red", "teal", "violet"):  # the ochre ones stand before wood of their own hue
            exact = cv2.resize(truth(f"d_shelf_{name}").astype(np.float32), size, interpolation=cv2.INTER_AREA) > 0.5
            deep = ndimage.distance_transform_edt(exact)
            rng = np.random.default_rng(13)
            beside, held = [], []
            for place in rng.permutation(np.argwhere(deep > 8))[:40]:
                rows, columns = np.ogrid[: lch.shape[0], : lch.shape[1]]
                mask = hanging_together(lch, np.hypot(rows - place[0], columns - place[1]) < 4)
                beside.append(float((mask & ~exact).sum() / exact.sum()))
                held.append(float((mask & exact).sum() / exact.sum()))
            with self.subTest(name, beside=max(beside), held=np.median(held)):
                self.assertLess(np.median(beside), 0.02)
                self.assertGreater(np.median(held), 0.3)

    def test_what_stands_out_are_things_of_different_colours(self) -> None:
        found = coloured_things(analyse(Engine(), still("d_shelf")).lch)[:3]
        size = found[0].mask.shape[::-1]
        exact = {
            name: cv2.resize(truth(f"d_shelf_{name}").astype(np.float32), size, interpolation=cv2.INTER_AREA)
            for name in ("red", "teal", "violet")
        }
        held = [{name: float(true[each.mask].mean()) for name, true in exact.items()} for each in found]
        self.assertGreater(held[0]["red"], 0.97)
        self.assertEqual({max(each, key=each.__getitem__) for each in held}, set(exact))
        self.assertGreater(min(max(each.values()) for each in held), 0.9)

    def test_where_all_is_grey_there_is_none(self) -> None:
        grey = np.zeros((60, 90, 3))
        grey[..., 0] = 0.5
        self.assertEqual(coloured_things(grey), [])
