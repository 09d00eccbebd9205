"""Work on rows by threads. Kernels release the GIL, and no result depends on how rows are shared out."""

import itertools
import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache

#: one for each processor that this process may use
THREADS = len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1


@lru_cache(maxsize=1)
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(THREADS, thread_name_prefix="strip")


def for_rows(height: int, rows: int, work: Callable[[int, int], None]) -> None:
    """Call ``work(first, last)`` for strips of at most ``rows`` rows that cover ``height``; wait for all.

    The calling thread works too, and each takes the next strip when it is done with one: handing every strip over by
    itself cost more than the work on it.
    """
    count = -(-height // rows)
    turn = itertools.count()  # next() on it is one step under the GIL

    def take() -> None:
        while (number := next(turn)) < count:
            work(number * rows, min((number + 1) * rows, height))

    helpers = [_pool().submit(take) for _ in range(min(THREADS, count) - 1)]
    try:
        take()
    finally:
        for helper in helpers:
            helper.result()
