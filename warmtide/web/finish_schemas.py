"""What goes over the wire of finishing: pictures made larger, traced, taken away."""

from typing import Annotated, Literal, Self
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..core.export.files.kind import Wish
from ..core.export.names import DEFAULT
from ..core.export.pages import SheetWish
from ..core.finish.enlarge.size import MOST_FACTOR, MOST_SIDE
from ..core.finish.trace.areas import MOST_COLOURS
from .schemas import TakeState

MOST_PICTURES = 200
Hue = Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")]


class WayView(BaseModel):
    """A way of making a picture larger; `again` ones need a take."""

    name: str
    title: str
    says: str
    again: bool


class FormatView(BaseModel):
    """A format of picture files, and what it can hold."""

    name: str
    title: str
    says: str
    suffix: str
    alpha: bool
    deep: bool
    lossy: bool
    dpi: bool
    sized: bool


class FinishChoices(BaseModel):
    """What a picture can become."""

    ways: list[WayView]
    formats: list[FormatView]
    fields: dict[str, str]
    pattern: str
    most_side: int
    most_factor: float
    most_pictures: int
    sheet: SheetWish


class Enlarged(BaseModel):
    """What a larger picture kept of the smaller, and what it added, 0..100; `off`: percent of its pixels in another tone."""

    kept: float
    added: float
    off: float


class EnlargementView(BaseModel):
    """A picture made larger; `done` of a hundred, `expected` seconds of one core."""

    id: UUID
    study_id: UUID
    take_id: UUID | None
    source_id: UUID | None
    way: str
    width: int
    height: int
    state: TakeState
    done: int
    bytes: int
    seconds: float | None
    expected: float
    figures: Enlarged | None
    fault: str | None


class EnlargeAsked(BaseModel):
    """Pictures to be made larger in some ways: to a factor, or to pixels on the long side."""

    model_config = ConfigDict(extra="forbid")

    takes: Annotated[list[UUID], Field(max_length=MOST_PICTURES)] = []
    sources: Annotated[list[UUID], Field(max_length=MOST_PICTURES)] = []
    ways: Annotated[list[str], Field(min_length=1, max_length=9)]
    factor: float | None = Field(None, ge=1, le=MOST_FACTOR)
    side: int | None = Field(None, ge=1, le=MOST_SIDE)

    @model_validator(mode="after")
    def _sized(self) -> Self:
        if (self.factor is None) == (self.side is None):
            raise ValueError("give a factor or a long side, one of them")
        if not self.takes and not self.sources:
            raise ValueError("name at least one take or source")
        return self


class Of(BaseModel):
    """One picture: a take, a source as it is framed, or one made larger."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    kind: Literal["take", "source", "enlargement"]
    id: UUID


class TraceAsked(BaseModel):
    model_config = ConfigDict(extra="forbid")

    of: Of
    how: Literal["areas", "lines", "outlines"] | None = None
    colours: int | None = Field(None, ge=2, le=MOST_COLOURS)


class TraceGroup(BaseModel):
    """A group of the SVG: its name, its colour, how many shapes."""

    name: str
    colour: str
    shapes: int


class TraceView(BaseModel):
    """A traced picture: its SVG, and what it is made of."""

    svg: str
    how: str
    width: int
    height: int
    nodes: int
    bytes: int
    groups: list[TraceGroup]


class ExportAsked(BaseModel):
    """Pictures to be taken away."""

    model_config = ConfigDict(extra="forbid")

    of: Annotated[list[Of], Field(min_length=1, max_length=MOST_PICTURES)]
    format: str = "png"
    wish: Wish = Wish()
    pattern: str = DEFAULT


class SheetAsked(BaseModel):
    """Pictures on a contact sheet."""

    model_config = ConfigDict(extra="forbid")

    of: Annotated[list[Of], Field(min_length=1, max_length=MOST_PICTURES)]
    form: Literal["pdf", "png"] = "pdf"
    wish: SheetWish = SheetWish()


class ExportPreview(BaseModel):
    """What would come: the first names, pixels and bytes of the first picture, and about how much all are."""

    names: list[str]
    width: int
    height: int
    bytes: int
    total: int
    count: int
