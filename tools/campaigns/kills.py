"""Kills at random moments of an edit: nothing that was answered is lost, and everything starts again."""

import os
import random
import signal
import sys
import threading
import time

from e2e.support import Calado
from tools.campaigns.support import SILENT, a_shot, ask, own_pass

#: a long run tells after so many how it goes
TOLD = 50


def kills(count: int, seed: int) -> dict[str, object]:
    """Kill so many times, in turns the worker first and all of it at once; return what came of it."""
    rng = random.Random(seed)
    calado = Calado()
    calado.start()
    broken: list[str] = []
    edits, slowest = 0, 0.0
    try:
        at = a_shot(calado)
        for number in range(count):
            answered = [0]
            editor = threading.Thread(target=_edit, args=(calado, at, answered))
            editor.start()
            time.sleep(rng.uniform(0.02, 0.5))
            _kill(calado, worker_first=number % 2 == 1)
            editor.join()
            began = time.monotonic()
            _ended(calado)
            calado.start()
            slowest = max(slowest, time.monotonic() - began)
            edits += answered[0]
            status, said = ask(calado, "GET", f"{at}/bench")
            if status != 200:
                broken.append(f"kill {number}: the bench answered {status}, {said}")
                print(broken[-1], file=sys.stderr, flush=True)
                continue
            passes = {p["id"]: p["name"] for p in said["sheet"]["passes"]}
            # one more may have been saved whose answer never came
            may_be = {f"value {answered[0]}", f"value {answered[0] + 1}"}
            if answered[0] and passes.get("editor-0") not in may_be:
                broken.append(f"kill {number}: {answered[0]} answered, {passes.get('editor-0')} found")
            if number % TOLD == TOLD - 1:
                told = (
                    f"{number + 1} kills, {edits} edits answered, slowest start {slowest:.1f} s, broken: {len(broken)}"
                )
                print(told, file=sys.stderr, flush=True)
    finally:
        calado.close()
    return {
        "kills": count,
        "edits answered as saved": edits,
        "slowest start, s": round(slowest, 1),
        "broken": broken[:10],
    }


def _edit(calado: Calado, at: str, answered: list[int]) -> None:
    """Edit until there is no answer, and note the last value that was answered as saved."""
    try:
        seen = ask(calado, "GET", f"{at}/bench")[1]["revision"]
        for value in range(1, 10_000):
            status, said = ask(calado, "POST", f"{at}/steps", {"seen": seen, "step": own_pass(0, value)})
            if status != 200:
                return
            seen = said["revision"]
            answered[0] = value
    except SILENT:
        return


def _kill(calado: Calado, *, worker_first: bool) -> None:
    assert calado.process is not None
    for process in calado.processes("manage.py work") if worker_first else ():
        os.kill(process, signal.SIGKILL)
        time.sleep(0.05)
    # with the whole of it the parts end too
    calado.process.send_signal(signal.SIGKILL)
    calado.process.wait()
    calado.process = None


def _ended(calado: Calado) -> None:
    """Wait until nothing of it runs."""
    limit = time.monotonic() + 20
    while calado.processes("") and time.monotonic() < limit:
        time.sleep(0.05)
