"""The starters: one declaration each. Every one makes an ordinary region and pass, which are then adjusted."""

from calado.adjust.colour.mono import BANDS
from calado.start.analysis import Oval, PictureAnalysis
from calado.start.parts import coloured_part, covering, features_out, hue_part, lights_part, offered, skin_part
from calado.start.starter import Made, Starter, frame_oval, oval_part, part

#: exposure of a vignette on a picture without any, in EV
VIGNETTE = -1.2


def _vignette(analysis: PictureAnalysis) -> Made:
    own = analysis.falloff.corner if analysis.falloff.certain else 0.0
    outside = {
        "exposure": {"amount": round(min(VIGNETTE - own, -0.3), 2)},
        "saturation": {"amount": -0.12},
        "protect": {"amount": 0.8, "threshold": 0.55},
        "keep-hue": {"amount": 1.0},
    }
    return Made((frame_oval(analysis.aspect),), {}, outside)  # type: ignore[arg-type]


def _soft_edge(analysis: PictureAnalysis) -> Made:
    return Made((frame_oval(analysis.aspect),), {}, {"blur": {"radius": 0.018, "grade": "radius"}})


def _spotlight(analysis: PictureAnalysis) -> Made:
    dark = float(analysis.signal.mean()) < 0.3
    outside = {
        "exposure": {"amount": -0.8 if dark else -1.3},
        "saturation": {"amount": -0.15},
        "legible": {"floor": 0.08},
        # a window or a lamp in the surround stays as bright as it is instead of turning grey
        "protect": {"amount": 0.8, "threshold": 0.55},
        "keep-hue": {"amount": 1.0},
    }
    inside = {"exposure": {"amount": 0.5 if dark else 0.3}}
    return Made((oval_part(analysis.subject, (0.1, 0.2)),), inside, outside)  # type: ignore[arg-type]


def _selective(analysis: PictureAnalysis) -> Made:
    outside = {"lens": {"radius": 0.012, "gain": 1.5}}
    subjects = analysis.found("subject")
    parts = (offered(subjects[0]),) if subjects else (oval_part(analysis.subject, (0.0, 0.006)),)
    return Made(parts, {}, outside, {"grow": 0.003})  # type: ignore[arg-type]


def _tilt(analysis: PictureAnalysis) -> Made:
    y = min(max(analysis.subject.y + 0.05, 0.25), 0.75)
    band = part("gradient", x=analysis.aspect / 2, y=y, sides="two", width=0.16, feather_in=0.0, feather_out=0.4)
    return Made((band,), {}, {"blur": {"radius": 0.014, "grade": "radius"}})


def _conceal(analysis: PictureAnalysis) -> Made:
    found = (*analysis.found("face"), *analysis.found("text"))
    if found:
        parts = tuple(covering(each, number) for number, each in enumerate(found, start=1))
    else:
        subject = analysis.subject
        parts = (part("rectangle", x=subject.x, y=subject.y, width=0.3, height=0.14, feather_out=0.004),)
    return Made(parts, {"solid": {"amount": 1.0}}, {})


def _accent(analysis: PictureAnalysis) -> Made:
    shares = analysis.hues(tuple(centre for _, _, centre in BANDS))
    present = [k for k in range(len(BANDS)) if shares[k] > 0.03]
    # hues that are there are spread over the greys, warm light and cool dark, so that neighbours stay apart
    spread = {BANDS[k][0]: round(0.3 - 0.6 * n / max(len(present) - 1, 1), 2) for n, k in enumerate(present)}
    weights = spread if len(present) > 1 else {}
    thing = coloured_part(analysis)
    if thing is not None:
        return Made((thing,), {}, {"mono": {"amount": 1.0, **weights}})
    # its hue, within a loose ellipse: another thing of the same hue elsewhere turns grey like the rest
    place = oval_part(analysis.colourful, (0.0, 0.05), 2, grown=1.35).model_copy(update={"join": "intersect"})
    return Made((hue_part(analysis), place), {}, {"mono": {"amount": 1.0, **weights}}, {"smooth": 0.003})


