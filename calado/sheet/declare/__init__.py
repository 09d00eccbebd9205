"""Declarations: what an adjustment or a kind of part says about itself, once.

Schema, validation, faders, sentences and docs are all read from these. Kernels and mattes are added by the
subclasses in ``calado.adjust`` and ``calado.region``; nothing here computes a pixel.
"""

from calado.sheet.declare.adjustments import GROUPS, SOLE, AdjustmentDeclaration, Role
from calado.sheet.declare.catalogue import Catalogue
from calado.sheet.declare.declaration import Declaration
from calado.sheet.declare.parameters import (
    MIRED_OF_WHITE,
    Choice,
    Curve,
    CurvePoints,
    Number,
    Option,
    Parameter,
    Reference,
    Unit,
    Value,
    Values,
)
from calado.sheet.declare.parts import Drawn, PartDeclaration, Slope

__all__ = [
    "GROUPS",
    "MIRED_OF_WHITE",
    "SOLE",
    "AdjustmentDeclaration",
    "Catalogue",
    "Choice",
    "Curve",
    "CurvePoints",
    "Declaration",
    "Drawn",
    "Number",
    "Option",
    "Parameter",
    "PartDeclaration",
    "Reference",
    "Role",
    "Slope",
    "Unit",
    "Value",
    "Values",
]
