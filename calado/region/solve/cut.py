"""The cut: what belongs to the subject by its colours and its edges, from marks on it and on its surround.

References
----------
Rother2004: iterated graph cuts with Gaussian mixtures of colour, OpenCV's form; run on a small copy.
"""

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

#: marks of seeds
UNKNOWN, OUTSIDE, INSIDE = -1, 0, 1
ROUNDS = 4
#: shadows are opened by this power before the cut, so that dark clothes have edges on dark ground
LIFT = 0.7
#: of the picture: holes smaller than this are filled
HOLE = 0.004
#: of the deepest place within a loose outline: what is less deep begins as surround
LOOSE = 0.4
#: steps of a channel by which colours are counted
BINS = 16
#: pixels of the frame's border that stand for the surround
RIM = 3
Seeds = NDArray[np.int8]


def cut(encoded: NDArray[np.float32], seeds: Seeds, *, outlined: bool = False) -> NDArray[np.bool_]:
    """Return what is subject, shape (H, W), of an encoded picture, shape (H, W, 3), 0…1.

    All that is unknown begins as surround, which holds a flood back, but within a loose outline (``outlined``) most of
    it is the subject. With marks on the surround only, all else may be subject; with marks on the subject only, what is
    unlike it is surround, and so is what is like the frame's border; with none, nothing is subject.
    """
    inside, outside = (seeds == INSIDE).any(), (seeds == OUTSIDE).any()
    if not inside and not outside:
        return np.zeros(seeds.shape, bool)
    codes = np.rint(np.clip(encoded, 0, 1) ** LIFT * 255).astype(np.uint8)
    if np.ptp(codes) < 2:  # a flat picture has no edges: the cut would never end
        marked: NDArray[np.bool_] = seeds == INSIDE
        return marked
    marks = np.full(seeds.shape, cv2.GC_PR_BGD if inside and not outlined else cv2.GC_PR_FGD, np.uint8)
    rim = _rim(seeds.shape) if inside and not outside else np.zeros(seeds.shape, bool)
    if not outside:
        marks[_like_inside(codes, seeds)] = cv2.GC_PR_FGD
    if outlined:
        marks[_near_the_outline(seeds) | _like_beyond(codes, seeds)] = cv2.GC_PR_BGD
    # with nothing said of the surround it is what the frame's border is like
    marks[rim] = cv2.GC_BGD
    marks[seeds == OUTSIDE] = cv2.GC_BGD
    marks[seeds == INSIDE] = cv2.GC_FGD
    maybe_in = np.isin(marks, (cv2.GC_FGD, cv2.GC_PR_FGD))
    if maybe_in.all() or not maybe_in.any():
        return maybe_in
    # the mixtures begin from clusters found by chance: always the same chance
    cv2.setRNGSeed(1)
    models = np.zeros((1, 65)), np.zeros((1, 65))
    cv2.grabCut(codes, marks, (0, 0, 1, 1), *models, ROUNDS, cv2.GC_INIT_WITH_MASK)
    found = np.isin(marks, (cv2.GC_FGD, cv2.GC_PR_FGD))
    if rim.any():  # the border itself goes as what lies next to it
        found = np.pad(found[RIM:-RIM, RIM:-RIM], RIM, mode="edge")
    return together(found, seeds)


def _near_the_outline(seeds: Seeds) -> NDArray[np.bool_]:
    """Return what is not marked and lies along a loose outline, by its distance to the deepest place within it."""
    within = np.pad(seeds != OUTSIDE, 1, mode="edge").astype(np.uint8)
    depth = cv2.distanceTransform(within, cv2.DIST_L2, 5)[1:-1, 1:-1]
    near: NDArray[np.bool_] = (depth < LOOSE * depth.max()) & (seeds == UNKNOWN)
    return near


def _like_beyond(codes: NDArray[np.uint8], seeds: Seeds) -> NDArray[np.bool_]:
    """Return what is not marked and has a colour that is rather met beyond a loose outline than within it."""
    shares = []
    for side in (seeds != OUTSIDE, seeds == OUTSIDE):
        counts, _ = np.histogramdd(codes[side].reshape(-1, 3), bins=[BINS] * 3, range=[(0, 256)] * 3)
        shares.append(scipy.ndimage.gaussian_filter(counts / max(counts.sum(), 1), 1.0))
    at = tuple(np.moveaxis(codes.astype(np.intp) * BINS // 256, -1, 0))
    like: NDArray[np.bool_] = (shares[1][at] > shares[0][at]) & (seeds == UNKNOWN)
    return like


def _rim(shape: tuple[int, ...]) -> NDArray[np.bool_]:
    rim = np.ones(shape, bool)
    if min(shape) > 4 * RIM:
        rim[RIM:-RIM, RIM:-RIM] = False
        return rim
    return ~rim


def together(found: NDArray[np.bool_], seeds: Seeds) -> NDArray[np.bool_]:
    """Return what hangs together with a mark on the subject: its like elsewhere in the picture is another thing.

    Small holes in it that no mark on the surround asks for are filled. Without any mark on the subject all stays.
    """
    inside = seeds == INSIDE
    if not (inside & found).any():
        return found
    _, labels = cv2.connectedComponents(found.astype(np.uint8), connectivity=8)
    kept: NDArray[np.bool_] = np.isin(labels, np.unique(labels[inside & found])) & found
    count, holes, sizes, _ = cv2.connectedComponentsWithStats((~kept).astype(np.uint8), connectivity=4)
    asked = np.unique(holes[(seeds == OUTSIDE) & ~kept])
    small = [k for k in range(1, count) if sizes[k, cv2.CC_STAT_AREA] < HOLE * kept.size and k not in asked]
    # what touches the frame may go on beyond it
    rim = np.unique(np.concatenate([holes[0], holes[-1], holes[:, 0], holes[:, -1]]))
    filled: NDArray[np.bool_] = kept | np.isin(holes, [k for k in small if k not in rim])
    return filled


def _like_inside(codes: NDArray[np.uint8], seeds: Seeds) -> NDArray[np.bool_]:
    """Return what is nearer in colour to what is marked, split where the picture itself splits best (Otsu 1979)."""
    lab = cv2.cvtColor(codes, cv2.COLOR_RGB2LAB).astype(np.float32)
    marked = lab[seeds == INSIDE]
    mean, spread = marked.mean(axis=0), marked.std(axis=0) + 4
    away = np.sqrt((((lab - mean) / spread) ** 2).sum(axis=2))
    scaled = np.rint(np.clip(away / max(float(away.max()), 1e-6), 0, 1) * 255).astype(np.uint8)
    split, _ = cv2.threshold(scaled, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
    like: NDArray[np.bool_] = scaled <= split
    return like
