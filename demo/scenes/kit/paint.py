"""What is painted on the head: skin, lips, brows, lids and wear by their place on it; and the glass eyes."""

from dataclasses import dataclass

import numpy as np
from scipy import ndimage as ni

from demo.scenes.kit import geometry, noise
from demo.scenes.kit.files import CACHE
from demo.scenes.kit.geometry import Mesh
from demo.scenes.kit.head import ER, EX, EY, EZ, surface

SKIN = (0.60, 0.345, 0.225)
CHEEK, NOSE, CHIN, LID = (0.60, 0.17, 0.115), (0.58, 0.19, 0.13), (0.55, 0.2, 0.14), (0.34, 0.15, 0.12)
LIP, BETWEEN, BROW, LASH = (0.40, 0.050, 0.045), (0.10, 0.015, 0.012), (0.045, 0.022, 0.014), (0.03, 0.016, 0.012)
WOOD = (0.30, 0.17, 0.085)
#: of the eye's ball, in radians from where it looks: the iris and the pupil
IRIS, PUPIL = 0.50, 0.24


@dataclass(frozen=True)
class Coat:
    """Paint round the head as textures: colours (h, w, 3), heights, roughness and where the lips are, each (h, w)."""

    colour: np.ndarray
    height: np.ndarray
    rough: np.ndarray
    lips: np.ndarray


def paint(width: int = 3072, skin: tuple[float, float, float] = SKIN, seed: int = 5) -> Coat:
    """Return the paint of a head, a texture ``width`` across; kept once it was made."""
    kept = CACHE / f"paint_{width}_{seed}.npz"
    if kept.exists():
        found = np.load(kept)
        return Coat(*(found[each].astype("f4") for each in ("colour", "height", "rough", "lips")))
    made = _Brushwork(width, round(width * 0.716), seed).coat(skin)
    np.savez(kept, **{name: each.astype("f2") for name, each in vars(made).items()})
    return made


def step(start: float, end: float, value: np.ndarray) -> np.ndarray:
    """Return 0 before start, 1 past end, and a smooth way between."""
    share = np.clip((value - start) / (end - start), 0, 1)
    return share**2 * (3 - 2 * share)


def _near(value: np.ndarray, width: float) -> np.ndarray:
    return np.exp(-((value / width) ** 2))


