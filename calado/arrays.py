"""Names for the array shapes used everywhere.

One alphabet: ``H, W`` pixels, ``3`` RGB. Pictures inside the engine are planar, ``(3, H, W)``, because
the kernels run along rows of one plane; pictures at the edges are ``(H, W, 3)``.
"""

from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

#: float32, shape (3, H, W), linear light, unbounded
Planes: TypeAlias = NDArray[np.float32]
#: float32, shape (H, W), in [0, 1], 1 = inside
Matte: TypeAlias = NDArray[np.float32]
#: float32 or float64, any shape
Floats: TypeAlias = NDArray[np.floating]
#: float64, shape (3, 3)
Matrix: TypeAlias = NDArray[np.float64]
#: uint8, shape (H, W, 3) or (H, W, 4)
Codes: TypeAlias = NDArray[np.uint8]
#: the numbers of a kernel, contiguous
Settings: TypeAlias = NDArray[np.float32]
