"""What is true of the demo's stills and clips, as ``demo/truth/truth.json`` tells it; ``schema.json`` is made of this.

Pixels count from the upper left corner, centres at .5; a box is (left, top, right, bottom). Mattes are PNG files of one
channel beside the JSON, white inside. ``python -m demo.truths`` writes the schema.
"""

import json
from pathlib import Path
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

TRUTH = Path(__file__).parent / "truth"
Point = tuple[float, float]
Box = tuple[float, float, float, float]
Share = Annotated[float, Field(ge=0, le=1)]
Homography = tuple[tuple[float, float, float], tuple[float, float, float], tuple[float, float, float]]


class Told(BaseModel):
    """Plain facts, and no others."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class Face(Told):
    """A puppet's face, as its head is placed in the scene."""

    centre: Point
    box: Box = Field(description="round its outline, what is hidden too")
    size: float = Field(gt=0, description="the box's height")
    turn: float = Field(description="degrees; 0 looks at the camera's plane, positive to the picture's right")
    tilt: float = Field(description="degrees; positive leans to the picture's right")
    inside: Share | None = Field(None, description="of the box, how much lies within the frame")
    pixels: float | None = Field(None, description="the sum of the face's matte in this frame")
    visible: Share | None = Field(None, description="of the whole face, how much is seen")
    hidden: Share | None = Field(None, description="of what lies within the frame, how much something stands before")


class Lettering(Told):
    """Lettering that may have to be concealed."""

    text: str
    polygon: tuple[Point, Point, Point, Point]
    kind: str | None = None
    turn: float | None = Field(None, description="degrees by which a swinging plate is turned")


class Pan(Told):
    """A camera that only turns, in degrees; 0 looks straight at the stage."""

    yaw: float
    pitch: float


class Lantern(Told):
    """A lantern's box, where its matte is above a half."""

    box: Box


class Frame(Told):
    """A frame of a clip; what does not apply is left out."""

    frame: int = Field(ge=0)
    camera: Pan | Homography | None = Field(
        None, description="or the homography from the traced picture's pixels, counted from 0, to the frame's"
    )
    scale: float | None = Field(None, description="how much larger the lantern is than in the first frame")
    behind: float | None = Field(None, description="and all behind it")
    face: Face | None = None
    lantern: Lantern | None = None
    plate: Lettering | None = None
    lines: tuple[Lettering, ...] = ()


class Clip(Told):
    """A clip; mattes of every fourth frame lie in the folder of its name, SUBJECT_FRAME.png."""

    width: int
    height: int
    rate: tuple[int, int] = Field(description="frames a second, as a fraction")
    frames: tuple[Frame, ...]
    fov: float | None = Field(None, description="the field across, degrees, where the camera turns")
    exposure: float | None = Field(None, description="stops")
    corner: float | None = Field(None, description="stops lost in the corners")


class Still(Told):
    """A still and the files of its mattes."""

    width: int
    height: int
    mattes: dict[str, str]
    faces: tuple[Face, ...] = ()
    regions: tuple[Lettering, ...] = ()
    leaves_out: str = Field("", description="what is there too, and is not told")


class Truth(Told):
    """All of it."""

    version: int
    stills: dict[str, Still]
    clips: dict[str, Clip]


def truth() -> Truth:
    """Return what is true of all stills and clips."""
    return Truth.model_validate_json((TRUTH / "truth.json").read_text())


def schema() -> str:
    """Return the JSON schema (draft 2020-12) of the file."""
    return json.dumps(Truth.model_json_schema(), indent=1) + "\n"


if __name__ == "__main__":
    (TRUTH / "schema.json").write_text(schema())
