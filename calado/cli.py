"""``calado``: the same core without a server.

calado render SHEET SOURCE -o OUT      write the finished picture or clip
calado matte SHEET SOURCE REGION -o OUT   write a region's matte as a grey PNG, or as a grey clip
calado verify SHEET SOURCE EXPORT      read an export back, print what was found as JSON; 1 if anything is wrong
calado state SHEET SOURCE EXPORT       tell what it changed, as JSON, or as PDF or CSV with -o
calado probe CLIP                      print what a clip says of itself, as JSON
calado find subjects|faces|features|lettering|all SOURCE   print what is found in it, as JSON
calado describe SHEET                  tell the sheet in words
calado check SHEET SOURCE              say what a second look points out
calado schema                          print the JSON Schema of a sheet
calado adjustments                     print the table of all adjustments
"""

import argparse
import json
import sys
from collections.abc import Callable
from pathlib import Path

import numpy as np

from calado.catalogue import CATALOGUE
from calado.cli_clips import follow_clip, frames_of, matte_folders, probe, render_clip
from calado.cli_find import FOUND, find_in
from calado.cli_reports import state_export, verify_export
from calado.clip_render import ClipOrder
from calado.errors import CaladoError, RequestError
from calado.export import export_still
from calado.follow.fits import KINDS
from calado.follow.motion import OTHERS
from calado.inspect.look.covers import weak_covers
from calado.inspect.look.finding import Looked
from calado.inspect.look.second_look import second_look
from calado.media.clips.motions import MotionFolder
from calado.media.clips.opening import looks_like_clip
from calado.media.cube import folder_luts
from calado.media.formats import format_of
from calado.media.mattes import folder_sums
from calado.media.stills import read_still
from calado.media.write import Target, still_writer
from calado.render.assets import Assets
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve
from calado.render.source import Source, source_of
from calado.sheet.check import read_sheet
from calado.sheet.models import Region, Sheet
from calado.sheet.schema import sheet_schema
from calado.sheet.sentence import describe
from calado.sheet.table import adjustments_table


def main(arguments: list[str] | None = None) -> int:
    """Run the command and return its exit code: 0, or 1 with one sentence on standard error, or with its findings."""
    options = _parser().parse_args(arguments)
    try:
        good = options.run(options)
    except (CaladoError, OSError) as error:
        print(f"calado: {error}", file=sys.stderr)
        return 1
    return int(good is False)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="calado", description="Corrections let through openings in a picture.")
    commands = parser.add_subparsers(required=True)
    render = commands.add_parser("render", help="write the finished picture")
    render.add_argument("sheet", type=Path)
    render.add_argument("source", type=Path)
    render.add_argument("-o", "--out", type=Path, required=True)
    render.add_argument("--project", type=Path, help="a sheet whose passes run last")
    render.add_argument("--bits", type=int, choices=(8, 16), default=None)
    render.add_argument("--quality", type=int, default=92)
    render.add_argument("--keep-metadata", action="store_true")
    render.add_argument("--cut-off", action="store_true", help="end light at white, its hue not kept; for stills")
    render.add_argument("--even-so", action="store_true", help="write it although a cover lets something through")
    render.add_argument("--frames", type=frames_of, metavar="10-49", help="of a clip, the first and the last")
    render.set_defaults(run=_render)
    matte = commands.add_parser("matte", help="write a region's matte as a grey picture")
    matte.add_argument("sheet", type=Path)
    matte.add_argument("source", type=Path)
    matte.add_argument("region", help="the region's name or id")
    matte.add_argument("-o", "--out", type=Path, required=True)
    matte.add_argument("--frames", type=frames_of, metavar="10-49", help="of a clip, the first and the last")
    matte.set_defaults(run=_matte)
    probe_clip = commands.add_parser("probe", help="print what a clip says of itself")
    probe_clip.add_argument("source", type=Path)
    probe_clip.set_defaults(run=probe)
    finds = commands.add_parser("find", help="print what is found in a picture, or in a frame of a clip")
    finds.add_argument("what", choices=(*FOUND, "all"))
    finds.add_argument("source", type=Path)
    finds.add_argument("--at", type=int, default=0, help="of a clip, the frame")
    finds.add_argument(
        "--along", action="store_true", help="along the whole clip, faces and lettering listed once each"
    )
    finds.set_defaults(run=lambda options: find_in(options, _source))
    check = commands.add_parser("check", help="say what a second look points out")
    check.add_argument("sheet", type=Path)
    check.add_argument("source", type=Path)
    check.set_defaults(run=_check)
    follow = commands.add_parser("follow", help="let a region go along with what moves in a clip")
    follow.add_argument("sheet", type=Path)
    follow.add_argument("source", type=Path)
    follow.add_argument("region", help="the region's name or id")
    follow.add_argument("--at", type=int, required=True, help="the frame in which the region is right")
    follow.add_argument("--frames", type=frames_of, metavar="10-49", help="the first and the last that are followed")
    follow.add_argument("--motion", choices=("any", *OTHERS, *KINDS), default="any", help="what may happen to it")
    follow.add_argument("-o", "--out", type=Path, required=True, help="the sheet that goes along")
    follow.set_defaults(run=_follow)
    verify = commands.add_parser("verify", help="read an export back")
    verify.set_defaults(run=lambda options: _told(options, verify_export))
    state = commands.add_parser("state", help="tell what an export changed")
    state.add_argument("-o", "--out", type=Path, help="a .pdf or .csv; none: JSON is printed")
    state.set_defaults(run=lambda options: _told(options, state_export))
    for each in (verify, state):
        each.add_argument("sheet", type=Path)
        each.add_argument("source", type=Path)
        each.add_argument("export", type=Path)
        each.add_argument("--project", type=Path, help="a sheet whose passes run last")
        each.add_argument("--frames", type=frames_of, metavar="10-49", help="the first and the last that were written")
    for each in (render, matte, follow, verify, state):
        each.add_argument("--tracks", type=Path, default=Path("tracks"), help="the folder of motions")
    for each in (render, matte, check, follow, verify, state):
        each.add_argument("--mattes", type=Path, default=Path("mattes"), help="the folder of imported mattes")
        each.add_argument("--tables", type=Path, default=Path("tables"), help="the folder of imported colour tables")
    tell = commands.add_parser("describe", help="tell the sheet in words")
    tell.add_argument("sheet", type=Path)
    tell.set_defaults(run=_describe)
    schema = commands.add_parser("schema", help="print the JSON Schema of a sheet")
    schema.set_defaults(run=_schema)
    table = commands.add_parser("adjustments", help="print the table of all adjustments")
    table.set_defaults(run=lambda options: print(adjustments_table(CATALOGUE)))
    return parser


