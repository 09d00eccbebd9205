"""Wrapping anew: the packets of a container in which a seek does not land where it says, copied into one where it does.

Nothing is decoded and the file itself is not touched. The copy has no name: it lies on the disk of the file as long as
it is open, and is gone when its process ends, however that ends.
"""

import shutil
import tempfile
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import IO

import av
from av.container import InputContainer
from av.error import FFmpegError

from calado.media.clips.opening import open_container, picture_stream

#: containers whose packets tell the times of their pictures, yet in which a seek lands elsewhere
UNSTEADY = ("mpegts", "mpeg", "mxf")
EVERY = 250
#: larger files, and those for which there is hardly room, are read from the start instead
LARGEST, ROOM = 16 * 2**30, 2


def wrapped(path: Path, told: Callable[[float], None]) -> IO[bytes] | None:
    """Return an open Matroska file with the pictures of ``path``, or None where it needs none or cannot be made.

    ``told(share)`` hears how much of the file was read, 0…1.
    """
    with open_container(path) as container:
        if container.format.name.split(",")[0] not in UNSTEADY:
            return None
        copy = _unnamed(path.parent, path.stat().st_size)
        if copy is None:
            return None
        with suppress(FFmpegError, OSError, ValueError):
            if _copied(container, place_of(copy), told):
                return copy
        copy.close()
        return None


def place_of(copy: IO[bytes]) -> Path:
    """Return the path by which this process opens a file that has no name."""
    return Path(f"/proc/self/fd/{copy.fileno()}")


def _unnamed(folder: Path, size: int) -> IO[bytes] | None:
    """Return a file without a name, beside another or among temporary ones, or None where one has no room."""
    for where in (folder, Path(tempfile.gettempdir())):
        with suppress(OSError):
            if size > LARGEST or shutil.disk_usage(where).free < ROOM * size:
                continue
            made = tempfile.TemporaryFile(dir=where)  # noqa: SIM115  it is closed with the decoder
            if place_of(made).exists():
                return made
            made.close()
    return None


def _copied(container: InputContainer, to: Path, told: Callable[[float], None]) -> bool:
    """Copy the pictures' packets; return whether each tells when it is shown."""
    stream = picture_stream(container)
    with av.open(str(to), "w", format="matroska") as out:
        track = out.add_stream_from_template(stream, opaque=True)
        for count, packet in enumerate(container.demux(stream)):
            if packet.size == 0:
                continue
            if packet.pts is None or packet.dts is None:
                return False
            if count % EVERY == 0 and packet.pos is not None and container.size > 0:
                told(min(packet.pos / container.size, 1.0))
            packet.stream = track
            out.mux(packet)
    return True
