"""How what was kept hangs on a wall, as data."""

from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

from .text import Line

# A size is a share of what is usual.
LEAST_SIZE, MOST_SIZE = 0.4, 3.0
_MOST = 2000
Caption = Annotated[Line, Field(max_length=200)]
Size = Annotated[float, Field(ge=LEAST_SIZE, le=MOST_SIZE)]


class WallBody(BaseModel):
    """How it hangs: `order` by hand (`takes`, then the others), by date, or by a reading's name; sizes and captions by take."""

    model_config = ConfigDict(extra="forbid")

    title: Line = Field("", max_length=200)
    order: str = Field("hand", max_length=40)
    takes: list[UUID] = Field(default_factory=list, max_length=_MOST)
    sizes: dict[UUID, Size] = Field(default_factory=dict, max_length=_MOST)
    captions: dict[UUID, Caption] = Field(default_factory=dict, max_length=_MOST)

    def named(self, names: dict[UUID, UUID]) -> "WallBody":
        """The same with other numbers for takes; those that have none are left out."""
        return WallBody(
            title=self.title, order=self.order, takes=[names[take] for take in self.takes if take in names],
            sizes={names[take]: size for take, size in self.sizes.items() if take in names},
            captions={names[take]: caption for take, caption in self.captions.items() if take in names},
        )  # fmt: skip
