"""A disk that is full or read-only, a damaged cache, a damaged database: what was saved stays, what is said is true."""

import os
import random
import shutil
import subprocess
import tempfile
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

from e2e.support import Calado
from tools.campaigns.support import a_shot, ask, own_pass

#: room on the disk that is filled, beyond what the demo takes
SPARE_MB = 60
VIEW = "rectangle=0&rectangle=0&rectangle=1600&rectangle=1067&scale=0.25&format=png"
DATABASE = ("calado.sqlite3", "calado.sqlite3-wal")
#: what may be answered while something is wrong with the disk
SAID = (503, 507)


def disk(count: int, seed: int) -> dict[str, object]:
    """Do so many rounds, each with one kind of harm; return how it was answered."""
    rng = random.Random(seed)
    answers: Counter[str] = Counter()
    broken: list[str] = []
    rounds: Counter[str] = Counter()
    with _small_disk() as mounted:
        calado = Calado()
        calado.start()
        try:
            trial = _Trial(calado, rng, answers)
            kinds = [trial.cache, trial.database, *([trial.full, trial.read_only] if mounted else [])]
            for number in range(count):
                kind = kinds[number % len(kinds)]
                rounds[kind.__name__] += 1
                broken += [f"round {number}, {kind.__name__}: {each}" for each in kind()]
        finally:
            calado.close()
    return {
        "rounds": dict(rounds),
        "answers": dict(sorted(answers.items())),
        "full and read-only": "tried" if mounted else "not tried: nothing may be mounted here",
        "broken": broken[:20],
    }


class _Trial:
    def __init__(self, calado: Calado, rng: random.Random, answers: Counter[str]) -> None:
        self._calado, self._rng, self._answers = calado, rng, answers
        self._at = a_shot(calado)
        self._value = 0
        self._wanted = self._preview()[1]

    def _ask(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        status, said = ask(self._calado, method, path, body)
        self._answers[str(status)] += 1
        return status, said

    def _preview(self) -> tuple[int, Any]:
        status, sent = self._ask("POST", "/drafts", {"version": 1})
        if status != 200:
            return status, sent
        return self._ask("GET", f"{self._at}/drafts/{sent['draft']}/preview?{VIEW}")

    def _step(self) -> tuple[int, Any]:
        status, bench = self._ask("GET", f"{self._at}/bench")
        if status != 200:
            return status, bench
        status, said = self._ask(
            "POST", f"{self._at}/steps", {"seen": bench["revision"], "step": own_pass(0, self._value + 1)}
        )
        self._value += status == 200
        return status, said

    def _harmed(self, answers: list[tuple[int, Any]], word: str) -> list[str]:
        """Return what is wrong with answers of a time when something was: each is right, or a sentence about it."""
        return [
            f"{status} {str(said)[:200]}"
            for status, said in answers
            if status != 200 and (status not in SAID or word not in said["title"])
        ]

    def _sound(self) -> list[str]:
        """Return what is wrong now that nothing should be."""
        saved = self._value
        status, bench = self._ask("GET", f"{self._at}/bench")
        names = {each["id"]: each["name"] for each in bench["sheet"]["passes"]} if status == 200 else {}
        said = [] if not saved or names.get("editor-0") == f"value {saved}" else [f"{saved} saved, {names} found"]
        if self._step()[0] != 200:
            said.append("nothing can be saved afterwards")
        if self._preview() != (200, self._wanted):
            said.append("the picture is another")
        return said

    def full(self) -> list[str]:
        filler = self._calado.data.parent / "filler"
        room = shutil.disk_usage(filler.parent).free - self._rng.choice([0, 1000, 40_000, 200_000])
        with filler.open("wb") as file:
            _filled(file.fileno(), max(room, 0))
        try:
            said = self._harmed([self._step() for _ in range(6)] + [self._preview()], "full")
        finally:
            filler.unlink()
        return said + self._sound()

    def read_only(self) -> list[str]:
        mount = str(self._calado.data.parent)
        subprocess.run(["mount", "-o", "remount,ro", mount], check=False, capture_output=True)
        try:
            said = self._harmed([self._step(), self._step(), self._preview()], "may not be written")
        finally:
            subprocess.run(["mount", "-o", "remount,rw", mount], check=True)
        return said + self._sound()

    def cache(self) -> list[str]:
        self._calado.stop()
        files = [each for each in (self._calado.data / "cache").rglob("*") if each.is_file()]
        for each in self._rng.sample(files, min(len(files), 6)):
            self._harm(each)
        self._calado.start()
        return self._sound()

    def database(self) -> list[str]:
        self._calado.stop()
        files = [self._calado.data / name for name in DATABASE if (self._calado.data / name).exists()]
        aside = {file: file.read_bytes() for file in files}
        self._harm(files[0])
        self._calado.start()
        answers = [self._ask("GET", "/projects"), self._step(), self._preview()]
        # a shot may be gone with its row; what is there is right, or said to be damaged
        said = [each for each in self._harmed(answers, "damaged") if not each.startswith("404")]
        self._calado.stop()
        for each in self._calado.data.glob("calado.sqlite3*"):
            each.unlink()
        for file, data in aside.items():
            file.write_bytes(data)
        self._value -= answers[1][0] == 200
        self._calado.start()
        return said + self._sound()

    def _harm(self, file: Path) -> None:
        data = bytearray(file.read_bytes())
        match self._rng.randrange(4):
            case 0:
                del data[self._rng.randrange(len(data) or 1) :]
            case 1:
                data += bytes(self._rng.randrange(1, 5000))
            case 2:
                data.clear()
            case _:
                for _ in range(self._rng.randrange(1, 200)):
                    data[self._rng.randrange(len(data))] ^= 1 << self._rng.randrange(8)
        file.write_bytes(data)


def _filled(file: int, size: int) -> None:
    with suppress(OSError):  # so much may not be there
        os.posix_fallocate(file, 0, size)


@contextmanager
def _small_disk() -> Iterator[bool]:
    """Let temporary folders lie on a small disk of their own meanwhile, where one may be mounted; yield whether."""
    with tempfile.TemporaryDirectory() as folder:
        size = f"size={_demo_mb() + SPARE_MB}m"
        done = subprocess.run(["mount", "-t", "tmpfs", "-o", size, "none", folder], check=False, capture_output=True)
        mounted = done.returncode == 0
        usual = tempfile.tempdir
        try:
            if mounted:
                tempfile.tempdir = folder
            yield mounted
        finally:
            tempfile.tempdir = usual
            if mounted:
                subprocess.run(["umount", folder], check=True)


def _demo_mb() -> int:
    """Return what a served demo takes."""
    calado = Calado()
    try:
        return sum(each.stat().st_size for each in calado.data.rglob("*") if each.is_file()) // 2**20
    finally:
        calado.close()