class _Brushwork:
    """Paints layer over layer; ``side`` is how far a place is from the middle, either way."""

    def __init__(self, width: int, height: int, seed: int) -> None:
        self.shape, self.seed = (height, width), seed
        rough = surface(width // 3, height // 3)
        zoom = (height / rough.shape[0], width / rough.shape[1])
        self.places = np.stack([ni.zoom(rough[..., each], zoom, order=1) for each in range(3)], -1).reshape(-1, 3)
        self.places = self.places.astype("f8")
        x, self.y, self.z = self.places.T
        self.side = np.abs(x)
        self.blots = self.grain(3.0, 5, 0)
        self.fine, self.pores = self.grain(55.0, 3, 1), self.grain(120.0, 2, 2)
        self.wood, self.strokes = self.grain([38.0, 3.5, 38.0], 4, 3), self.grain([9.0, 60.0, 9.0], 3, 4)
        self.colour = np.empty(0)

    def grain(self, pitch: float | list[float], octaves: int, number: int) -> np.ndarray:
        """Return noise at every place."""
        pitches = np.array(pitch if isinstance(pitch, list) else [pitch] * 3, float)
        return noise.at(self.places, pitches, octaves, self.seed + number)

    def lay(self, colour: tuple[float, ...], cover: np.ndarray) -> None:
        """Lay a colour over what is there."""
        self.colour = self.colour * (1 - cover[:, None]) + np.array(colour) * cover[:, None]

    def spot(self, x: float, y: float, across: float, down: float) -> np.ndarray:
        """Return a soft spot on either side of the face."""
        return np.exp(-(((self.side - x) / across) ** 2 + ((self.y - y) / down) ** 2)) * (self.z > 0.1)

    def coat(self, skin: tuple[float, float, float]) -> Coat:
        """Return all of it."""
        uneven = 0.28 * self.blots + 0.20 * self.fine + 0.13 * self.pores + 0.10 * self.strokes
        self.colour = np.array(skin)[None] * (1 + uneven)[:, None]
        self.lay(CHEEK, 0.62 * self.spot(0.42, -0.17, 0.17, 0.13) * (1 + 0.8 * self.blots))
        self.lay(NOSE, 0.45 * self.spot(0, -0.14, 0.11, 0.1))
        self.lay(CHIN, 0.3 * self.spot(0, -0.78, 0.16, 0.1))
        self.lay(LID, 0.55 * self.spot(EX, EY + 0.15, 0.17, 0.05))
        lips, brows = self._lips(), self._brows()
        self._lashes()
        wear, cracks = self._wear(brows, lips)
        height = 0.55 * self.fine + 0.32 * self.pores + 0.30 * self.wood + 0.25 * self.strokes
        rough = 0.40 + 0.16 * self.fine + 0.22 * wear - 0.10 * lips + 0.1 * self.blots
        return Coat(
            np.clip(self.colour, 0.006, 0.85).reshape(*self.shape, 3),
            (height - 0.7 * cracks - 0.45 * wear).reshape(self.shape),
            np.clip(rough, 0.2, 0.8).reshape(self.shape),
            np.clip(lips, 0, 1).reshape(self.shape),
        )

    def _lips(self) -> np.ndarray:
        side, y, z = self.side, self.y, self.z
        bow = 0.378 + 0.10 * side**1.3 - 0.02 * np.cos(side * 22) * step(0.16, 0.07, side)
        upper = np.abs(y + bow) - 0.036 * np.clip(1 - (side / 0.225) ** 2, 0, 1)
        lower = np.abs(y + 0.470 - 0.5 * side**2) - 0.048 * np.clip(1 - (side / 0.2) ** 2, 0, 1)
        lips = step(0.011, -0.012, np.minimum(upper, lower)) * step(0.200, 0.150, side) * (z > 0.55)
        self.lay(LIP, np.clip(lips * (0.94 + 0.6 * self.fine), 0, 1))
        self.lay(BETWEEN, 0.9 * _near(y + 0.424 - 0.02 * side, 0.010) * step(0.185, 0.12, side) * (z > 0.6))
        return lips

    def _brows(self) -> np.ndarray:
        side = self.side
        arch = 0.10 * np.sin(np.clip((side - 0.06) / 0.42, 0, 1) * np.pi * 0.85)
        line = 0.345 + arch - 0.03 * (side > 0.4) * (side - 0.4)
        thick = 0.034 * np.clip((side - 0.06) / 0.05, 0, 1) * np.clip((0.50 - side) / 0.3, 0, 1) ** 0.6
        hairs = self.grain([70.0, 25.0, 10.0], 2, 8)
        away = np.abs(self.y - line) / np.maximum(thick, 1e-4) - 1 + 1.2 * hairs
        brows = step(0.6, 0.0, away) * (side > 0.06) * (side < 0.50) * (self.z > 0.2)
        self.lay(BROW, 0.93 * brows)
        return brows

    def _lashes(self) -> None:
        x, y = self.side - EX, self.y - EY
        from_ball = np.sqrt(x**2 + y**2 + (self.z - EZ) ** 2)
        line = _near(y - 0.062 + 0.9 * x**2 + 0.05 * x, 0.014) * step(0.15, 0.11, np.abs(x)) * (from_ball < 0.21)
        self.lay(LASH, 0.85 * line)

    def _wear(self, brows: np.ndarray, lips: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Rub paint off the ridges, crack it, leave dirt in the hollows; return the wear and the cracks."""
        bare = np.clip((self.grain(7.0, 6, 11) + 0.55 * self.fine - 0.30) * 9, 0, 1)
        wear = (bare * (1 - brows) * (1 - 0.6 * lips))[:, None]
        self.colour = self.colour * (1 - wear) + np.array(WOOD) * (1 + 1.1 * self.wood)[:, None] * wear
        stirred = self.places + 0.03 * np.stack([self.blots, self.fine, self.blots], 1)
        cells = noise.cells(stirred, 4.2, self.seed + 13)
        cracks = step(0.022, 0.004, cells[:, 1]) * (self.grain(2.2, 2, 15) > 0.06)
        dirt = np.clip(self.grain(14.0, 4, 16) * 1.5, 0, 1)
        self.colour = self.colour * (1 - 0.55 * cracks)[:, None] * (1 - 0.18 * dirt)[:, None]
        return wear[:, 0], cracks


def eye(count: int = 160) -> tuple[Mesh, np.ndarray]:
    """Return a glass eye that looks to +z: its mesh, and its colours, shape (512, 512, 3)."""
    down, round_ = np.meshgrid(np.linspace(0, np.pi, count), np.linspace(0, 2 * np.pi, 2 * count), indexing="ij")
    ball = np.stack([np.sin(down) * np.cos(round_), np.sin(down) * np.sin(round_), np.cos(down)], -1)
    size = 512
    u, v = np.meshgrid(*[(np.arange(size) + 0.5) / size] * 2)
    ring = np.stack([np.cos(u * 6.2832).ravel() * 3, np.sin(u * 6.2832).ravel() * 3, (v * 6).ravel()], 1)
    rays = noise.at(ring, np.array([5.0, 5.0, 0.6]), 4, 3).reshape(size, size, 1)
    angle = (v * np.pi)[..., None]
    white = np.array([0.66, 0.60, 0.50]) * (1 + 0.12 * rays)
    brown = np.clip(1 + 2.2 * rays + 0.9 * (angle - PUPIL) / (IRIS - PUPIL), 0.1, 3)
    colour = np.where(angle < IRIS, np.array([0.115, 0.048, 0.018]) * brown, white)
    rim = _near(angle - IRIS, 0.045)
    colour = np.where(angle < PUPIL, (0.004, 0.0035, 0.003), colour * (1 - 0.85 * rim) + 0.012 * rim)
    return geometry.sheet(ball * ER, closed=True), colour.astype("f4")