def _read(path: Path) -> Sheet:
    return read_sheet(path.read_bytes(), CATALOGUE)


def _source(path: Path) -> Source:
    still = read_still(path)
    return source_of(still.samples, still.space, str(path), still.share)


def _target(options: argparse.Namespace) -> Target:
    format_ = format_of(options.out.suffix.removeprefix("."))
    if format_ is None or "picture" not in format_.holds:
        raise RequestError(f"Name the output .png, .jpg or .tif, got “{options.out.name}”.", code="cli.format")
    kept = options.source if options.keep_metadata else None
    bits = options.bits or format_.bits[0]
    return Target(format_.id, bits, options.quality, kept, cuts_off=options.cut_off)


def _render(options: argparse.Namespace) -> None:
    order = Order(_read(options.sheet), _read(options.project) if options.project else Sheet())
    assets = Assets(folder_sums(*matte_folders(options)), folder_luts(options.tables))
    if looks_like_clip(options.source):
        render_clip(
            options, ClipOrder(order.sheet, order.project, options.frames, motions=MotionFolder(options.tracks)), assets
        )
        return
    source = _source(options.source)
    looked = Looked(Engine(assets=assets), source, order.sheet, order.project)
    for finding in weak_covers(looked):
        if not options.even_so:
            raise RequestError(f"{finding.says} Mend it, or write it with --even-so.", code="export.showing")
        print(f"calado: {finding.says}", file=sys.stderr)
    export_still(source, order, options.out, _target(options), assets=assets)


def _region(sheet: Sheet, named: str) -> Region:
    found = next((region for region in sheet.regions if named in (region.id, region.name)), None)
    if found is None:
        names = ", ".join(region.name for region in sheet.regions) or "none"
        raise RequestError(f"The sheet has no region “{named}”; it has {names}.", code="cli.region")
    return found


def _matte(options: argparse.Namespace) -> None:
    sheet = _read(options.sheet)
    region = _region(sheet, options.region)
    if looks_like_clip(options.source):
        order = ClipOrder(sheet, frames=options.frames, matte_of=region.id, motions=MotionFolder(options.tracks))
        render_clip(options, order, Assets(folder_sums(*matte_folders(options))))
        return
    source = _source(options.source)
    if options.out.suffix.lower() != ".png":
        raise RequestError("A matte is written as PNG; name the output .png.", code="cli.format")
    where = resolve(sheet, region.id)
    assert where is not None  # it was just found
    matte = Engine(assets=Assets(folder_sums(*matte_folders(options)))).matte(source, where, source.full())
    codes = np.repeat(np.rint(matte * 65535).astype(np.uint16)[..., None], 3, axis=2)
    with still_writer(options.out, source.width, source.height, source.space, Target("png", 16)) as writer:
        writer.write(codes)


def _follow(options: argparse.Namespace) -> None:
    sheet = _read(options.sheet)
    follow_clip(options, sheet, _region(sheet, options.region), Assets(folder_sums(*matte_folders(options))))


def _told(options: argparse.Namespace, tell: Callable[..., bool | None]) -> bool | None:
    """Read the sheets of an export, and let something be told of it."""
    project = _read(options.project) if options.project else Sheet()
    order = ClipOrder(_read(options.sheet), project, options.frames, motions=MotionFolder(options.tracks))
    return tell(options, order, Assets(folder_sums(*matte_folders(options)), folder_luts(options.tables)))


def _check(options: argparse.Namespace) -> None:
    engine = Engine(assets=Assets(folder_sums(*matte_folders(options)), folder_luts(options.tables)))
    found = second_look(engine, _source(options.source), _read(options.sheet))
    for finding in found:
        print(f"{finding.says} Mend: {finding.mend}." if finding.mend else finding.says)
    if not found:
        print("Nothing to point out.")


def _describe(options: argparse.Namespace) -> None:
    print(describe(_read(options.sheet), CATALOGUE))


def _schema(options: argparse.Namespace) -> None:
    print(json.dumps(sheet_schema(CATALOGUE), indent=2))


if __name__ == "__main__":
    sys.exit(main())
