"""The data as a whole: copied while it is in use, brought back, and looked over.

What matters lies in the database and in ``shots``, ``mattes``, ``tables`` and ``motions``; ``exports`` are files that
were made, all else can be made again.
"""

import hashlib
import json
import shutil
import sqlite3
import time
import zlib
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

from django.conf import settings

from calado.errors import CaladoError
from server.jobs.models import Export, Job
from server.jobs.sweeping import files_in, said_of_database
from server.projects.history import sheet_at
from server.projects.models import Look, Project, Revision, Shot

DATABASE = "calado.sqlite3"
FOLDERS = ("shots", "mattes", "tables", "motions", "exports")
#: what a folder has in which nothing was done yet
OF_ITSELF = ("serving", "secret")
#: seconds: what was imported so lately may be on its way into a sheet
JUST_NEW = 24 * 3600


def back_up(to: Path) -> int:
    """Copy all that matters into a new folder, while Calado goes on; return its size in bytes.

    Raises
    ------
    CaladoError
        when the folder is there already.
    """
    if to.exists():
        raise CaladoError(f"{to} is there already. Name a folder that is not.", code="backup.there")
    part = to.with_name(f"{to.name}.part")
    shutil.rmtree(part, ignore_errors=True)
    part.mkdir(parents=True)
    # the database first: what it names is on disk already
    live = sqlite3.connect(str(settings.DATABASES["default"]["NAME"]))
    with closing(live) as source, closing(sqlite3.connect(part / DATABASE)) as copy:
        source.backup(copy)
    for folder in FOLDERS:
        held = Path(settings.DATA_ROOT) / folder
        if held.is_dir():
            shutil.copytree(held, part / folder, ignore_dangling_symlinks=True)
    part.rename(to)
    return sum(file.stat().st_size for file in to.rglob("*") if file.is_file())


def restore(source: Path) -> Path | None:
    """Put a backup in place of the data; return where what stood there was put, if anything did.

    Raises
    ------
    CaladoError
        when the folder holds no backup that can be read.
    """
    if not (source / DATABASE).is_file():
        raise CaladoError(f"There is no backup in {source}.", code="backup.none")
    try:
        with closing(sqlite3.connect(source / DATABASE)) as database:
            sound = database.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    except sqlite3.DatabaseError:
        sound = False
    if not sound:
        raise CaladoError(f"The backup in {source} is damaged. Use another.", code="backup.damaged")
    data = Path(settings.DATA_ROOT)
    aside = data.with_name(f"{data.name}.before-{time.strftime('%Y%m%d-%H%M%S')}")
    there = data.exists() and any(each.name not in OF_ITSELF for each in data.iterdir())
    if there:
        while aside.exists():
            aside = aside.with_name(f"{aside.name}-more")
        data.rename(aside)
    shutil.copytree(source, data, dirs_exist_ok=True)
    return aside if there else None


def faults() -> Iterator[str]:
    """Yield what is wrong with the data, a sentence each: database, shots' files, sheets, exports."""
    said = said_of_database()
    if said != "ok":
        yield f"The database is damaged: {said}"
    for shot in Shot.objects.select_related("project"):
        yield from _faults_of(shot)
    for export in Export.objects.filter(state=Export.State.DONE):
        if not export.path.is_file():
            yield f"The exported file “{export.file_name}” is missing."


def _faults_of(shot: Shot) -> Iterator[str]:
    where = f"“{shot.name}” in “{shot.project.name}”"
    if not shot.path.is_file():
        yield f"The file of {where} is missing."
    elif _digest(shot.path) != shot.sha256:
        yield f"The file of {where} is no longer what was added."
    for number in Revision.objects.filter(shot=shot).order_by("number").values_list("number", flat=True):
        try:
            sheet_at(shot.id, number)
        except (CaladoError, ValueError, zlib.error, Revision.DoesNotExist) as error:
            yield f"Revision {number} of {where} cannot be read: {error}"


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def unused() -> list[Path]:
    """Return mattes, tables and motions that no sheet, revision, look, job or export names, and that are not new."""
    data = Path(settings.DATA_ROOT)
    files = [each for folder in ("mattes", "tables") for each in files_in(data / folder) if each.is_file()]
    files += [each for each in (data / "motions").rglob("*.*") if each.suffix in (".json", ".png")]
    old = [each for each in files if time.time() - each.stat().st_mtime > JUST_NEW]
    if not old:
        return []
    named = _named({each.stem for each in old})
    return [each for each in old if each.stem not in named]


def _named(digests: set[str]) -> set[str]:
    """Return those of some digests that anything kept names."""
    found: set[str] = set()
    for text in _texts():
        found |= {digest for digest in digests - found if digest in text}
    return found


def _texts() -> Iterator[str]:
    """Yield all that is kept of sheets, as text."""
    for kept in (*Project.objects.values_list("sheet", "taken"), *Look.objects.values_list("data")):
        yield json.dumps(kept)
    for kept in Job.objects.values_list("order", "result").iterator():
        yield json.dumps(kept)
    for kept in Export.objects.values_list("sheet", "project_sheet").iterator():
        yield json.dumps(kept)
    for shot, number in Revision.objects.order_by("shot", "number").values_list("shot_id", "number").iterator():
        yield sheet_at(shot, number).model_dump_json()
    # a motion that is here names the mattes that were cut along it
    for file in (Path(settings.DATA_ROOT) / "motions").rglob("*.json"):
        yield file.read_text(errors="replace")
