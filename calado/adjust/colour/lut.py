"""A look-up table from a .cube file, of one or three dimensions, on the encoded signal.

Three dimensions are read by tetrahedra (Kasson1995): the cube's cell is cut into six along its grey diagonal, so greys
take no colour from their neighbours. What lies outside of the table's domain is held at its border for the look-up, and
its rest is added again, so that bright values survive.
"""

from dataclasses import dataclass

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import Luts, PointAdjustment, numbers
from calado.adjust.tone_lut import (
    SIZE,
    channel_settings,
    channels_into,
    decode_table,
    encode_table,
    is_table,
    to_light,
    to_signal,
)
from calado.arrays import Planes, Settings
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Reference, Unit, Values

HEAD = 8


@dataclass(frozen=True, eq=False)
class Lut:
    """A look-up table: ``values`` of shape (n, 3), or (n, n, n, 3) by blue, green, red; from ``low`` to ``high``."""

    values: NDArray[np.float32]
    low: tuple[float, float, float]
    high: tuple[float, float, float]

    @property
    def solid(self) -> bool:
        """Whether it has three dimensions."""
        return self.values.ndim == 4


@nb.njit("void(float32[:, :, ::1], float32[::1])", nogil=True, cache=True, fastmath=True)
def _solid_into(planes: Planes, s: Settings) -> None:  # noqa: C901 - one loop over pixels
    """s: amount, entries a side, low (3), entries per signal (3), encoding and decoding tables, the table."""
    amount, side = s[0], nb.int64(s[1])
    encoding, decoding = s[HEAD : HEAD + SIZE], s[HEAD + SIZE : HEAD + 2 * SIZE]
    table = s[HEAD + 2 * SIZE :]
    signal, held, way, made = (
        np.empty(3, np.float32),
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
                place = min(max((signal[c] - s[2 + c]) * s[5 + c], nb.float32(0)), nb.float32(side - 1))
                held[c] = place / s[5 + c] + s[2 + c]
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
                new = signal[c] + amount * (made[c] - held[c])
                planes[c, y, x] = to_light(decoding, new)


def _into(planes: Planes, s: Settings) -> None:
    (channels_into if is_table(s) else _solid_into)(planes, s)


def lut_settings(table: Lut, amount: float, space: ColourSpace) -> Settings:
    """Return the kernel's numbers for a table."""
    if table.solid:
        side = table.values.shape[0]
        per = (side - 1) / (np.array(table.high) - np.array(table.low))
        return numbers(amount, side, table.low, per, encode_table(space), decode_table(space), table.values)

    def channel(c: int) -> NDArray[np.float64]:
        places = np.linspace(table.low[c], table.high[c], len(table.values))

        def line(signal: NDArray[np.float64]) -> NDArray[np.float64]:
            held = np.clip(signal, table.low[c], table.high[c])
            return signal + amount * (np.interp(held, places, table.values[:, c].astype(np.float64)) - held)

        return line  # type: ignore[return-value]

    return channel_settings((channel(0), channel(1), channel(2)), space)  # type: ignore[arg-type]


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
    into=_into,
)
