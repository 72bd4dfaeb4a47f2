"""What goes over the wire. The browser's types are made from these (see docs/http.md)."""

from datetime import datetime
from typing import Annotated, Any, Literal, Self
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..core.model.recipe import Recipe
from ..core.model.sweep import TAKES_LIMIT, Span
from ..core.model.text import Line, Prose
from ..core.pictures.framing import Framing
from ..core.understanding.kind import Kind

TakeState = Literal["queued", "running", "done", "failed", "stopped"]
MarkValue = Literal["keep", "maybe", "drop"]


class Problem(BaseModel):
    """One sentence: what is wrong and what would be right."""

    message: str


class Region(BaseModel):
    """A box in shares of the picture."""

    left: float
    top: float
    right: float
    bottom: float
    kept: float


class Readings(BaseModel):
    """Readings of a take: `figures` by the names that `/api/choices` lists, null where one can't be told."""

    figures: dict[str, float | None]
    parts: dict[str, float]
    worst: Region | None = None
    warnings: list[str]
    version: int


class TakeView(BaseModel):
    id: UUID
    key: str
    source_id: UUID | None
    thumb: str | None
    state: TakeState
    step: int
    steps: int
    width: int
    height: int
    seconds: float | None
    expected: float
    bytes: int
    readings: Readings | None
    fault: str | None
    engine: str
    recipe: Recipe
    created: datetime


class SourceView(BaseModel):
    id: UUID
    name: str
    format: str
    width: int
    height: int
    has_alpha: bool
    notes: list[str]
    framing: Framing
    frame_key: str
    framed_width: int
    framed_height: int
    kind: Kind
    people: bool
    has_depth: bool
    region_key: str | None
    faces_key: str | None
    subject_key: str | None
    parents: list[str]
    stack_id: UUID | None
    begin: Recipe
    hold_ranges: dict[str, list[float]]


class SweepView(BaseModel):
    id: UUID
    source_id: UUID
    recipe: Recipe
    spans: list[Span]
    created: datetime
    paused: bool
    takes: list[TakeView]


class MarkView(BaseModel):
    take_id: UUID
    value: MarkValue | None
    note: str


class MarkChange(BaseModel):
    model_config = ConfigDict(extra="forbid")

    value: MarkValue | None = None
    note: Prose = Field("", max_length=2000)


class StudyCard(BaseModel):
    """A study on the shelf: its source and its best take."""

    id: UUID
    name: str
    demo: bool
    touched: datetime
    archived: bool
    source: SourceView | None
    best_take: UUID | None
    takes: int
    kept: int


class ShelfView(BaseModel):
    """A page of studies, and how many were found in all."""

    cards: list[StudyCard]
    total: int


class StudyView(BaseModel):
    id: UUID
    name: str
    demo: bool
    sources: list[SourceView]
    sweeps: list[SweepView]
    marks: list[MarkView]


class StudyChange(BaseModel):
    model_config = ConfigDict(extra="forbid")

    name: Line = Field(min_length=1, max_length=200)


class StudyPatch(BaseModel):
    """What is given is changed."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[Line, Field(min_length=1, max_length=200)] | None = None
    archived: bool | None = None


class FaceMark(BaseModel):
    """A face on a source as it came: middle and width in shares of its long side, `angle` degrees leaning right."""

    model_config = ConfigDict(extra="forbid")

    x: float = Field(ge=-0.2, le=1.2)
    y: float = Field(ge=-0.2, le=1.2)
    width: float = Field(ge=0.01, le=1)
    angle: float = Field(0.0, ge=-180, le=180)


class FoundFace(BaseModel):
    """A face as takes are made with it; where its points were found, the outlines of oval, eyes, brows, nose and lips in shares
    of the source's long side, and where it looks: degrees to the right of the picture and up."""

    x: float
    y: float
    width: float
    angle: float
    outlines: list[list[list[float]]] = []
    yaw: float | None = None
    pitch: float | None = None


class FacesView(BaseModel):
    """Faces of a source, and whether the artist marked them."""

    marked: bool
    faces: list[FoundFace]


