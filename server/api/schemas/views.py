"""How a draft is looked at."""

from typing import Annotated, Literal, TypeAlias

from ninja import Field, Schema

from calado.render.views import Density, Ground, Lattice, Thread, ViewName

#: a place or a length on a picture; beyond this no picture reaches
Length: TypeAlias = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]


class Viewed(Schema):
    """How a draft is to be looked at: ``scale`` in screen pixels a full-size pixel."""

    view: ViewName = "picture"
    scale: Length
    region: str | None = None
    ground: Ground = "grey"
    thread: Thread = "auto"
    density: Density = "even"
    lattice_inside: bool = False
    exaggerate: str | None = None

    @property
    def lattice(self) -> Lattice:
        """How the lattice is drawn."""
        return Lattice(self.thread, self.density, self.lattice_inside)


class PreviewIn(Viewed):
    """A view of a draft: ``rectangle`` (left, top, width, height) in full-size pixels."""

    rectangle: tuple[Length, Length, Length, Length]
    draft: bool = False
    coarse: bool = Field(False, description="whether coarse mattes will do, so that nothing is solved for it")
    format: Literal["jpeg", "png"] = "jpeg"
