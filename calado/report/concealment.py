"""The concealment report of a clip or a still: each cover, how it was made, where it holds, what the file showed.

It is made of the sheets as they were frozen for the export and of what was found when the file was read back, so that
it can be made again at any time.
"""

from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from calado.catalogue import CATALOGUE
from calado.follow.coverage import Coverage, Run, coverage, covering
from calado.follow.motion import Motions
from calado.read_back.found import at_most
from calado.sheet.models import Pass, Region, Sheet
from calado.sheet.sentence import describe_sheet
from calado.sheet.timed import keyed_frames

#: so many frames of each cover are shown
SHOWN = 5


@dataclass(frozen=True)
class Shown:
    """A frame that is shown, by its number in the source: how sure it is there, None where nobody measured."""

    frame: int
    confidence: float | None


@dataclass(frozen=True)
class CoverReport:
    """A cover: its pass and region, in words how it is made and where it stands, its frames, what is left under it."""

    name: str
    region: str
    method: str
    stands: str
    says: str
    left: str
    runs: tuple[Run, ...]
    shown: tuple[Shown, ...]


@dataclass(frozen=True)
class Written:
    """The file that was written: its name, size and hash, when, by which version, of which revision if known."""

    file: str
    size_bytes: int
    sha256: str
    when: str
    version: str
    revision: int | None = None


@dataclass(frozen=True)
class Of:
    """What it was written of: its name and hash, how many frames it has, a still 0, and the first and last written."""

    clip: str
    sha256: str
    frames: int
    first: int
    last: int


@dataclass(frozen=True)
class Told:
    """A clip that was written, with the sheets that ran on it: its own and the project's."""

    of: Of
    sheets: tuple[Sheet, ...]
    motions: Motions


@dataclass(frozen=True)
class Report:
    """All of it.

    ``sentences`` tell every pass and what goes along beside picture and sound, ``findings`` what was wrong,
    ``accepted`` what was exported even so.
    """

    written: Written
    of: Of
    covers: tuple[CoverReport, ...]
    sentences: tuple[str, ...]
    findings: tuple[str, ...]
    accepted: tuple[str, ...]

    def data(self) -> dict[str, Any]:
        """Return it as plain data."""
        return asdict(self)


def concealment_report(
    written: Written,
    takes: Sequence[Told],
    found: dict[str, Any],
    accepted: Sequence[str] = (),
) -> Report:
    """Return the report of an export; ``found`` is what :meth:`calado.read_back.ReadBack.data` gave."""
    covers: list[CoverReport] = []
    sentences: list[str] = []
    for number, take in enumerate(takes):
        left = {each["pass_id"]: each for each in found.get("covers", ()) if each["take"] == number}
        clip = f"{take.of.clip}: " if len(takes) > 1 else ""
        for sheet in take.sheets:
            words = {each.id: each.plain for each in describe_sheet(sheet, CATALOGUE)}
            made = _covers(take, sheet, words, left)
            # a number of a frame tells where it is in the file of the first clip alone
            covers += [replace(each, name=clip + each.name, shown=each.shown if number == 0 else ()) for each in made]
            sentences += [f"{clip}{each.name}: {words[each.id]}" for each in sheet.passes if each.on]
    sentences += filter(None, [found.get("beside", "")])
    findings = tuple(found.get("findings", ()))
    return Report(written, takes[0].of, tuple(covers), tuple(sentences), findings, tuple(accepted))


def _covers(take: Told, sheet: Sheet, words: dict[str, str], left: dict[str, Any]) -> Iterator[CoverReport]:
    for region in sheet.regions:
        if take.of.frames == 0:
            passes = covering(sheet, region.id)
            yield from (_of_still(each, region, words[each.id], left.get(each.id)) for each in passes)
            continue
        whole = coverage(sheet, region.id, take.of.frames, take.motions)
        if whole is None:
            continue
        cut = replace(whole, runs=_within(whole.runs, take.of.first, take.of.last))
        for each in covering(sheet, region.id):
            yield _cover(each, cut, words[each.id], left.get(each.id), take.motions)


def _within(runs: tuple[Run, ...], first: int, last: int) -> tuple[Run, ...]:
    """Return runs of the frames that were written."""
    cut = (replace(run, first=max(run.first, first), last=min(run.last, last)) for run in runs)
    return tuple(run for run in cut if run.first <= run.last)


def _cover(each: Pass, whole: Coverage, method: str, left: dict[str, Any] | None, motions: Motions) -> CoverReport:
    region = whole.region
    return CoverReport(
        each.name,
        region.name,
        method,
        _stands(region),
        f"It {whole.says}.",
        _left(left),
        whole.runs,
        _shown(whole, motions),
    )


def _of_still(each: Pass, region: Region, method: str, left: dict[str, Any] | None) -> CoverReport:
    return CoverReport(each.name, region.name, method, "", "", _left(left), (), (Shown(0, None),))


def _left(left: dict[str, Any] | None) -> str:
    if left is None or not left["frames"]:
        return "Nothing of the file lies under it."
    where = "" if left["at"] is None else f", in frame {left['at']}"
    return f"At most {at_most(left['left'])} of what was there is left{where}."


def _stands(region: Region) -> str:
    track = region.track
    if track is not None:
        fixes = sorted(int(frame) for frame in track.fixes)
        corrected = f", corrected in {_listed(fixes)}" if fixes else ""
        return f"It follows what moves, from frame {track.at} where it was marked{corrected}."
    keys = keyed_frames(region)
    return f"It moves through keyframes set by hand: {_listed(keys)}." if keys else "It stands still, set by hand."


def _listed(frames: Sequence[int]) -> str:
    said = [str(frame) for frame in frames[:12]]
    return ", ".join(said) + (f" and {len(frames) - 12} more" if len(frames) > 12 else "")


def _shown(whole: Coverage, motions: Motions) -> tuple[Shown, ...]:
    """Return the frames in which it is least sure, or some of all where nobody measured."""
    frames = [
        frame for run in whole.runs if run.state in ("covered", "open") for frame in range(run.first, run.last + 1)
    ]
    if not frames:
        return ()
    track = whole.region.track
    motion = motions(track.motion) if track else None
    if motion is None:
        return tuple(Shown(frames[round(k * (len(frames) - 1) / 2)], None) for k in range(min(3, len(frames))))
    least = sorted(frames, key=lambda frame: (motion.near(frame).sureness, frame))[:SHOWN]
    return tuple(Shown(frame, round(motion.near(frame).sureness, 3)) for frame in sorted(least))
