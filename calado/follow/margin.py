"""By how much a cover that goes along is grown, frame by frame: what following may be off by, and what smears.

Where it was marked and where somebody corrected it, it lies as they said. Elsewhere it is grown a little always, more
the less sure it is, and by what a moving thing reaches beyond its place while the shutter is open.
"""

from calado.follow.motion import Followed, Motion, Step
from calado.sheet.models import Region

#: in picture heights: always, and where nothing is sure besides (ours, held by the made clips of ``make quality``)
ALWAYS, UNSURE = 3 / 720, 24 / 720
#: a face has no outline of its own: always so much besides
FACE = 4 / 720
#: of how far it is smeared: that is read from few moments
SMEARED = 1.25


def margin_of(step: Step, kind: Followed) -> float:
    """Return by how much a cover is grown in a frame that was followed, in picture heights."""
    return ALWAYS + (FACE if kind == "face" else 0.0) + UNSURE * (1 - step.sureness) + SMEARED * step.smear


def margin(region: Region, motion: Motion | None, frame: int) -> float:
    """Return by how much a cover over a region is grown at a frame of its clip, in picture heights."""
    track = region.track
    if track is None or motion is None or frame == track.at or str(frame) in {**track.fixes, **track.marks}:
        return 0.0
    return margin_of(motion.near(frame), motion.kind)
