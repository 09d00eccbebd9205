"""Film grain: noise on the encoded signal, of a size, with its strength a curve of luminance.

The usual curve is nothing in the shadows and rises without a step: 0 up to a signal of 0.25, whole from 0.8 on.
"""

import numba as nb
import numpy as np

from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.adjust.light.curve import curve_through
from calado.adjust.texture.noise import field
from calado.adjust.tone_lut import SIZE, STEPS, decode_table, encode_table, look_up, to_light, to_signal
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Curve, Number, Unit, Values
from calado.strips import for_rows

#: standard deviation of the signal at 100 %
FULL = 0.15


@nb.njit(nogil=True, cache=True, fastmath=True)
def _grain_into(planes, noise, s, weights, first, last, out):  # type: ignore[no-untyped-def]
    """s: encoding, decoding and strength tables, the last over the signal."""
    encoding, decoding, response = s[:SIZE], s[SIZE : 2 * SIZE], s[2 * SIZE :]
    for y in range(first, last):
        for x in range(planes.shape[2]):
            light = weights[0] * planes[0, y, x] + weights[1] * planes[1, y, x] + weights[2] * planes[2, y, x]
            signal = max(to_signal(encoding, light), nb.float32(0))
            step = noise[y, x] * look_up(response, min(signal, nb.float32(1)))
            for c in range(3):
                value = planes[c, y, x]
                if step != 0:
                    new = to_signal(encoding, value) + step
                    value = to_light(decoding, new)
                out[c, y, x] = value


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = GRAIN.all_numbers(values)
    signal = np.minimum(np.arange(SIZE) / STEPS, 1)
    response = np.clip(curve_through(GRAIN.curve(values, "response"))(signal), 0, 1) * FULL * number["amount"]
    tables = np.concatenate([encode_table(space), decode_table(space), response.astype(np.float32)])
    weights = space.luminance_weights.astype(np.float32)

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        noise = field(at.window, number["size"], int(number["seed"]))
        out = np.empty_like(planes)
        for_rows(out.shape[1], 32, lambda first, last: _grain_into(planes, noise, tables, weights, first, last, out))
        return Composited(out)

    return SpatialPlan(run, lambda window: 0)


GRAIN = SpatialAdjustment(
    id="grain",
    name="Grain",
    group="Texture",
    space="encoded",
    parameters=(
        Number("amount", "Grain", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 4.0, 0.01),
        Number("size", "Size", Unit.LENGTH, 0.0015, 0.0008, 0.006, 0.0004, 0.05, 0.0001, scales=False),
        Number("seed", "Seed", Unit.COUNT, 1.0, 1.0, 99.0, 0.0, 9999.0, 1.0, scales=False),
        Curve("response", "Strength by light", ((0.0, 0.0), (0.25, 0.0), (0.8, 1.0), (1.0, 1.0))),
    ),
    synonyms=("add noise", "film grain", "noise", "texture", "analogue", "rough", "grain in light"),
    says="Seeded grain; how strong it is follows a curve of the light.",
    control="response",
    per_frame="seed",
    wide=True,
    plan=_plan,
)
