"""``calado verify`` and ``calado state``: what a file that was written shows of what it covers, and what it changed."""

import hashlib
import json
import sys
import zipfile
from argparse import Namespace
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory

from calado import __version__
from calado.cli_clips import terminal
from calado.clip_chunks import Take
from calado.clip_render import ClipOrder
from calado.errors import RequestError
from calado.export_rows import Shape
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.media.clips.opening import looks_like_clip
from calado.media.formats import FORMATS, format_of
from calado.media.stills import Still, probe, read_still
from calado.media.write import Target
from calado.read_back.clips import read_back
from calado.read_back.found import ReadBack
from calado.read_back.stills import read_back_archive, read_back_still
from calado.render.assets import Assets
from calado.render.engine import Engine
from calado.render.source import source_of
from calado.report.concealment import Of, Written
from calado.report.pdf import statement_pdf
from calado.report.statement import Look, Stated, Statement, spread, statement
from calado.report.table import statement_csv


def verify_export(options: Namespace, order: ClipOrder, assets: Assets) -> bool:
    """Read an export back, print what was found as JSON, and return whether nothing is wrong with it."""
    read = _read_clip if looks_like_clip(options.source) else _read_still
    found = read(options, order, assets)
    sys.stdout.write(json.dumps(found.data(), indent=2, ensure_ascii=False) + "\n")
    return not found.findings


def _read_clip(options: Namespace, order: ClipOrder, assets: Assets) -> ReadBack:
    with Clip(options.source) as clip, terminal() as progress:
        frames = Frames(clip, str(options.source))
        if options.export.suffix.lower() == ".zip":
            return read_back_archive(frames, order, options.export, _packed(options.export), progress, assets)
        return read_back([Take(lambda: frames, options.source, order)], options.export, progress, assets)


def _packed(path: Path) -> Target:
    """Return what the pictures in an archive are, by the first of them."""
    with zipfile.ZipFile(path) as packed, TemporaryDirectory() as folder:
        names = packed.namelist()
        if not names:
            raise RequestError(f"“{path.name}” holds no pictures.", code="cli.format")
        return _target(Path(packed.extract(names[0], folder)))


def _target(path: Path) -> Target:
    about, kind = probe(path), format_of(path.suffix.removeprefix("."))
    if kind is None:
        raise RequestError(f"“{path.name}” is no picture that Calado writes.", code="cli.format")
    bits = about.bits if not about.floating else 16
    return Target(kind.id, bits if bits in FORMATS[kind.id].bits else kind.bits[0])


def _read_still(options: Namespace, order: ClipOrder, assets: Assets) -> ReadBack:
    still, about = read_still(options.source), probe(options.export)
    source = source_of(still.samples, still.space, str(options.source), still.share)
    longer = max(about.width, about.height)
    shape = Shape(longer if longer < max(source.width, source.height) else None)
    with terminal() as progress:
        target = _target(options.export)
        return read_back_still(source, order.at(0), options.export, target, progress, assets, shape=shape)


def state_export(options: Namespace, order: ClipOrder, assets: Assets) -> None:
    """Tell what an export changed: as PDF or CSV by the name of ``--out``, else printed as JSON.

    Raises
    ------
    RequestError
        when the name says neither.
    """
    out = options.out
    if out is not None and out.suffix.lower() not in (".pdf", ".csv"):
        raise RequestError(f"Name the statement .pdf or .csv, got “{out.name}”.", code="cli.format")
    made = _stated(options, order, assets)
    if out is None:
        sys.stdout.write(json.dumps(made.data(), indent=2, ensure_ascii=False) + "\n")
    elif out.suffix.lower() == ".pdf":
        out.write_bytes(statement_pdf(made))
    else:
        out.write_text(statement_csv(made), newline="")


def _stated(options: Namespace, order: ClipOrder, assets: Assets) -> Statement:
    stat = options.export.stat()
    when = datetime.fromtimestamp(stat.st_mtime, UTC).strftime("%Y-%m-%d %H:%M UTC")
    written = Written(options.export.name, stat.st_size, _digest(options.export), when, __version__)
    with _taken(options, order) as take:
        return statement(written, [take], Engine(assets=assets))


@contextmanager
def _taken(options: Namespace, order: ClipOrder) -> Iterator[Stated]:
    name, digest, sheets = options.source.name, _digest(options.source), (order.sheet, order.project)
    if not looks_like_clip(options.source):
        still: Still = read_still(options.source)
        source = source_of(still.samples, still.space, str(options.source), still.share)
        yield Stated(Of(name, digest, 0, 0, 0), sheets, [Look(0, source, sheets)])
        return
    with Clip(options.source) as clip:
        frames = Frames(clip, str(options.source))
        first, last = order.range(clip.facts)
        looks = [Look(each, frames.source(each), order.at(each).sheets) for each in spread(first, last)]
        yield Stated(Of(name, digest, clip.facts.frames, first, last), sheets, looks)


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
