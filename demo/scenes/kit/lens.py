"""From linear light to a picture: glow, corner falloff, colour fringes, grain, a film-like curve."""

from dataclasses import dataclass

import cv2
import numpy as np
from scipy import ndimage

#: widths of the glow, in picture widths, and their shares
GLOW = ((0.003, 0.5), (0.012, 0.3), (0.05, 0.2))
#: a curve with toe and shoulder, 1 becomes about 0.8
CURVE = (2.51, 0.03, 2.43, 0.59, 0.14)
BEFORE = 0.62


@dataclass(frozen=True)
class Look:
    """How a picture is developed; ``grain`` is how strong, ``fringe`` how much larger red is drawn than green."""

    exposure: float = 1.0
    glow: float = 0.06
    falloff: float = 0.25
    grain: float = 0.010
    fringe: float = 0.0004


def curve(light: np.ndarray) -> np.ndarray:
    """Return display light 0…1 of scene light."""
    a, b, c, d, e = CURVE
    x = light * BEFORE
    return np.clip((x * (a * x + b)) / (x * (c * x + d) + e), 0, 1)


def glowing(light: np.ndarray, share: float) -> np.ndarray:
    """Return light of which a share is spread widely."""
    wide = light.shape[1]
    bounded = np.minimum(light, 40).astype(np.float32)
    spread = sum(part * blurred(bounded, width * wide) for width, part in GLOW)
    return light * (1 - share) + spread * share


def blurred(light: np.ndarray, sigma: float) -> np.ndarray:
    """Return light spread by a Gaussian; a wide one is laid over a smaller copy."""
    step = max(1, int(sigma / 4))
    if step == 1:
        return cv2.GaussianBlur(light, (0, 0), sigma)
    high, wide = light.shape[:2]
    small = cv2.resize(light, (max(1, wide // step), max(1, high // step)), interpolation=cv2.INTER_AREA)
    return cv2.resize(cv2.GaussianBlur(small, (0, 0), sigma / step), (wide, high), interpolation=cv2.INTER_LINEAR)


def falling(light: np.ndarray, falloff: float) -> np.ndarray:
    """Return light that falls off towards the corners."""
    high, wide = light.shape[:2]
    y, x = np.mgrid[0:high, 0:wide]
    away = ((x - wide / 2 + 0.5) ** 2 + (y - high / 2 + 0.5) ** 2) / (wide * wide / 4.0)
    return light / (1 + falloff * 0.55 * away)[..., None] ** 2


def grained(light: np.ndarray, strength: float, seed: int) -> np.ndarray:
    """Return light with the noise of a sensor, more of it, though relatively less, where it is brighter."""
    noise = np.random.default_rng(seed).standard_normal(light.shape).astype("f4")
    noise = 0.65 * noise + 0.35 * noise.mean(-1, keepdims=True) * 1.7
    noise = ndimage.gaussian_filter(noise, (0.55, 0.55, 0)) * 1.6
    return np.maximum(light + noise * strength * np.sqrt(np.maximum(light, 0) * 0.6 + 0.004), 0)


def fringed(light: np.ndarray, share: float) -> np.ndarray:
    """Return light whose red is drawn larger and whose blue smaller, about the middle."""
    high, wide = light.shape[:2]
    made = light.copy()
    middle = np.array([high / 2, wide / 2])
    for channel, size in ((0, 1 + share), (2, 1 - share)):
        shrunk = np.eye(2) / size
        made[..., channel] = ndimage.affine_transform(
            light[..., channel], shrunk, middle - shrunk @ middle, order=1, mode="nearest"
        )
    return made


def encoded(light: np.ndarray) -> np.ndarray:
    """Return sRGB values of display light (IEC 61966-2-1)."""
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 0.0031308) ** (1 / 2.4) - 0.055)


def developed(light: np.ndarray, look: Look, seed: int = 1) -> np.ndarray:
    """Return display light 0…1, shape (H, W, 3), of a traced picture."""
    made = np.maximum(light, 0).astype(np.float32) * look.exposure
    if look.glow:
        made = glowing(made, look.glow)
    made = falling(made, look.falloff)
    if look.fringe:
        made = fringed(made, look.fringe)
    if look.grain:
        made = grained(made, look.grain, seed)
    return curve(made)


def codes(values: np.ndarray, top: int = 255, seed: int = 0) -> np.ndarray:
    """Return integer codes of encoded values, dithered by half a code, so that a soft sky shows no steps."""
    dither = (np.random.default_rng(seed).random(values.shape) - 0.5) * 0.5
    kind = np.uint8 if top == 255 else np.uint16
    return np.clip(np.rint(values * top + dither), 0, top).astype(kind)
