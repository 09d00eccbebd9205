"""How well faces are found in stills: how near the outlines of the demo's are, and small ones laid in by seeds."""

import json
from time import process_time

import cv2
import numpy as np

from calado.detect.faces import Face, find_faces
from calado.detect.tests.small_faces import SIZES, with_small_faces
from calado.detect.tests.written import STILLS, still

SEEDS = range(1, 25)
TRUTHS = {"a_bench": "face", "b_portrait": "skin", "e_booth": "face", "f_night": "face"}
NONE = ("c_dusk", "d_shelf", "g_wood")

HEAD = f"""
**Faces in stills** (`calado/detect/faces.py`). Shared: of the ellipse that is offered and the true matte, the common
area over that of either (of the portrait the true matte is the skin that shows, below the hair). Small: four faces of
{SIZES[0]:.0f} to {SIZES[1]:.0f} px in a still of 1600 × 1067, laid in by seeds {SEEDS[0]} to {SEEDS[-1]}.

| | found, sure | shared | sure where there is none | CPU s a picture |
|---|---|---|---|---|
"""


def shared(name: str, face: Face) -> float:
    """Return how well a face's ellipse and the true matte of a still agree."""
    path = STILLS.parent / "truth" / f"{name}_{TRUTHS[name]}.png"
    true = np.asarray(cv2.imread(str(path), cv2.IMREAD_GRAYSCALE), np.float64) / 255
    at, high = face.oval or face, true.shape[0]
    drawn = np.zeros_like(true)
    place = (at.x * high, at.y * high), (at.width * high, at.height * high), at.turn
    cv2.ellipse(drawn, place, 1, -1)
    return float(np.minimum(drawn, true).sum() / np.maximum(drawn, true).sum())


def true_faces(name: str) -> list[tuple[float, float, float]]:
    """Return the faces that a still has by its truth: middle and height, in pixels."""
    told = json.loads((STILLS.parent / "truth" / "truth.json").read_text())["stills"][name]["faces"]
    return [(*face["centre"], face["size"]) for face in told]


def is_on(face: Face, x: float, y: float, tall: float, high: int) -> bool:
    """Whether a find's middle lies on a face, in pixels of a picture so high."""
    at = face.oval or face
    return bool(np.hypot(at.x * high - x, at.y * high - y) < 0.6 * tall)


def table() -> str:
    """Return the table, with its head."""
    rows = []
    for name in TRUTHS:
        picture, (true, *_) = still(name), true_faces(name)
        began = process_time()
        sure = [face for face in find_faces(picture) if face.sure]
        took = process_time() - began
        on = [face for face in sure if is_on(face, *true, picture.shape[0])]
        rows.append(
            f"| {name} | {len(on)} of 1 | {max((shared(name, face) for face in on), default=0):.2f} |"
            f" {len(sure) - len(on)} | {took:.1f} |"
        )
    false = sum(face.sure for name in NONE for face in find_faces(still(name)))
    rows.append(f"| {', '.join(NONE)} | – | – | {false} | – |")
    got, laid_in, false, took = 0, 0, 0, []
    for seed in SEEDS:
        picture, laid = with_small_faces(seed)
        began = process_time()
        sure = [face for face in find_faces(picture) if face.sure]
        took.append(process_time() - began)
        hit = [any(is_on(face, *each, picture.shape[0]) for each in laid) for face in sure]
        got += sum(any(is_on(face, *each, picture.shape[0]) for face in sure) for each in laid)
        laid_in, false = laid_in + len(laid), false + hit.count(False)
    rows.append(f"| small, {SEEDS[-1]} stills | {got} of {laid_in} | – | {false} | {np.median(took):.1f} |")
    return HEAD + "\n".join(rows) + "\n"
