"""A source: the picture as a linear pyramid, from which any window can be read."""

import json
import threading
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from math import prod
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.colour.spaces import SPACES, ColourSpace
from calado.errors import CaladoError
from calado.render.resample import NO_TABLE, area_planes, halved, level_for
from calado.window import Window, full_window

SMALLEST_SIDE = 64
LEVELS = "levels.json"


class StoredDamaged(CaladoError, OSError):
    """What was stored is no longer what it was: it is to be made again."""

    def __init__(self, says: str) -> None:
        super().__init__(says, code="source.damaged")


@dataclass(frozen=True, eq=False)
class Source:
    """Levels of a picture: the first in the samples of its file, the others in linear light, each half the one before.

    ``key`` names the pixels: two sources of the same key are the same picture. Of a frame of a clip, ``facts`` is the
    frame from which facts about the whole picture are read, the same for all, so that nothing flickers. ``share`` is
    how much of each pixel is there, one plane in place of three; None: all of all.
    """

    key: str
    space: ColourSpace
    levels: Sequence[NDArray[np.generic]]
    table: NDArray[np.float32]
    facts: "Source | None" = None
    share: "Source | None" = None

    @property
    def width(self) -> int:
        """Width at full size, in pixels."""
        return self.levels.size[0] if isinstance(self.levels, LazyLevels) else int(self.levels[0].shape[2])

    @property
    def height(self) -> int:
        """Height at full size, in pixels."""
        return self.levels.size[1] if isinstance(self.levels, LazyLevels) else int(self.levels[0].shape[1])

    @property
    def aspect(self) -> float:
        """Width in picture heights."""
        return self.width / self.height

    def full(self, scale: float = 1.0) -> Window:
        """Return the window of the whole picture at a scale."""
        return full_window(self.width, self.height, scale)

    def planes(self, window: Window) -> Planes:
        """Return the picture in a window, shape (3, H, W), linear light. Not to be written to."""
        level, factor = self._level_at(window)
        table = self.table if level == 0 else NO_TABLE
        return _read(self.levels[level], table, factor, window)

    def held(self, window: Window) -> Planes | None:
        """Return the picture in a window where it is held as it stands, so that reading it makes nothing."""
        level, factor = self._level_at(window)
        stands = factor == 1.0 and (level or not self.table.size)
        return _whole(self.levels[level], window) if stands else None

    def _level_at(self, window: Window) -> tuple[int, float]:
        """Return the level that a window is read from, and how many of its pixels lie on one of the window's."""
        level = min(level_for(window.scale), len(self.levels) - 1)
        factor = 2.0**-level / window.scale
        return level, factor if factor > 1 + 1e-9 else 1.0


def _whole(level: NDArray[np.generic], window: Window) -> Planes | None:
    """Return a level in linear light where a window is all of it."""
    place = (window.left, window.top, window.width, window.height)
    return level[:] if level.dtype == np.float32 and place == (0, 0, *level.shape[:0:-1]) else None  # type: ignore[return-value]


def _read(level: NDArray[np.generic], table: NDArray[np.float32], factor: float, window: Window) -> Planes:
    """Return a window of a level in linear light: the level itself where it is all of it as it stands."""
    whole = _whole(level, window) if factor == 1.0 and table.size == 0 else None
    place = (window.left, window.top, window.width, window.height)
    return area_planes(level, table, factor, place) if whole is None else whole


def code_table(space: ColourSpace, dtype: np.dtype) -> NDArray[np.float32]:
    """Return linear light for each code of an integer type; empty for float samples, which are linear already."""
    if dtype.kind == "f":
        return NO_TABLE
    top = np.iinfo(dtype).max
    return space.transfer.decode(np.arange(top + 1) / top).astype(np.float32)


def share_table(dtype: np.dtype) -> NDArray[np.float32]:
    """Return the share that each code of alpha stands for, 0…1; empty for float samples."""
    return NO_TABLE if dtype.kind == "f" else np.linspace(0, 1, np.iinfo(dtype).max + 1).astype(np.float32)


def pyramid(samples: NDArray[np.generic], table: NDArray[np.float32]) -> tuple[NDArray[np.generic], ...]:
    """Return the levels of a picture, from ``samples`` of shape (n, H, W) down to about 64 pixels."""
    levels: list[NDArray[np.generic]] = [samples]
    while min(levels[-1].shape[1:]) > SMALLEST_SIDE:
        levels.append(halved(levels[-1], table if len(levels) == 1 else NO_TABLE))
    return tuple(levels)


