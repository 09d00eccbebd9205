"""Exports of large stills, each in a process of its own, so that its memory can be told from the rest.

``python -m benchmarks.export FILE OUT`` prints the figures of one as JSON.
"""

import json
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from benchmarks.figure import Figure
from benchmarks.sheets import three_passes

SIZE, LARGE = (6000, 4000), (12000, 8400)


def _memory(name: str) -> float:
    """Return a figure of this process's memory in MB: VmRSS now, VmHWM at its peak."""
    line = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith(name))
    return int(line.split()[1]) / 1024


def _still(path: Path, size: tuple[int, int]) -> Path:
    """Write a made-up picture of waves and noise, 8 bits as JPEG or 16 as TIFF, and return its path."""
    import imagecodecs
    import tifffile

    width, height = size
    deep = path.suffix == ".tif"
    codes = np.empty((height, width, 3), np.uint16 if deep else np.uint8)
    noise = np.random.default_rng(7)
    columns = np.arange(width, dtype=np.float32)[None]
    for first in range(0, height, 400):
        rows = np.arange(first, min(first + 400, height), dtype=np.float32)[:, None]
        waves = [np.sin(columns / (90 + 40 * c)) * np.cos(rows / (70 + 30 * c)) for c in range(3)]
        grain = noise.normal(0, 4, (len(rows), width, 3)).astype(np.float32)
        made = np.clip(np.stack(waves, axis=2) * 90 + 128 + grain, 0, 255)
        codes[first : first + 400] = made * 257 if deep else made
    if deep:
        tifffile.imwrite(path, codes, photometric="rgb", rowsperstrip=64, compression="zlib", predictor=True)
    else:
        path.write_bytes(imagecodecs.jpeg_encode(codes, level=92))
    return path


def _measure(path: Path, out: Path) -> dict[str, float]:
    """Export a file with three passes, after a small one that loads all there is to load; return what it cost."""
    from calado.export import export_still
    from calado.media.stills import read_still
    from calado.media.write import Target
    from calado.render.engine import Order
    from calado.render.source import source_of

    target = {".jpg": Target("jpeg"), ".png": Target("png", 16), ".tif": Target("tiff", 16)}[out.suffix]
    order = Order(three_passes())
    kind = np.uint16 if path.suffix == ".tif" else np.uint8
    small = source_of(np.zeros((3, 400, 600), kind), read_still(path).space, "warm")
    export_still(small, order, out, target)
    # forget the peak that came before
    Path("/proc/self/clear_refs").write_text("5")
    before, began = _memory("VmRSS"), (time.process_time(), time.perf_counter())
    export_still(source_of(read_still(path).samples, small.space, "large"), order, out, target)
    cpu, wall = time.process_time() - began[0], time.perf_counter() - began[1]
    return {"cpu": cpu, "wall": wall, "mb": _memory("VmHWM") - before}


def figures() -> list[Figure]:
    """Return seconds and MB of exports, each measured in a fresh process."""
    made = []
    with tempfile.TemporaryDirectory() as held:
        folder = Path(held)
        for what, path, out, goals in (
            ("24 MP, JPEG to JPEG", _still(folder / "a.jpg", SIZE), "b.jpg", ((1.5, 1.0), (300, None))),
            ("24 MP, JPEG to 16-bit PNG", folder / "a.jpg", "b.png", ((None, None), (600, None))),
            (
                "100 MP, 16-bit TIFF to 16-bit TIFF",
                _still(folder / "a.tif", LARGE),
                "b.tif",
                ((None, None), (800, 500)),
            ),
        ):
            command = [sys.executable, "-m", "benchmarks.export", str(path), str(folder / out)]
            done = subprocess.run(command, check=True, capture_output=True, text=True)
            got = json.loads(done.stdout)
            made += [
                Figure(f"{what}, opening and writing", got["cpu"], "s CPU", *goals[0]),
                Figure("… memory above idle", got["mb"], "MB", *goals[1]),
            ]
    return made


if __name__ == "__main__":
    os.sched_setaffinity(0, {min(os.sched_getaffinity(0))})
    sys.stdout.write(json.dumps(_measure(Path(sys.argv[1]), Path(sys.argv[2]))))
