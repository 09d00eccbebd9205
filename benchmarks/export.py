"""A 24-megapixel export, in a process of its own, so that its memory can be told from the rest.

``python -m benchmarks.export`` prints its figures as JSON.
"""

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from benchmarks.sheets import three_passes

WIDTH, HEIGHT = 6000, 4000


def _memory(name: str) -> float:
    """Return a figure of this process's memory in MB: VmRSS now, VmHWM at its peak."""
    line = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith(name))
    return int(line.split()[1]) / 1024


def _still(folder: Path) -> Path:
    """Write a made-up 24-megapixel JPEG and return its path."""
    import imagecodecs

    rows, columns = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float32)
    waves = [np.sin(columns / (90 + 40 * c)) * np.cos(rows / (70 + 30 * c)) for c in range(3)]
    noise = np.random.default_rng(7).normal(0, 4, (HEIGHT, WIDTH, 3)).astype(np.float32)
    codes = np.clip(np.stack(waves, axis=2) * 90 + 128 + noise, 0, 255).astype(np.uint8)
    path = folder / "still.jpg"
    path.write_bytes(imagecodecs.jpeg_encode(codes, level=92))
    return path


def main() -> None:
    """Export from JPEG to JPEG and to 16-bit PNG, and print what it cost."""
    from calado.export import export_still
    from calado.media.stills import read_still
    from calado.media.write import Target
    from calado.render.engine import Order
    from calado.render.source import source_of

    path, folder = Path(sys.argv[1]), Path(sys.argv[1]).parent
    small = source_of(np.zeros((3, 400, 600), np.uint8), read_still(path).space, "warm")
    order = Order(three_passes())
    for target in (Target("jpeg"), Target("png", 16)):
        export_still(small, order, folder / f"warm.{target.extension}", target)
    figures: dict[str, float] = {}
    at = time.process_time(), time.perf_counter()
    source = source_of(read_still(path).samples, small.space, "large")
    figures |= {"open_cpu": time.process_time() - at[0], "open_wall": time.perf_counter() - at[1]}
    for name, target in (("jpeg", Target("jpeg")), ("png16", Target("png", 16))):
        # forget the peak that came before
        Path("/proc/self/clear_refs").write_text("5")
        before = _memory("VmRSS")
        at = time.process_time(), time.perf_counter()
        export_still(source, order, folder / f"out.{target.extension}", target)
        figures |= {
            f"{name}_cpu": time.process_time() - at[0],
            f"{name}_wall": time.perf_counter() - at[1],
            f"{name}_mb": _memory("VmHWM") - before,
        }
    sys.stdout.write(json.dumps(figures))


def figures() -> dict[str, float]:
    """Return seconds and MB of the export, measured in a fresh process."""
    with tempfile.TemporaryDirectory() as held:
        path = _still(Path(held))
        command = [sys.executable, "-m", "benchmarks.export", str(path)]
        done = subprocess.run(command, check=True, capture_output=True, text=True)
    measured: dict[str, float] = json.loads(done.stdout)
    return measured


if __name__ == "__main__":
    main()
