"""Hair in strands: wavy tufts combed off a crown, a loose fringe, some strands that fly away."""

from typing import Any

import numpy as np

from demo.scenes.kit.tracing import rgb

AUBURN = (0.21, 0.062, 0.018)
#: the skull as an ellipsoid: its middle and half axes, in head units
SKULL = np.array([0, 0.20, -0.06])
AXES = np.array([0.76, 0.86, 0.84])
CROWN = np.array([0.06, 0.9, -0.42])
TUFTS, JOINTS = 420, 13
#: the share of strands that fly away, and how thick a strand is
FLYING, THICK = 0.07, 0.0058


def hair(count: int = 9000, seed: int = 3) -> tuple[list[np.ndarray], list[np.ndarray]]:
    """Return about ``count`` strands, each shape (joints, 3), and their radii."""
    chance = np.random.default_rng(seed)
    strands, radii = [], []
    roots = _roots(chance)
    for root in roots:
        tuft = _Tuft(chance, root)
        for _ in range(max(4, count // len(roots))):
            strands.append(tuft.strand())
            radii.append(THICK * chance.uniform(0.7, 1.25) * np.linspace(1, 0.35, JOINTS))
    return strands, radii


def matter() -> dict[str, Any]:
    """Return what hair is made of."""
    gloss = {"roughness": 0.38, "specular": 0.55, "sheen": 0.35, "sheen_tint": 0.8}
    return {"type": "principled", "base_color": rgb(*AUBURN), **gloss}


def _roots(chance: np.random.Generator) -> np.ndarray:
    """Return directions from the skull's middle to where tufts grow: above a line that sinks towards the back."""
    ways = chance.standard_normal((TUFTS * 4, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    line = 0.20 + 0.62 * np.clip(ways[:, 2], 0, 1) - 0.75 * np.clip(-ways[:, 2], 0, 1)
    return ways[ways[:, 1] > line][:TUFTS]


class _Tuft:
    """Strands that share a root, a way they are combed, a length and a wave."""

    def __init__(self, chance: np.random.Generator, root: np.ndarray) -> None:
        self.chance, self.root = chance, root
        combed = SKULL + AXES * root - (SKULL + AXES * CROWN / np.linalg.norm(CROWN))
        combed[1] -= 0.35
        self.combed = combed / (np.linalg.norm(combed) + 1e-6)
        self.length = chance.uniform(0.75, 1.15) * (1.0 - 0.38 * np.clip(root[2], 0, 1))
        self.phase, self.pitch = chance.uniform(0, 6.28), chance.uniform(7, 12)
        self.swing = chance.uniform(0.022, 0.055)

    def strand(self) -> np.ndarray:
        """Return one strand from its root on, kept outside the skull, with the tuft's wave."""
        chance = self.chance
        root = self.root + chance.normal(0, 0.055, 3)
        root /= np.linalg.norm(root)
        flies = chance.random() < FLYING
        step = self.length * chance.uniform(0.7, 1.08) * (1.15 if flies else 1) / (JOINTS - 1)
        way = root * 0.9 + self.combed * 0.5 + chance.normal(0, 0.10 + 0.35 * flies, 3)
        off = chance.normal(0, 1, 3) * 0.5
        places = [SKULL + AXES * root]
        for number in range(1, JOINTS):
            falls = np.array([0, -1.15 * number / (JOINTS - 1), 0])
            stray = chance.normal(0, 0.05 + 0.22 * flies, 3)
            way = way * 0.72 + 0.28 * (self.combed + falls + root * 0.12 + stray)
            way /= np.linalg.norm(way)
            places.append(_outside(places[-1] + way * step, 1.03 + 0.05 * chance.random()))
        return np.array(places) + self._wave(off, flies)

    def _wave(self, off: np.ndarray, flies: bool) -> np.ndarray:
        along = np.linspace(0, 1, JOINTS)[:, None]
        turn = self.phase + self.pitch * along
        wave = [np.cos(turn + off[0] * 0.6), 0.5 * np.sin(turn), np.sin(turn + off[1] * 0.6)]
        return self.swing * (1 + 0.5 * flies) * along**0.7 * np.concatenate(wave, 1)


def _outside(place: np.ndarray, room: float) -> np.ndarray:
    """Return a place moved out of the skull, enlarged by ``room``, if it is inside."""
    deep = np.linalg.norm((place - SKULL) / (AXES * room))
    return SKULL + (place - SKULL) / deep if deep < 1 else place
