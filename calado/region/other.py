"""Another region of the shelf as a part: what is changed there changes here."""

import numpy as np

from calado.arrays import Matte
from calado.region.context import ALONE, PartContext
from calado.region.part import PartKind
from calado.sheet.declare import Reference
from calado.sheet.models import Part
from calado.window import Window


def other_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the finished matte, shape (H, W), of the region that the part names; naming none gives nothing."""
    named = str(part.values.get("region", ""))
    return near.region(named, window) if named else np.zeros((window.height, window.width), np.float32)


OTHER = PartKind(
    id="region",
    name="Region",
    parameters=(Reference("region", "Region", "region"),),
    glyph="M3 3h7v3h5v5H8V8H3z",
    says="Another region of the shelf, as it stands there.",
    matte=other_matte,
)
