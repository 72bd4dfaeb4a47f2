"""What goes over the wire of the Hand: touched pictures, their layers, what is done to them."""

from typing import Annotated, Literal, Self
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..core.model.stack import LARGEST_STACK, Colour, Digest, Stack


class StackView(BaseModel):
    """A touched picture. Whoever changes it says which `revision` they saw; `before` and `after` say how many versions there are to go back and forth to."""

    id: UUID
    study_id: UUID
    name: str
    revision: int
    before: int
    after: int
    stack: Stack


class StackCard(BaseModel):
    """A touched picture of a study, to be opened again."""

    id: UUID
    name: str
    revision: int
    layers: int
    width: int
    height: int


class StackOpen(BaseModel):
    """What the Hand is opened on: a source, a take, or an empty ground."""

    model_config = ConfigDict(extra="forbid")

    source: UUID | None = None
    take: UUID | None = None
    width: int | None = Field(None, ge=64, le=LARGEST_STACK)
    height: int | None = Field(None, ge=64, le=LARGEST_STACK)
    colour: Colour = "#f4f1ea"

    @model_validator(mode="after")
    def _one(self) -> Self:
        empty = self.width is not None and self.height is not None
        if sum((self.source is not None, self.take is not None, empty)) != 1:
            raise ValueError(
                "the Hand is opened on a source, on a take, or on an empty ground with a width and a height"
            )
        return self


class StackChange(BaseModel):
    """What a touched picture is from now on."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    stack: Stack


class StackStep(BaseModel):
    """One version back or forth."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    by: Literal[-1, 1]


class LayerPicture(BaseModel):
    """A picture that layers may name."""

    picture: Digest
    width: int
    height: int


class Patch(LayerPicture):
    """A picture that was made for a place of the stack: its left and top."""

    left: int
    top: int


class CutAsked(BaseModel):
    """What is cut out of a layer's own picture: what it is about, a person, or what a line (shares of its width and height) runs round."""

    model_config = ConfigDict(extra="forbid")

    picture: Digest
    what: Literal["subject", "person", "flat"] = "subject"
    line: list[Annotated[list[float], Field(min_length=2, max_length=2)]] | None = Field(None, max_length=2000)


class CutView(LayerPicture):
    """A cut-out: the picture with colours freed of its old ground, and how sure it is."""

    kind: str
    trust: float


class TakeIn(BaseModel):
    """A take that comes back as a layer, through the region that it was made in."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    take: UUID
