"""The frame that stands for a clip, kept small on disk: a contact sheet must not open every clip to show itself."""

from pathlib import Path

import numpy as np

from calado.colour.spaces import SPACES
from calado.media.clips.frames import Frames
from calado.render.resample import NO_TABLE
from calado.render.source import SizedSource, Source


def keep_poster(frames: Frames, frame: int, scale: float, path: Path) -> None:
    """Write a frame at a scale; the file gets its name when it is whole.

    Raises
    ------
    MediaError
        when the frame cannot be decoded.
    """
    source = frames.sized(frame, scale)
    part = path.with_name(f".{path.stem}.part.npy")
    np.save(part, source.planes(source.full(scale)))
    part.replace(path)


def kept_poster(path: Path, key: str, space: str, size: tuple[int, int], scale: float) -> Source | None:
    """Return the frame that was kept, of a clip of ``size``, or None where none is there or it is not whole."""
    try:
        planes = np.load(path)
    except (OSError, ValueError, EOFError):
        return None
    return SizedSource(f"{key} poster {scale:.5f}", SPACES[space], (planes,), NO_TABLE, size=size, scale=scale)
