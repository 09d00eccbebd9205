"""All declarations together."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from calado.sheet.declare.adjustments import AdjustmentDeclaration
from calado.sheet.declare.declaration import Declaration
from calado.sheet.declare.parts import PartDeclaration


@dataclass(frozen=True)
class Catalogue:
    """All declarations, in the order in which treatments are applied and words are said."""

    adjustments: Mapping[str, AdjustmentDeclaration] = field(default_factory=dict)
    parts: Mapping[str, PartDeclaration] = field(default_factory=dict)
    #: what may be done to a finished matte, in the order in which it is done
    refine: Declaration = field(default_factory=lambda: Declaration("refine", "Refine", ()))
