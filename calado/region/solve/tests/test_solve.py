"""Solved mattes: known compositions, the matting library's own result, the rendered scenes, and the store."""

import tempfile
import threading
import time
import warnings
from pathlib import Path
from unittest import TestCase

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from skimage import data, segmentation

from calado.colour.spaces import SRGB
from calado.region.context import PartContext
from calado.region.kinds import PARTS
from calado.region.read.tests.seeing import seen_of
from calado.region.resolved import alone
from calado.region.solve.alpha import solve_alpha
from calado.region.solve.cut import INSIDE, OUTSIDE, UNKNOWN, cut
from calado.region.solve.foreground import freed
from calado.region.solve.matting_store import CalledOffError, SolvedStore
from calado.region.solve.pymatting import matting
from calado.region.solve.upsample import STRAY, KeptLines, laid, laid_by_lines, lines_of
from calado.render.engine import Engine
from calado.render.source import source_of
from calado.sheet.models import Part, Region, Stroke
from calado.window import full_window

#: mean absolute error of alpha on a composition that fits the model
FITS = 0.02


def composition() -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Return a soft disc of one slowly changing colour over another, encoded, shape (H, W, 3), and its alpha."""
    y, x = np.mgrid[:90, :120] / 90
    alpha = np.clip((0.32 - np.hypot(x - 0.66, y - 0.5)) / 0.12 + 0.5, 0, 1).astype(np.float32)[..., None]
    front = np.stack([0.7 + 0.1 * x, 0.3 + 0.05 * y, 0.2 + 0 * x], axis=-1)
    back = np.stack([0.15 + 0.05 * y, 0.3 + 0.1 * x, 0.5 + 0 * x], axis=-1)
    return (alpha * front + (1 - alpha) * back).astype(np.float32), alpha[..., 0]


class Alpha(TestCase):
    def test_a_known_composition_is_taken_apart(self) -> None:
        picture, alpha = composition()
        made = solve_alpha(picture, alpha > 0.98, alpha < 0.02)
        self.assertLess(float(abs(made - alpha).mean()), FITS)

    def test_it_equals_the_librarys_own_closed_form(self) -> None:
        from pymatting import estimate_alpha_cf

        picture, alpha = composition()
        picture = picture + np.random.default_rng(0).normal(0, 0.01, picture.shape).astype(np.float32)
        inside, outside = alpha > 0.9, alpha < 0.1
        trimap = np.where(inside, 1.0, np.where(outside, 0.0, 0.5))
        theirs = estimate_alpha_cf(picture.astype(np.float64), trimap, laplacian_kwargs={"epsilon": 1e-6})
        self.assertLess(float(abs(solve_alpha(picture, inside, outside) - theirs).max()), 0.02)

    def test_marks_of_one_kind_or_none(self) -> None:
        picture, alpha = composition()
        nothing = np.zeros(alpha.shape, bool)
        self.assertEqual(float(solve_alpha(picture, nothing, alpha < 0.1).max()), 0)
        self.assertEqual(float(solve_alpha(picture, alpha > 0.9, nothing).min()), 1)

    def test_it_can_be_called_off(self) -> None:
        picture, alpha = composition()

        def stop() -> None:
            raise CalledOffError

        with self.assertRaises(CalledOffError):
            solve_alpha(picture, alpha > 0.98, alpha < 0.02, None, stop)


class Cutting(TestCase):
    def test_it_agrees_with_a_random_walker_on_that_walkers_own_example(self) -> None:
        # scikit-image's gallery, “Random walker segmentation”: noisy blobs, the surest pixels as marks
        blobs = data.binary_blobs(length=128, rng=1)
        noisy = blobs + np.random.default_rng(1).normal(0, 0.35, blobs.shape)
        noisy = np.clip((noisy + 0.35) / 1.7, 0, 1).astype(np.float32)
        seeds = np.where(noisy > 0.86, INSIDE, np.where(noisy < 0.14, OUTSIDE, UNKNOWN)).astype(np.int8)
        marks = np.where(seeds == INSIDE, 2, np.where(seeds == OUTSIDE, 1, 0))
        with warnings.catch_warnings():
            # it tells of probabilities a hair beyond 0 and 1
            warnings.simplefilter("ignore", UserWarning)
            walked = segmentation.random_walker(noisy * 2 - 1, marks, beta=10, mode="cg_j") == 2
        found = cut(np.repeat(noisy[..., None], 3, axis=2), seeds)
        walks, cuts = ((each & blobs).sum() / (each | blobs).sum() for each in (walked, found))
        self.assertGreater(cuts, walks - 0.05)

    def test_marks_of_one_kind_a_flat_picture_and_none(self) -> None:
        picture, alpha = composition()
        seeds = np.full(alpha.shape, UNKNOWN, np.int8)
        self.assertFalse(cut(picture, seeds).any())
        inside = np.where(ndimage.binary_erosion(alpha > 0.98, iterations=12), INSIDE, seeds).astype(np.int8)
        found = cut(picture, inside)
        self.assertGreater((found & (alpha > 0.5)).sum() / (found | (alpha > 0.5)).sum(), 0.9)
        flat = np.full_like(picture, 0.4)
        np.testing.assert_array_equal(cut(flat, inside), inside == INSIDE)
        self.assertTrue(cut(picture, np.full(alpha.shape, INSIDE, np.int8)).all())


class Laying(TestCase):
    def test_reduced_it_takes_means_and_enlarged_it_follows_the_picture(self) -> None:
        y, x = np.mgrid[:160, :240]
        alpha = (np.hypot(x - 120, y - 80) < 50).astype(np.float32)
        picture = np.where(alpha[..., None] > 0, 0.8, 0.2).repeat(3, axis=2).astype(np.float32)
        small, whole = full_window(240, 160, 0.25), full_window(240, 160)
        quarter = alpha.reshape(40, 4, 60, 4).mean(axis=(1, 3))
        np.testing.assert_allclose(laid(alpha, whole, small), quarter, atol=1e-5)
        lines = lines_of(quarter, picture.reshape(40, 4, 60, 4, 3).mean(axis=(1, 3)))
        made = laid_by_lines(lines, np.ascontiguousarray(np.moveaxis(picture, -1, 0)), small, whole)
        self.assertLess(float(abs(made - alpha).mean()), 0.2 * float(abs(laid(quarter, small, whole) - alpha).mean()))

    def test_lines_are_those_of_ordinary_ridge_regression(self) -> None:
        generator = np.random.default_rng(5)
        picture, matte = generator.random((5, 5, 3)).astype(np.float32), generator.random((5, 5)).astype(np.float32)
        # one window, seen from its middle: least squares with STRAY on the slopes (He2013, eq. 4), by NumPy's solver
        colours = picture.reshape(25, 3).astype(np.float64)
        centred = colours - colours.mean(axis=0)
        slopes = np.linalg.solve(centred.T @ centred / 25 + STRAY * np.eye(3), centred.T @ matte.reshape(25) / 25)
        wide = np.pad(picture, ((20, 20), (20, 20), (0, 0)), mode="wrap")
        lines = lines_of(np.pad(matte, 20, mode="wrap"), wide)
        # a period of five makes all windows of five by five hold the same pixels
        np.testing.assert_allclose(lines[:3, 22, 22], slopes, rtol=1e-4)
        np.testing.assert_allclose(lines[3, 22, 22], matte.mean() - slopes @ colours.mean(axis=0), rtol=1e-4)

    def test_kept_lines_are_each_mattes_own(self) -> None:
        picture = np.random.default_rng(1).random((20, 30, 3)).astype(np.float32)
        coarse, fine, kept = np.zeros((20, 30), np.float32), picture[..., 0].copy(), KeptLines()
        first, second = (kept.of("subject", each, lambda: picture) for each in (coarse, fine))
        self.assertIs(kept.of("subject", coarse, lambda: self.fail("found again")), first)
        np.testing.assert_array_equal(second, lines_of(fine, picture))


class Freeing(TestCase):
    def test_the_edge_has_the_subjects_colour_and_what_is_whole_stays(self) -> None:
        picture, alpha = composition()
        planes = np.ascontiguousarray(np.moveaxis(picture, -1, 0))
        made = freed(planes, alpha)
        soft = (alpha > 0.1) & (alpha < 0.9)
        y, x = np.mgrid[:90, :120] / 90
        front = np.stack([0.7 + 0.1 * x, 0.3 + 0.05 * y, 0.2 + 0 * x])
        before, after = (float(abs(each - front)[:, soft].mean()) for each in (planes, made))
        self.assertLess(after, 0.15 * before)
        np.testing.assert_array_equal(made[:, alpha == 1], planes[:, alpha == 1])
        self.assertIs(freed(planes, np.ones_like(alpha)), planes)

    def test_where_alpha_is_wrong_the_edge_keeps_to_the_subjects_hues(self) -> None:
        picture, alpha = composition()
        planes = np.ascontiguousarray(np.moveaxis(picture, -1, 0))
        waves = 1 + 0.6 * np.sin(np.arange(120) * 1.1)
        for off in (alpha * 0.6, np.clip(alpha * waves, 0, 0.99)):
            wrong = np.where(alpha < 1, off, 1).astype(np.float32)
            made, soft = freed(planes, wrong), (wrong > 0.1) & (wrong < 0.9)
            shares, whole = (each / each.sum(axis=0) for each in (made[:, soft], planes[:, wrong == 1]))
            self.assertGreater(float((shares.min(axis=1) - whole.min(axis=1)).min()), -0.02)
            self.assertLess(float((shares.max(axis=1) - whole.max(axis=1)).max()), 0.02)

    def test_the_library_is_loaded_once(self) -> None:
        self.assertIs(matting(), matting())


class Rough(TestCase):
    def part(self, *strokes: Stroke, points: tuple[tuple[float, float], ...] = ()) -> Part:
        return Part(id="p", kind="rough", strokes=strokes, points=points)

    def test_a_hole_through_the_subject_stays_a_hole(self) -> None:
        y, x = np.mgrid[:120, :160] / 120
        away = np.hypot(x - 0.67, y - 0.5)
        ring = (away < 0.36) & (away > 0.14)
        light = np.where(ring[..., None], (0.5, 0.12, 0.08), (0.05, 0.12, 0.2))
        seen, whole = seen_of(light + np.random.default_rng(0).normal(0, 0.004, light.shape))
        on = Stroke(points=(0.67, 0.25, 1.0, 0.92, 0.5, 1.0), size=0.06)
        off = [Stroke(points=(0.05, y, 1.0, 0.1, y, 1.0), size=0.06, does="erase") for y in (0.2, 0.8)]
        through = Stroke(points=(0.66, 0.5, 1.0, 0.68, 0.5, 1.0), size=0.06, does="erase")
        made = PARTS["rough"].matte(self.part(on, *off, through), whole, PartContext(seen=seen))
        self.assertGreater(((made > 0.5) & ring).sum() / ((made > 0.5) | ring).sum(), 0.95)
        self.assertLess(float(made[60, 80]), 0.1)

    def test_marks_outside_none_and_beyond_the_frame(self) -> None:
        picture, _ = composition()
        seen, whole = seen_of(picture)
        near = PartContext(seen=seen)
        self.assertEqual(float(PARTS["rough"].matte(self.part(), whole, near).max()), 0)
        beside = Stroke(points=(9.0, 9.0, 1.0, 9.5, 9.0, 1.0), size=0.05)
        self.assertEqual(float(PARTS["rough"].matte(self.part(beside), whole, near).max()), 0)
        on = Stroke(points=(0.6, 0.5, 1.0, 0.7, 0.5, 1.0), size=0.1)
        inner, wide = (PARTS["rough"].matte(self.part(on), at, near) for at in (whole, whole.beyond(4)))
        np.testing.assert_allclose(wide, np.pad(inner, 4, mode="edge"), atol=1e-6)


class Refining(TestCase):
    def test_two_regions_whose_parts_have_the_same_name_are_both_refined(self) -> None:
        picture, _ = composition()
        source = source_of(np.ascontiguousarray(np.moveaxis(picture, -1, 0)), SRGB, "two")
        engine = Engine(solved=SolvedStore(wait=False))
        away = Stroke(points=(0.05, 0.05, 1.0, 1.2, 0.05, 1.0), size=0.05, does="erase")
        regions = [
            alone(Region(id=id, name=id, parts=(self.part(x, away),))) for id, x in (("one", 0.6), ("other", 0.7))
        ]
        limit = time.monotonic() + 60
        while time.monotonic() < limit:
            before = engine.solved.handed_coarse
            for where in regions:
                engine.matte(source, where, source.full())
            if engine.solved.handed_coarse == before:
                break
            time.sleep(0.02)
        self.assertEqual(engine.solved.handed_coarse, before)

    def part(self, x: float, away: Stroke) -> Part:
        return Part(id="part-1", kind="rough", strokes=(Stroke(points=(x, 0.5, 1.0), size=0.1), away))


def endless(begun: threading.Event):  # type: ignore[no-untyped-def]
    """Return a solve that goes on until it is stopped."""

    def solve(stop):  # type: ignore[no-untyped-def]
        begun.set()
        while True:
            stop()
            time.sleep(0.005)

    return solve


class Store(TestCase):
    def fine(self, value: float = 0.25):  # type: ignore[no-untyped-def]
        return lambda stop: np.full((4, 6), value, np.float32)

    def coarse(self) -> NDArray[np.float32]:
        return np.zeros((4, 6), np.float32)

    def wait(self, store: SolvedStore) -> None:
        limit = time.monotonic() + 10
        while store.busy and time.monotonic() < limit:
            time.sleep(0.01)

    def test_one_that_does_not_wait_gives_the_coarse_matte_until_the_fine_one_is_there(self) -> None:
        store = SolvedStore(wait=False)
        self.assertEqual(float(store("k", "f", self.coarse, self.fine())[0, 0]), 0)
        self.assertEqual((store.handed_coarse, store.handed_stopped), (1, 0))
        self.wait(store)
        self.assertAlmostEqual(float(store("k", "f", self.coarse, self.fine())[0, 0]), 0.25, places=4)
        self.assertEqual(store.handed_coarse, 1)

    def test_files_are_found_again_and_damaged_ones_solved_again(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            made = SolvedStore(lambda: folder)("k", "f", self.coarse, self.fine(0.3))
            again = SolvedStore(lambda: folder)("k", "f", self.coarse, self.fine(0.9))
            np.testing.assert_array_equal(again, made)
            (folder / "k.npy").write_bytes(b"not a matte")
            anew = SolvedStore(lambda: folder)("k", "f", self.coarse, self.fine(0.9))
            self.assertAlmostEqual(float(anew[0, 0]), 0.9, places=4)

    def test_called_off_it_stays_coarse_until_resumed(self) -> None:
        store, begun = SolvedStore(wait=False), threading.Event()

        store("k", "f", self.coarse, endless(begun))
        self.assertTrue(begun.wait(5))
        store.call_off()
        self.wait(store)
        store("k", "f", self.coarse, self.fine())
        self.assertEqual(store.handed_stopped, 1)
        self.assertFalse(store.busy)
        store.resume()
        store("k", "f", self.coarse, self.fine())
        self.wait(store)
        self.assertAlmostEqual(float(store("k", "f", self.coarse, self.fine())[0, 0]), 0.25, places=4)

    def test_changed_marks_take_the_place_of_older_ones(self) -> None:
        store, begun = SolvedStore(wait=False), threading.Event()

        store("old", "family", self.coarse, endless(begun))
        self.assertTrue(begun.wait(5))
        store("new", "family", self.coarse, self.fine(0.75))
        self.wait(store)
        self.assertAlmostEqual(float(store("new", "family", self.coarse, self.fine())[0, 0]), 0.75, places=4)
