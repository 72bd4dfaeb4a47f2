"""A touched picture: layers over one another, as data; docs/formats.md describes it."""

from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from .errors import BadInput
from .text import Line

# Long side of a stack, of one layer, and how many layers one has at most.
LARGEST_STACK, LARGEST_LAYER, MOST_LAYERS = 2048, 8192, 120
# A layer may be pushed out of the picture, but not to where nobody finds it.
_FARTHEST = 4 * LARGEST_LAYER

Digest = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]


class Place(BaseModel):
    """Where a layer lies: the middle of it, its size before it is turned, in pixels of the stack."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    x: float = Field(ge=-_FARTHEST, le=_FARTHEST)
    y: float = Field(ge=-_FARTHEST, le=_FARTHEST)
    width: float = Field(gt=0, le=LARGEST_LAYER)
    height: float = Field(gt=0, le=LARGEST_LAYER)
    turn: float = Field(0.0, ge=-360, le=360, description="degrees, clockwise, after it is flipped")
    across: bool = Field(False, description="left and right exchanged")
    down: bool = Field(False, description="top and bottom exchanged")


class Ground(BaseModel):
    """One colour, or a run from one to another from the top of the layer to its lower edge."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    top: Colour
    bottom: Colour


class Layer(BaseModel):
    """One layer: a picture or a ground, in its place, through a soft mask of the picture's own size."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: str = Field(pattern=r"^[A-Za-z0-9_-]{1,40}$")
    name: Line = Field(min_length=1, max_length=120)
    picture: Digest | None = None
    ground: Ground | None = None
    mask: Digest | None = None
    place: Place
    opacity: float = Field(1.0, ge=0, le=1)
    shown: bool = True
    locked: bool = False
    origin: Line = Field("", max_length=120, description="what it was made from: take, source, library, file")

    @model_validator(mode="after")
    def _one_thing(self) -> Self:
        if (self.picture is None) == (self.ground is None):
            raise ValueError("a layer is either a picture or a ground")
        if self.ground is not None and self.mask is not None:
            raise ValueError("a ground has no mask; erase in a painted layer above it")
        return self


class Stack(BaseModel):
    """Layers from the lowest to the highest."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    width: int = Field(ge=16, le=LARGEST_STACK)
    height: int = Field(ge=16, le=LARGEST_STACK)
    layers: tuple[Layer, ...] = Field((), max_length=MOST_LAYERS)

    @model_validator(mode="after")
    def _own_names(self) -> Self:
        if len({layer.id for layer in self.layers}) < len(self.layers):
            raise ValueError("two layers have one id; give each its own")
        return self

    @property
    def pictures(self) -> set[str]:
        """Every file that the stack needs."""
        return {name for layer in self.layers for name in (layer.picture, layer.mask) if name is not None}


_RIGHT = {
    "layers": f"A picture has at most {MOST_LAYERS} layers; lay some together first",
    "width": f"A layer is at most {LARGEST_LAYER} pixels wide, a picture of the Hand {LARGEST_STACK}",
    "height": f"A layer is at most {LARGEST_LAYER} pixels high, a picture of the Hand {LARGEST_STACK}",
    "opacity": "Opacity goes from 0 (not seen) to 1 (solid)",
    "turn": "A layer is turned by -360 to 360 degrees",
    "top": "A ground's colour is written as #rrggbb",
    "bottom": "A ground's colour is written as #rrggbb",
}


def stack_from(values: Any) -> Stack:
    """A stack from JSON values.

    Raises
    ------
    BadInput : one sentence on the first thing that is wrong.
    """
    try:
        return Stack.model_validate(values)
    except ValidationError as error:
        first = error.errors()[0]
        name = str(first["loc"][-1]) if first["loc"] else ""
        message = str(first["msg"]).removeprefix("Value error, ")
        raise BadInput(f"{_RIGHT.get(name, message[:1].upper() + message[1:])}.") from None
