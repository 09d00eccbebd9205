"""Finds kept on disk, beside what else is made of a picture: by its kind, and by all that finding depends on.

What was found with other models, or by other means, is not read: the name of a file tells of both. A damaged file is
none: it is looked for again.
"""

import hashlib
import os
import threading
from collections.abc import Callable
from functools import cache
from pathlib import Path

from pydantic import TypeAdapter, ValidationError

from calado.detect.offer import Kind, Offer
from calado.detect.reading import can_read

#: gives the folder of a picture by its key, or None where nothing is kept of it
FolderOf = Callable[[str], Path | None]
_OFFERS = TypeAdapter(tuple[Offer, ...])


def nowhere(_: str) -> Path | None:
    """Return no folder: nothing is kept."""
    return None


@cache
def _state() -> str:
    """Return the hash of this package, in which the hashes of the models stand."""
    content = hashlib.sha256()
    for path in sorted(Path(__file__).parent.glob("*.py")):
        content.update(path.read_bytes())
    content.update(bytes(can_read()))
    return content.hexdigest()[:16]


def _file(folder: Path, kind: Kind) -> Path:
    return folder / f"found-{kind}-{_state()}.json"


def read_kept(folder: Path | None, kind: Kind) -> tuple[Offer, ...] | None:
    """Return what was found once, or None where that is not known."""
    if folder is None:
        return None
    try:
        return _OFFERS.validate_json(_file(folder, kind).read_bytes())
    except (OSError, ValidationError):
        return None


def keep(folder: Path | None, kind: Kind, offers: tuple[Offer, ...]) -> None:
    """Keep what was found; where there is no room for it, it is looked for again another time."""
    if folder is None:
        return
    file = _file(folder, kind)
    part = file.with_name(f"{file.name}.{os.getpid()}.{threading.get_ident()}.part")
    try:
        part.write_bytes(_OFFERS.dump_json(offers))
        part.replace(file)
    except OSError:
        part.unlink(missing_ok=True)
