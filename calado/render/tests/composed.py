"""Composites with everything known: a subject, what is behind it, and how much of each pixel it holds."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from scipy import ndimage
from skimage import color

from calado.adjust.stats import NO_STATS
from calado.arrays import Matte, Planes
from calado.colour.spaces import SRGB
from calado.colour.transfer import linear_to_srgb
from calado.region.solve.foreground import freed
from calado.render.passes import RenderContext, run_passes
from calado.render.plan import plan_sheets
from calado.sheet.models import Part, Pass, Region, Sheet, Treatment
from calado.window import full_window

Edge = Literal["disc", "hair"]
SIDE = 288
#: so far from where both show, in pixels, a difference is looked for
NEAR = 12
FINE = 8


@dataclass(frozen=True)
class Composite:
    """``picture`` = α · ``front`` + (1 − α) · ``back``, planes of shape (3, SIDE, SIDE) in linear light."""

    front: Planes
    back: Planes
    alpha: Matte

    @property
    def picture(self) -> Planes:
        return self.over(self.back)

    def over(self, back: Planes) -> Planes:
        """Return the subject over another surround."""
        return np.asarray(self.alpha * self.front + (1 - self.alpha) * back, np.float32)

    def near(self) -> np.ndarray:
        """Return where a pixel lies near one in which both show, shape (SIDE, SIDE)."""
        both = (self.alpha > 0.02) & (self.alpha < 0.98)
        return np.asarray(ndimage.distance_transform_edt(~both) <= NEAR)


def composite(seed: int, edge: Edge) -> Composite:
    """Return a subject of any colours before a surround of any, its edge a soft disc's or beset with hair."""
    rng = np.random.default_rng([seed, edge == "hair"])
    front, back = _texture(rng), _texture(rng)
    radius = SIDE * rng.uniform(0.2, 0.3)
    y, x = np.mgrid[:SIDE, :SIDE] - SIDE / 2 + 0.5
    softness = rng.uniform(1.0, 4.0) if edge == "disc" else 0.7
    alpha = ndimage.gaussian_filter((np.hypot(x, y) < radius).astype(float), softness)
    if edge == "hair":
        alpha = 1 - (1 - alpha) * (1 - _strands(rng, radius))
    return Composite(front, back, alpha.astype(np.float32))


def _texture(rng: np.random.Generator) -> Planes:
    """Return planes of one colour with others of its kind: soft and fine clouds, and some hard shapes."""
    base = rng.uniform(0.03, 0.6, 3)
    shade = np.zeros((SIDE, SIDE))
    for sigma in (40, 12, 3, 1):
        cloud = ndimage.gaussian_filter(rng.normal(size=(SIDE, SIDE)), sigma)
        shade += 0.25 * cloud / cloud.std() * (0.5 if sigma < 10 else 1)
    planes = base[:, None, None] * np.exp(shade)
    for _ in range(12):
        left, top = rng.integers(0, SIDE - 30, 2)
        wide, high = rng.integers(4, 40, 2)
        planes[:, top : top + high, left : left + wide] *= rng.uniform(0.6, 1.6, 3)[:, None, None]
    return np.clip(planes, 0, 1).astype(np.float32)


def _strands(rng: np.random.Generator, radius: float) -> np.ndarray:
    drawn = np.zeros((SIDE * FINE, SIDE * FINE), np.uint8)
    along = np.linspace(0, 1, 24)
    for _ in range(260):
        angle, length, bend = rng.uniform(0, 2 * np.pi), rng.uniform(10, 40), rng.normal(0, 0.4)
        far = radius - 3 + along * length
        turned = angle + bend * along**2 * length / radius
        points = np.stack([far * np.cos(turned), far * np.sin(turned)], axis=1) + SIDE / 2
        width = max(1, round(FINE * rng.uniform(0.5, 1.8)))
        cv2.polylines(drawn, [np.round(points * FINE).astype(np.int32)], False, 255, width)
    return np.asarray(cv2.resize(drawn, (SIDE, SIDE), interpolation=cv2.INTER_AREA) / 255.0)


def difference(one: Planes, other: Planes, where: np.ndarray) -> float:
    """Return the mean CIEDE2000 of two pictures over a place, by scikit-image."""
    labs = [color.rgb2lab(linear_to_srgb(np.clip(np.moveaxis(each, 0, -1), 0, 1))) for each in (one, other)]
    return float(color.deltaE_ciede2000(*labs)[where].mean())


def truth(made: Composite, sigma: float) -> Planes:
    """Return the subject before its surround out of focus, the surround whole."""
    return made.over(np.stack([ndimage.gaussian_filter(each, sigma, mode="nearest") for each in made.back]))


def naive(made: Composite, sigma: float) -> Planes:
    """Return what is usual: the whole picture out of focus, and the subject laid over it by its matte."""
    soft = np.stack([ndimage.gaussian_filter(each, sigma, mode="nearest") for each in made.picture])
    return np.asarray(made.alpha * made.picture + (1 - made.alpha) * soft, np.float32)


def treated(made: Composite, outside: Treatment, *, parted: bool = True, matte: Matte | None = None) -> Planes:
    """Return the picture with its surround treated beside a rough-in whose matte is known."""
    region = Region(id="r", name="r", parts=(Part(id="p", kind="rough" if parted else "ellipse"),))
    each = Pass(id="a", name="a", region="r", outside=outside)
    plans = plan_sheets((Sheet(regions=(region,), passes=(each,)),), SRGB)
    held = made.alpha if matte is None else matte
    openings = RenderContext(
        lambda where: held,
        lambda where, ring: np.zeros_like(held),
        lambda plan, planes, at: freed(planes, np.ones_like(held) if at.weight is None else at.weight),
        lambda: made.picture,
        SRGB,
        NO_STATS,
        0,
    )
    return run_passes(made.picture, plans, full_window(SIDE, SIDE), openings)
