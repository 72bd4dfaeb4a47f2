"""The protocol between Warm Tide and an engine, as both sides read it: paths, limits, what goes over the wire (docs/engine-protocol.md)."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from ..core.model.errors import BadInput

PROTOCOL = 1
# Names of the parts of a request to render.
RECIPE, SOURCE, FACES = "recipe", "source", "faces"
PLANES = ("region", "depth", "subject")
# The most bytes of an answer that is no picture, of one event, of all events of a render, and of a picture beside three a pixel.
JSON_BYTES, EVENT_BYTES, STREAM_BYTES, PICTURE_SPARE = 256_000, 400_000, 32_000_000, 65_536
# Seconds without a word on a stream of events (an empty comment is a word) before it counts as broken.
SILENCE = 15.0
# Seconds that a render may take on the whole.
LONGEST = 1800.0
# The longest sentence that is repeated of a failure.
SENTENCE = 300


def render_path(key: str, of: str = "") -> str:
    """Where a render is asked for (PUT), given up (DELETE), and read (`events`, `picture`)."""
    return f"/renders/{key}" + (f"/{of}" if of else "")


class _Event(BaseModel):
    model_config = ConfigDict(frozen=True, extra="ignore")


class Queued(_Event):
    """It waits; so many are before it."""

    event: Literal["queued"] = "queued"
    at: int = Field(0, ge=0, le=1_000_000)


class Step(_Event):
    """So many steps are done, of so many."""

    event: Literal["step"] = "step"
    done: int = Field(ge=0, le=100_000)
    of: int = Field(ge=1, le=100_000)


class Preview(_Event):
    """How it looks by now, a small PNG in base64."""

    event: Literal["preview"] = "preview"
    png: str = Field(max_length=EVENT_BYTES)


class Done(_Event):
    """It is there to be read; of so many pixels."""

    event: Literal["done"] = "done"
    width: int = Field(ge=1, le=16384)
    height: int = Field(ge=1, le=16384)


class Failed(_Event):
    """It can't be made; one sentence."""

    event: Literal["failed"] = "failed"
    error: str = Field(min_length=1, max_length=4000)


Event = Annotated[Queued | Step | Preview | Done | Failed, Field(discriminator="event")]
EVENTS: TypeAdapter[Event] = TypeAdapter(Event)
KINDS = ("queued", "step", "preview", "done", "failed")


def event_from(kind: str, data: str) -> Event | None:
    """An event as it came over the wire; None for a kind of a later version. Raises `BadInput` where it can't be read."""
    if kind not in KINDS:
        return None
    if len(data) > EVENT_BYTES:
        raise BadInput(f"sent an event of {len(data)} bytes; at most {EVENT_BYTES} are read")
    try:
        body = TypeAdapter(dict[str, object]).validate_json(data)
        return EVENTS.validate_python({**body, "event": kind})
    except ValidationError:
        raise BadInput(f"sent a {kind} event that can't be read") from None
