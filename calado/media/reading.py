"""A finished picture read back a band of rows at a time, and whether it carries another one."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np
import OpenImageIO as oiio
from numpy.typing import NDArray

from calado.errors import MediaError

#: where a JPEG file begins, and where its pixels do
_BEGINS, _PIXELS = b"\xff\xd8\xff", b"\xff\xda"


class RowReader:
    """Gives rows, top to bottom, as they are stored."""

    def __init__(self, file: oiio.ImageInput) -> None:
        self._file, self._spec = file, file.spec()

    @property
    def width(self) -> int:
        """Width in pixels."""
        return int(self._spec.width)

    @property
    def height(self) -> int:
        """Height in pixels."""
        return int(self._spec.height)

    def rows(self, first: int, last: int) -> NDArray[Any]:
        """Return rows ``first`` to ``last`` (not included), shape (rows, W, C): codes, or light of floating formats.

        Raises
        ------
        MediaError
            when they cannot be read.
        """
        kind = str(self._spec.format) if str(self._spec.format).startswith("uint") else "float"
        read = self._file.read_scanlines(first, last, 0, 0, self._spec.nchannels, kind)
        if read is None:
            self._file.geterror()
            raise MediaError("The export cannot be read back.", code="media.read")
        return np.asarray(read).reshape(last - first, self.width, self._spec.nchannels)


@contextmanager
def rows_of(path: Path) -> Iterator[RowReader]:
    """Yield a reader of a picture's rows.

    Raises
    ------
    MediaError
        when it cannot be opened.
    """
    config = oiio.ImageSpec()
    config.attribute("oiio:UnassociatedAlpha", 1)
    file = oiio.ImageInput.open(str(path), config)
    if file is None:
        oiio.geterror()
        raise MediaError("The export cannot be read back.", code="media.read")
    try:
        yield RowReader(file)
    finally:
        file.close()


def carries_picture(path: Path) -> bool:
    """Return whether a picture carries a small one of itself: what a JPEG says before its pixels, and by its words."""
    file = oiio.ImageInput.open(str(path))
    if file is not None:
        names = [each.name.lower() for each in file.spec().extra_attribs]
        file.close()
        if any("thumbnail" in name or "jpeginterchange" in name for name in names):
            return True
    with path.open("rb") as opened:
        head = opened.read(2**20)
    return head.startswith(_BEGINS) and head.partition(_PIXELS)[0].count(_BEGINS) > 1
