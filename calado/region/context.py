"""What a part may ask of its surroundings while its matte is made."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.errors import SheetError
from calado.region.sampler import PictureSampler
from calado.region.solve.solved import Solved, solved_now
from calado.window import Window


def _no_region(id: str, window: Window) -> Matte:
    raise SheetError(f"There is no region “{id}” here.", code="sheet.region")


def _no_file(digest: str) -> NDArray[np.float64]:
    raise SheetError("A picture that a region uses as its matte is missing. Import it again.", code="sheet.file")


@dataclass(frozen=True)
class PartContext:
    """What a part may ask of its surroundings: the matte of another region, an imported picture's sums, the picture.

    ``sums(digest)`` gives the summed values of the imported picture, shape (H + 1, W + 1), from 0 at its corner;
    ``name`` is the id of the region that is made.
    """

    region: Callable[[str, Window], Matte] = _no_region
    sums: Callable[[str], NDArray[np.float64]] = _no_file
    seen: PictureSampler | None = None
    name: str = ""
    solved: Solved = solved_now

    @property
    def picture(self) -> PictureSampler:
        """The picture that is read.

        Raises
        ------
        SheetError
            where there is none.
        """
        if self.seen is None:
            raise SheetError("This region is read from a picture, and there is none here.", code="sheet.picture")
        return self.seen


#: nothing is near
ALONE = PartContext()
