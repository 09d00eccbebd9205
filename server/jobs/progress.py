"""How far something is that a worker does: written down now and then, and how it ended."""

import time
from collections.abc import Callable

from django.utils import timezone

from server.jobs.models import Ordered, State
from server.jobs.watch import WATCH

#: how often progress is written down, in seconds
BEAT = 0.25

Report = Callable[[float], bool]


def reporter(of: Ordered) -> Report:
    """Return what writes down progress now and then, gives a sign of life, and tells whether to go on."""
    mine = type(of)._default_manager.filter(id=of.id)
    last = 0.0

    def report(share: float) -> bool:
        nonlocal last
        WATCH.sign()
        now = time.monotonic()
        if now - last >= BEAT or share >= 1:
            last = now
            mine.update(progress=share)
        return not mine.filter(cancel_asked=True).exists()

    return report


def finish(of: Ordered, state: State, problem: str = "", **more: object) -> None:
    """Write down how it ended."""
    done = {"progress": 1.0} if state is State.DONE else {}
    type(of)._default_manager.filter(id=of.id).update(
        state=state, problem=problem, finished=timezone.now(), **done, **more
    )
