"""Where the scenes keep what they make on the way: nothing of it is needed later."""

import atexit
import itertools
import os
import shutil
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
STILLS, CLIPS, TRUTH = ROOT / "stills", ROOT / "clips", ROOT / "truth"
#: heads and paints that took long to make, and pictures in linear light
CACHE = ROOT.parent / "var" / "scenes"
CACHE.mkdir(parents=True, exist_ok=True)

_FOLDER = Path(tempfile.mkdtemp(prefix=f"lanternmoth-{os.getpid()}-"))
_NUMBERS = itertools.count()
atexit.register(lambda: shutil.rmtree(_FOLDER, ignore_errors=True))


def temporary(ending: str) -> str:
    """Return the name of a new file that is gone when the program ends."""
    return str(_FOLDER / f"{next(_NUMBERS)}.{ending}")
