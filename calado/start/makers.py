"""What starters begin with, chosen from the picture: an ordinary region and treatment, which are then adjusted."""

from collections.abc import Sequence

from calado.adjust.colour.mono import BANDS
from calado.detect.offer import Offer
from calado.start.analysis import Oval, PictureAnalysis
from calado.start.features import feature_parts, without_features
from calado.start.parts import (
    coloured_part,
    covering,
    face_oval,
    hue_part,
    lights_part,
    offered,
    skin_part,
    stands_on,
)
from calado.start.starter import Made, frame_oval, oval_part, part

#: exposure of a vignette on a picture without any, in EV
VIGNETTE = -1.2


def vignette(analysis: PictureAnalysis) -> Made:
    """Return what “vignette” begins with."""
    own = analysis.falloff.corner if analysis.falloff.certain else 0.0
    outside = {
        "exposure": {"amount": round(min(VIGNETTE - own, -0.3), 2)},
        "saturation": {"amount": -0.12},
        "protect": {"amount": 0.8, "threshold": 0.55},
        "keep-hue": {"amount": 1.0},
    }
    return Made((frame_oval(analysis.aspect),), {}, outside)  # type: ignore[arg-type]


def soft_edge(analysis: PictureAnalysis) -> Made:
    """Return what “soft edge” begins with."""
    return Made((frame_oval(analysis.aspect),), {}, {"blur": {"radius": 0.018, "grade": "radius"}})


def spotlight(analysis: PictureAnalysis) -> Made:
    """Return what “spotlight” begins with."""
    dark = float(analysis.signal.mean()) < 0.3
    outside = {
        "exposure": {"amount": -0.8 if dark else -1.3},
        "saturation": {"amount": -0.15},
        "legible": {"floor": 0.08},
        # a window or a lamp in the surround stays as bright as it is instead of turning grey
        "protect": {"amount": 0.8, "threshold": 0.5},
        "keep-hue": {"amount": 1.0},
    }
    inside = {"exposure": {"amount": 0.5 if dark else 0.3}}
    return Made((oval_part(stands_on(analysis), (0.1, 0.2)),), inside, outside)  # type: ignore[arg-type]


def selective(analysis: PictureAnalysis) -> Made:
    """Return what “selective” begins with."""
    lens = {"radius": 0.012, "gain": 1.5}
    subjects = analysis.found("subject")
    if subjects:
        # its edge is solved, where colours are parted: nothing needs to grow
        return Made((offered(subjects[0]),), {}, {"lens": lens})  # type: ignore[dict-item]
    # no outline is known: the blur comes on over a wide feather, so that it cuts through nothing
    wide = oval_part(analysis.subject, (0.0, 0.35))
    return Made((wide,), {}, {"lens": {**lens, "grade": "radius"}})


def tilt(analysis: PictureAnalysis) -> Made:
    """Return what “tilt” begins with."""
    faces = analysis.found("face")
    middle = face_oval(faces[0]).y if faces else analysis.subject.y + 0.05
    y = min(max(middle, 0.25), 0.75)
    band = part("gradient", x=analysis.aspect / 2, y=y, sides="two", width=0.16, feather_in=0.0, feather_out=0.4)
    return Made((band,), {}, {"blur": {"radius": 0.014, "grade": "radius"}})


def conceal(analysis: PictureAnalysis) -> Made:
    """Return what “conceal” begins with."""
    return _concealed(analysis, (*analysis.found("face"), *analysis.found("text")))


def conceal_faces(analysis: PictureAnalysis) -> Made:
    """Return what “conceal faces” begins with."""
    return _concealed(analysis, analysis.found("face"))


def conceal_lettering(analysis: PictureAnalysis) -> Made:
    """Return what “conceal lettering” begins with."""
    return _concealed(analysis, analysis.found("text"))


def conceal_private(analysis: PictureAnalysis) -> Made:
    """Return what “conceal private lettering” begins with."""
    return _concealed(analysis, [offer for offer in analysis.found("text") if offer.private])


def _concealed(analysis: PictureAnalysis, found: Sequence[Offer]) -> Made:
    if found:
        parts = tuple(covering(each, number) for number, each in enumerate(found, start=1))
    else:
        subject = analysis.subject
        parts = (part("rectangle", x=subject.x, y=subject.y, width=0.3, height=0.14, feather_out=0.004),)
    return Made(parts, {"solid": {"amount": 1.0}}, {})


