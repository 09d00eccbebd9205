"""The starters. Each makes an ordinary region and pass for a picture of a given shape."""

from collections.abc import Callable
from dataclasses import dataclass
from math import sqrt

from calado.sheet.declare import Value
from calado.sheet.models import Part, Region, Treatment

Values = dict[str, Value]


@dataclass(frozen=True)
class Starter:
    """A purpose, told in a sentence, with its region (None: the whole picture) and its treatments."""

    id: str
    name: str
    says: str
    synonyms: tuple[str, ...]
    region_name: str
    place: Callable[[float], Values]
    inside: Treatment
    outside: Treatment
    kind: str = "ellipse"

    def region(self, aspect: float) -> Region | None:
        """Return the region for a picture ``aspect`` heights wide, or None for the whole picture."""
        if not self.region_name:
            return None
        values = {id: round(v, 4) if isinstance(v, float) else v for id, v in self.place(aspect).items()}
        return Region(id="region", name=self.region_name, parts=(Part(id="part", kind=self.kind, values=values),))


def frame_oval(aspect: float) -> Values:
    """Return an ellipse at 88 % of the frame, with a wide feather.

    The feather reaches from well inside to just beyond the corners, whose distance follows from the frame: the
    corner of
    a frame lies √2 times the inscribed ellipse's radius away (common practice, no source for 88 %).
    """
    share = 0.88
    corner = sqrt((aspect / 2) ** 2 + 0.25) - share * 0.5 * (aspect + 1) / 2
    return {
        "x": aspect / 2,
        "y": 0.5,
        "width": share * aspect,
        "height": share,
        "feather_in": 0.2,
        "feather_out": max(corner, 0.12),
    }


def subject_oval(aspect: float) -> Values:
    """Return an upright ellipse in the middle, for a subject."""
    return {"x": aspect / 2, "y": 0.48, "width": 0.5, "height": 0.7, "feather_in": 0.1, "feather_out": 0.22}


def called_oval(aspect: float) -> Values:
    """Return an ellipse in the middle with a narrow edge, for a thing to be pointed out."""
    return {"x": aspect / 2, "y": 0.5, "width": 0.42, "height": 0.42, "feather_in": 0.008, "feather_out": 0.008}


def focus_band(aspect: float) -> Values:
    """Return a level band across the middle, with a wide fall on both sides."""
    return {"x": aspect / 2, "y": 0.55, "sides": "two", "width": 0.16, "feather_in": 0.0, "feather_out": 0.4}


def nothing(aspect: float) -> Values:
    """Return no values: the starter takes the whole picture."""
    return {}


STARTERS: tuple[Starter, ...] = (
    Starter(
        id="vignette",
        name="Vignette",
        says="Outside an ellipse at 88 % of the frame: exposure down, colours calmer.",
        synonyms=("darken corners", "dark edges", "corner falloff", "frame", "burn edges", "border"),
        region_name="frame oval",
        place=frame_oval,
        inside={},
        outside={"exposure": {"amount": -1.2}, "saturation": {"amount": -0.15}},
    ),
    Starter(
        id="soft-edge",
        name="Soft-edge vignette",
        says="Outside the same ellipse: a blur that grows toward the corners.",
        synonyms=("blur corners", "soft corners", "blurred edges", "dreamy", "old lens", "lens blur"),
        region_name="frame oval",
        place=frame_oval,
        inside={},
        outside={"blur": {"radius": 0.018, "grade": "radius"}},
    ),
    Starter(
        id="spotlight",
        name="Spotlight",
        says="Inside an ellipse on the subject: a little up. Outside: down, calmer, still legible.",
        synonyms=("highlight subject", "brighten face", "pool of light", "lamp", "stage light", "attention"),
        region_name="subject oval",
        place=subject_oval,
        inside={"exposure": {"amount": 0.35}},
        outside={"exposure": {"amount": -1.1}, "saturation": {"amount": -0.1}},
    ),
    Starter(
        id="tilt-focus",
        name="Tilt focus",
        says="Outside a band across the frame: a blur that grows with the distance.",
        synonyms=("miniature", "tilt shift", "shallow focus", "blur background", "toy", "depth of field"),
        region_name="focus band",
        place=focus_band,
        inside={},
        outside={"blur": {"radius": 0.014, "grade": "radius"}},
        kind="gradient",
    ),
    Starter(
        id="call-out",
        name="Call-out",
        says="A ring round an ellipse on the subject; outside slightly darker.",
        synonyms=("point out", "circle", "highlight", "mark", "annotate", "ring", "spot the difference"),
        region_name="called out",
        place=called_oval,
        inside={},
        outside={
            "exposure": {"amount": -0.4},
            "ring": {"width": 0.006, "offset": 0.02},
        },
    ),
    Starter(
        id="empty",
        name="Empty pass",
        says="The whole picture, and nothing done to it yet.",
        synonyms=("new pass", "blank", "nothing"),
        region_name="",
        place=nothing,
        inside={},
        outside={},
    ),
)
