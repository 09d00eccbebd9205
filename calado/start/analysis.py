"""What a starter reads from the picture at hand: where the subject is likely, what is burnt, where skin is, its hues.

All of it is a first guess to be adjusted, read from a small copy; nothing here decides anything by itself.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from math import atan2, degrees, pi, sqrt

import numpy as np
import scipy
from numpy.typing import NDArray

from calado.arrays import Floats, Planes
from calado.colour.oklab import linear_to_oklab, oklab_to_oklch
from calado.colour.spaces import SRGB, ColourSpace
from calado.detect.find import find_kind
from calado.detect.net import ModelError
from calado.detect.offer import Kind, Offer
from calado.inspect.falloff import Falloff, falloff_of
from calado.render.engine import Engine
from calado.render.source import Source

#: the encoded signal from which a place counts as burnt
BURNT = 0.9
#: OKLCh of skin of any depth: hue in degrees, chroma, lightness (common practice, no source; our limits)
SKIN = ((25.0, 80.0), (0.03, 0.17), (0.35, 0.93))
LEAST_AREA = 0.0004
#: how nearly below a light its reflection lies, and how far at least, in picture heights
IN_LINE, APART = 0.08, 0.1


@dataclass(frozen=True)
class Oval:
    """A turned ellipse in picture heights: centre, width, height, angle in degrees; ``area`` of what it holds."""

    x: float
    y: float
    width: float
    height: float
    angle: float = 0.0
    area: float = 0.0


@dataclass(frozen=True, eq=False)
class PictureAnalysis:
    """A small copy of the untouched picture, shape (3, H, W), linear light, and what is read from it."""

    thumb: Planes
    space: ColourSpace
    aspect: float
    find: Callable[[Kind], tuple[Offer, ...]] = lambda _: ()

    def found(self, kind: Kind) -> tuple[Offer, ...]:
        """Return the finds of a kind, the doubtful ones left out; none where the file that finds it cannot be used."""
        try:
            return tuple(offer for offer in self.find("read" if kind == "text" else kind) if offer.name == kind)
        except ModelError:
            return ()

    @cached_property
    def lch(self) -> Floats:
        """OKLCh of each pixel, shape (H, W, 3)."""
        return oklab_to_oklch(linear_to_oklab(np.moveaxis(np.clip(self.thumb, 0, 1), 0, -1), self.space))

    @cached_property
    def signal(self) -> Floats:
        """The encoded luminance, shape (H, W)."""
        light = np.tensordot(self.space.luminance_weights, np.maximum(self.thumb, 0), axes=1)
        return np.asarray(self.space.transfer.encode(light))

    @cached_property
    def falloff(self) -> Falloff:
        """The falloff toward the corners that the picture already has."""
        return falloff_of(self.thumb, self.space)

    @cached_property
    def subject(self) -> Oval:
        """Where the eye likely goes: detail and colour that stand out, more so toward the middle (our choice)."""
        high, wide = self.signal.shape
        gy, gx = np.gradient(self.lch[..., 0])
        apart = np.abs(self.lch[..., 1] - np.median(self.lch[..., 1]))
        drawn = scipy.ndimage.gaussian_filter(np.hypot(gx, gy), 0.02 * high) * 6 + scipy.ndimage.gaussian_filter(
            apart, 0.03 * high
        )
        y, x = np.mgrid[:high, :wide]
        middle = np.exp(-(((x + 0.5) / wide - 0.5) ** 2 + ((y + 0.5) / high - 0.5) ** 2) / 0.08)
        weight = drawn * middle
        weight = np.where(weight > np.quantile(weight, 0.8), weight, 0)
        oval = self._oval(weight)
        size = min(max(oval.height, 0.45), 0.8), min(max(oval.width, 0.35), 0.5 * self.aspect)
        return Oval(oval.x, oval.y, size[1], size[0])

    @cached_property
    def burnt(self) -> tuple[Oval, ...]:
        """The burnt places, the largest first."""
        level = max(BURNT, float(np.quantile(self.signal, 0.995)) * 0.97)
        return self._patches(self.signal >= min(level, float(self.signal.max()) * 0.97))

    @cached_property
    def glare(self) -> tuple[Oval, ...]:
        """The largest burnt place; or a light and what burns below it, in line with it: its reflection."""
        pairs = [
            (light, below)
            for light in self.burnt
            for below in self.burnt
            if abs(light.x - below.x) < IN_LINE and below.y > light.y + APART
        ]
        if pairs:
            return max(pairs, key=lambda pair: pair[0].area + pair[1].area)
        return self.burnt[:1]

    @cached_property
    def skin(self) -> Oval | None:
        """The largest compact patch of skin's colours, or None: wood and sunsets have them too, but no such shape."""
        within = [
            (self.lch[..., k] > low) & (self.lch[..., k] < high) for k, (low, high) in zip((2, 1, 0), SKIN, strict=True)
        ]
        patches = self._patches(scipy.ndimage.binary_opening(np.logical_and.reduce(within), iterations=2))
        return next((each for each in patches if each.area > 0.004 and _compact(each, self.aspect)), None)

    @cached_property
    def colourful(self) -> Oval:
        """The most colourful place of some size."""
        height = self.signal.shape[0]
        chroma = scipy.ndimage.gaussian_filter(self.lch[..., 1], 0.04 * height)
        patches = self._patches(chroma > 0.8 * chroma.max())
        return patches[0] if patches else self.subject

    def hues(self, centres: tuple[float, ...]) -> NDArray[np.float64]:
        """Return the share of coloured pixels that stand nearest to each hue, in degrees; nothing where all is grey."""
        coloured = self.lch[..., 1] > 0.04
        hue, chroma = self.lch[..., 2][coloured], self.lch[..., 1][coloured]
        away = np.abs((hue[:, None] - np.array(centres) + 180) % 360 - 180)
        counted = np.bincount(away.argmin(axis=1), chroma, len(centres)) if len(hue) else np.zeros(len(centres))
        return counted / max(counted.sum(), 1e-9)

    def _patches(self, mask: NDArray[np.bool_]) -> tuple[Oval, ...]:
        labels, count = scipy.ndimage.label(mask)
        ovals = [self._oval((labels == k).astype(float)) for k in range(1, min(count, 200) + 1)]
        kept = [each for each in ovals if each.area > LEAST_AREA]
        return tuple(sorted(kept, key=lambda each: -each.area))

    def _oval(self, weight: Floats) -> Oval:
        """Return the ellipse that has a weight's centre and spread: twice the standard deviation to each side."""
        high = weight.shape[0]
        total = max(float(weight.sum()), 1e-12)
        y, x = (np.mgrid[: weight.shape[0], : weight.shape[1]] + 0.5) / high
        cx, cy = float((weight * x).sum() / total), float((weight * y).sum() / total)
        xx, yy = float((weight * (x - cx) ** 2).sum() / total), float((weight * (y - cy) ** 2).sum() / total)
        xy = float((weight * (x - cx) * (y - cy)).sum() / total)
        spread = sqrt((xx - yy) ** 2 + 4 * xy**2)
        wide, tall = sqrt(max((xx + yy + spread) / 2, 1e-6)), sqrt(max((xx + yy - spread) / 2, 1e-6))
        angle = degrees(atan2(2 * xy, xx - yy)) / 2
        if abs(angle) > 45:  # the axis nearer to level is the width
            wide, tall, angle = tall, wide, angle - 90 if angle > 0 else angle + 90
        area = float((weight > 0).mean())
        return Oval(cx, cy, 4 * wide, 4 * tall, angle if abs(wide - tall) > 0.1 * max(wide, tall) else 0.0, area)


def _compact(oval: Oval, aspect: float) -> bool:
    """Whether a patch fills its ellipse, and is no larger than a face in a portrait."""
    filled = oval.area * aspect / (pi / 4 * oval.width * oval.height)
    return filled > 0.55 and oval.height < 0.9 and oval.area < 0.3


def analyse(engine: Engine, source: Source) -> PictureAnalysis:
    """Return what starters may read from a source."""
    return PictureAnalysis(
        engine.stats(source).thumb, source.space, source.aspect, lambda kind: find_kind(engine, source, kind)
    )


def plain(aspect: float) -> PictureAnalysis:
    """Return an even grey picture, about which nothing can be read but its shape."""
    return PictureAnalysis(np.full((3, 60, max(1, round(60 * aspect))), 0.18, np.float32), SRGB, aspect)
