"""What a sheet names by its hash and the program keeps beside it."""

from dataclasses import dataclass

from calado.adjust.kind import Luts, no_luts
from calado.region.context import ALONE
from calado.region.matte import MatteSums


@dataclass(frozen=True)
class Assets:
    """``sums`` gives the sums of imported mattes by their hash, ``luts`` imported colour tables."""

    sums: MatteSums = ALONE.sums
    luts: Luts = no_luts


NO_ASSETS = Assets()
