"""The registry of parts: one line a kind."""

from calado.region.brush.brush import BRUSH
from calado.region.ellipse import ELLIPSE
from calado.region.gradient import GRADIENT
from calado.region.imported import IMPORTED
from calado.region.other import OTHER
from calado.region.part import PartKind
from calado.region.polygon import CURVE, POLYGON
from calado.region.read.colours import COLOURS
from calado.region.read.luminance import LUMINANCE
from calado.region.read.sampled import SAMPLED
from calado.region.rectangle import RECTANGLE
from calado.region.solve.rough import ROUGH
from calado.region.whole import WHOLE

PARTS: dict[str, PartKind] = {
    kind.id: kind
    for kind in (
        WHOLE,
        ELLIPSE,
        RECTANGLE,
        POLYGON,
        CURVE,
        GRADIENT,
        BRUSH,
        ROUGH,
        LUMINANCE,
        COLOURS,
        SAMPLED,
        OTHER,
        IMPORTED,
    )
}
