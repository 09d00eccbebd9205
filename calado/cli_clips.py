"""What ``calado`` does with clips: probe, render, matte; each as a library call with progress on a terminal."""

import csv
import json
import sys
from argparse import Namespace
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path

from calado.clip_chunks import Places, Take
from calado.clip_export import export_takes
from calado.clip_render import ClipOrder
from calado.errors import RequestError
from calado.media.clips.clip import Clip
from calado.media.clips.facts import facts_data
from calado.media.clips.following import follow_region
from calado.media.clips.formats import ClipTarget, clip_format_of
from calado.media.clips.frames import Frames
from calado.media.clips.motions import MotionFolder
from calado.media.clips.way import Way
from calado.media.formats import format_of
from calado.media.mattes import store_matte
from calado.media.write import Target
from calado.picture_export import NUMBER, export_pictures
from calado.render.assets import Assets
from calado.scheduler import spread_of
from calado.sheet.models import Region, Sheet, Track
from calado.sheet.steps import sheet_data
from calado.sheet.within import with_region


def matte_folders(options: Namespace) -> tuple[Path, ...]:
    """Return where imported mattes lie, and those that were carried through a clip."""
    tracks = getattr(options, "tracks", None)
    return (options.mattes, tracks) if tracks else (options.mattes,)


def probe(options: Namespace) -> None:
    """Print what a clip says of itself as JSON."""
    with Clip(options.source) as clip:
        sys.stdout.write(json.dumps(facts_data(clip.facts), indent=2, ensure_ascii=False) + "\n")


def frames_of(text: str) -> tuple[int, int]:
    """Return first and last frame of ``10-49``, or of a single number.

    Raises
    ------
    ValueError
        when it is neither.
    """
    first, _, last = text.partition("-")
    return int(first), int(last or first)


def render_clip(options: Namespace, order: ClipOrder, assets: Assets) -> None:
    """Write a clip, or numbered pictures where the name of what is written has a place for their number.

    Raises
    ------
    RequestError
        when the name says no format.
    """
    with Clip(options.source) as clip, terminal() as progress:
        frames = Frames(clip, str(options.source))
        suffix = options.out.suffix.removeprefix(".")
        if NUMBER.search(options.out.name):
            still = format_of(suffix)
            if still is None:
                raise RequestError(
                    f"Name the pictures .png, .jpg or .tif, got “{options.out.name}”.", code="cli.format"
                )
            target = Target(still.id, still.bits[0])
            export_pictures(frames, order, options.out, target, progress, assets=assets)
            return
        kind = clip_format_of(suffix)
        if kind is None:
            raise RequestError(
                f"Name the output .mp4, .mov, .mkv or .webm, or pictures name.%05d.png, got “{options.out.name}”.",
                code="cli.format",
            )
        places = Places(matte_folders(options), getattr(options, "tables", None))
        with spread_of(places) as spread:
            take = Take(lambda: frames, options.source, order)
            says = export_takes([take], options.out, ClipTarget(kind.id), progress, assets, spread=spread)
    if says:
        print(f"calado: {says}", file=sys.stderr)


def follow_clip(options: Namespace, sheet: Sheet, region: Region, assets: Assets) -> None:
    """Follow a region through a clip, write the sheet in which it goes along, and print how sure it is as CSV.

    Raises
    ------
    RequestError
        when there is too little or too much to follow, or no such frame.
    """
    with Clip(options.source) as clip, terminal() as progress:
        frames = Frames(clip, str(options.source))
        way = Way(options.at, options.frames or (0, clip.facts.frames - 1), options.motion)
        keep = partial(store_matte, folder=options.tracks)
        motion = follow_region(frames, sheet, region.id, way, assets, lambda frame, step, share: progress(share), keep)
        digest = MotionFolder(options.tracks).keep(motion)
    rows = csv.writer(sys.stdout)
    rows.writerow(("frame", "confidence", "state"))
    for frame, step in sorted(motion.steps.items()):
        rows.writerow((frame, f"{step.confidence:.3f}", step.state))
    followed = with_region(sheet, region.model_copy(update={"track": Track(motion=digest, at=options.at)}))
    options.out.write_text(json.dumps(sheet_data(followed), indent=2, ensure_ascii=False) + "\n")


@contextmanager
def terminal() -> Iterator[Callable[[float], bool]]:
    """Yield what shows progress on a terminal, and is silent elsewhere."""
    shows = sys.stderr.isatty()

    def told(share: float) -> bool:
        if shows:
            print(f"\r{share:6.1%}", end="", file=sys.stderr, flush=True)
        return True

    yield told
    if shows:
        print("\r       \r", end="", file=sys.stderr)
