"""Wood, cloth and how often a texture repeats."""

from typing import Any

import numpy as np
from PIL import ImageDraw

from demo.scenes.kit import textures
from demo.scenes.kit.tracing import Plain, T, bitmap, painted

Colour = tuple[float, float, float]
BROWN: tuple[Colour, Colour, Colour] = ((0.36, 0.21, 0.11), (0.25, 0.135, 0.065), (0.10, 0.05, 0.022))
#: one wing of the company's mark, in its own size
WING = (
    *((0.04, -0.15), (0.35, -0.62), (0.85, -0.7), (0.98, -0.48), (0.75, -0.1), (0.55, 0.05), (0.72, 0.28)),
    *((0.62, 0.58), (0.38, 0.66), (0.12, 0.3), (0.04, 0.1)),
)
FEELER = ((0.03, -0.25), (0.12, -0.5), (0.26, -0.68))


def tiled(across: float, down: float | None = None) -> Any:
    """Return how a texture repeats per unit."""
    return T().scale([across, across if down is None else down, 1])


def wooden(
    seed: int,
    tones: tuple[Colour, Colour, Colour] = BROWN,
    planks: int = 0,
    w: int = 2048,
    h: int = 1024,
    su: float = 0.12,
    sv: float = 0.25,
    rot: float = 0,
    rough: float = 0.5,
    gap: float = 0.006,
    bump: float = 0.02,
    spec: float = 0.35,
) -> Plain:
    """Return wood of light, middle and dark tones, in planks, its grain turned by degrees."""
    colour, height = textures.wood(w, h, seed, tones, planks, gap)
    at = T().scale([su, sv, 1]).rotate([0, 0, 1], rot) if rot else T().scale([su, sv, 1])
    return painted(bitmap(colour, xf=at), rough=rough, spec=spec, bump=bitmap(height, xf=at), scale=bump)


def woven(
    colour: Colour, seed: int = 1, threads: int = 160, su: float = 3, sv: float = 1.4, sheen: float = 1.0
) -> Plain:
    """Return cloth of a colour."""
    pixels, height = textures.cloth(1024, 1024, colour, threads, seed)
    at = T().scale([su, sv, 1])
    bump = bitmap(height, xf=at)
    return painted(bitmap(pixels, xf=at), rough=0.82, spec=0.22, sheen=sheen, bump=bump, scale=0.012)


def moth(draw: ImageDraw.ImageDraw, x: float, y: float, size: float, fill: Any) -> None:
    """Draw the company's mark: a moth of half a width ``size``."""
    for side in (-1, 1):
        draw.polygon([(x + side * a * size, y + b * size) for a, b in WING], fill=fill)
        feeler = [(x + side * a * size, y + b * size) for a, b in FEELER]
        draw.line(feeler, fill=fill, width=max(2, int(0.035 * size)))
    draw.ellipse([x - 0.09 * size, y - 0.32 * size, x + 0.09 * size, y + 0.5 * size], fill=fill)


def striped(pixels: np.ndarray, stripes: int, other: Colour) -> np.ndarray:
    """Return cloth in two colours, every second stripe in the other."""
    plain = (np.floor(np.linspace(0, stripes, pixels.shape[1], endpoint=False)) % 2 == 0)[None, :, None]
    return np.where(plain, pixels, pixels * np.array(other))
