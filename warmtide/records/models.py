"""The tables."""

import uuid
from datetime import UTC, datetime
from enum import StrEnum
from typing import Any, TypedDict

from sqlalchemy import BigInteger, DateTime, Enum, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship


class TakeState(StrEnum):
    """Where a take stands."""

    QUEUED = "queued"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    STOPPED = "stopped"


class MarkValue(StrEnum):
    """What the artist thinks of a take."""

    KEEP = "keep"
    MAYBE = "maybe"
    DROP = "drop"


class SpanBody(TypedDict):
    """A span of a sweep as it is kept: a control and its values."""

    control: str
    values: list[float | int | str]


class FaceBody(TypedDict):
    """A face that was marked, as it is kept: see `model.face`."""

    x: float
    y: float
    width: float
    angle: float


def _kept_as(kind: type[StrEnum]) -> Enum:
    """A column of text that holds the values of an enumeration."""
    return Enum(kind, native_enum=False, length=10, values_callable=lambda members: [m.value for m in members])


def _now() -> datetime:
    return datetime.now(UTC)


class Base(DeclarativeBase):
    type_annotation_map = {  # noqa: RUF012
        dict[str, Any]: JSONB, list[Any]: JSONB, list[str]: JSONB, list[SpanBody]: JSONB, list[FaceBody]: JSONB,
        datetime: DateTime(timezone=True), TakeState: _kept_as(TakeState), MarkValue: _kept_as(MarkValue),
    }  # fmt: skip


class Study(Base):
    """One piece of work. One that is `archived` is put away; `found_by` are the words that it is found by (`records.words`)."""

    __tablename__ = "study"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    name: Mapped[str] = mapped_column(String(200))
    demo: Mapped[bool] = mapped_column(default=False)
    created: Mapped[datetime] = mapped_column(default=_now)
    touched: Mapped[datetime] = mapped_column(default=_now, index=True)
    deleted: Mapped[datetime | None]
    archived: Mapped[datetime | None]
    found_by: Mapped[str] = mapped_column(Text, default="")
    sources: Mapped[list["Source"]] = relationship(
        back_populates="study", order_by="Source.created", cascade="all, delete-orphan"
    )
    sweeps: Mapped[list["Sweep"]] = relationship(
        back_populates="study", order_by="Sweep.created", cascade="all, delete-orphan"
    )


class Source(Base):
    """An image to restyle, with its framing. `original` names the file's bytes as they came, `depth` those of a depth
    guide, `region` those of a grey picture of where takes may change it; `faces` are those that the artist marked, None to look
    for them; `subject` names a grey picture of what they painted into the subject and out of it; `people` says that there are some, `parents` are the takes and sources that it was made from, `stack_id` the layers that it was
    composed of; `made` says how it was made of them (weights of a mix)."""

    __tablename__ = "source"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    study_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(300))
    original: Mapped[str] = mapped_column(String(64))
    format: Mapped[str] = mapped_column(String(10))
    width: Mapped[int]
    height: Mapped[int]
    has_alpha: Mapped[bool]
    notes: Mapped[list[str]]
    framing: Mapped[dict[str, Any]]
    kind: Mapped[str] = mapped_column(String(10), default="photo")
    people: Mapped[bool] = mapped_column(default=False)
    depth: Mapped[str | None] = mapped_column(String(64))
    region: Mapped[str | None] = mapped_column(String(64))
    subject: Mapped[str | None] = mapped_column(String(64))
    faces: Mapped[list[FaceBody] | None] = mapped_column(JSONB(none_as_null=True))
    parents: Mapped[list[str]] = mapped_column(default=list)
    stack_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("stack.id", ondelete="SET NULL"))
    made: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    created: Mapped[datetime] = mapped_column(default=_now)
    study: Mapped[Study] = relationship(back_populates="sources")


