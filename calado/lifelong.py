"""What was made of a value that never changes, kept as long as the value lives."""

import weakref
from collections.abc import Callable
from typing import Generic, TypeVar

Of = TypeVar("Of")
Made = TypeVar("Made")


class Lifelong(Generic[Of, Made]):
    """Makes something of a value once, however often it is asked for; the same value is the same object."""

    def __init__(self, make: Callable[[Of], Made]) -> None:
        self._make = make
        self._held: dict[int, tuple[weakref.ref[Of], Made]] = {}

    def __call__(self, value: Of) -> Made:
        """Return what was made of a value. Not to be written to."""
        place = id(value)
        held = self._held.get(place)
        if held is not None and held[0]() is value:
            return held[1]
        made = self._make(value)
        self._held[place] = (weakref.ref(value, lambda _: self._held.pop(place, None)), made)
        return made
