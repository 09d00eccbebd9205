"""Frames rendered for playing: one after the other, ahead of who watches, and kept so that a loop runs smoothly."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor

from calado.render.engine import Engine, Order
from calado.render.preview import View, render_preview
from calado.render.source import Source
from server.bench.sources import ASSETS, ENGINE

#: of encoded frames; some 15 seconds at a stage's size
KEPT_BYTES = 200 * 2**20
#: frames must not push the bench's pictures out of its engine
ENGINE_BYTES = 160 * 2**20

PLAYING = Engine(ENGINE_BYTES, ASSETS, ENGINE.solved, ENGINE.secret)
_kept: OrderedDict[tuple[str, int], bytes] = OrderedDict()
_lock = threading.Lock()


def _find(key: tuple[str, int]) -> bytes | None:
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
        return _kept.get(key)


def _keep(key: tuple[str, int], data: bytes) -> None:
    with _lock:
        _kept[key] = data
        total = sum(map(len, _kept.values()))
        while total > KEPT_BYTES:
            total -= len(_kept.popitem(last=False)[1])


def rendered(name: str) -> list[tuple[int, int]]:
    """Return the first and last of each run of frames that are kept under a name, in order."""
    with _lock:
        frames = sorted(frame for each, frame in _kept if each == name)
    runs: list[tuple[int, int]] = []
    for frame in frames:
        if runs and runs[-1][1] == frame - 1:
            runs[-1] = (runs[-1][0], frame)
        else:
            runs.append((frame, frame))
    return runs


def play(
    name: str, frames: range, source: Callable[[int], Source], order: Callable[[int], Order], view: View
) -> Iterator[tuple[int, bytes]]:
    """Return the frames, each as a JPEG; ``name`` names all they depend on but their number.

    The next frame is decoded while this one is rendered.
    """
    with ThreadPoolExecutor(1, thread_name_prefix="decode") as ahead:
        coming = ahead.submit(source, frames[0]) if _find((name, frames[0])) is None else None
        for place, frame in enumerate(frames):
            kept = _find((name, frame))
            following = frames[place + 1] if place + 1 < len(frames) else None
            decoded, coming = coming, None
            if kept is None and decoded is None:
                decoded = ahead.submit(source, frame)
            now = decoded.result() if decoded is not None and kept is None else None
            if following is not None and _find((name, following)) is None:
                coming = ahead.submit(source, following)
            if kept is None:
                assert now is not None  # it was just decoded
                kept = render_preview(PLAYING, now, order(frame), view).data
                _keep((name, frame), kept)
            yield frame, kept
