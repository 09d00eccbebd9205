"""Film grain: noise on the encoded signal, of a size, with its strength a curve of luminance.

The usual curve is nothing in the shadows and rises without a step: 0 up to a signal of 0.25, whole from 0.8 on.
"""

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.adjust.light.curve import curve_through
from calado.adjust.texture.noise import field
from calado.adjust.tone_lut import SIZE, STEPS, decode_table, encode_table
from calado.arrays import Matte, Planes
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Curve, Number, Unit, Values
from calado.strips import for_rows

#: standard deviation of the signal at 100 %
FULL = 0.15


@compiled(fastmath=True, inline="always")
def _place(u, at, way, x):  # type: ignore[no-untyped-def]
    """Note where a table is read at ``u``: for a whole row first, which the processor does many at a time."""
    place = u * nb.float32(STEPS)
    before = min(max(nb.int32(place), nb.int32(0)), nb.int32(SIZE - 2))
    at[x] = before
    way[x] = place - nb.float32(before)


@compiled(fastmath=True)
def _grained(row, step, encoding, decoding, places, made):  # type: ignore[no-untyped-def]
    """Add a step of the signal to a row of light; ``places``: room for where tables are read."""
    at, way = places
    for x in range(row.size):
        _place(np.sqrt(abs(row[x])), at, way, x)
    for x in range(row.size):
        j = at[x]
        made[x] = encoding[j] + way[x] * (encoding[j + 1] - encoding[j])
    for x in range(row.size):
        signal = (made[x] if row[x] >= 0 else -made[x]) + step[x]
        made[x] = signal
        _place(abs(signal), at, way, x)
    for x in range(row.size):
        j = at[x]
        light = decoding[j] + way[x] * (decoding[j + 1] - decoding[j])
        light = light if made[x] >= 0 else -light
        # without grain the light stays bit for bit as it was
        made[x] = light if step[x] != 0 else row[x]


@compiled(fastmath=True)
def _grain_into(planes, noise, s, weights, first, last, out):  # type: ignore[no-untyped-def]
    """s: encoding, decoding and strength tables; the last two are read at the signal and at √luminance."""
    encoding, decoding, response = s[:SIZE], s[SIZE : 2 * SIZE], s[2 * SIZE :]
    wide = planes.shape[2]
    at, way, step = np.empty(wide, np.int32), np.empty(wide, np.float32), np.empty(wide, np.float32)
    for y in range(first, last):
        red, green, blue, line = planes[0, y], planes[1, y], planes[2, y], noise[y]
        for x in range(wide):
            light = weights[0] * red[x] + weights[1] * green[x] + weights[2] * blue[x]
            _place(np.sqrt(max(light, nb.float32(0))), at, way, x)
        for x in range(wide):
            j = at[x]
            step[x] = line[x] * (response[j] + way[x] * (response[j + 1] - response[j]))
        for c in range(3):
            _grained(planes[c, y], step, encoding, decoding, (at, way), out[c, y])


def grained(planes: Planes, noise: Matte, strength: NDArray[np.float64], space: ColourSpace) -> Planes:
    """Return planes with noise of shape (H, W) on their signal, alike in all channels.

    ``strength`` is its standard deviation over √luminance, at the places of the tables.
    """
    tables = np.concatenate([encode_table(space), decode_table(space), strength.astype(np.float32)])
    weights, out = space.luminance_weights.astype(np.float32), np.empty_like(planes)
    for_rows(out.shape[1], 32, lambda first, last: _grain_into(planes, noise, tables, weights, first, last, out))
    return out


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = GRAIN.all_numbers(values)
    # over √luminance, as what is encoded is read
    signal = np.clip(encode_table(space).astype(np.float64), 0, 1)
    strength = np.clip(curve_through(GRAIN.curve(values, "response"))(signal), 0, 1) * FULL * number["amount"]

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        noise = field(at.window, number["size"], int(number["seed"]))
        return Composited(grained(planes, noise, strength, space))

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
