"""Timing: the least CPU time of several rounds, and the least wall time beside it."""

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class Time:
    """Seconds of CPU time, over all threads of this process, and of wall time, and a copy's CPU time at that moment."""

    cpu: float
    wall: float
    copy: float

    @property
    def copies(self) -> float:
        """The CPU time as a multiple of the copy's: machines that others use too are now faster and now slower."""
        return self.cpu / self.copy


def least(work: Callable[[Any], object], inputs: Iterable[Any], warm: int = 2) -> Time:
    """Return the least CPU and wall time of ``work`` over ``inputs``, of which the first ``warm`` do not count.

    The least is the time that the machine's other work disturbed least; each round may be given another input, so
    that nothing is answered from a cache.
    """
    cpu, wall, copies = [], [], []
    for number, given in enumerate(inputs):
        at_cpu, at_wall = time.process_time(), time.perf_counter()
        work(given)
        if number >= warm:
            cpu.append(time.process_time() - at_cpu)
            wall.append(time.perf_counter() - at_wall)
        copies.append(_copy())
    return Time(min(cpu), min(wall), min(copies))


def _copy() -> float:
    """Return the CPU time of copying a float32 picture of 1600 × 1067 into new memory: what the machine allows now."""
    picture, began = _picture(), time.process_time()
    picture.copy()
    return time.process_time() - began


@cache
def _picture() -> NDArray[np.float32]:
    return np.random.default_rng(1).random((3, 1067, 1600), np.float32)
