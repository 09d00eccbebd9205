"""What an adjustment says about itself."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, TypeAlias

from calado.sheet.declare.declaration import Declaration
from calado.sheet.declare.parameters import Value, Values

GROUPS = ("Light", "Colour", "Detail", "Blur", "Cover", "Texture", "Lens")

#: what an adjustment is for, where something else must know: *light* makes lighter or darker as a whole, *shadows*
#: keeps the dark legible, *curve* is a curve through points, *blur* softens (*sized*: by a radius), *stark* is often
#: meant to end hard, *plain* lets nothing through, *cells* shows cells of one colour, *gone* leaves nothing of the
#: picture, *clear* makes it transparent
Role: TypeAlias = Literal[
    "light", "shadows", "curve", "blur", "sized", "stark", "plain", "cells", "gone", "clear", "regrain"
]
#: those that one adjustment has alone: by them starters and finders ask for it
SOLE: tuple[Role, ...] = ("light", "shadows", "curve", "plain", "cells", "regrain")


@dataclass(frozen=True)
class AdjustmentDeclaration(Declaration):
    """An adjustment of a treatment.

    ``switch`` tells what makes it act: a *first* parameter that is not neutral, or *any* number that has a strength.
    ``control`` names a special control that the web has for it; ``wide`` ones take the whole tray when in hand.
    """

    group: str = "Light"
    space: str = "linear"
    synonyms: tuple[str, ...] = ()
    says: str = ""
    #: whether it means nothing on the whole picture
    of_a_region: bool = False
    switch: Literal["first", "any"] = "first"
    control: str = ""
    wide: bool = False
    #: what it begins with when it is started by itself; nothing: a quarter of its fader's way
    begins: Mapping[str, Value] = field(default_factory=dict)
    #: the side on which it is most often wanted
    side: Literal["inside", "outside"] = "inside"
    #: for one that conceals: the values at which it holds, whatever is set; None: it conceals nothing
    holds: Mapping[str, Value] | None = None
    #: for one that takes pixels to other places: its numbers for the circle in which it does (across, down, radius)
    moves: tuple[str, str, str] | None = None
    roles: tuple[Role, ...] = ()
    #: the number that is another one in each frame of a clip, a seed
    per_frame: str = ""

    def is_neutral(self, values: Values) -> bool:
        """Whether these values change nothing, hence are not written in the sentence."""
        deciding = self.parameters[:1] if self.switch == "first" else [n for n in self.numbers if n.scales]
        return all(values.get(each.id, each.neutral) == each.neutral for each in deciding)

    def scaled(self, values: Values, strength: float) -> dict[str, Value]:
        """Return the complete values with each number scaled about its neutral value."""
        complete = self.complete(values)
        for number in self.numbers:
            complete[number.id] = number.scaled(self.number(values, number.id), strength)
        return complete
