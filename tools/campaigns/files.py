"""Damaged files of every kind that is read: each is read or refused in a sentence, soon and with little memory."""

import io
import resource
import tempfile
import time
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import tifffile
from PIL import Image

from calado.errors import MediaError
from calado.media.apart import Reader

SIDE = (64, 48)


def _sound(folder: Path) -> dict[str, bytes]:
    """Return a sound file of each kind."""
    rng = np.random.default_rng(0)
    pixels = rng.integers(0, 256, (SIDE[1], SIDE[0], 3), np.uint8)
    made: dict[str, bytes] = {}
    saved: tuple[tuple[str, str, dict[str, Any]], ...] = (
        ("a.png", "PNG", {}),
        ("a.jpg", "JPEG", {}),
        ("b.jpg", "JPEG", {"progressive": True}),
        ("a.webp", "WEBP", {}),
    )
    for name, kind, how in saved:
        out = io.BytesIO()
        Image.fromarray(pixels).save(out, kind, **how)
        made[name] = out.getvalue()
    tiffs: tuple[tuple[str, dict[str, Any]], ...] = (
        ("a.tif", {}),
        ("b.tif", {"compression": "zlib"}),
        ("c.tif", {"bigtiff": True}),
    )
    for name, how in tiffs:
        tifffile.imwrite(folder / name, pixels.astype(np.uint16) * 257, **how)
        made[name] = (folder / name).read_bytes()
    return made


def _damaged(data: bytes, rng: np.random.Generator) -> bytes:
    harmed = bytearray(data)
    match rng.integers(0, 5):
        case 0:  # some bytes anywhere
            for place in rng.integers(0, len(harmed), rng.integers(1, 40)):
                harmed[place] = rng.integers(0, 256)
        case 1:  # in the header, where sizes and counts stand
            for place in rng.integers(0, min(120, len(harmed)), rng.integers(1, 6)):
                harmed[place] = rng.choice([0, 1, 127, 128, 255])
        case 2:  # cut
            del harmed[rng.integers(1, len(harmed)) :]
        case 3:  # a piece taken out
            at = int(rng.integers(0, len(harmed) - 8))
            del harmed[at : at + int(rng.integers(1, 200))]
        case _:  # a piece twice
            at = int(rng.integers(0, len(harmed) - 8))
            harmed[at:at] = harmed[at : at + int(rng.integers(1, 400))]
    return bytes(harmed)


def files(count: int, seed: int) -> dict[str, object]:
    """Read so many damaged files; return how they ended."""
    rng = np.random.default_rng(seed)
    ends: Counter[str] = Counter()
    broken: list[str] = []
    slowest = 0.0
    reader = Reader()
    with tempfile.TemporaryDirectory() as held:
        folder = Path(held)
        sound = list(_sound(folder).items())
        for number in range(count):
            name, data = sound[number % len(sound)]
            path = folder / f"x{Path(name).suffix}"
            path.write_bytes(_damaged(data, rng))
            began = time.monotonic()
            try:
                reader.still(path)
                ends["read"] += 1
            except MediaError as error:
                ends[error.code] += 1
            except Exception as error:  # whatever it is, it is a fault
                broken.append(f"{name}: {type(error).__name__}: {error}")
            slowest = max(slowest, time.monotonic() - began)
    reader.close()
    most = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss // 1024
    return {
        "files": count,
        **dict(ends.most_common()),
        "slowest, s": round(slowest, 2),
        "most memory of a reader, MB": most,
        "broken": broken[:10],
    }
