"""What goes over the wire of the program itself: what it offers, its line-up, its disk, how it is."""

from datetime import datetime
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

from ..core.model.recipe import Recipe
from ..core.model.sweep import Span
from ..core.model.text import Line
from ..core.understanding.kind import Kind


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


class ReadingView(BaseModel):
    """A reading that takes are judged by, 0 to 100."""

    name: str
    title: str
    says: str


class ExportView(BaseModel):
    """A form in which a sweep can be saved."""

    name: str
    title: str
    says: str


class EngineLookView(BaseModel):
    """A look of an engine."""

    name: str
    title: str
    description: str


class EngineControlView(BaseModel):
    """An amount that an engine hears, and from where to where."""

    name: str
    low: float
    high: float


class EngineView(BaseModel):
    """An engine, and what of a recipe it hears: `controls` are amounts with their ranges; what is not named here it lacks.
    `built_in` is the program's own; `answers` says whether another one did when it was last asked."""

    name: str
    title: str
    version: str
    built_in: bool
    answers: bool
    repeatable: bool
    sizes: list[int]
    looks: list[EngineLookView]
    samplers: list[SamplerView]
    controls: list[EngineControlView]
    holds: list[str]
    words: bool
    regions: bool
    at_once: int


class Choices(BaseModel):
    """What the controls can be set to, what takes are read for, what can be taken away."""

    looks: list[LookView]
    samplers: list[SamplerView]
    readings: list[ReadingView]
    exports: list[ExportView]
    kinds: list[Kind]
    takes_limit: int
    file_limit: int
    engines: list[EngineView]
    defaults: Recipe


class WorkerView(BaseModel):
    """A process that renders: where it is, the built-in engine's version that it has, what it does; `here` says whether it was
    heard of just now; `pace` is the seconds that its takes took in the mean."""

    host: str
    pid: int
    engine: str
    does: str
    here: bool
    busy: bool
    done: int
    failed: int
    pace: float | None
    since: datetime
    silent: float


class FaultView(BaseModel):
    """A sentence that takes have failed with, and how many."""

    sentence: str
    takes: int


class MachinesView(BaseModel):
    """An installation at work. `engine` is the version that new takes are planned for; `waiting` counts takes by the engine they wait
    for, `done` those of the last hour and `pace` their seconds in the mean."""

    engine: str
    workers: list[WorkerView]
    engines: list[EngineView]
    waiting: dict[str, int]
    running: int
    done: int
    pace: float
    faults: list[FaultView]
    store: str


class QueuedSweep(BaseModel):
    """A sweep that waits or runs. `seconds` until its takes are done once it is its turn; `ready_in` counts what
    stands before it, and is null while it is paused."""

    id: UUID
    study_id: UUID
    study: str
    source: str
    recipe: Recipe
    spans: list[Span]
    paused: bool
    total: int
    done: int
    failed: int
    seconds: float
    ready_in: float | None


class QueueChange(BaseModel):
    """What is given is changed: the order of sweeps, those to pause, those to go on with."""

    model_config = ConfigDict(extra="forbid")

    order: list[UUID] | None = None
    paused: list[UUID] | None = None
    resumed: list[UUID] | None = None


class StudyDisk(BaseModel):
    """Bytes of one study's files."""

    study_id: UUID
    bytes: int


class DiskView(BaseModel):
    """Room on the disk that holds the pictures, null where they are elsewhere, and what studies take of it; what two
    studies share counts for both."""

    total: int | None
    free: int | None
    pictures: int
    studies: list[StudyDisk]


class Health(BaseModel):
    version: str
    engine: str
    workers: int
    queued: int


class PhraseSetChange(BaseModel):
    """A prompt and an avoid list under a name."""

    model_config = ConfigDict(extra="forbid")

    name: Line = Field(min_length=1, max_length=80)
    prompt: Line = Field("", max_length=2000)
    avoid: Line = Field("", max_length=2000)


class PhraseSetView(BaseModel):
    id: UUID
    name: str
    prompt: str
    avoid: str