def _skin(analysis: PictureAnalysis) -> Made:
    inside = {"fine": {"amount": -0.65, "radius": 0.012}}
    faces = analysis.found("face")
    if faces:
        places = [offered(face, number) for number, face in enumerate(faces, start=1)]
    else:
        places = [oval_part(analysis.skin or analysis.subject, (0.03, 0.05), grown=1.1)]
    skin = skin_part(analysis, places, len(places) + 1)
    parts = (*places, skin) if skin else tuple(places)
    for face in faces:
        parts = (*parts, *features_out(face, len(parts) + 1))
    return Made(parts, inside, {}, {"smooth": 0.004, "blur": 0.003} if skin else {})  # type: ignore[arg-type]


def _hot_spot(analysis: PictureAnalysis) -> Made:
    places = analysis.glare or (Oval(analysis.aspect / 2, 0.3, 0.2, 0.2),)
    parts = [oval_part(place, (0.02, 0.1), number, grown=1.7) for number, place in enumerate(places, start=1)]
    inside = {
        "haze": {"amount": 0.06},
        "highlights": {"amount": -0.3},
        "wash": {"amount": 0.75, "mode": "multiply", "light": 0.9, "chroma": 0.28, "hue": 75.0},
    }
    return Made(tuple(parts), inside, {})  # type: ignore[arg-type]


def _grain(analysis: PictureAnalysis) -> Made:
    return Made((lights_part(analysis),), {"grain": {"amount": 0.35, "size": 0.0018}}, {})


def _graduated(analysis: PictureAnalysis) -> Made:
    # from full at the upper edge to nothing well below the middle
    band = part("gradient", x=analysis.aspect / 2, y=0.32, feather_in=0.32, feather_out=0.28)
    inside = {
        "exposure": {"amount": -0.9},
        "saturation": {"amount": 0.1},
        "keep-hue": {"amount": 1.0},
    }
    return Made((band,), inside, {})  # type: ignore[arg-type]


def _streak(analysis: PictureAnalysis) -> Made:
    outside = {"motion": {"length": 0.15, "angle": 90.0}}
    return Made((oval_part(analysis.subject, (0.0, 0.01)),), {}, outside, mix=0.9)  # type: ignore[arg-type]


def _peephole(analysis: PictureAnalysis) -> Made:
    x, y, size = min(max(analysis.subject.x, 0.42), analysis.aspect - 0.42), 0.5, 0.84
    circle = part("ellipse", x=x, y=y, width=size, height=size, feather_in=0.03, feather_out=0.02)
    inside = {"bulge": {"amount": 0.45, "radius": 0.46, "x": round(x, 4), "y": y}}
    outside = {"blur": {"radius": 0.02, "grade": "radius"}, "cut": {"amount": 1.0}}
    return Made((circle,), inside, outside)  # type: ignore[arg-type]


def _call_out(analysis: PictureAnalysis) -> Made:
    subject = analysis.subject
    oval = Oval(subject.x, subject.y, 0.42, 0.42)
    outside = {"exposure": {"amount": -0.4}, "ring": {"width": 0.006, "offset": 0.02}}
    return Made((oval_part(oval, (0.008, 0.008)),), {}, outside)  # type: ignore[arg-type]


