"""Regions followed through a clip."""

from collections.abc import Callable
from functools import partial

from calado.catalogue import CATALOGUE
from calado.follow.carried import corrected_matrix, settled
from calado.follow.fits import KINDS
from calado.follow.motion import Step
from calado.media.clips.following import follow_region
from calado.media.clips.way import Way
from calado.media.mattes import store_matte
from calado.sheet.check import read_sheet
from calado.sheet.models import Track
from calado.sheet.within import region_called
from server.bench.clips import frames_of, motions_of
from server.bench.sources import ASSETS
from server.jobs.models import Job


def follow(job: Job, report: Callable[[float], bool]) -> dict[str, object]:
    """Follow a region of a job's sheet, and return the track that it then has; stopped, as far as it came.

    Raises
    ------
    Missing
        when the shot was removed.
    RequestError
        when the region cannot be followed.
    """
    shot = job.shot
    sheet = read_sheet(job.order["sheet"], CATALOGUE)
    region = region_called(sheet, job.order["region"])
    frames, motions = frames_of(shot), motions_of(shot)
    begin, ends = job.order["frame"], tuple(job.order["frames"])
    way = Way(begin, ends, job.order["motion"])
    fixes = {}
    known = motions(region.track.motion) if region.track else None
    if region.track and known:
        # from here on anew: what was corrected up to here is taken up, what was corrected further on does not count
        matrix = corrected_matrix(region.track, begin, known)
        corrected = [int(frame) for frame in region.track.fixes]
        between = [frame for frame in corrected if min(begin, known.at) < frame < max(begin, known.at)]
        key = min(between, key=lambda frame: abs(frame - begin), default=known.at) if known.kind in KINDS else None
        known = settled(region.track, known, begin)
        way = Way(known.at, _around(ends, known.at), known.kind, known, begin, matrix, key)
        fixes = {str(frame): region.track.fixes[str(frame)] for frame in corrected if _opposite(frame, begin, known.at)}

    def told(frame: int, step: Step, share: float) -> bool:
        return report(share)

    keep = partial(store_matte, folder=motions.path)
    motion = follow_region(frames, sheet, region.id, way, ASSETS, told, keep, motions)
    marks = region.track.marks if region.track else {}
    track = Track(motion=motions.keep(motion), at=motion.at, fixes=fixes, marks=marks)
    return {"region": region.id, "of": shot.id, "track": track.model_dump(mode="json")}


def _around(ends: tuple[int, ...], at: int) -> tuple[int, int]:
    return min(ends[0], at), max(ends[1], at)


def _opposite(frame: int, begin: int, at: int) -> bool:
    """Return whether a frame lies on the other side of the reference."""
    return frame < at if begin >= at else frame > at
