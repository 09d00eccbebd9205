"""Islands and holes: found, told apart, dropped, at every size; against scikit-image's labels."""

from unittest import TestCase

import numpy as np
from skimage import measure

from calado.region.components import find_pieces, small_window
from calado.region.matte import Mattes, region_matte
from calado.region.resolved import alone
from calado.sheet.models import Component, Part, Region
from calado.window import full_window

WINDOW = full_window(300, 200)


def disc(id: str, x: float, radius: float, join: str = "add", soft: float = 0.0) -> Part:
    values = {"x": x, "y": 0.5, "width": 2 * radius, "height": 2 * radius, "feather_in": soft, "feather_out": soft}
    return Part(id=id, kind="ellipse", join=join, values=values)  # type: ignore[arg-type]


#: a ring at the left, a disc at the right
PARTS = (disc("a", 0.4, 0.3, soft=0.03), disc("b", 0.4, 0.1, "subtract"), disc("c", 1.2, 0.15, soft=0.03))
REGION = Region(id="r", name="r", parts=PARTS)


class Pieces(TestCase):
    def found(self, region: Region = REGION) -> list[tuple[str, float]]:
        small = small_window(WINDOW)
        return [(f.piece.kind, f.area) for f in find_pieces(Mattes().refined(alone(region), small), small)]

    def test_they_are_found_the_largest_first(self) -> None:
        self.assertEqual([kind for kind, _ in self.found()], ["island", "island", "hole"])
        areas = [area for _, area in self.found()]
        frame = 1.5
        for made, radii in zip(areas, ((0.3, 0.1), (0.15, 0), (0.1, 0)), strict=True):
            self.assertAlmostEqual(made, np.pi * (radii[0] ** 2 - radii[1] ** 2) / frame, delta=0.003)

    def test_the_labels_are_scikit_images(self) -> None:
        matte = region_matte(REGION, WINDOW)
        labels = measure.label(matte >= 0.5, connectivity=2)
        self.assertEqual(labels.max(), 2)
        for found in find_pieces(matte, WINDOW)[:2]:
            here = labels[int(found.piece.y * 200), int(found.piece.x * 200)]
            self.assertGreater(here, 0)
            self.assertAlmostEqual(found.area, float((labels == here).mean()), places=6)

    def test_one_island_alone_is_not_listed(self) -> None:
        self.assertEqual(self.found(Region(id="r", name="r", parts=PARTS[:1])), [])

    def test_what_is_dropped_goes_with_its_rim_and_the_rest_stays(self) -> None:
        small = small_window(WINDOW)
        found = find_pieces(Mattes().refined(alone(REGION), small), small)
        whole = region_matte(REGION, WINDOW)
        for each in found:
            removed = REGION.model_copy(update={"removed": (each.piece,)})
            made = region_matte(removed, WINDOW)
            y, x = int(each.piece.y * 200), int(each.piece.x * 200)
            left, right = (slice(None), slice(0, 160)), (slice(None), slice(160, 300))
            self.assertEqual(made[y, x], 1 if each.piece.kind == "hole" else 0)
            side, other = (left, right) if each.piece.x < 0.8 else (right, left)
            np.testing.assert_array_equal(made[other], whole[other])
            if each.piece.kind == "island":
                self.assertEqual(made[side].max(), 0)

    def test_sizes_and_strips_agree(self) -> None:
        removed = REGION.model_copy(update={"removed": (Component(kind="island", x=1.2, y=0.5),)})
        big = full_window(1500, 1000)
        made = region_matte(removed, big)
        self.assertEqual(made[:, 900:].max(), 0)
        np.testing.assert_array_equal(region_matte(removed, big.rows(430, 500)), made[430:500])

    def test_a_piece_that_is_gone_drops_nothing(self) -> None:
        gone = REGION.model_copy(
            update={"removed": (Component(kind="island", x=0.9, y=0.02), Component(kind="hole", x=9, y=9))}
        )
        np.testing.assert_array_equal(region_matte(gone, WINDOW), region_matte(REGION, WINDOW))
