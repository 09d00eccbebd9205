"""A clip at hand: its facts and its frames, decoded in a process of its own."""

import json
import select
import subprocess
import sys
import threading
from pathlib import Path
from types import TracebackType
from typing import Any

import numpy as np

from calado.errors import MediaError
from calado.media.clips.facts import ClipFacts, facts_from
from calado.media.clips.planes import Layout, Picture

#: seconds that opening may take, which reads the whole file, and that a frame may take
OPENING, FRAME = 600, 120
GONE = "Reading this clip takes more memory or time than a sound one would. Save it anew and add it again."


class Clip:
    """An open clip. Safe to share between threads; one frame is decoded at a time.

    Raises
    ------
    MediaError
        with a sentence, when the file is no clip that can be read.
    """

    def __init__(self, path: Path) -> None:
        self._lock = threading.Lock()
        command = [sys.executable, "-m", "calado.media.clips.child"]
        self._child = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL
        )
        try:
            said = self._ask({"do": "open", "path": str(path)}, OPENING)
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

    def picture(self, frame: int) -> Picture:
        """Return the planes of a frame, as stored.

        Raises
        ------
        MediaError
            when there is no such frame, or it cannot be decoded.
        """
        with self._lock:
            said = self._ask({"do": "frame", "frame": frame}, FRAME)
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
        done = 0
        while done < len(view):
            count = self._child.stdout.readinto(view[done:])  # type: ignore[attr-defined]
            if not count:
                raise MediaError(GONE, code="media.costly")
            done += count

    def _ask(self, order: dict[str, Any], seconds: float) -> dict[str, Any]:
        assert self._child.stdin is not None and self._child.stdout is not None
        try:
            self._child.stdin.write(json.dumps(order).encode() + b"\n")
            self._child.stdin.flush()
            ready, _, _ = select.select([self._child.stdout], [], [], seconds)
            line = self._child.stdout.readline() if ready else b""
        except (OSError, ValueError):
            line = b""
        if not line:
            self._child.kill()
            raise MediaError(GONE, code="media.costly")
        said: dict[str, Any] = json.loads(line)
        if "code" in said:
            raise MediaError(said["says"], code=said["code"])
        return said
