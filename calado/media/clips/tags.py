"""A clip's colour tags: which matrix, range, primaries and curve its codes are meant in.

References
----------
ITU-H273 for the numbers; BT601, BT709, BT2020 for what they mean.
"""

from dataclasses import dataclass

from calado.colour import transfer
from calado.colour.spaces import BT2020, BT2020_HIGH, REC601_525, REC601_625, REC709, ColourSpace
from calado.media.clips.facts import Tags

#: from so many lines on an untagged clip is taken as BT.709, below as BT.601
HD_LINES = 720
#: luma weights of red and blue
WEIGHTS = {
    1: (0.2126, 0.0722),
    4: (0.30, 0.11),
    5: (0.299, 0.114),
    6: (0.299, 0.114),
    7: (0.212, 0.087),
    9: (0.2627, 0.0593),
}
RGB_MATRIX = 0
#: the primaries of BT.2020
WIDE = 9
_SPACES = {1: REC709, 5: REC601_625, 6: REC601_525, 7: REC601_525, 9: BT2020}
#: curves that are BT.709's, within what eight bits tell
_CAMERA_CURVES = (1, 6, 7, 14, 15)
#: curves of high dynamic range
_HIGH_RANGE = {16: transfer.PQ, 18: transfer.HLG}


@dataclass(frozen=True)
class Told:
    """What a file says, unspecified where it says nothing."""

    matrix: int
    primaries: int
    transfer: int
    full_range: bool


def tags_of(told: Told, lines: int, *, rgb: bool) -> Tags:
    """Return the tags of a clip of so many lines, with what was left open assumed."""
    large = lines >= HD_LINES
    assumed = []
    matrix, primaries, curve = told.matrix, told.primaries, told.transfer
    if rgb:
        matrix = RGB_MATRIX
    elif matrix not in WEIGHTS:
        matrix = 1 if large else 6
        assumed.append("matrix")
    if primaries not in _SPACES:
        primaries = {9: 9, 6: 6, 5: 5}.get(matrix, 1)
        assumed.append("primaries")
    if curve not in _HIGH_RANGE and curve not in _CAMERA_CURVES and curve != 13:
        curve = 1
        assumed.append("transfer")
    return Tags(matrix, primaries, curve, told.full_range, tuple(assumed))


def space_of(tags: Tags) -> ColourSpace:
    """Return the space in which a clip's signal is meant."""
    return BT2020_HIGH if tags.transfer in _HIGH_RANGE and tags.primaries == WIDE else _SPACES[tags.primaries]


def curve_of(tags: Tags) -> transfer.Transfer:
    """Return the curve between a clip's signal and its light."""
    return _HIGH_RANGE.get(tags.transfer) or space_of(tags).transfer


def said_of(tags: Tags) -> str:
    """Return what was assumed as a sentence, or nothing."""
    said = []
    if tags.assumed:
        said.append(f"It does not say in which colours it is coded: {space_of(tags).name} was assumed.")
    if tags.transfer in _HIGH_RANGE:
        name = _HIGH_RANGE[tags.transfer].name.upper()
        said.append(f"Its light goes beyond white ({name}); on the screen it is rolled off towards it.")
    return " ".join(said)
