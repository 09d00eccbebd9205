"""Colour spaces as primaries, white point and transfer; all else is derived from them."""

from dataclasses import dataclass
from functools import cached_property
from typing import cast

import numpy as np

from calado.arrays import Matrix
from calado.colour import transfer

Chromaticity = tuple[float, float]

# ISO 11664-2; the value the RGB standards print
D65: Chromaticity = (0.3127, 0.3290)
# ISO 22028-2 for ROMM RGB
D50: Chromaticity = (0.3457, 0.3585)
#: from XYZ to the sharpened cone responses in which whites are adapted (Lam1985, as ICC.1:2022 annex E prints it)
BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])


def xyz_of(xy: Chromaticity) -> np.ndarray:
    """Return XYZ with Y = 1, shape (3,), of a chromaticity."""
    x, y = xy
    return np.array([x / y, 1.0, (1 - x - y) / y])


def adapted(white: Chromaticity, to: Chromaticity) -> np.ndarray:
    """Return the matrix, shape (3, 3), that leads XYZ seen in one white to how it is seen in another (Bradford)."""
    scale = (BRADFORD @ xyz_of(to)) / (BRADFORD @ xyz_of(white))
    return np.asarray(np.linalg.inv(BRADFORD) @ (scale[:, None] * BRADFORD))


@dataclass(frozen=True)
class ColourSpace:
    """An RGB space with D65 or another white, which is adapted to D65: grey is grey in every space.

    ``as_coded``: its signal goes to the screen as it is, as every player shows a clip, and not by its light. ``high``:
    its light goes beyond white, and is rolled off towards it on the screen.

    References
    ----------
    SMPTE-RP177 for the matrix, hence the luminance weights; ICC.1:2022 annex E for the adaptation.
    """

    id: str
    name: str
    red: Chromaticity
    green: Chromaticity
    blue: Chromaticity
    white: Chromaticity
    transfer: transfer.Transfer
    as_coded: bool = False
    high: bool = False

    @cached_property
    def to_xyz(self) -> Matrix:
        """Matrix, shape (3, 3), from linear RGB to XYZ of D65, the white at Y = 1."""
        primaries = np.stack([xyz_of(self.red), xyz_of(self.green), xyz_of(self.blue)], axis=1)
        made = primaries * np.linalg.solve(primaries, xyz_of(self.white))
        return cast(Matrix, made if self.white == D65 else adapted(self.white, D65) @ made)

    @cached_property
    def from_xyz(self) -> Matrix:
        """Matrix, shape (3, 3), from XYZ to linear RGB."""
        return cast(Matrix, np.linalg.inv(self.to_xyz))

    @property
    def luminance_weights(self) -> np.ndarray:
        """Weights, shape (3,), summing to 1, of linear RGB in luminance."""
        return self.to_xyz[1]

    def matrix_to(self, other: "ColourSpace") -> Matrix:
        """Return the matrix, shape (3, 3), from this linear RGB to another's."""
        return other.from_xyz @ self.to_xyz


SRGB = ColourSpace("srgb", "sRGB", (0.64, 0.33), (0.30, 0.60), (0.15, 0.06), D65, transfer.SRGB)
DISPLAY_P3 = ColourSpace("p3", "Display P3", (0.680, 0.320), (0.265, 0.690), (0.150, 0.060), D65, transfer.SRGB)
# what cameras that write more than sRGB write, and what raw developers hand on (IEC 61966-2-5, ISO 22028-2)
OPRGB = ColourSpace("oprgb", "opRGB", (0.64, 0.33), (0.21, 0.71), (0.15, 0.06), D65, transfer.OPRGB)
ROMM = ColourSpace(
    "romm", "ROMM RGB", (0.734699, 0.265301), (0.159597, 0.840403), (0.036598, 0.000105), D50, transfer.ROMM
)
# the signal of clips: BT.709 and BT.601 share the curve, which BT.2020 writes with more digits
REC709 = ColourSpace(
    "rec709", "Rec. 709", (0.64, 0.33), (0.30, 0.60), (0.15, 0.06), D65, transfer.BT2020, as_coded=True
)
REC601_525 = ColourSpace(
    "rec601-525",
    "Rec. 601 (525 lines)",
    (0.630, 0.340),
    (0.310, 0.595),
    (0.155, 0.070),
    D65,
    transfer.BT2020,
    as_coded=True,
)
REC601_625 = ColourSpace(
    "rec601-625", "Rec. 601 (625 lines)", (0.64, 0.33), (0.29, 0.60), (0.15, 0.06), D65, transfer.BT2020, as_coded=True
)
_WIDE = (0.708, 0.292), (0.170, 0.797), (0.131, 0.046), D65, transfer.BT2020
BT2020 = ColourSpace("bt2020", "BT.2020", *_WIDE)
# PQ and HLG clips: their codes become light by their own curves; what works on signal works on the camera's
BT2020_HIGH = ColourSpace("bt2020-high", "BT.2020, high range", *_WIDE, high=True)

SPACES: dict[str, ColourSpace] = {
    space.id: space for space in (SRGB, DISPLAY_P3, OPRGB, BT2020, ROMM, BT2020_HIGH, REC709, REC601_525, REC601_625)
}
#: those that stills are in
STILL_SPACES: dict[str, ColourSpace] = {id: space for id, space in SPACES.items() if not (space.as_coded or space.high)}