STARTERS: tuple[Starter, ...] = (
    Starter(
        "vignette",
        "Vignette",
        "Outside an ellipse at 88 % of the frame: exposure down, highlights protected, colours calmer.",
        ("darken corners", "dark edges", "corner falloff", "frame", "burn edges", "border"),
        "frame oval",
        _vignette,
    ),
    Starter(
        "soft-edge",
        "Soft-edge vignette",
        "Outside the same ellipse: a blur that grows toward the corners.",
        ("blur corners", "soft corners", "blurred edges", "dreamy", "old lens"),
        "frame oval",
        _soft_edge,
    ),
    Starter(
        "spotlight",
        "Spotlight",
        "Inside an ellipse on the subject: a little up. Outside: down, calmer, kept legible.",
        (
            "draw the eye",
            "lift face",
            "light on face",
            "brighten subject",
            "highlight subject",
            "brighten face",
            "pool of light",
            "lamp",
            "stage light",
            "attention",
        ),
        "subject oval",
        _spotlight,
    ),
    Starter(
        "selective-focus",
        "Selective focus",
        "Outside the subject, found and cut out: the blur of a lens, solved without the subject, so no halo.",
        (
            "soften background",
            "blurred background",
            "blur background",
            "shallow depth of field",
            "bokeh",
            "soft surround",
            "portrait",
            "separate",
            "isolate",
        ),
        "subject",
        _selective,
    ),
    Starter(
        "tilt-focus",
        "Tilt focus",
        "Outside a band across the frame: a blur that grows with the distance.",
        ("miniature", "tilt shift", "shallow focus", "blur background", "toy", "depth of field"),
        "focus band",
        _tilt,
    ),
    Starter(
        "conceal",
        "Conceal",
        "Inside all faces and lines of lettering found, else a rectangle: a solid cover; what it hides is gone.",
        (
            "blur face",
            "number plate",
            "licence plate",
            "black bar over eyes",
            "pixelate face",
            "hide number",
            "redact text",
            "hide plate",
            "hide face",
            "anonymise",
            "redact",
            "censor",
            "pixelate",
            "number",
            "text",
            "blank out",
        ),
        "concealed",
        _conceal,
    ),
    Starter(
        "colour-accent",
        "Colour accent",
        "Outside the most colourful thing, cut out: black and white, the greys set by hue.",
        (
            "black and white except one colour",
            "keep one colour",
            "colour pop",
            "black and white background",
            "one colour",
            "color splash",
            "selective colour",
            "desaturate surround",
        ),
        "accent",
        _accent,
    ),
    Starter(
        "calm-skin",
        "Calm skin",
        "Inside a face, where its skin's colour is: fine detail down; eyes, lips and hair are left alone.",
        (
            "soften skin",
            "retouch face",
            "smooth skin",
            "soften face",
            "retouch",
            "wrinkles",
            "pores",
            "beauty",
            "portrait",
        ),
        "skin",
        _skin,
    ),
    Starter(
        "hot-spot",
        "Tame hot spot",
        "Inside the burnt place and its reflection: a veil, highlights down, a warm wash.",
        (
            "blown out sun",
            "tame sun",
            "too bright window",
            "burnt highlight",
            "blown out",
            "glare",
            "reflection",
            "tame lamp",
            "overexposed",
            "too bright",
        ),
        "hot spot",
        _hot_spot,
    ),
    Starter(
        "grain-in-light",
        "Grain in light",
        "Inside the lights, from a very soft low end up: grain; the shadows stay clean.",
        ("film grain", "noise", "texture", "analogue", "highlights"),
        "lights",
        _grain,
    ),
    Starter(
        "motion-streak",
        "Motion streak",
        "Outside the subject: every point smeared upright, a tenth of the original left in.",
        ("streaks", "vertical blur", "wood", "trees", "speed", "motion", "background"),
        "subject",
        _streak,
    ),
    Starter(
        "graduated",
        "Graduated sky",
        "Inside a gradient down from the upper edge: exposure down, hues kept.",
        ("darken sky", "gradient", "graduated filter", "horizon", "heavier sky", "too bright sky"),
        "sky",
        _graduated,
    ),
    Starter(
        "peephole",
        "Peephole",
        "Inside a circle: a bulge. Outside: a blurred rim, then black.",
        ("door viewer", "fisheye", "circle", "round frame", "keyhole", "telescope"),
        "peephole",
        _peephole,
    ),
    Starter(
        "call-out",
        "Call-out",
        "A ring round an ellipse on the subject; outside slightly darker.",
        (
            "red circle",
            "circle it",
            "point out",
            "circle",
            "highlight",
            "mark",
            "annotate",
            "ring",
            "spot the difference",
        ),
        "called out",
        _call_out,
    ),
    Starter(
        "empty",
        "Empty pass",
        "The whole picture, and nothing done to it yet.",
        ("new pass", "blank", "nothing"),
        "",
        lambda analysis: Made(),
    ),
)
