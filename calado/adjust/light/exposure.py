"""Exposure in stops: linear light × 2^EV."""

from calado.adjust.kind import PointAdjustment, numbers
from calado.arrays import Planes, Settings
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Number, Unit, Values


@compiled("void(float32[:, :, ::1], float32[::1])", fastmath=True)
def _into(planes: Planes, settings: Settings) -> None:
    gain = settings[0]
    for c in range(3):
        for y in range(planes.shape[1]):
            for x in range(planes.shape[2]):
                planes[c, y, x] *= gain


def _settings(values: Values, space: ColourSpace) -> Settings:
    return numbers(2.0 ** EXPOSURE.number(values, "amount"))


EXPOSURE = PointAdjustment(
    roles=("light",),
    id="exposure",
    name="Exposure",
    group="Light",
    side="outside",
    space="linear",
    parameters=(Number("amount", "Exposure", Unit.STOPS, 0.0, -3.0, 3.0, -12.0, 12.0, 0.1),),
    synonyms=(
        "whiten",
        "brighten teeth",
        "brightness",
        "brighten",
        "darken",
        "lighter",
        "darker",
        "stops",
        "lightness",
    ),
    says="Light, in stops: +1 EV doubles it.",
    settings=_settings,
    into=_into,
)
