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
    """Return where it goes, as maps of pixels: shifts that are no whole numbers."""
    rng = np.random.default_rng(6)
    return [np.eye(3), *(moved(*rng.uniform(-12, 12, 2)) for _ in range(COUNT - 1))]


def turns() -> list[NDArray[np.float64]]:
    """Return the same with turns, sizes and skews about the middle."""
    rng = np.random.default_rng(7)
    x, y = WIDE / 2, HIGH / 2
    made = [np.eye(3)]
    for _ in range(COUNT - 1):
        turn, size, skew = rng.uniform(-0.7, 0.7), rng.uniform(0.8, 1.2), rng.uniform(-0.15, 0.15)
        c, s = size * np.cos(turn), size * np.sin(turn)
        matrix = np.array([[c, -s + skew, 0], [s, c, 0], [0, 0, 1]])
        made.append(moved(*rng.uniform(-8, 8, 2)) @ moved(x, y) @ matrix @ moved(-x, -y))
    return made


def moved(x: float, y: float) -> NDArray[np.float64]:
    return np.array([[1, 0, x], [0, 1, y], [0, 0, 1.0]])


def shifted(plane: Plane, by: NDArray[np.float64]) -> Plane:
    """Return a plane carried by a map of pixels, whose centres are at .5."""
    matrix = (moved(-0.5, -0.5) @ by @ moved(0.5, 0.5))[:2]
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
    def laid(self, inside: Treatment, *, keyed: bool = False, turned: bool = False) -> tuple[Plane, Plane]:
        """Return the first finished frame, and the mean of all, each shifted back to the first."""
        thing, shifts = hidden(), turns() if turned else ways()
        to = np.diag([1 / HIGH, 1 / HIGH, 1.0])
        steps = {k: Step(to @ each @ np.linalg.inv(to), 1.0) for k, each in enumerate(shifts)}
        motion = Motion("clip", 0, MIDDLE, steps)
        values = {"x": MIDDLE[0], "y": MIDDLE[1], "width": 0.7, "height": 0.7}
        part = Part(id="o", kind="rectangle", values=values)
        track = None if keyed else Track(motion="d" * 64, at=0)
        if keyed:
            places = {
                n: {str(k): Key(value=MIDDLE[i] + s[i, 2] / HIGH) for k, s in enumerate(shifts)}
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
            frames.append(shifted(engine.picture(source, order, source.full())[0], np.linalg.inv(shift)))
        return frames[0], np.asarray(np.mean(frames, axis=0), np.float32)

    def test_cells_give_away_no_more_in_a_hundred_frames_than_in_one(self) -> None:
        mosaic = {"mosaic": {"size": CELL}}
        for how in ({"keyed": True}, {"turned": True}, {}):
            one, all_ = self.laid(mosaic, **how)  # type: ignore[arg-type]
            with self.subTest(**how):
                self.assertLess(abs(alike(all_, hidden())), abs(alike(one, hidden())) + 0.05)
        hexagons: Treatment = {"mosaic": {"size": CELL, "shape": "hexagon"}}
        fine_one, fine_all = self.laid(hexagons, turned=True)
        self.assertLess(abs(alike(fine_all, hidden())), abs(alike(fine_one, hidden())) + 0.05)
        # on a grid that stands still in the picture they would
        for turned in (False, True):
            with mock.patch("calado.render.passes.anchor_of", lambda plan: UNMOVED):
                _, fixed = self.laid(mosaic, turned=turned)  # type: ignore[arg-type]
            self.assertGreater(alike(fixed, hidden()), abs(alike(one, hidden())) + 0.1)

    def test_noise_does_not_average_away(self) -> None:
        blur = {"scramble": {"radius": 0.05, "noise": 0.5}}
        plain = {"scramble": {"radius": 0.05, "noise": 0.0}}
        one, all_ = self.laid(blur)  # type: ignore[arg-type]
        smooth, _ = self.laid(plain)  # type: ignore[arg-type]
        left = [float(np.std((each - smooth)[60:120, 80:160])) for each in (one, all_)]
        self.assertGreater(left[1], 0.8 * left[0])
        one, all_ = self.laid(blur, turned=True)  # type: ignore[arg-type]
        smooth, _ = self.laid(plain, turned=True)  # type: ignore[arg-type]
        turned = [float(np.std((each - smooth)[60:120, 80:160])) for each in (one, all_)]
        self.assertGreater(turned[1], 0.7 * turned[0])
        with mock.patch("calado.render.passes.anchor_of", lambda plan: UNMOVED):
            _, fixed = self.laid(blur)  # type: ignore[arg-type]
        self.assertLess(float(np.std((fixed - smooth)[60:120, 80:160])), 0.6 * left[0])

    def test_an_anchor_is_where_the_reference_lies(self) -> None:
        part = Part(id="o", kind="ellipse", values={"x": 0.5, "y": 0.5, "width": 0.2, "height": 0.2})
        matrix = np.array([[2, 0, -0.3], [0, 2, -0.2], [0, 0, 1]])
        motion = Motion("clip", 0, (0.5, 0.5), {0: Step(np.eye(3), 1.0), 1: Step(matrix, 1.0)})
        region = Region(id="r", name="r", parts=(part,), track=Track(motion="d" * 64, at=0))
        moved = sheet_in_time(Sheet(regions=(region,)), 1, lambda digest: motion).regions[0]
        np.testing.assert_allclose((moved.anchor.x, moved.anchor.y, moved.anchor.scale), (-0.3, -0.2, 2), atol=1e-5)
        np.testing.assert_allclose(moved.anchor.place(0.4, 0.5), (0.5, 0.8), atol=1e-5)
        # it is told at a frame only: no sheet that is kept holds it
        self.assertNotIn("anchor", moved.model_dump(mode="json"))
