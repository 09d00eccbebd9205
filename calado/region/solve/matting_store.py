"""Solved mattes, kept in memory and in a folder under the hash of all they depend on; they can always be solved again.

One that waits returns only fine mattes. One that does not hands out a coarse matte at once, counts that it did, and
solves the fine one in a thread of its own, the newest wish first.
"""

import os
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path

import numpy as np

from calado.arrays import Matte
from calado.errors import CaladoError
from calado.region.solve.solved import Stop, go_on

IN_MEMORY = 12
LIMIT_BYTES = 500 * 2**20
#: of wishes that are still waiting only the newest are kept
WAITING = 2
DEPTH = 65535


class CalledOffError(Exception):
    """Solving was cancelled: its marks have changed, or it was called off."""


class SolvedStore:
    """Gives solved mattes; safe to share between threads."""

    def __init__(self, folder: Callable[[], Path] | None = None, *, wait: bool = True) -> None:
        self._folder = folder
        self._wait = wait
        self._held: OrderedDict[str, Matte] = OrderedDict()
        self._coarse: OrderedDict[str, Matte] = OrderedDict()
        self._wishes: OrderedDict[str, Callable[[Stop], Matte]] = OrderedDict()
        self._families: dict[str, str] = {}
        self._running: str | None = None
        self._called_off: set[str] = set()
        self._generation = 0
        self._worker: threading.Thread | None = None
        self._lock = threading.Lock()
        self._local = threading.local()

    @property
    def handed_coarse(self) -> int:
        """How many coarse mattes this thread was given so far."""
        return getattr(self._local, "coarse", 0)

    @property
    def handed_stopped(self) -> int:
        """How many of these will not be refined, because that was called off."""
        return getattr(self._local, "stopped", 0)

    @contextmanager
    def coarse_will_do(self, *, content: bool) -> Iterator[None]:
        """Let this thread be content with coarse mattes meanwhile: nothing is solved for it."""
        self._local.content = content
        try:
            yield
        finally:
            self._local.content = False

    @property
    def busy(self) -> bool:
        """Whether anything is being solved."""
        with self._lock:
            return self._running is not None or bool(self._wishes)

    @property
    def generation(self) -> int:
        """A number that changes whenever what is handed out may: a matte became fine, or solving was called off."""
        return self._generation

    def __call__(self, key: str, family: str, coarse: Callable[[], Matte], fine: Callable[[Stop], Matte]) -> Matte:
        """Return a matte of the whole frame at the size of solving. Not to be written to.

        A newer key of the same family takes the place of an older one.
        """
        found = self._find(key)
        if found is not None:
            return found
        if self._wait:
            return self._keep(key, fine(go_on))
        with self._lock:
            rough = self._coarse.get(key)
        if rough is None:
            rough = coarse()
            with self._lock:
                _put(self._coarse, key, rough)
        if getattr(self._local, "content", False):
            self._local.coarse = self.handed_coarse + 1
            return rough
        if key in self._called_off:
            self._local.stopped = self.handed_stopped + 1
        else:
            self._wish(key, family, fine)
        self._local.coarse = self.handed_coarse + 1
        return rough

    def call_off(self) -> None:
        """Stop what is being solved and forget what waits; changed marks ask anew, and so does :meth:`resume`."""
        with self._lock:
            self._called_off |= {*self._wishes, *([self._running] if self._running else [])}
            self._wishes.clear()
            self._generation += 1

    def resume(self) -> None:
        """Let what was called off be solved after all, when it is asked for again."""
        with self._lock:
            self._called_off.clear()
            self._generation += 1

    def _find(self, key: str) -> Matte | None:
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return self._held[key]
        path = self._path(key)
        if path is None or not path.exists():
            return None
        try:
            matte = (np.load(path) / np.float32(DEPTH)).astype(np.float32)
        except (OSError, ValueError, EOFError):  # damaged: it is solved again
            path.unlink(missing_ok=True)
            return None
        return self._hold(key, matte)

    def _keep(self, key: str, matte: Matte) -> Matte:
        """Return a matte as it is kept: to 16 bits, so that what was solved now equals what is read later."""
        codes = np.rint(matte * DEPTH).astype(np.uint16)
        path = self._path(key)
        if path is not None:
            path.parent.mkdir(parents=True, exist_ok=True)
            part = path.with_suffix(f".{os.getpid()}.{threading.get_ident()}.part")
            with part.open("wb") as file:
                np.save(file, codes)
                part.replace(path)
            _prune(path.parent)
        return self._hold(key, (codes / np.float32(DEPTH)).astype(np.float32))

    def _hold(self, key: str, matte: Matte) -> Matte:
        matte.flags.writeable = False
        with self._lock:
            _put(self._held, key, matte)
        return matte

    def _path(self, key: str) -> Path | None:
        return self._folder() / f"{key}.npy" if self._folder else None

    def _wish(self, key: str, family: str, fine: Callable[[Stop], Matte]) -> None:
        with self._lock:
            for older in [each for each, of in self._families.items() if of == family and each != key]:
                self._wishes.pop(older, None)
                del self._families[older]
            self._families[key] = family
            if self._running == key:
                return
            self._wishes.setdefault(key, fine)
            while len(self._wishes) > WAITING:
                self._wishes.popitem(last=False)
            if self._worker is None or not self._worker.is_alive():
                self._worker = threading.Thread(target=self._work, name="solving", daemon=True)
                self._worker.start()

    def _work(self) -> None:
        while True:
            with self._lock:
                if not self._wishes:
                    self._running, self._worker = None, None
                    return
                key, fine = self._wishes.popitem()
                self._running = key
            try:
                self._keep(key, fine(partial(self._go_on, key)))
                with self._lock:
                    self._generation += 1
            except CalledOffError:
                pass
            except (CaladoError, ArithmeticError, ValueError, OSError, MemoryError):
                # the coarse matte stays, and is not asked to be more
                with self._lock:
                    self._called_off.add(key)
                    self._generation += 1

    def _go_on(self, key: str) -> None:
        """Raise where nobody wants the matte any more: its marks have changed, or it was called off."""
        with self._lock:
            if key in self._called_off or key not in self._families:
                raise CalledOffError


def _prune(folder: Path) -> None:
    """Drop the mattes solved longest ago until the folder fits its limit."""
    files = sorted(folder.glob("*.npy"), key=lambda path: path.stat().st_mtime)
    total = sum(path.stat().st_size for path in files)
    for path in files:
        if total <= LIMIT_BYTES:
            return
        total -= path.stat().st_size
        path.unlink(missing_ok=True)


def _put(held: "OrderedDict[str, Matte]", key: str, matte: Matte) -> None:
    held[key] = matte
    held.move_to_end(key)
    while len(held) > IN_MEMORY:
        held.popitem(last=False)
