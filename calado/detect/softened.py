"""A picture made ready for a look at a part of it that makes the part smaller."""

import cv2

from calado.arrays import Codes

#: the blur's sigma in pixels of what the part becomes
SIGMA = 0.4


def softened(codes: Codes, x: float, y: float, room: float, smaller: float) -> Codes:
    """Return a picture that is blurred round a place, so that nothing flickers where it is made ``smaller`` times.

    ``codes`` are 8-bit, shape (H, W, 3); the place and how far round it, in pixels. Made no smaller it stays as it is.
    """
    if smaller <= 1:
        return codes
    sigma = SIGMA * smaller
    far = room + 4 * sigma
    rows, columns = slice(max(int(y - far), 0), int(y + far) + 1), slice(max(int(x - far), 0), int(x + far) + 1)
    made = codes.copy()
    made[rows, columns] = cv2.GaussianBlur(codes[rows, columns], (0, 0), sigma)
    return made
