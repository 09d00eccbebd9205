"""A clip at hand: its facts and its frames, decoded in a process of its own."""

import json
import os
import select
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import Any

import numpy as np

from calado.errors import Cancelled, MediaError
from calado.media.clips.facts import ClipFacts, facts_from
from calado.media.clips.planes import Layout, Picture

#: seconds that opening may take, which reads the whole file, and that a frame may take
OPENING, FRAME = 600, 120
GONE = "Reading this clip takes more memory or time than a sound one would. Save it anew and add it again."


class Clip:
    """An open clip. Safe to share between threads; one frame is decoded at a time.

    ``told(share)`` hears while it is opened how much of the file was read, and calls that off by returning False.

    Raises
    ------
    MediaError
        with a sentence, when the file is no clip that can be read.
    Cancelled
        when opening was called off.
    """

    def __init__(self, path: Path, told: Callable[[float], bool] = lambda share: True) -> None:
        self._lock = threading.Lock()
        command = [sys.executable, "-m", "calado.media.clips.child"]
        self._child = subprocess.Popen(
            command, bufsize=0, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL
        )
        #: what was read of its answers and not used yet
        self._ahead = b""
        try:
            said = self._ask({"do": "open", "path": str(path)}, OPENING)
            while "share" in said:
                if not told(said["share"]):
                    raise Cancelled
                said = self._heard(OPENING)
        except BaseException:
            self.close()
            raise
        self.facts: ClipFacts = facts_from(said["facts"])
        #: when each frame is shown, in the file's own ticks
        self.times: tuple[int, ...] = tuple(said["index"])

    def __enter__(self) -> "Clip":
        """Use it for a while."""
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        """Close it."""
        self.close()

    @property
    def alive(self) -> bool:
        """Whether its process is there."""
        return self._child.poll() is None

    def picture(self, frame: int, *, onward: bool = False) -> Picture:
        """Return the planes of a frame, as stored; ``onward``: those before it are not wanted any more.

        Raises
        ------
        MediaError
            when there is no such frame, or it cannot be decoded.
        """
        with self._lock:
            said = self._ask({"do": "frame", "frame": frame, "onward": onward}, FRAME)
            assert self._child.stdout is not None
            planes = []
            for height, width, kind in said["planes"]:
                codes = np.empty((height, width), kind)
                self._fill(codes)
                planes.append(codes)
        return Picture(Layout(*said["layout"]), tuple(planes))

    def close(self) -> None:
        """End the process."""
        self._child.kill()
        self._child.communicate()

    def _fill(self, codes: np.ndarray) -> None:
        assert self._child.stdout is not None
        view = memoryview(codes.reshape(-1).view(np.uint8).data)
        done = min(len(self._ahead), len(view))
        view[:done] = self._ahead[:done]
        self._ahead = self._ahead[done:]
        while done < len(view):
            count = self._child.stdout.readinto(view[done:])  # type: ignore[attr-defined]
            if not count:
                raise MediaError(GONE, code="media.costly")
            done += count

    def _ask(self, order: dict[str, Any], seconds: float) -> dict[str, Any]:
        assert self._child.stdin is not None
        try:
            self._child.stdin.write(json.dumps(order).encode() + b"\n")
        except (OSError, ValueError):
            self._child.kill()
        return self._heard(seconds)

    def _heard(self, seconds: float) -> dict[str, Any]:
        """Return the next line that the process says.

        Raises
        ------
        MediaError
            as that line says, or when none comes.
        """
        line = self._line(seconds)
        if not line:
            self._child.kill()
            raise MediaError(GONE, code="media.costly")
        said: dict[str, Any] = json.loads(line)
        if "code" in said:
            raise MediaError(said["says"], code=said["code"])
        return said

    def _line(self, seconds: float) -> bytes:
        assert self._child.stdout is not None
        pipe = self._child.stdout.fileno()
        while b"\n" not in self._ahead:
            ready, _, _ = select.select([pipe], [], [], seconds)
            more = os.read(pipe, 65_536) if ready else b""
            if not more:
                return b""
            self._ahead += more
        line, _, self._ahead = self._ahead.partition(b"\n")
        return line
