"""Many editors on one sheet at once: whoever is answered finds what he wrote; whoever is stale hears of it."""

import threading
import time
from collections import Counter

from e2e.support import Calado
from tools.campaigns.support import a_shot, ask, own_pass

EDITS = 20


def editors(count: int, seed: int) -> dict[str, object]:
    """Let so many editors write at once; return how it went."""
    calado = Calado()
    calado.start()
    try:
        at = a_shot(calado)
        answered: Counter[int] = Counter()
        ends: Counter[str] = Counter()
        took: list[float] = []
        broken: list[str] = []

        def edit(editor: int) -> None:
            value = 0
            while value < EDITS:
                seen = ask(calado, "GET", f"{at}/bench")[1]["revision"]
                began = time.monotonic()
                body = {"seen": seen, "label": str(seed), "step": own_pass(editor, value + 1)}
                status, said = ask(calado, "POST", f"{at}/steps", body)
                took.append(time.monotonic() - began)
                ends[str(status)] += 1
                if status == 200:
                    value += 1
                    answered[editor] = value
                elif status != 409 or said.get("code") != "revision.stale":
                    broken.append(f"{status} {said}")
                    return

        threads = [threading.Thread(target=edit, args=(editor,)) for editor in range(count)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        passes = {each["id"]: each["name"] for each in ask(calado, "GET", f"{at}/bench")[1]["sheet"]["passes"]}
        lost = [editor for editor, value in answered.items() if passes.get(f"editor-{editor}") != f"value {value}"]
        took.sort()
    finally:
        calado.close()
    return {
        "editors": count,
        "answers": dict(ends),
        "edits answered as saved": sum(answered.values()),
        "a step's answer, median ms": round(1000 * took[len(took) // 2], 1),
        "a step's answer, worst ms": round(1000 * took[-1], 1),
        "broken": [*broken[:10], *(f"editor {editor} lost an edit" for editor in lost)],
    }