class FacesChange(BaseModel):
    """Faces marked by the artist, none if empty; null lets them be found."""

    model_config = ConfigDict(extra="forbid")

    faces: list[FaceMark] | None = Field(max_length=24)


class CarryOn(BaseModel):
    """One take that becomes a source, or two or three pictures that are mixed into one: sources, then takes, and
    weights in that order."""

    model_config = ConfigDict(extra="forbid")

    takes: list[UUID] = Field(default_factory=list, max_length=3)
    sources: list[UUID] = Field(default_factory=list, max_length=3)
    weights: list[Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]] | None = None

    @model_validator(mode="after")
    def _some(self) -> Self:
        count = len(self.takes) + len(self.sources)
        if not 1 <= count <= 3:
            raise ValueError(f"a new source is made of one to three pictures, not {count}")
        if self.weights is not None and len(self.weights) != count:
            raise ValueError(f"there are {count} pictures and {len(self.weights)} weights; give one weight a picture")
        return self


class SourceChange(BaseModel):
    """What is given is changed."""

    model_config = ConfigDict(extra="forbid")

    framing: Framing | None = None
    kind: Kind | None = None


class TipView(BaseModel):
    """Where a row gives way. `outcome` is "tip", "even" (it gives way evenly) or "none" (it holds)."""

    outcome: Literal["tip", "even", "none"]
    strength: float | None
    low: float | None
    high: float | None
    plateau: float
    fall: float


class PlaceTipView(BaseModel):
    """The place that gives way first, and where."""

    tip: TipView
    region: Region


class PartTipView(BaseModel):
    """Where what a reading tells of gives way, such as "the face"."""

    goes: str
    tip: TipView


class RowTipView(BaseModel):
    """The tip of one row: its controls but strength and seed, how many strengths it is told from, and the tips of its parts."""

    values: dict[str, float | int | str]
    strengths: int
    tip: TipView | None
    place: PlaceTipView | None
    parts: list[PartTipView] = []


class SweepRequest(BaseModel):
    """A base recipe and the controls that are stretched; recipe fields are checked by the core."""

    model_config = ConfigDict(extra="forbid")

    source_id: UUID
    recipe: dict[str, Any]
    spans: list[Span] = []


class FinishRequest(BaseModel):
    """Drafts to be made in full."""

    model_config = ConfigDict(extra="forbid")

    takes: list[UUID] = Field(min_length=1, max_length=TAKES_LIMIT)


class PhraseView(BaseModel):
    """One phrase of a prompt as it was understood. `place`: where it acts, in words; `found`: whether the picture
    has that place; `scene`: what it asks of the scene that the prompt names, or of a part; `look`: what it does to the
    look, where it names one; `unheard`: why the look that it names has no effect."""

    text: str
    weight: float
    concepts: list[str]
    unknown: list[str]
    corrected: list[list[str]]
    suggestions: list[str]
    place: str | None = None
    found: bool = True
    scene: list[str] = []
    look: str | None = None
    unheard: str | None = None


class SceneView(BaseModel):
    """The scene that a prompt names. `way`: "behind" where the source is flat art or a cut-out and stands before it,
    "around" where the look draws it around a building, "over" where it takes over from strength `begins` and is whole
    from `whole` on, "none" where there are only conflicts. `conflicts`: what cannot be together, sentences.
    `box`: left, top, right, bottom of the cut-out, 0..1; null where nothing stands before the scene."""

    title: str
    way: Literal["behind", "around", "over", "none"]
    box: list[float] | None
    begins: float
    whole: float
    conflicts: list[str]


class PlanView(BaseModel):
    """What a sweep would do."""

    takes: int
    existing: int
    seconds: float
    bytes: int
    width: int
    height: int
    words: list[PhraseView]
    avoided: list[PhraseView]
    versions: list[list[PhraseView]]
    scene: SceneView | None = None
    lacks: list[str] = []


class PartView(BaseModel):
    """One colour of a picture and the share that it covers; `now` is what the framing makes of it."""

    colour: str
    now: str
    share: float


class SaidView(BaseModel):
    """One phrase of a description: how sure it is, and whether it would steer a take."""

    text: str
    sign: str
    sure: float
    acts: bool
