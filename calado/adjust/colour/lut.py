"""A look-up table from a .cube file, of one or three dimensions, on the encoded signal.

Three dimensions are read by tetrahedra (Kasson1995): the cube's cell is cut into six along its grey diagonal, so greys
take no colour from their neighbours. A shaper, a table of one dimension before it, is read first. What lies outside of
a table's domain gets what stands at its border, as OpenColorIO reads such tables.
"""

from dataclasses import dataclass

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import Luts, PointAdjustment, numbers
from calado.adjust.tone_lut import (
    SIZE,
    channel_settings,
    decode_table,
    encode_table,
    to_light,
    to_signal,
)
from calado.arrays import Planes, Settings
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Number, Reference, Unit, Values

HEAD = 12


@dataclass(frozen=True, eq=False)
class Lut:
    """A look-up table: ``values`` of shape (n, 3), or (n, n, n, 3) by blue, green, red; from ``low`` to ``high``.

    ``shaper``, of one dimension, leads a signal to where a solid table is read.
    """

    values: NDArray[np.float32]
    low: tuple[float, float, float]
    high: tuple[float, float, float]
    shaper: "Lut | None" = None

    @property
    def solid(self) -> bool:
        """Whether it has three dimensions."""
        return self.values.ndim == 4


@compiled("float32(float32[::1], int64, float32, float32, int64, float32)", inline="always")
def _shaped(shaper, count, low, per, c, signal):  # type: ignore[no-untyped-def]
    """Return a signal as a shaper of ``count`` entries has it for channel ``c``; with none, as it is."""
    if count == 0:
        return signal
    place = min(max((signal - low) * per, nb.float32(0)), nb.float32(count - 1))
    at = min(nb.int64(place), count - 2)
    first, then = shaper[3 * at + c], shaper[3 * at + 3 + c]
    return first + (place - nb.float32(at)) * (then - first)


@compiled("void(float32[:, :, ::1], float32[::1])", fastmath=True)
def _solid_into(planes: Planes, s: Settings) -> None:  # noqa: C901 - one loop over pixels
    """Read a solid table.

    s: amount, entries a side, low (3), entries per signal (3), of the shaper its entries, low and entries per signal,
    nothing, encoding and decoding tables, the shaper, the table.
    """
    amount, side, count = s[0], nb.int64(s[1]), nb.int64(s[8])
    encoding, decoding = s[HEAD : HEAD + SIZE], s[HEAD + SIZE : HEAD + 2 * SIZE]
    shaper = s[HEAD + 2 * SIZE : HEAD + 2 * SIZE + 3 * count]
    table = s[HEAD + 2 * SIZE + 3 * count :]
    signal, way, made = (
        np.empty(3, np.float32),
        np.empty(3, np.float32),
        np.empty(3, np.float32),
    )
    stride = np.array([3, 3 * side, 3 * side * side], np.int64)
    for y in range(planes.shape[1]):
        for x in range(planes.shape[2]):
            corner = nb.int64(0)
            for c in range(3):
                value = planes[c, y, x]
                signal[c] = to_signal(encoding, value)
                shaped = _shaped(shaper, count, s[9], s[10], c, signal[c])
                place = min(max((shaped - s[2 + c]) * s[5 + c], nb.float32(0)), nb.float32(side - 1))
                at = min(nb.int64(place), side - 2)
                way[c] = place - nb.float32(at)
                corner += at * stride[c]
            # from the near corner to the far one along the axes, the longest way first
            a, b, d = 0, 1, 2
            if way[a] < way[b]:
                a, b = b, a
            if way[b] < way[d]:
                b, d = d, b
            if way[a] < way[b]:
                a, b = b, a
            p1 = corner + stride[a]
            p2 = p1 + stride[b]
            p3 = p2 + stride[d]
            for c in range(3):
                made[c] = (
                    (nb.float32(1) - way[a]) * table[corner + c]
                    + (way[a] - way[b]) * table[p1 + c]
                    + (way[b] - way[d]) * table[p2 + c]
                    + way[d] * table[p3 + c]
                )
            for c in range(3):
                new = signal[c] + amount * (made[c] - signal[c])
                planes[c, y, x] = to_light(decoding, new)


def lut_settings(table: Lut, amount: float, space: ColourSpace) -> Settings:
    """Return the kernel's numbers for a table."""
    if table.solid:
        side = table.values.shape[0]
        per = (side - 1) / (np.array(table.high) - np.array(table.low))
        head = amount, side, table.low, per, _shaper_head(table.shaper), 0.0
        first = np.empty(0, np.float32) if table.shaper is None else table.shaper.values
        return numbers(*head, encode_table(space), decode_table(space), first, table.values)

    def channel(c: int) -> NDArray[np.float64]:
        places = np.linspace(table.low[c], table.high[c], len(table.values))

        def line(signal: NDArray[np.float64]) -> NDArray[np.float64]:
            held = np.clip(signal, table.low[c], table.high[c])
            return signal + amount * (np.interp(held, places, table.values[:, c].astype(np.float64)) - signal)

        return line  # type: ignore[return-value]

    return channel_settings((channel(0), channel(1), channel(2)), space)  # type: ignore[arg-type]


def _shaper_head(shaper: Lut | None) -> tuple[float, float, float]:
    if shaper is None:
        return 0.0, 0.0, 0.0
    count = len(shaper.values)
    return count, shaper.low[0], (count - 1) / (shaper.high[0] - shaper.low[0])


def _from_file(values: Values, space: ColourSpace, luts: Luts) -> Settings:
    digest = str(values.get("file", ""))
    if not digest:
        return lut_settings(IDENTITY, 0.0, space)
    return lut_settings(luts(digest), LUT.number(values, "amount"), space)


IDENTITY = Lut(np.stack([np.linspace(0, 1, 2, dtype=np.float32)] * 3, axis=1), (0.0, 0.0, 0.0), (1.0, 1.0, 1.0))

LUT = PointAdjustment(
    id="lut",
    name="Table",
    group="Colour",
    space="encoded",
    parameters=(
        Number("amount", "Table", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01),
        Reference("file", "File", "lut"),
        Reference("name", "Name", "word", shown=True),
    ),
    synonyms=("lut", "cube", "look up table", "film look", "3d lut"),
    says="A look-up table from a .cube file.",
    begins={"amount": 1.0},
    control="lut",
    wide=True,
    from_file=_from_file,
    into=_solid_into,
)
