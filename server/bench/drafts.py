"""Drafts: sheets as a browser has them in hand. Each is sent, read and checked once, and then known by a digest.

They are held in memory alone, the newest of them: whoever names one that is gone sends it again.
"""

import hashlib
import threading
from collections import OrderedDict

from calado.catalogue import CATALOGUE
from calado.sheet.check import check_sheet
from calado.sheet.models import Sheet
from server.projects.errors import DraftGone

#: so many are held at most, and of so many bytes as they were sent; read they take some ten times as many
MOST, MOST_BYTES = 300, 16 * 2**20

_held: OrderedDict[str, tuple[Sheet, int]] = OrderedDict()
_lock = threading.Lock()


def keep_draft(sheet: Sheet, sent: bytes) -> str:
    """Return the digest by which a sheet is known from now on; ``sent`` is what it was read from.

    Raises
    ------
    SheetError
        when it names what is not declared, or a value is out of range.
    """
    digest = hashlib.sha256(sent).hexdigest()[:32]
    with _lock:
        known = digest in _held
    if not known:
        check_sheet(sheet, CATALOGUE)
    with _lock:
        _held[digest] = (sheet, len(sent))
        _held.move_to_end(digest)
        total = sum(size for _, size in _held.values())
        while len(_held) > 1 and (total > MOST_BYTES or len(_held) > MOST):
            total -= _held.popitem(last=False)[1][1]
    return digest


def draft_called(digest: str) -> Sheet:
    """Return a sheet that was sent.

    Raises
    ------
    DraftGone
        when it never was, or was too long ago.
    """
    with _lock:
        found = _held.get(digest)
        if found is None:
            raise DraftGone
        _held.move_to_end(digest)
    return found[0]
