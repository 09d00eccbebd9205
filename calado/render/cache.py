"""A cache of arrays, bounded in bytes, least recently used out first."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import TypeVar

import numpy as np

Array = TypeVar("Array", bound=np.ndarray)


class ArrayCache:
    """Keeps arrays by the value of all they depend on; safe to share between threads.

    What it hands out is read-only: two requests may hold the same array. ``passing()`` counts what was made with
    something that does not last; an array during whose making it rises is not kept.
    """

    def __init__(self, limit_bytes: int, passing: Callable[[], int] = lambda: 0) -> None:
        self._passing = passing
        self._limit = limit_bytes
        self._held: OrderedDict[Hashable, np.ndarray] = OrderedDict()
        self._bytes = 0
        self._lock = threading.Lock()

    @property
    def bytes_held(self) -> int:
        """How many bytes are held."""
        return self._bytes

    def find(self, key: Hashable) -> np.ndarray | None:
        """Return the array kept under ``key``, or None."""
        with self._lock:
            if key not in self._held:
                return None
            self._held.move_to_end(key)
            return self._held[key]

    def get(self, key: Hashable, make: Callable[[], Array]) -> Array:
        """Return the array of ``key``, made now if it is not held."""
        found = self.find(key)
        if found is not None:
            return found  # type: ignore[return-value]
        before = self._passing()
        made = make()
        if self._passing() == before:
            self._keep(key, made)
        return made

    def _keep(self, key: Hashable, array: np.ndarray) -> None:
        if array.nbytes > self._limit:
            return
        with self._lock:
            old = self._held.pop(key, None)
            self._bytes += array.nbytes - (old.nbytes if old is not None else 0)
            self._held[key] = array
            while self._bytes > self._limit:
                _, removed = self._held.popitem(last=False)
                self._bytes -= removed.nbytes
