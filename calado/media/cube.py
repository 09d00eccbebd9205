"""Reading look-up tables from .cube files.

References
----------
CubeLUT: red changes fastest; ``DOMAIN_MIN`` and ``DOMAIN_MAX`` tell where the table begins and ends. Many programs
write ``LUT_1D_INPUT_RANGE`` and ``LUT_3D_INPUT_RANGE`` instead, and a table of one dimension, a shaper, before a solid
one; no standard has them (common practice, read as OpenColorIO does).
"""

import hashlib
import os
import re
from functools import lru_cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from calado.adjust.colour.lut import Lut
from calado.adjust.kind import Luts
from calado.errors import MediaError, SheetError

MOST_BYTES = 40 * 2**20
MOST_SOLID, MOST_LINE = 129, 65536
Triple = tuple[float, float, float]
_DIGEST = re.compile(r"[0-9a-f]{32}")


def read_cube(data: bytes) -> Lut:
    """Return the table in the bytes of a .cube file.

    Raises
    ------
    MediaError
        naming the line and the fault.
    """
    if len(data) > MOST_BYTES:
        raise MediaError(f"This table has {len(data) // 2**20} MB; up to {MOST_BYTES // 2**20} MB are read.")
    try:
        lines = data.decode("utf-8-sig").splitlines()
    except UnicodeDecodeError as error:
        raise MediaError("This is not a .cube file: it is not text.", code="media.cube") from error
    words, rows = _parse(lines)
    return _table(words, rows)


def _parse(lines: list[str]) -> tuple[dict[str, list[float]], NDArray[np.float64]]:
    """Return what stands under each word, and the rows of numbers, shape (rows, columns)."""
    words: dict[str, list[float]] = {}
    texts: list[str] = []
    numbers: list[int] = []
    for number, line in enumerate(lines, start=1):
        text = line.split("#", 1)[0].strip()
        if not text or text.startswith("TITLE"):
            continue
        if text[0].isalpha():
            head, *rest = text.split()
            words[head] = _floats(rest, number)
        else:
            texts.append(text)
            numbers.append(number)
    return words, _rows(texts, numbers)


def _rows(texts: list[str], numbers: list[int]) -> NDArray[np.float64]:
    """Return rows of numbers; ``numbers`` tell the lines they stand in, for what is said of a fault."""
    if not texts:
        return np.empty((0, 3))
    try:
        rows = np.loadtxt(texts, np.float64, comments=None, ndmin=2)
    except ValueError:  # read one by one, the fault is found by its line; rows of different lengths are none
        for text, number in zip(texts, numbers, strict=True):
            _floats(text.split(), number)
        return np.empty((len(texts), 0))
    wrong = np.flatnonzero(~np.isfinite(rows).all(axis=1))
    if wrong.size:
        _floats(texts[wrong[0]].split(), numbers[wrong[0]])
    return rows


def _floats(texts: list[str], line: int) -> list[float]:
    try:
        values = [float(text) for text in texts]
    except ValueError as error:
        raise MediaError(f"Line {line} of this table is not made of numbers.", code="media.cube") from error
    if not np.isfinite(values).all():
        raise MediaError(f"Line {line} of this table holds a number that is not finite.", code="media.cube")
    return values


def _table(words: dict[str, list[float]], rows: NDArray[np.float64]) -> Lut:
    line, solid = (_size(words, key, most) for key, most in (("LUT_1D_SIZE", MOST_LINE), ("LUT_3D_SIZE", MOST_SOLID)))
    if not line and not solid:
        raise MediaError("This is not a .cube table: it must name LUT_1D_SIZE or LUT_3D_SIZE.", code="media.cube")
    if rows.shape != (line + solid**3, 3):
        raise MediaError(
            f"This table should hold {line + solid**3} lines of three numbers; it holds {len(rows)}. Export it again.",
            code="media.cube",
        )
    values = rows.astype(np.float32)
    first = Lut(values[:line], *_domain(words, "LUT_1D_INPUT_RANGE")) if line else None
    if not solid:
        return first  # type: ignore[return-value]
    cube = values[line:].reshape(solid, solid, solid, 3)
    if first is None:
        return Lut(cube, *_domain(words, "LUT_3D_INPUT_RANGE"))
    # where a shaper comes first, a domain is the shaper's, and the solid table reads what comes of it
    range_ = words.get("LUT_3D_INPUT_RANGE", [0.0, 1.0])
    return Lut(cube, *_domain({"LUT_3D_INPUT_RANGE": range_}, "LUT_3D_INPUT_RANGE"), first)


def _size(words: dict[str, list[float]], key: str, most: int) -> int:
    if key not in words:
        return 0
    size = int(words[key][0]) if words[key] else 0
    if not 2 <= size <= most:
        raise MediaError(f"A table of size {size} cannot be read; 2 to {most} can.", code="media.cube")
    return size


def _domain(words: dict[str, list[float]], key: str) -> tuple[Triple, Triple]:
    """Return where a table begins and ends: by its own range, else by its domain, else 0 and 1."""
    if key in words:
        range_ = words[key]
        if len(range_) != 2:
            raise MediaError(f"{key} of this table must have two numbers.", code="media.cube")
        low, high = (range_[0],) * 3, (range_[1],) * 3
    else:
        low, high = _triple(words.get("DOMAIN_MIN", [0, 0, 0])), _triple(words.get("DOMAIN_MAX", [1, 1, 1]))
    if any(b - a < 1e-6 for a, b in zip(low, high, strict=True)):
        raise MediaError("The domain of this table is empty.", code="media.cube")
    return low, high


def _triple(values: list[float]) -> Triple:
    if len(values) != 3:
        raise MediaError("The domain of this table must have three numbers.", code="media.cube")
    return values[0], values[1], values[2]


def store_cube(data: bytes, folder: Path) -> str:
    """Keep the bytes of a table that was read, whole or not at all, and return the hash by which a sheet names it."""
    digest = hashlib.sha256(data).hexdigest()[:32]
    path = folder / f"{digest}.cube"
    if not path.exists():
        folder.mkdir(parents=True, exist_ok=True)
        part = folder / f"{digest}.{os.getpid()}.part"
        part.write_bytes(data)
        part.rename(path)
    return digest


def folder_luts(folder: Path) -> Luts:
    """Return what gives a folder's tables by their hash; the eight used last are kept.

    Raises, when asked
    ------------------
    SheetError
        when a table is not there.
    """

    @lru_cache(maxsize=8)
    def table(digest: str) -> Lut:
        # attack: a sheet that names a file elsewhere
        path = folder / f"{digest}.cube"
        if not _DIGEST.fullmatch(digest) or not path.exists():
            raise SheetError(
                "A table that a pass uses is missing. Import its .cube file again, or take the adjustment out.",
                code="sheet.file",
            )
        return read_cube(path.read_bytes())

    return table
