"""A first opinion of each unknown pixel: whether its colour is more like what is inside nearby, or what is outside.

Ours, after the samples of robust matting: the mean squared distance to the nearest few known pixels of either side, in
colours with opened shadows and, weighing little, in place.

References
----------
Wang2007
"""

import numpy as np
import scipy
from numpy.typing import NDArray

from calado.arrays import Matte

#: shadows are opened by this power
LIFT = 0.7
NEIGHBOURS = 4
#: of either side at most so many samples, taken evenly within this many picture heights of the unknown
SAMPLES, AROUND = 12000, 0.08


def opinion(encoded: NDArray[np.float32], inside: NDArray[np.bool_], outside: NDArray[np.bool_], place: float) -> Matte:
    """Return, for the unknown pixels in order, the share that speaks for inside, shape (N,), 0…1.

    ``place`` is what a picture height of distance counts, in units of colour.
    """
    unknown = ~(inside | outside)
    features = _features(encoded, place)
    wanted = features[unknown.ravel()]
    near = scipy.ndimage.distance_transform_edt(~unknown) < AROUND * encoded.shape[0]
    to_inside, to_outside = (_distance(features, side, near, wanted) for side in (inside, outside))
    made: Matte = (to_outside / (to_inside + to_outside + 1e-9)).astype(np.float32)
    return made


def _features(encoded: NDArray[np.float32], place: float) -> NDArray[np.float32]:
    high, wide = encoded.shape[:2]
    y, x = np.mgrid[:high, :wide].astype(np.float32) * np.float32(place / high)
    return np.dstack([np.clip(encoded, 0, 1) ** np.float32(LIFT), x, y]).reshape(-1, 5)


def _distance(
    features: NDArray[np.float32], side: NDArray[np.bool_], near: NDArray[np.bool_], wanted: NDArray[np.float32]
) -> NDArray[np.float64]:
    known = np.flatnonzero((side & near).ravel())
    if len(known) < NEIGHBOURS:
        known = np.flatnonzero(side.ravel())
    known = known[:: max(1, len(known) // SAMPLES)]
    count = min(NEIGHBOURS, len(known))
    away, _ = scipy.spatial.cKDTree(features[known]).query(wanted, k=count, workers=-1)
    squared: NDArray[np.float64] = (away.reshape(len(wanted), count) ** 2).mean(axis=1)
    return squared
