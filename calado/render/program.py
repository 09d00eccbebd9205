"""A run of passes written down as lines of numbers, for the loop that takes pieces of rows through them."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.render.tiles import FROM, ROOM, WIDE, run_rows


def code_of(kernel: Any, kinds: tuple[Any, ...]) -> int:
    """Return the address of a kernel's compiled code for arguments of these kinds."""
    if kinds not in kernel.overloads:
        kernel.compile(kinds)
    made = kernel.overloads[kinds]
    return int(made.library.get_pointer_to_function(made.fndesc.llvm_func_name))


def array_at(planes: NDArray[np.float32] | None, first: int = 0, column: int = 0) -> tuple[int, int, int]:
    """Return where float32 planes lie, and how many floats apart their rows and planes; None: 0.

    With ``first`` and ``column`` the array holds what stands from there on in the picture.
    """
    if planes is None:
        return 0, 0, 0
    assert planes.dtype == np.float32 and planes.strides[-1] == 4
    row = planes.strides[-2] // 4
    plane = planes.strides[0] // 4 if planes.ndim == 3 else 0
    return planes.ctypes.data - 4 * (first * row + column), row, plane


@dataclass
class Program:
    """A run as lines of numbers, side after side; what they point to is held."""

    passes: list[tuple[int, int]] = field(default_factory=list)
    sides: list[list[int]] = field(default_factory=list)
    mixes: list[float] = field(default_factory=list)
    steps: list[tuple[int, ...]] = field(default_factory=list)
    guards: list[tuple[int, ...]] = field(default_factory=list)
    covers: list[tuple[int, ...]] = field(default_factory=list)
    lights: list[NDArray[np.float32]] = field(default_factory=list)
    held: list[Any] = field(default_factory=list)

    def hold(self, array: Any) -> Any:
        """Return an array that lives as long as the program."""
        self.held.append(array)
        return array

    def written(self) -> "Written":
        """Return it as arrays."""
        numbers = [
            np.array(rows, np.int64).reshape(-1, wide)
            for rows, wide in (
                (self.passes, 2),
                (self.sides, WIDE),
                (self.steps, 3),
                (self.guards, 6),
                (self.covers, 3),
            )
        ]
        lights = np.array(self.lights, np.float32).reshape(-1, 3)
        passes, sides, steps, guards, covers = numbers
        return Written(passes, sides, steps, guards, covers, np.array(self.mixes, np.float32), lights, self.held)


@dataclass(frozen=True, eq=False)
class Written:
    """A program as arrays."""

    passes: NDArray[np.int64]
    sides: NDArray[np.int64]
    steps: NDArray[np.int64]
    guards: NDArray[np.int64]
    covers: NDArray[np.int64]
    mixes: NDArray[np.float32]
    lights: NDArray[np.float32]
    held: Sequence[Any]

    def rows_into(
        self, picture: Planes, first: int, last: int, made: dict[int, tuple[int, int, int]], out: Planes
    ) -> None:
        """Fill rows of ``out`` from those of ``picture``; ``made`` tells where, for these rows, sides are made from."""
        sides = self.sides
        if made:
            sides = sides.copy()
            for side, place in made.items():
                sides[side, FROM : FROM + 3] = place
        run_rows(
            picture,
            self.passes,
            sides,
            self.mixes,
            self.steps,
            self.guards,
            self.covers,
            self.lights,
            np.empty(ROOM, np.float32),
            first,
            last,
            out,
        )
