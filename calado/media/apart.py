"""Reading a still in a process of its own, whose memory and time are bounded: what bites there bites nothing else.

The process stays for the next still. One that takes too much ends, and the picture is refused; another is begun.
"""

import json
import resource
import select
import subprocess
import sys
import tempfile
import threading
from pathlib import Path
from typing import Any

import numpy as np

from calado.colour.spaces import SPACES
from calado.errors import MediaError
from calado.media.mattes import Grey, read_matte
from calado.media.stills import Still, cost_of, probe, read_still

#: what a process may take besides a picture, and how many times the bytes of the decoded picture (its turned and
#: converted copies), in address space
ROOM_BYTES, COPIES = 3 * 2**30, 6
#: seconds of work, and more of them for each million decoded bytes; so many times as long by the clock
ROOM_SECONDS, SECONDS_PER_MB, WALL = 20, 0.1, 3
COSTLY = MediaError(
    "Reading this picture takes more memory or time than a sound one of its size would."
    " Open it where it came from, save it again and add it again.",
    code="media.costly",
)


class Reader:
    """Reads stills, one at a time, in a process that is begun when it is first needed."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._child: subprocess.Popen[bytes] | None = None

    def still(self, path: Path) -> Still:
        """Return the picture of a file, as :func:`calado.media.stills.read_still` does.

        Raises
        ------
        MediaError
            with a sentence on what is wrong, or that it took too much.
        """
        samples, share, said = self._read(path, "still")
        return Still(samples, SPACES[said["space"]], said["note"], share)

    def matte(self, path: Path) -> tuple[Grey, str]:
        """Return the picture of a file as a matte, as :func:`calado.media.mattes.read_matte` does.

        Raises
        ------
        MediaError
            with a sentence on what is wrong, or that it took too much.
        """
        codes, _, said = self._read(path, "matte")
        return codes, said["note"]

    def _read(self, path: Path, what: str) -> tuple[Any, Any, dict[str, str]]:
        cost = cost_of(probe(path))
        with self._lock, tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "samples.npy"
            said = self._ask({"what": what, "path": str(path), "out": str(out), "cost": cost}, WALL * _seconds(cost))
            if "code" in said:
                raise MediaError(said["says"], code=said["code"])
            share = _share_beside(out)
            # copied on write: kernels want arrays that could be written to
            samples, alpha = (np.load(each, mmap_mode="c") if each.exists() else None for each in (out, share))
            return np.asarray(samples), None if alpha is None else np.asarray(alpha), said

    def close(self) -> None:
        """End the process."""
        if self._child is not None:
            self._child.kill()
            self._child.communicate()
            self._child = None

    def _ask(self, order: dict[str, Any], seconds: float) -> dict[str, str]:
        if self._child is None or self._child.poll() is not None:
            self.close()
            command = [sys.executable, "-m", "calado.media.apart"]
            self._child = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE)
        assert self._child.stdin is not None and self._child.stdout is not None
        try:
            self._child.stdin.write(json.dumps(order).encode() + b"\n")
            self._child.stdin.flush()
            ready, _, _ = select.select([self._child.stdout], [], [], seconds)
            line = self._child.stdout.readline() if ready else b""
        except OSError:
            line = b""
        if not line:  # it ended, or does not come to an end
            self.close()
            raise COSTLY
        said: dict[str, str] = json.loads(line)
        return said


def _share_beside(out: Path) -> Path:
    return out.with_name("share.npy")


def _seconds(cost: int) -> float:
    return ROOM_SECONDS + SECONDS_PER_MB * cost / 1e6


def _read(order: dict[str, Any]) -> dict[str, str]:
    """Read one picture within its bounds, in the process that does nothing else."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    seconds = int(used.ru_utime + used.ru_stime + _seconds(order["cost"])) + 1
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, resource.RLIM_INFINITY))
    resource.setrlimit(resource.RLIMIT_AS, (ROOM_BYTES + COPIES * order["cost"], resource.RLIM_INFINITY))
    try:
        if order["what"] == "matte":
            codes, note = read_matte(Path(order["path"]))
            np.save(order["out"], codes)
            return {"note": note}
        still = read_still(Path(order["path"]))
        np.save(order["out"], still.samples)
        if still.share is not None:
            np.save(_share_beside(Path(order["out"])), still.share)
    except MediaError as error:
        return {"code": error.code, "says": str(error)}
    except MemoryError:
        return {"code": COSTLY.code, "says": str(COSTLY)}
    return {"space": still.space.id, "note": still.note}


def main() -> None:
    """Read what is asked for on standard input, a line each, until it ends."""
    for line in sys.stdin.buffer:
        sys.stdout.write(json.dumps(_read(json.loads(line))) + "\n")
        sys.stdout.flush()


if __name__ == "__main__":
    main()
