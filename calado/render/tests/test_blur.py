"""The blur against SciPy, and the properties that make it region-aware."""

from unittest import TestCase

import numpy as np
from scipy import ndimage

from calado.adjust.blur.cells import blur, cell_of, half_kernel
from calado.colour.spaces import SRGB
from calado.region.resolved import alone
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import Part, Pass, Region, Sheet
from calado.window import full_window

SIZE = (320, 210)
WINDOW = full_window(*SIZE)
#: of a full-contrast hard step, in linear light: half an 8-bit code in the midtones
STEP_ERROR = 0.004
RNG = np.random.default_rng(3)


def scene() -> np.ndarray:
    planes = np.full((3, SIZE[1], SIZE[0]), 0.2, np.float32)
    planes[:, :, 150:] = 1.0
    planes[1, 60:90] *= 0.3
    return planes


def blurred(planes: np.ndarray, sigma: float, matte: np.ndarray | None = None, outside: bool = False) -> np.ndarray:
    made = blur(planes, matte, WINDOW, (sigma, sigma), outside=outside)
    out = np.empty_like(planes)
    made.rows_into(0, SIZE[1], 0, out)
    return out


def gaussian(plane: np.ndarray, sigma: float) -> np.ndarray:
    made: np.ndarray = ndimage.gaussian_filter(plane.astype(float), sigma, mode="nearest", truncate=6)
    return made


class AgainstScipy(TestCase):
    def test_plain_gaussian(self) -> None:
        planes = scene()
        for sigma in (0.6, 2.0, 5.0, 7.0, 12.0, 20.0):
            exact = np.stack([gaussian(plane, sigma) for plane in planes])
            self.assertLess(np.abs(blurred(planes, sigma) - exact).max(), STEP_ERROR, sigma)

    def test_normalised_convolution(self) -> None:
        planes, w = scene(), np.ones(SIZE[::-1])
        w[40:160, 80:240] = 0
        w = ndimage.gaussian_filter(w, 2)
        w[w < 1e-3] = 0
        matte = (1 - w).astype(np.float32)
        for sigma in (3.0, 6.0, 9.0, 12.0, 16.0, 21.0):
            weighted = np.stack([ndimage.gaussian_filter(p * w, sigma, mode="nearest", truncate=6) for p in planes])
            exact = weighted / np.maximum(gaussian(w, sigma), 1e-12)
            made = blurred(planes, sigma, matte, outside=True)
            self.assertLess((np.abs(made - exact) * w).max(), 2 * STEP_ERROR, sigma)

    def test_full_width_at_half_maximum(self) -> None:
        # FWHM = 2.3548 sigma (2 sqrt(2 ln 2), any handbook of statistics)
        planes = np.zeros((3, *SIZE[::-1]), np.float32)
        planes[:, :, 160] = 1.0
        row = blurred(planes, 18.0)[0, 100]
        above = np.flatnonzero(row > row.max() / 2)
        self.assertAlmostEqual((above[-1] - above[0] + 1) / 18.0, 2.3548, delta=0.08)

    def test_kernels_sum_to_one(self) -> None:
        for sigma in (0.2, 1.0, 5.9, 6.0, 45.0):
            half = half_kernel(sigma, cell_of(sigma))
            self.assertAlmostEqual(float(2 * half.sum() - half[0]), 1.0, 5)


class Properties(TestCase):
    def test_flat_stays_flat_at_the_frame_too(self) -> None:
        planes = np.full((3, *SIZE[::-1]), 0.37, np.float32)
        matte = np.zeros(SIZE[::-1], np.float32)
        matte[50:150, 100:200] = 1
        for sigma in (0.5, 4.0, 8.0, 33.0):
            np.testing.assert_allclose(blurred(planes, sigma), 0.37, atol=1e-5)
            made = blurred(planes, sigma, matte, outside=True)
            np.testing.assert_allclose(made[:, matte == 0], 0.37, atol=1e-5)


def surround(planes: np.ndarray, grade: str, sigma: float = 0.05, grown: float = 0.0) -> np.ndarray:
    """The picture with its outside blurred; the region is a hard circle of 0.4 heights, or grown."""
    side = 0.4 + 2 * grown
    circle = Part(id="p", kind="ellipse", values={"x": 0.76, "y": 0.5, "width": side, "height": side})
    sheet = Sheet(
        regions=(Region(id="r", name="r", parts=(circle,)),),
        passes=(Pass(id="a", name="a", region="r", outside={"blur": {"radius": sigma, "grade": grade}}),),
    )
    source = source_of(planes, SRGB, f"{id(planes)}")
    return Engine().picture(source, Order(sheet), source.full())


