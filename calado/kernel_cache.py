"""Where compiled kernels are kept: in a folder of exactly the source that they are made of.

Numba watches only the file that a kernel stands in: what it takes from another file could change unseen. So the folder
is named by the content of every file that has to do with kernels: those that import numba, and all that those import.
"""

import hashlib
import os
import re
import shutil
import time
from collections.abc import Iterator
from importlib.metadata import version
from pathlib import Path

HERE = Path(__file__).parent
#: so long the kernels of another state of the source are kept after they were last asked for
KEPT_DAYS = 14
_IMPORTS = re.compile(r"^[ \t]*(?:from (calado[\w.]*) import (\([^)]*\)|[^\n]*)|import (calado[\w.]*))", re.MULTILINE)
_COMPILES = re.compile(r"^[ \t]*(?:(?:import|from) numba\b|from calado\.compiled import)", re.MULTILINE)
_FOLDER = re.compile(r"[0-9a-f]{16}")
_NAME = re.compile(r"\w+")


def kernel_sources(here: Path = HERE) -> list[Path]:
    """Return the files of the package ``here`` that compiled code may come from, sorted: a file, and all it imports."""
    texts = {path: path.read_text() for path in here.rglob("*.py") if "tests" not in path.parts}
    found = {path for path, text in texts.items() if _COMPILES.search(text)}
    waiting = list(found)
    while waiting:
        for path in _imported(texts[waiting.pop()], here):
            if path in texts and path not in found:
                found.add(path)
                waiting.append(path)
    return sorted(found)


def _imported(text: str, here: Path) -> Iterator[Path]:
    for match in _IMPORTS.finditer(text):
        module = match[1] or match[3]
        for name in (module, *(f"{module}.{name}" for name in _NAME.findall(match[2] or ""))):
            path = here.parent.joinpath(*name.split("."))
            yield path.with_suffix(".py")
            yield path / "__init__.py"


def kernel_folder() -> Path:
    """Return the folder of the kernels of this source."""
    content = hashlib.sha256()
    for path in kernel_sources():
        content.update(str(path.relative_to(HERE)).encode() + b"\0" + path.read_bytes())
    base = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache")
    return base / "calado" / "kernels" / content.hexdigest()[:16]


def is_warm() -> bool:
    """Return whether every kernel was compiled for this processor: each is then loaded in a moment, when it is used."""
    try:
        return _mark().read_text() == _compiled_of()
    except OSError:
        return False


def mark_warm() -> None:
    """Say that every kernel is compiled."""
    _mark().write_text(_compiled_of())


def _mark() -> Path:
    # of the same source in another place Numba takes none of what was compiled here
    place = hashlib.sha256(str(HERE).encode()).hexdigest()[:12]
    return Path(os.environ["NUMBA_CACHE_DIR"]) / f"whole-{place}"


def _compiled_of() -> str:
    """Return what compiled kernels are good for: a compiler, a processor, and files as they were last written."""
    # it takes its time to load, and who asks for a folder only needs none
    import llvmlite.binding

    stamps = hashlib.sha256()
    for path in kernel_sources():
        found = path.stat()
        stamps.update(f"{path} {found.st_mtime_ns} {found.st_size}\n".encode())
    return f"{version('numba')} {llvmlite.binding.get_host_cpu_name()} {stamps.hexdigest()}"


def tidy(folder: Path) -> int:
    """Mark ``folder`` as used, remove those beside it that nobody asked for in a while; return how many."""
    folder.mkdir(parents=True, exist_ok=True)
    os.utime(folder)
    limit = time.time() - KEPT_DAYS * 86_400
    old = [p for p in folder.parent.iterdir() if _FOLDER.fullmatch(p.name) and p.stat().st_mtime < limit]
    for path in old:
        shutil.rmtree(path, ignore_errors=True)
    return len(old)