class StackRow(Base):
    """A touched picture. `number` is the version that is seen; `revision` counts
    changes, so that two windows never overwrite one another; `parents` are what it was opened from."""

    __tablename__ = "stack"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    study_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(300))
    parents: Mapped[list[str]] = mapped_column(default=list)
    number: Mapped[int] = mapped_column(default=0)
    revision: Mapped[int] = mapped_column(default=0)
    created: Mapped[datetime] = mapped_column(default=_now)


class StackVersion(Base):
    """What a touched picture was at one time: see `core.model.stack`."""

    __tablename__ = "stack_version"

    stack_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("stack.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    body: Mapped[dict[str, Any]]
    files: Mapped[list[str]]
    created: Mapped[datetime] = mapped_column(default=_now)


class LearnedLook(Base):
    """A look learned from reference pictures; `file` names its bytes, `name` is what recipes call it."""

    __tablename__ = "learned_look"

    name: Mapped[str] = mapped_column(String(20), primary_key=True)
    title: Mapped[str] = mapped_column(String(80))
    file: Mapped[str] = mapped_column(String(64))
    references: Mapped[int]
    colours: Mapped[list[Any]]
    created: Mapped[datetime] = mapped_column(default=_now)


class PhraseSet(Base):
    """A prompt and an avoid list that the artist keeps under a name."""

    __tablename__ = "phrase_set"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    name: Mapped[str] = mapped_column(String(80))
    prompt: Mapped[str] = mapped_column(String(2000))
    avoid: Mapped[str] = mapped_column(String(2000))
    created: Mapped[datetime] = mapped_column(default=_now)


class RecipeRow(Base):
    """A recipe; `digest` is the hash of its canonical JSON, so equal recipes are one row."""

    __tablename__ = "recipe"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    digest: Mapped[str] = mapped_column(String(64), unique=True)
    body: Mapped[dict[str, Any]]


class Sweep(Base):
    """A base recipe with spans, planned at one moment. `paused` keeps what is left of it from starting, a `stopped`
    one wants nothing any more, `deleted` ones are gone from the study until taken back; `rank` is its place in the
    line-up."""

    __tablename__ = "sweep"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    study_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    source_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("source.id", ondelete="CASCADE"), index=True)
    recipe_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("recipe.id"))
    spans: Mapped[list[SpanBody]]
    paused: Mapped[bool] = mapped_column(default=False)
    stopped: Mapped[bool] = mapped_column(default=False)
    rank: Mapped[int] = mapped_column(default=0)
    deleted: Mapped[datetime | None]
    created: Mapped[datetime] = mapped_column(default=_now)
    study: Mapped[Study] = relationship(back_populates="sweeps")
    source: Mapped[Source] = relationship()
    recipe: Mapped[RecipeRow] = relationship()
    cells: Mapped[list["Cell"]] = relationship(
        back_populates="sweep", order_by="Cell.position", cascade="all, delete-orphan"
    )


class Take(Base):
    """One output. `key` hashes source pixels, recipe and engine version: a take is rendered once. `framing`, `region`
    and `faces` are the source's when the take was planned; `deaths` counts the workers that it
    cost, `losses` how often its job was lost without its doing."""

    __tablename__ = "take"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    key: Mapped[str] = mapped_column(String(64), unique=True)
    source_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("source.id", ondelete="SET NULL"), index=True)
    recipe_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("recipe.id"))
    state: Mapped[TakeState] = mapped_column(default=TakeState.QUEUED)
    engine: Mapped[str] = mapped_column(String(90))
    width: Mapped[int]
    height: Mapped[int]
    step: Mapped[int] = mapped_column(default=0)
    steps: Mapped[int] = mapped_column(default=0)
    image: Mapped[str | None] = mapped_column(String(64))
    preview: Mapped[str | None] = mapped_column(String(64))
    thumb: Mapped[str | None] = mapped_column(String(64))
    bytes: Mapped[int] = mapped_column(default=0)
    seconds: Mapped[float | None]
    expected: Mapped[float] = mapped_column(default=0.0)
    framing: Mapped[dict[str, Any] | None]
    region: Mapped[str | None] = mapped_column(String(64))
    subject: Mapped[str | None] = mapped_column(String(64))
    faces: Mapped[list[FaceBody] | None] = mapped_column(JSONB(none_as_null=True))
    readings: Mapped[dict[str, Any] | None]
    fault: Mapped[str | None]
    deaths: Mapped[int] = mapped_column(default=0)
    losses: Mapped[int] = mapped_column(default=0)
    job_id: Mapped[int | None] = mapped_column(BigInteger)
    created: Mapped[datetime] = mapped_column(default=_now)
    finished: Mapped[datetime | None] = mapped_column(index=True)
    recipe: Mapped[RecipeRow] = relationship()
    source: Mapped[Source | None] = relationship()

    __table_args__ = (Index("take_state", "state"),)