class LazyLevels(Sequence[NDArray[np.generic]]):
    """The levels of a picture in linear light, each made when it is first asked for."""

    def __init__(self, size: tuple[int, int], first: Callable[[], Planes]) -> None:
        self.size = size
        self._first = first
        self._made: list[NDArray[np.generic]] = []
        self._lock = threading.Lock()
        width, height = size
        self._count = 1
        while min(width, height) > SMALLEST_SIDE:
            width, height = -(-width // 2), -(-height // 2)
            self._count += 1

    def __len__(self) -> int:
        """How many there are."""
        return self._count

    def __getitem__(self, index: Any) -> Any:
        """Return a level."""
        with self._lock:
            while len(self._made) <= index % self._count:
                self._made.append(halved(self._made[-1], NO_TABLE) if self._made else self._first())
            return self._made[index]


def frame_source(planes: Planes, space: ColourSpace, key: str, facts: Source | None = None) -> Source:
    """Return a source of linear light, shape (3, H, W), whose smaller levels are made when they are asked for."""
    return later_source(planes.shape[:0:-1], lambda: planes, space, key, facts)  # type: ignore[arg-type]


def later_source(
    size: tuple[int, int], first: Callable[[], Planes], space: ColourSpace, key: str, facts: Source | None = None
) -> Source:
    """Return a source of ``size`` = (width, height) none of whose levels is made before it is asked for."""
    return Source(key, space, LazyLevels(size, first), NO_TABLE, facts)


@dataclass(frozen=True, eq=False)
class SizedSource(Source):
    """A picture of ``size`` = (width, height) that is there at one ``scale`` only: for playing, where each costs time.

    At that scale its pixels are handed out as they are; at a smaller one they are averaged, at a larger one repeated.
    """

    size: tuple[int, int] = field(kw_only=True)
    scale: float = field(kw_only=True)

    @property
    def width(self) -> int:
        """Width at full size, in pixels."""
        return self.size[0]

    @property
    def height(self) -> int:
        """Height at full size, in pixels."""
        return self.size[1]

    def held(self, window: Window) -> Planes | None:
        """Return the picture in a window where it is held as it stands."""
        return _whole(self.levels[0], window) if abs(self.scale - window.scale) < 1e-9 else None

    def planes(self, window: Window) -> Planes:
        """Return the picture in a window, shape (3, H, W), linear light. Not to be written to."""
        held: Planes = self.levels[0]  # type: ignore[assignment]
        factor = self.scale / window.scale
        if factor > 1 - 1e-9:
            return _read(held, NO_TABLE, factor if factor > 1 + 1e-9 else 1.0, window)
        rows = np.arange(window.top, window.top + window.height) * factor
        columns = np.arange(window.left, window.left + window.width) * factor
        at = (
            np.minimum(rows.astype(int), held.shape[1] - 1)[:, None],
            np.minimum(columns.astype(int), held.shape[2] - 1),
        )
        return np.ascontiguousarray(held[:, at[0], at[1]])


def source_of(
    samples: NDArray[np.generic],
    space: ColourSpace,
    key: str = "memory",
    share: NDArray[np.generic] | None = None,
) -> Source:
    """Return a source in memory from samples of shape (3, H, W): uint8, uint16 codes or float32 linear light.

    ``share``, shape (1, H, W), is how much of each pixel is there, in codes or 0…1.
    """

    def made(samples: NDArray[np.generic], key: str, table: NDArray[np.float32], share: Source | None) -> Source:
        return Source(key, space, pyramid(np.ascontiguousarray(samples), table), table, share=share)

    there = None if share is None else made(share, f"share {key}", share_table(share.dtype), None)
    return made(samples, key, code_table(space, samples.dtype), there)


def store_source(source: Source, folder: Path) -> None:
    """Write the levels into a folder, to be opened again by :func:`open_source`, with what they are and their sums."""
    folder.mkdir(parents=True, exist_ok=True)
    told: dict[str, Any] = {"space": source.space.id}
    for name, before, of in (("levels", "", source), ("share", "share-", source.share)):
        told[name] = (
            [] if of is None else [_stored(each, folder / f"{before}{k}.raw") for k, each in enumerate(of.levels)]
        )
    part = folder / "levels.part"
    part.write_text(json.dumps(told))
    # the last to be written: a folder without it holds no source
    part.replace(folder / LEVELS)


def _stored(level: NDArray[np.generic], file: Path) -> dict[str, Any]:
    whole = np.ascontiguousarray(level)
    whole.tofile(file)
    return {"shape": whole.shape, "dtype": whole.dtype.str, "sum": _sum_of(whole)}


def is_stored(folder: Path) -> bool:
    """Return whether a folder says that it holds a source."""
    return (folder / LEVELS).exists()


def open_source(folder: Path, key: str) -> Source:
    """Return the source stored in a folder; its levels are mapped from the files, which nothing can change through it.

    Raises
    ------
    FileNotFoundError
        when the folder holds no stored source.
    StoredDamaged
        when what it holds is not what was stored.
    """
    said = (folder / LEVELS).read_bytes()
    try:
        told = json.loads(said)
        space = SPACES[told["space"]]
        levels, share = (
            tuple(_level(folder / f"{before}{number}.raw", each) for number, each in enumerate(told[name]))
            for name, before in (("levels", ""), ("share", "share-"))
        )
        there = Source(f"share {key}", space, share, share_table(share[0].dtype)) if share else None
        return Source(key, space, levels, code_table(space, levels[0].dtype), share=there)
    except (ValueError, KeyError, TypeError, IndexError, OSError) as error:
        raise StoredDamaged(f"what is stored in {folder.name} is damaged") from error


def _level(file: Path, told: Mapping[str, Any]) -> NDArray[np.generic]:
    shape, dtype = tuple(int(side) for side in told["shape"]), np.dtype(told["dtype"])
    if file.stat().st_size != prod(shape) * dtype.itemsize:
        raise ValueError("a level has another size")
    # copied on write; np.asarray: a memmap's own class would compile every kernel again
    level = np.asarray(np.memmap(file, dtype, "c", shape=shape))
    if _sum_of(level) != told["sum"]:
        raise ValueError("a level has other pixels")
    return level


def _sum_of(level: NDArray[np.generic]) -> int:
    return zlib.crc32(level.reshape(-1).view(np.uint8).data)
