"""Motions kept in a folder, each under the hash of its content."""

import os
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from calado.errors import MediaError
from calado.follow.motion import Motion, MotionDamaged, digest_of, motion_bytes, motion_from

#: a hostile file is not read: a motion of 100,000 frames has 20 MB
MOST_BYTES = 64 * 2**20


@dataclass(frozen=True)
class MotionFolder:
    """Gives motions by their hash; what is not there, or is not what its name says, is none."""

    path: Path

    def __call__(self, digest: str) -> Motion | None:
        """Return a motion, or None."""
        return _read(self.path / f"{digest}.json")

    def keep(self, motion: Motion) -> str:
        """Write a motion, whole or not at all, and return the hash by which a sheet names it.

        Raises
        ------
        MediaError
            when it cannot be written.
        """
        data = motion_bytes(motion)
        digest = digest_of(data)
        out = self.path / f"{digest}.json"
        part = out.with_suffix(f".{os.getpid()}.part")
        try:
            self.path.mkdir(parents=True, exist_ok=True)
            part.write_bytes(data)
            part.replace(out)
        except OSError as error:
            part.unlink(missing_ok=True)
            raise MediaError(f"The motion could not be kept: {error.strerror}.", code="media.write") from error
        return digest


@lru_cache(maxsize=64)
def _known(path: Path, size: int, when: int) -> Motion | None:
    data = path.read_bytes()
    try:
        return motion_from(data) if digest_of(data) == path.stem else None
    except MotionDamaged:  # of another version: the region stands still, and the bench goes on
        return None


def _read(path: Path) -> Motion | None:
    try:
        about = path.stat()
    except OSError:
        return None
    return _known(path, about.st_size, about.st_mtime_ns) if about.st_size <= MOST_BYTES else None
