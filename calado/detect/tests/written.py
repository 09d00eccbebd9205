"""The demo's lettering with its truth, turned, made smaller and noisy by a stated procedure, and the stills without."""

import json
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.detect.lettering import Line

STILLS = Path(__file__).parents[3] / "demo" / "stills"
#: stills in which nothing is written
PLAIN = ("a_bench", "b_portrait", "c_dusk", "d_shelf", "f_night", "g_wood")
#: the lines on the booth, of which five have a truth
LINES = 12


@dataclass(frozen=True)
class Trial:
    """How a still is shown: turned by degrees, made smaller, with noise of so many codes from a seed."""

    turn: float = 0.0
    scale: float = 1.0
    noise: float = 0.0
    seed: int = 0


def still(name: str) -> Codes:
    """Return one of the demo's stills, 8-bit codes, shape (H, W, 3)."""
    picture = cv2.imread(str(STILLS / f"{name}.png"))
    assert picture is not None
    return np.ascontiguousarray(picture[..., ::-1])


def true_lines() -> list[NDArray[np.float64]]:
    """Return the booth's private lines and its plate, each shape (4, 2), in pixels."""
    truth = json.loads((STILLS.parent / "truth" / "truth.json").read_text())
    return [np.array(region["polygon"]) for region in truth["stills"]["e_booth"]["regions"]]


def drawn_at(rng: np.random.Generator) -> Trial:
    """Return a trial of any turn, from half size on, with noise of up to 8 codes."""
    return Trial(rng.uniform(-180, 180), rng.uniform(0.5, 1), rng.uniform(0, 8), int(rng.integers(1 << 30)))


def shown(picture: Codes, trial: Trial) -> tuple[Codes, NDArray[np.float64]]:
    """Return a picture as a trial shows it, whole, and the matrix, shape (2, 3), that takes its pixels there."""
    high, wide = picture.shape[:2]
    matrix = cv2.getRotationMatrix2D(((wide - 1) / 2, (high - 1) / 2), trial.turn, trial.scale)
    size = np.ceil(np.abs(matrix[:, :2]) @ (wide, high))
    matrix[:, 2] += (size - (wide, high)) / 2
    soft = cv2.GaussianBlur(picture, (0, 0), 0.4 / trial.scale) if trial.scale < 1 else picture
    seen = cv2.warpAffine(soft, matrix, size.astype(int).tolist(), flags=cv2.INTER_LINEAR)
    noise = np.random.default_rng(trial.seed).normal(0, trial.noise, seen.shape) if trial.noise else 0.0
    return np.clip(np.rint(seen + noise), 0, 255).astype(np.uint8), np.asarray(matrix, np.float64)


def covered(lines: list[Line], places: NDArray[np.float64], high: int) -> float:
    """Return the share of a polygon, in pixels, that the sure ones of some lines cover together."""
    size = (int(places[:, 1].max()) + 2, int(places[:, 0].max()) + 2)
    true, found = np.zeros(size, np.uint8), np.zeros(size, np.uint8)
    cv2.fillPoly(true, [np.rint(places).astype(np.int32)], 1)
    for line in lines:
        if line.sure:
            cv2.fillPoly(found, [np.rint(line.corners * high).astype(np.int32)], 1)
    return float((true & found).sum() / true.sum())