class NoHalo(TestCase):
    def test_the_subjects_colours_do_not_reach_the_surround(self) -> None:
        planes = RNG.random((3, *SIZE[::-1]), np.float32)
        y, x = (np.mgrid[0 : SIZE[1], 0 : SIZE[0]] + 0.5) / SIZE[1]
        subject = np.hypot(x - 0.76, y - 0.5) < 0.2
        repainted = planes.copy()
        repainted[:, subject] = 25.0
        for grade in ("mix", "radius"):
            one, other = surround(planes, grade, grown=0.02), surround(repainted, grade, grown=0.02)
            np.testing.assert_array_equal(one[:, ~subject], other[:, ~subject], err_msg=grade)

    def test_a_step_at_a_hard_edge_leaves_no_trace(self) -> None:
        # CORE: the naive way leaves half the contrast just outside the edge; solved without the subject, 0
        y, x = (np.mgrid[0 : SIZE[1], 0 : SIZE[0]] + 0.5) / SIZE[1]
        planes = np.full((3, *SIZE[::-1]), 0.5, np.float32)
        planes[:, np.hypot(x - 0.76, y - 0.5) < 0.2] = 0.0
        made = surround(planes, "mix", grown=2 / SIZE[1])
        np.testing.assert_allclose(made[:, np.hypot(x - 0.76, y - 0.5) > 0.22], 0.5, atol=1e-4)
        naive = ndimage.gaussian_filter(planes[0].astype(float), 0.05 * SIZE[1], mode="nearest")
        self.assertLess(naive[:, ::1][np.hypot(x - 0.76, y - 0.5) > 0.2].min(), 0.4)


class ByRadius(TestCase):
    def test_blur_grows_outward_and_leaves_the_inside(self) -> None:
        planes = RNG.random((3, *SIZE[::-1]), np.float32)
        oval = {"x": 0.76, "y": 0.5, "width": 0.5, "height": 0.5, "feather_out": 0.5, "profile": "straight"}
        sheet = Sheet(
            regions=(Region(id="r", name="r", parts=(Part(id="p", kind="ellipse", values=oval),)),),
            passes=(Pass(id="a", name="a", region="r", outside={"blur": {"radius": 0.03, "grade": "radius"}}),),
        )
        source = source_of(planes, SRGB)
        made = Engine().picture(source, Order(sheet), source.full())
        matte = Engine().matte(source, alone(sheet.regions[0]), source.full())
        np.testing.assert_array_equal(made[:, matte == 1], planes[:, matte == 1])
        roughness = []
        for low, high in ((0.7, 0.9), (0.4, 0.6), (0.0, 0.2)):
            band = (matte >= low) & (matte <= high)
            roughness.append(float(made[:, band].std()))
        self.assertTrue(roughness[0] > roughness[1] > roughness[2], roughness)

    def test_full_weight_is_the_plain_blur(self) -> None:
        planes = scene()
        circle = {"x": 0.2, "y": 0.5, "width": 0.1, "height": 0.1}
        made = []
        for grade in ("mix", "radius"):
            sheet = Sheet(
                regions=(Region(id="r", name="r", parts=(Part(id="p", kind="ellipse", values=circle),)),),
                passes=(Pass(id="a", name="a", region="r", outside={"blur": {"radius": 0.04, "grade": grade}}),),
            )
            source = source_of(planes, SRGB)
            made.append(Engine().picture(source, Order(sheet), source.full()))
        far = np.s_[:, :, 120:]
        np.testing.assert_allclose(made[0][far], made[1][far], atol=1e-5)

    def test_a_pattern_loses_the_contrast_that_its_radius_takes(self) -> None:
        # a wave of p pixels through a Gaussian of σ keeps exp(−2π²σ²/p²) of its contrast (any table of transforms)
        wide, high = 1200, 24
        sigma = 20.0
        x = np.arange(wide) + 0.5
        across = {"x": 0.0, "y": 0.5, "angle": 90.0, "sides": "one", "feather_in": 0.0, "feather_out": wide / high}
        ramp = Part(id="p", kind="gradient", values={**across, "profile": "straight"})
        region = Region(id="r", name="r", parts=(ramp,))
        outside = {"blur": {"radius": sigma / high, "down": 0.0, "grade": "radius"}}
        order = Order(Sheet(regions=(region,), passes=(Pass(id="a", name="a", region="r", outside=outside),)))
        weight = None
        for period in (4.0, 8.0, 16.0, 32.0, 64.0):
            waves = [0.5 + 0.4 * np.cos(2 * np.pi * x / period + phase) for phase in (0, np.pi / 2)]
            made = []
            for wave in waves:
                planes = np.broadcast_to(wave, (3, high, wide)).astype(np.float32)
                source, engine = source_of(np.ascontiguousarray(planes), SRGB, f"{period}{wave[0]}"), Engine()
                made.append(engine.picture(source, order, source.full())[0, 12] - 0.5)
                weight = 1 - engine.matte(source, alone(region), source.full())[12].astype(float)
            assert weight is not None
            # two waves a quarter apart tell the contrast at every pixel
            kept = np.hypot(*made) / 0.4
            wanted = np.exp(-2 * (np.pi * sigma * weight / period) ** 2)
            within = slice(200, wide - 200)
            self.assertLess(float(np.abs(kept - wanted)[within].max()), 0.09, period)
