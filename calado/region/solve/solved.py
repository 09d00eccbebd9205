"""Where solved mattes come from: solved now, or coarse at once while the fine one is solved elsewhere."""

from collections.abc import Callable
from typing import Protocol

from calado.arrays import Matte

#: raises when nobody wants the result any more
Stop = Callable[[], None]


def go_on() -> None:
    """Never stop."""


class Solved(Protocol):
    """Gives the matte of a key: ``fine(stop)`` where it may be waited for, else ``coarse()`` until it is there."""

    def __call__(self, key: str, family: str, coarse: Callable[[], Matte], fine: Callable[[Stop], Matte]) -> Matte:
        """Return a matte of the whole frame at the size of solving. Not to be written to."""


def solved_now(key: str, family: str, coarse: Callable[[], Matte], fine: Callable[[Stop], Matte]) -> Matte:
    """Return the fine matte, waited for."""
    return fine(go_on)