class Cell(Base):
    """A take's place in a sweep; one take may stand in several sweeps."""

    __tablename__ = "cell"

    sweep_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sweep.id", ondelete="CASCADE"), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True)
    take_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("take.id"), index=True)
    sweep: Mapped[Sweep] = relationship(back_populates="cells")
    take: Mapped[Take] = relationship()


class Mark(Base):
    """The artist's judgement of a take in a study."""

    __tablename__ = "mark"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    study_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    take_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("take.id", ondelete="CASCADE"))
    value: Mapped[MarkValue | None]
    note: Mapped[str] = mapped_column(String(2000), default="")
    changed: Mapped[datetime] = mapped_column(default=_now)

    __table_args__ = (UniqueConstraint("study_id", "take_id", name="mark_once"),)


class Wall(Base):
    """How what was kept hangs: in one study, or without one in all of them together; `body` as in `core.model.wall`."""

    __tablename__ = "wall"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    study_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"))
    body: Mapped[dict[str, Any]]
    changed: Mapped[datetime] = mapped_column(default=_now)

    __table_args__ = (UniqueConstraint("study_id", name="wall_once", postgresql_nulls_not_distinct=True),)


class WorkerRow(Base):
    """A process that renders takes: where it is, what its engine is known by, the queues that it works for, the take that it has just now,
    how many it has done and could not do, and the seconds that those took. One that was not `seen` for a while is gone."""

    __tablename__ = "worker"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    host: Mapped[str] = mapped_column(String(200))
    pid: Mapped[int]
    engine: Mapped[str] = mapped_column(String(90))
    does: Mapped[str] = mapped_column(String(90))
    take_id: Mapped[uuid.UUID | None]
    done: Mapped[int] = mapped_column(default=0)
    failed: Mapped[int] = mapped_column(default=0)
    seconds: Mapped[float] = mapped_column(default=0.0)
    began: Mapped[datetime] = mapped_column(default=_now)
    seen: Mapped[datetime] = mapped_column(default=_now)


class Enlargement(Base):
    """A take, or a source, made larger: `way` as in `core.finish.enlarge`, `done` of a hundred. `key` hashes what it is made from, the way
    and the size, so that each is made once; `figures` say what it kept of what it came from."""

    __tablename__ = "enlargement"

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    study_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    take_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("take.id", ondelete="CASCADE"))
    source_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("source.id", ondelete="CASCADE"))
    key: Mapped[str] = mapped_column(String(64), index=True)
    way: Mapped[str] = mapped_column(String(20))
    width: Mapped[int]
    height: Mapped[int]
    state: Mapped[TakeState] = mapped_column(default=TakeState.QUEUED)
    done: Mapped[int] = mapped_column(default=0)
    image: Mapped[str | None] = mapped_column(String(64))
    preview: Mapped[str | None] = mapped_column(String(64))
    bytes: Mapped[int] = mapped_column(default=0)
    seconds: Mapped[float | None]
    expected: Mapped[float] = mapped_column(default=0.0)
    figures: Mapped[dict[str, Any] | None]
    fault: Mapped[str | None]
    deaths: Mapped[int] = mapped_column(default=0)
    job_id: Mapped[int | None] = mapped_column(BigInteger)
    created: Mapped[datetime] = mapped_column(default=_now)

    __table_args__ = (UniqueConstraint("study_id", "key", name="enlargement_once"),)
