"""What goes over the wire. The browser's types are made from these (see docs/http.md)."""

from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

from ..core.framing import Framing
from ..core.recipe import Recipe
from ..core.sweep import Span

TakeState = Literal["queued", "running", "done", "failed", "stopped"]
MarkValue = Literal["keep", "maybe", "drop"]


class Problem(BaseModel):
    """One sentence: what is wrong and what would be right."""

    message: str


class LookView(BaseModel):
    name: str
    title: str
    category: str
    kinds: list[str]
    description: str
    strengths: list[float]


class SamplerView(BaseModel):
    name: str
    title: str


class Choices(BaseModel):
    """What the controls can be set to."""

    looks: list[LookView]
    samplers: list[SamplerView]
    takes_limit: int
    file_limit: int
    defaults: Recipe


class Region(BaseModel):
    """A box in shares of the picture."""

    left: float
    top: float
    right: float
    bottom: float
    kept: float


class Readings(BaseModel):
    composition: float
    colour: float
    look: float | None
    parts: dict[str, float]
    worst: Region | None = None
    warnings: list[str]
    version: int


class TakeView(BaseModel):
    id: UUID
    key: str
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


class SweepView(BaseModel):
    id: UUID
    source_id: UUID
    recipe: Recipe
    spans: list[Span]
    created: datetime
    takes: list[TakeView]


class MarkView(BaseModel):
    take_id: UUID
    value: MarkValue | None
    note: str


class MarkChange(BaseModel):
    model_config = ConfigDict(extra="forbid")

    value: MarkValue | None = None
    note: str = Field("", max_length=2000)


class StudyCard(BaseModel):
    """A study on the shelf: its source and its best take."""

    id: UUID
    name: str
    demo: bool
    touched: datetime
    source: SourceView | None
    best_take: UUID | None
    takes: int
    kept: int


class StudyView(BaseModel):
    id: UUID
    name: str
    demo: bool
    sources: list[SourceView]
    sweeps: list[SweepView]
    marks: list[MarkView]


class StudyChange(BaseModel):
    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=200)


class SourceChange(BaseModel):
    model_config = ConfigDict(extra="forbid")

    framing: Framing


class SweepRequest(BaseModel):
    """A base recipe and the controls that are stretched; recipe fields are checked by the core."""

    model_config = ConfigDict(extra="forbid")

    source_id: UUID
    recipe: dict[str, Any]
    spans: list[Span] = []


class PhraseView(BaseModel):
    """One phrase of a prompt as it was understood."""

    text: str
    weight: float
    concepts: list[str]
    unknown: list[str]
    corrected: list[list[str]]


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


class Health(BaseModel):
    version: str
    engine: str
    workers: int
    queued: int
