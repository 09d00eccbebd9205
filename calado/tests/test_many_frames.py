"""Many frames of a covered thing that moves, laid on each other: no more may show than in one of them."""

import unittest
from unittest import mock

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.colour.spaces import SRGB
from calado.follow.carried import sheet_in_time
from calado.follow.motion import Motion, Step
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import UNMOVED, Key, Part, Pass, Region, Sheet, Track, Treatment

HIGH, WIDE, COUNT = 180, 240, 100
MIDDLE = (WIDE / 2 / HIGH, 0.5)
CELL = 0.1
Plane = NDArray[np.float32]


def hidden() -> Plane:
    """Return what is to be hidden: detail of all sizes from 3 pixels to a cell, as faces and letters have."""
    rng = np.random.default_rng(5)
    layers = [cv2.GaussianBlur(rng.normal(size=(HIGH, WIDE)), (0, 0), size) * size for size in (1.5, 3.0, 5.0)]
    made = np.sum(layers, axis=0)
    return np.asarray(np.clip(0.4 + 0.12 * made / made.std(), 0.02, 0.98), np.float32)


def ways() -> list[NDArray[np.float64]]:
    """Return where it goes, as shifts in pixels that are no whole numbers."""
    rng = np.random.default_rng(6)
    return [np.zeros(2), *(rng.uniform(-12, 12, 2) for _ in range(COUNT - 1))]


def shifted(plane: Plane, by: NDArray[np.float64]) -> Plane:
    matrix = np.array([[1, 0, by[0]], [0, 1, by[1]]])
    flags = cv2.INTER_CUBIC
    return np.asarray(
        cv2.warpAffine(plane, matrix, (WIDE, HIGH), flags=flags, borderMode=cv2.BORDER_REFLECT), np.float32
    )


def fine(plane: Plane) -> Plane:
    """Return the detail that is finer than half a cell, of the middle."""
    detail = plane - cv2.GaussianBlur(plane, (0, 0), CELL * HIGH / 4)
    return np.asarray(detail[60:120, 80:160])


def alike(one: Plane, other: Plane) -> float:
    return float(np.corrcoef(fine(one).ravel(), fine(other).ravel())[0, 1])


class ManyFrames(unittest.TestCase):
    def laid(self, inside: Treatment, *, keyed: bool = False) -> tuple[Plane, Plane]:
        """Return the first finished frame, and the mean of all, each shifted back to the first."""
        thing, shifts = hidden(), ways()
        steps = {
            k: Step(np.array([[1, 0, x / HIGH], [0, 1, y / HIGH], [0, 0, 1]]), 1.0) for k, (x, y) in enumerate(shifts)
        }
        motion = Motion("clip", 0, MIDDLE, steps)
        values = {"x": MIDDLE[0], "y": MIDDLE[1], "width": 0.7, "height": 0.7}
        part = Part(id="o", kind="rectangle", values=values)
        track = None if keyed else Track(motion="d" * 64, at=0)
        if keyed:
            places = {
                n: {str(k): Key(value=MIDDLE[i] + s[i] / HIGH) for k, s in enumerate(shifts)}
                for i, n in enumerate("xy")
            }
            part = part.model_copy(update={"keys": places})
        region = Region(id="r", name="r", parts=(part,), track=track)
        sheet = Sheet(regions=(region,), passes=(Pass(id="p", name="p", region="r", inside=inside),))
        engine, frames = Engine(secret=77), []
        for k, shift in enumerate(shifts):
            moved = shifted(thing, shift)
            source = source_of(np.stack([moved] * 3), SRGB, f"frame {k}")
            order = Order(sheet_in_time(sheet, k, lambda digest: motion))
            frames.append(shifted(engine.picture(source, order, source.full())[0], -shift))
        return frames[0], np.asarray(np.mean(frames, axis=0), np.float32)

    def test_cells_give_away_no_more_in_a_hundred_frames_than_in_one(self) -> None:
        mosaic = {"mosaic": {"size": CELL}}
        for keyed in (False, True):
            one, all_ = self.laid(mosaic, keyed=keyed)  # type: ignore[arg-type]
            with self.subTest(keyed=keyed):
                self.assertLess(abs(alike(all_, hidden())), abs(alike(one, hidden())) + 0.05)
        # on a grid that stands still in the picture they would
        with mock.patch("calado.render.passes.anchor_of", lambda plan: UNMOVED):
            _, fixed = self.laid(mosaic)  # type: ignore[arg-type]
        self.assertGreater(alike(fixed, hidden()), abs(alike(one, hidden())) + 0.1)

    def test_noise_does_not_average_away(self) -> None:
        blur = {"scramble": {"radius": 0.05, "noise": 0.5}}
        plain = {"scramble": {"radius": 0.05, "noise": 0.0}}
        one, all_ = self.laid(blur)  # type: ignore[arg-type]
        smooth, _ = self.laid(plain)  # type: ignore[arg-type]
        left = [float(np.std((each - smooth)[60:120, 80:160])) for each in (one, all_)]
        self.assertGreater(left[1], 0.8 * left[0])
        with mock.patch("calado.render.passes.anchor_of", lambda plan: UNMOVED):
            _, fixed = self.laid(blur)  # type: ignore[arg-type]
        self.assertLess(float(np.std((fixed - smooth)[60:120, 80:160])), 0.6 * left[0])

    def test_an_anchor_is_where_the_reference_lies(self) -> None:
        part = Part(id="o", kind="ellipse", values={"x": 0.5, "y": 0.5, "width": 0.2, "height": 0.2})
        matrix = np.array([[2, 0, -0.3], [0, 2, -0.2], [0, 0, 1]])
        motion = Motion("clip", 0, (0.5, 0.5), {0: Step(np.eye(3), 1.0), 1: Step(matrix, 1.0)})
        region = Region(id="r", name="r", parts=(part,), track=Track(motion="d" * 64, at=0))
        moved = sheet_in_time(Sheet(regions=(region,)), 1, lambda digest: motion).regions[0]
        found = (moved.anchor.x, moved.anchor.y, moved.anchor.scale)
        np.testing.assert_allclose(found, (-0.3, -0.2, 2), atol=1e-5)
        # it is told at a frame only: no sheet that is kept holds it
        self.assertNotIn("anchor", moved.model_dump(mode="json"))
