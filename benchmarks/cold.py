"""From nothing: kernels compiled, and a server started with all of them there, in CPU seconds of all processes."""

import os
import resource
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from urllib.request import urlopen

from benchmarks.figure import Figure
from e2e.support import free_port

#: by then a started server has come to rest
REST_SECONDS = 20.0


def _kernels() -> float:
    """Return the CPU seconds of compiling every kernel into an empty cache."""
    with tempfile.TemporaryDirectory() as empty:
        surroundings = {**os.environ, "XDG_CACHE_HOME": empty}
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        command = [sys.executable, "manage.py", "warm"]
        subprocess.run(command, check=True, env=surroundings, stdout=subprocess.DEVNULL)
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def _cpu(data: str) -> float:
    """Return the CPU seconds so far of all processes that work on a data folder, with those of their children."""
    ticks = 0
    for folder in Path("/proc").iterdir():
        try:
            if f"CALADO_DATA={data}\0".encode() in (folder / "environ").read_bytes():
                ticks += sum(map(int, (folder / "stat").read_text().rsplit(")", 1)[1].split()[11:15]))
        except OSError:
            continue
    return ticks / os.sysconf("SC_CLK_TCK")


def _start() -> tuple[float, float, float]:
    """Return CPU and wall seconds until a server answers, and the CPU seconds that come after, until it rests."""
    with tempfile.TemporaryDirectory() as data:
        surroundings, port = {**os.environ, "CALADO_DATA": data}, free_port()
        for command in ("migrate", "load_demo"):
            subprocess.run(
                [sys.executable, "manage.py", command], check=True, env=surroundings, stdout=subprocess.DEVNULL
            )
        began = time.perf_counter()
        served = [sys.executable, "manage.py", "serve", "--port", str(port)]
        server = subprocess.Popen(served, env=surroundings, stdout=subprocess.DEVNULL)
        try:
            while True:
                try:
                    urlopen(f"http://127.0.0.1:{port}/api/projects", timeout=5).close()
                    break
                except OSError:
                    time.sleep(0.02)
            wall, cpu = time.perf_counter() - began, _cpu(data)
            time.sleep(REST_SECONDS)
            return cpu, wall, _cpu(data) - cpu
        finally:
            server.send_signal(signal.SIGINT)
            server.wait()


def figures() -> list[Figure]:
    """Return the figures."""
    cpu, wall, behind = _start()
    return [
        Figure("server start, all compiled, until it answers", cpu, "s CPU", 2, 1.2),
        Figure("… wall", wall, "s"),
        Figure("… what comes behind it: the workers", behind, "s CPU", 3, 1),
        Figure("every kernel from nothing", _kernels(), "s CPU", 80, 45),
    ]
