"""A long time of dragging: what the server's memory does meanwhile."""

import random
import sys
import time
from pathlib import Path

from e2e.support import Calado
from tools.campaigns.support import a_shot, ask

#: of the time that passes before growth counts: caches fill
WARM = 1 / 6
MOST_GROWTH = 0.05


def soak(count: int, seed: int) -> dict[str, object]:
    """Drag for so many seconds; return how memory grew after the first sixth."""
    rng = random.Random(seed)
    calado = Calado()
    calado.start()
    try:
        at = a_shot(calado)
        project = at.split("/")[2]
        shots = [each["id"] for each in ask(calado, "GET", f"/projects/{project}")[1]["shots"]]
        began, asked, sizes = time.monotonic(), 0, [(0.0, _memory(calado))]
        while (passed := time.monotonic() - began) < count:
            shot = f"/projects/{project}/shots/{shots[int(passed / 20) % len(shots)]}"
            oval = {"x": rng.random(), "y": rng.random(), "width": rng.uniform(0.1, 1), "height": rng.uniform(0.1, 1)}
            region = {"id": "r", "name": "r", "parts": [{"id": "p", "kind": "ellipse", "values": oval}]}
            outside = {"exposure": {"amount": rng.uniform(-2, 0)}, "blur": {"radius": rng.uniform(0, 0.02)}}
            sheet = {"regions": [region], "passes": [{"id": "a", "name": "a", "region": "r", "outside": outside}]}
            draft = ask(calado, "POST", "/drafts", sheet)[1]["draft"]
            view = "rectangle=0&rectangle=0&rectangle=1600&rectangle=1067&scale=0.5"
            coarse = "true" if asked % 5 else "false"
            status, _ = ask(calado, "GET", f"{shot}/drafts/{draft}/preview?{view}&draft={coarse}")
            assert status == 200, status
            asked += 1
            if passed - sizes[-1][0] >= max(1.0, count / 60):
                sizes.append((passed, _memory(calado)))
                print(f"{passed:.0f} s: {asked} previews, {sizes[-1][1]} MB", file=sys.stderr, flush=True)
    finally:
        calado.close()
    warm = max(size for passed, size in sizes if passed <= max(WARM * count, sizes[min(1, len(sizes) - 1)][0]))
    last = sizes[-1][1]
    growth = last / warm - 1
    return {
        "seconds": count,
        "previews": asked,
        "memory at first, MB": sizes[0][1],
        "memory after a sixth, MB": warm,
        "memory at last, MB": last,
        "growth after a sixth": f"{100 * growth:.1f} %",
        "broken": [f"memory grew by {100 * growth:.1f} %"] if growth > MOST_GROWTH else [],
    }


def _memory(calado: Calado) -> int:
    """Return the memory of the web server's processes, in MB."""
    total = 0
    for process in calado.processes("gunicorn"):
        for line in Path(f"/proc/{process}/status").read_text().splitlines():
            if line.startswith("VmRSS:"):
                total += int(line.split()[1]) // 1024
    return total