def accent(analysis: PictureAnalysis, rank: int = 0) -> Made:
    """Return what “accent” begins with: the most colourful thing, or the ``rank``-th that follows."""
    shares = analysis.hues(tuple(centre for _, _, centre in BANDS))
    present = [k for k in range(len(BANDS)) if shares[k] > 0.03]
    # hues that are there are spread over the greys, warm light and cool dark, so that neighbours stay apart
    spread = {BANDS[k][0]: round(0.3 - 0.6 * n / max(len(present) - 1, 1), 2) for n, k in enumerate(present)}
    weights = spread if len(present) > 1 else {}
    thing = coloured_part(analysis, rank)
    if thing is not None:
        return Made((thing,), {}, {"mono": {"amount": 1.0, **weights}})
    if rank:
        # of things there are fewer: one of the hues that there is most of, wherever it is
        most = sorted(range(len(BANDS)), key=lambda k: -shares[k])[min(rank, len(BANDS) - 1)]
        return Made((hue_part(analysis, BANDS[most][2]),), {}, {"mono": {"amount": 1.0, **weights}}, {"smooth": 0.003})
    # its hue, within a loose ellipse: another thing of the same hue elsewhere turns grey like the rest
    place = oval_part(analysis.colourful, (0.0, 0.05), 2, grown=1.35).model_copy(update={"join": "intersect"})
    return Made((hue_part(analysis), place), {}, {"mono": {"amount": 1.0, **weights}}, {"smooth": 0.003})


def skin(analysis: PictureAnalysis) -> Made:
    """Return what “skin” begins with."""
    inside = {"fine": {"amount": -0.65, "radius": 0.012}, "even": {"amount": 0.3, "redness": 0.3, "radius": 0.03}}
    faces = analysis.found("face")
    if faces:
        places = [offered(face, number) for number, face in enumerate(faces, start=1)]
    else:
        places = [oval_part(analysis.skin or analysis.subject, (0.03, 0.05), grown=1.1)]
    skin = skin_part(analysis, places, len(places) + 1)
    for number, face in enumerate(faces):
        if face.closely:
            places[number : number + 1] = feature_parts(face, "face", number + 1)
    parts = (*places, skin) if skin else tuple(places)
    for face in (each for each in faces if each.closely):
        parts = (*parts, *without_features(face, len(parts) + 1))
    return Made(parts, inside, {}, {"smooth": 0.004, "blur": 0.003} if skin else {})  # type: ignore[arg-type]


def hot_spot(analysis: PictureAnalysis) -> Made:
    """Return what “hot spot” begins with."""
    places = analysis.glare or (Oval(analysis.aspect / 2, 0.3, 0.2, 0.2),)
    parts = [oval_part(place, (0.02, 0.1), number, grown=1.7) for number, place in enumerate(places, start=1)]
    # what is not bright within the ovals is left alone
    bright = lights_part(analysis).model_copy(update={"id": f"part-{len(parts) + 1}", "join": "intersect"})
    inside = {
        "highlights": {"amount": -0.25},
        "wash": {"amount": 0.35, "mode": "multiply", "light": 0.9, "chroma": 0.28, "hue": 75.0},
    }
    return Made((*parts, bright), inside, {})  # type: ignore[arg-type]


def grain(analysis: PictureAnalysis) -> Made:
    """Return what “grain” begins with."""
    # clipped white carries little: grain there looks like pepper
    response = ((0.0, 0.0), (0.25, 0.0), (0.7, 1.0), (0.88, 0.8), (1.0, 0.25))
    return Made((lights_part(analysis),), {"grain": {"amount": 0.12, "size": 0.0014, "response": response}}, {})


def graduated(analysis: PictureAnalysis) -> Made:
    """Return what “graduated” begins with."""
    # from full at the upper edge to nothing well below the middle
    band = part("gradient", x=analysis.aspect / 2, y=0.32, feather_in=0.32, feather_out=0.28)
    inside = {
        "exposure": {"amount": -0.9},
        "saturation": {"amount": 0.1},
        "keep-hue": {"amount": 1.0},
    }
    return Made((band,), inside, {})  # type: ignore[arg-type]


def streak(analysis: PictureAnalysis) -> Made:
    """Return what “streak” begins with."""
    outside = {"motion": {"length": 0.15, "angle": 90.0}}
    return Made((oval_part(stands_on(analysis), (0.0, 0.01)),), {}, outside, mix=0.9)  # type: ignore[arg-type]


def peephole(analysis: PictureAnalysis) -> Made:
    """Return what “peephole” begins with."""
    x, y, size = min(max(analysis.subject.x, 0.42), analysis.aspect - 0.42), 0.5, 0.84
    circle = part("ellipse", x=x, y=y, width=size, height=size, feather_in=0.03, feather_out=0.02)
    inside = {"bulge": {"amount": 0.45, "radius": 0.46, "x": round(x, 4), "y": y}}
    outside = {"blur": {"radius": 0.02, "grade": "radius"}, "cut": {"amount": 1.0}}
    return Made((circle,), inside, outside)  # type: ignore[arg-type]


def call_out(analysis: PictureAnalysis) -> Made:
    """Return what “call out” begins with."""
    faces = analysis.found("face")
    oval = _round(face_oval(faces[0])) if faces else Oval(analysis.subject.x, analysis.subject.y, 0.42, 0.42)
    outside = {"exposure": {"amount": -0.4}, "ring": {"width": 0.006, "offset": 0.02}}
    return Made((oval_part(oval, (0.008, 0.008)),), {}, outside)  # type: ignore[arg-type]


def _round(oval: Oval) -> Oval:
    """Return a circle well round a face."""
    side = min(max(1.7 * max(oval.width, oval.height), 0.2), 0.9)
    return Oval(oval.x, oval.y, side, side)
