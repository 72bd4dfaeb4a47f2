"""What the file of a study says: `study.json`, checked field by field, since it may come from anywhere."""

import uuid
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ...core.model.stack import Digest, Stack
from ...core.model.text import Line, Prose
from ...core.model.wall import WallBody
from ...core.pictures.framing import Framing
from ...core.understanding.kind import Kind

FORMAT, VERSION = "warmtide-study", 1
# Where the files of each kind lie, and what they may be.
FOLDERS = {"original": "originals", "take": "takes", "small": "small", "guide": "guides", "layer": "layers", "larger": "larger", "look": "looks"}  # fmt: skip
FileKind = Literal["original", "take", "small", "guide", "layer", "larger", "look"]
# A study of more is not read.
MOST_TAKES, MOST_SWEEPS, MOST_SOURCES, MOST_FILES = 50_000, 5_000, 2_000, 200_000
_SIDE = Field(ge=1, le=20_000)


class _Part(BaseModel):
    model_config = ConfigDict(extra="ignore", frozen=True)


class FileBody(_Part):
    """One file: its name is the hash of its bytes."""

    digest: Digest
    kind: FileKind
    path: Annotated[str, Field(pattern=r"^[a-z]+/[0-9a-f]{64}\.[a-z0-9]{1,5}$")]
    bytes: int = Field(ge=0, le=1 << 30)


class FacePart(_Part):
    x: float = Field(ge=-0.2, le=1.2)
    y: float = Field(ge=-0.2, le=1.2)
    width: float = Field(ge=0.01, le=1)
    angle: float = Field(0.0, ge=-180, le=180)


class SourcePart(_Part):
    id: uuid.UUID
    name: Line = Field(max_length=300)
    original: Digest
    format: str = Field(max_length=10)
    width: int = _SIDE
    height: int = _SIDE
    has_alpha: bool
    notes: list[Annotated[str, Field(max_length=500)]] = Field(max_length=50)
    framing: Framing
    kind: Kind
    people: bool
    depth: Digest | None = None
    region: Digest | None = None
    subject: Digest | None = None
    faces: list[FacePart] | None = Field(None, max_length=24)
    parents: list[uuid.UUID] = Field(max_length=200)
    stack: uuid.UUID | None = None
    weights: list[Annotated[float, Field(ge=0, le=1000)]] | None = Field(None, max_length=3)
    created: datetime


class StackPart(_Part):
    """A touched picture as it is seen now; its earlier versions stay where it was made."""

    id: uuid.UUID
    name: Line = Field(max_length=300)
    parents: list[uuid.UUID] = Field(max_length=200)
    body: Stack
    created: datetime


class SpanPart(_Part):
    control: str = Field(max_length=40)
    values: list[float | int | Annotated[str, Field(max_length=2000)]] = Field(max_length=400)


class TakePart(_Part):
    """A take; one whose picture is not in the file has no `image`."""

    id: uuid.UUID
    source: uuid.UUID
    recipe: dict[str, Any]
    key: str = Field(pattern=r"^[0-9a-f]{64}$")
    engine: str = Field(max_length=20)
    width: int = _SIDE
    height: int = _SIDE
    image: Digest | None = None
    preview: Digest | None = None
    thumb: Digest | None = None
    seconds: float | None = Field(None, ge=0, le=1e7)
    framing: Framing | None = None
    region: Digest | None = None
    subject: Digest | None = None
    faces: list[FacePart] | None = Field(None, max_length=24)
    readings: dict[str, Any] | None = None
    created: datetime
    finished: datetime | None = None


class SweepPart(_Part):
    id: uuid.UUID
    source: uuid.UUID
    recipe: dict[str, Any]
    spans: list[SpanPart] = Field(max_length=3)
    takes: list[uuid.UUID] = Field(max_length=1000)
    created: datetime


class MarkPart(_Part):
    take: uuid.UUID
    value: Literal["keep", "maybe", "drop"] | None
    note: Prose = Field("", max_length=2000)


class LargerFigures(_Part):
    kept: float = Field(ge=0, le=100)
    added: float = Field(ge=0, le=100)
    off: float = Field(ge=0, le=100)


class LargerPart(_Part):
    id: uuid.UUID
    take: uuid.UUID | None = None
    source: uuid.UUID | None = None
    key: str = Field(pattern=r"^[0-9a-f]{64}$")
    way: str = Field(max_length=20)
    width: int = _SIDE
    height: int = _SIDE
    image: Digest
    preview: Digest | None = None
    figures: LargerFigures | None = None
    created: datetime


class StudyFile(_Part):
    """A whole study."""

    format: Literal["warmtide-study"]
    version: Literal[1]
    engine: str = Field(max_length=20)
    name: Line = Field(min_length=1, max_length=200)
    created: datetime
    sources: list[SourcePart] = Field(min_length=1, max_length=MOST_SOURCES)
    stacks: list[StackPart] = Field(max_length=MOST_SOURCES)
    sweeps: list[SweepPart] = Field(max_length=MOST_SWEEPS)
    takes: list[TakePart] = Field(max_length=MOST_TAKES)
    marks: list[MarkPart] = Field(max_length=MOST_TAKES)
    larger: list[LargerPart] = Field(max_length=MOST_TAKES)
    wall: WallBody | None = None
    files: list[FileBody] = Field(max_length=MOST_FILES)
