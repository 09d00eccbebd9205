"""Timing: the least CPU time of several rounds, and the least wall time beside it."""

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np

from calado.strips import for_rows


@dataclass(frozen=True)
class Time:
    """Seconds of CPU time, over all threads of this process, and of wall time."""

    cpu: float
    wall: float


def least(work: Callable[[Any], object], inputs: Iterable[Any], warm: int = 2) -> Time:
    """Return the least CPU and wall time of ``work`` over ``inputs``, of which the first ``warm`` do not count.

    The least is the time that the machine's other work disturbed least; each round may be given another input, so
    that nothing is answered from a cache.
    """
    cpu, wall = [], []
    for number, given in enumerate(inputs):
        at_cpu, at_wall = time.process_time(), time.perf_counter()
        work(given)
        if number >= warm:
            cpu.append(time.process_time() - at_cpu)
            wall.append(time.perf_counter() - at_wall)
    return Time(min(cpu), min(wall))


def copy_floor(width: int, height: int) -> Time:
    """Return the time to copy a float32 picture into new memory, on all threads: what the machine allows."""
    picture = np.random.default_rng(1).random((3, height, width), np.float32)

    def copy(_: object) -> None:
        into = np.empty_like(picture)

        def rows(first: int, last: int) -> None:
            into[:, first:last] = picture[:, first:last]

        for_rows(height, 64, rows)

    return least(copy, range(24))
