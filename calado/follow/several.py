"""A region that is known in several frames: each is a reference of its own, and between two of them both are heard."""

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.follow.fits import Kind, Matrix, Points, carried
from calado.follow.motion import Step
from calado.follow.planar import Found, Planar

#: by how much surer a later reference must be to be believed before the first
SURER = 0.1
#: confidence from which on a place counts, and pixels by which two that are blended may differ
COUNTS, APART = 0.5, 12.0


class Several:
    """Follows a region from frames in which it is known. ``mask`` is the region in the first, shape (H, W).

    Frames come one after another, as :class:`Planar` takes them.
    """

    def __init__(self, codes: Codes, mask: NDArray[np.bool_], most: Kind) -> None:
        self._mask, self._most = mask, most
        #: each with the matrix from the first reference's pixels to its own
        self._references: list[tuple[Planar, Matrix]] = [(Planar(codes, mask, most), np.eye(3))]

    def go_on(self, codes: Codes, matrix: Matrix) -> None:
        """Go on from a further reference, in which it lies by a matrix from the first one's pixels."""
        self._references[0][0].go_on(codes, matrix)
        own = mask_by(self._mask, matrix)
        # of what has left the frame nothing can be learned
        if own.sum() > 0.5 * self._mask.sum() * abs(np.linalg.det(matrix)):
            self._references.append((Planar(codes, own, self._most), matrix))

    def step(self, codes: Codes) -> Found:
        """Return where it is in the next frame, by the reference that tells it most surely."""
        every = [(each.step(codes), base) for each, base in self._references]
        best, base = max(every, key=lambda each: each[0].confidence - (SURER if each[1] is not every[0][1] else 0))
        matrix = np.asarray(best.matrix @ base)
        if best.state == "on":
            for (follower, own), (found, _) in zip(self._references, every, strict=True):
                if found.state == "held":
                    follower.go_on(codes, np.asarray(matrix @ np.linalg.inv(own)))
        return Found(matrix, best.confidence, best.state, best.smear)


def mask_by(mask: NDArray[np.bool_], matrix: Matrix) -> NDArray[np.bool_]:
    """Return a mask where a matrix takes it."""
    return np.asarray(cv2.warpPerspective(mask.astype(np.uint8), matrix, mask.shape[::-1]) > 0)


def blended(one: Step, other: Step, share: float, box: Points, pixels: float) -> Step:
    """Return a step between two that tell of the same frame: by ``share`` the other, where both are sure.

    ``box`` are four places of the reference, shape (4, 2), in picture heights, of ``pixels``.
    """
    if min(one.sureness, other.sureness) < COUNTS:
        return max(one, other, key=lambda each: each.sureness)
    a, b = carried(one.matrix, box), carried(other.matrix, box)
    if np.abs(a - b).max() * pixels > APART:
        return max(one, other, key=lambda each: each.sureness)
    between = ((1 - share) * a + share * b).astype(np.float32)
    matrix = np.asarray(cv2.getPerspectiveTransform(box.astype(np.float32), between), np.float64)
    smear = max(one.smear, other.smear)
    return Step(matrix / matrix[2, 2], min(one.confidence, other.confidence), "on", smear=smear)
