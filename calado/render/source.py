"""A source: the picture as a linear pyramid, from which any window can be read."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.colour.spaces import SPACES, ColourSpace
from calado.render.resample import NO_TABLE, area_planes, halved, level_for
from calado.window import Window, full_window

SMALLEST_SIDE = 64


@dataclass(frozen=True, eq=False)
class Source:
    """Levels of a picture: the first in the samples of its file, the others in linear light, each half the one before.

    ``key`` names the pixels: two sources of the same key are the same picture.
    """

    key: str
    space: ColourSpace
    levels: tuple[NDArray[np.generic], ...]
    table: NDArray[np.float32]

    @property
    def width(self) -> int:
        """Width at full size, in pixels."""
        return int(self.levels[0].shape[2])

    @property
    def height(self) -> int:
        """Height at full size, in pixels."""
        return int(self.levels[0].shape[1])

    @property
    def aspect(self) -> float:
        """Width in picture heights."""
        return self.width / self.height

    def full(self, scale: float = 1.0) -> Window:
        """Return the window of the whole picture at a scale."""
        return full_window(self.width, self.height, scale)

    def planes(self, window: Window) -> Planes:
        """Return the picture in a window, shape (3, H, W), linear light."""
        level = min(level_for(window.scale), len(self.levels) - 1)
        factor = 2.0**-level / window.scale
        table = self.table if level == 0 else NO_TABLE
        place = (window.left, window.top, window.width, window.height)
        return area_planes(self.levels[level], table, factor if factor > 1 + 1e-9 else 1.0, place)


def code_table(space: ColourSpace, dtype: np.dtype) -> NDArray[np.float32]:
    """Return linear light for each code of an integer type; empty for float samples, which are linear already."""
    if dtype.kind == "f":
        return NO_TABLE
    top = np.iinfo(dtype).max
    return space.transfer.decode(np.arange(top + 1) / top).astype(np.float32)


def pyramid(samples: NDArray[np.generic], table: NDArray[np.float32]) -> tuple[NDArray[np.generic], ...]:
    """Return the levels of a picture, from ``samples`` of shape (3, H, W) down to about 64 pixels."""
    levels: list[NDArray[np.generic]] = [samples]
    while min(levels[-1].shape[1:]) > SMALLEST_SIDE:
        levels.append(halved(levels[-1], table if len(levels) == 1 else NO_TABLE))
    return tuple(levels)


def source_of(samples: NDArray[np.generic], space: ColourSpace, key: str = "memory") -> Source:
    """Return a source in memory from samples of shape (3, H, W): uint8, uint16 codes or float32 linear light."""
    table = code_table(space, samples.dtype)
    return Source(key, space, pyramid(np.ascontiguousarray(samples), table), table)


def store_source(source: Source, folder: Path) -> None:
    """Write the levels into a folder, to be opened again by :func:`open_source`."""
    folder.mkdir(parents=True, exist_ok=True)
    for number, level in enumerate(source.levels):
        np.save(folder / f"{number}.npy", level)
    (folder / "space").write_text(source.space.id)


def open_source(folder: Path, key: str) -> Source:
    """Return the source stored in a folder; its levels are mapped from the files, not read.

    Raises
    ------
    FileNotFoundError
        when the folder holds no stored source.
    """
    space = SPACES[(folder / "space").read_text()]
    files = sorted(folder.glob("*.npy"), key=lambda path: int(path.stem))
    # np.asarray: a memmap's own class would compile every kernel again
    levels = tuple(np.asarray(np.load(path, mmap_mode="r+")) for path in files)
    return Source(key, space, levels, code_table(space, levels[0].dtype))
