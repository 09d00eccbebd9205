"""Everything that is declared, in one value."""

from calado.adjust.registry import ADJUSTMENTS
from calado.region.kinds import PARTS
from calado.region.refine.registry import REFINE
from calado.sheet.declare import Catalogue

CATALOGUE = Catalogue(adjustments=ADJUSTMENTS, parts=PARTS, refine=REFINE)
