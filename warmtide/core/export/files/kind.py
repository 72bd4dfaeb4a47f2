"""What a format of a picture file is, and what it is given."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ...finish.enlarge.size import MOST_SIDE
from ...maths.arrays import AnyArray, Byte

DPI = (36, 2400)
SIDE = (16, MOST_SIDE)


class Wish(BaseModel):
    """How pictures are written; what a format has no place for is left out."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    size: int | None = Field(None, ge=SIDE[0], le=SIDE[1], description="long side in pixels; null: as it is")
    dpi: int = Field(300, ge=DPI[0], le=DPI[1], description="pixels an inch, written into the file")
    depth: Literal[8, 16] = Field(8, description="bits a channel")
    quality: int = Field(90, ge=1, le=100, description="of JPEG, WebP and AVIF")
    profile: bool = Field(True, description="embed the profile of sRGB")
    ground: str | None = Field(
        None,
        pattern="^#[0-9a-fA-F]{6}$",
        description="colour behind transparency; null: kept clear where the format can",
    )
    recipe: bool = Field(True, description="the recipe inside the file")


@dataclass(frozen=True)
class Page:
    """One picture to be written.

    Attributes
    ----------
    picture : (h, w, 3) or (h, w, 4) sRGB, uint8, or uint16 where 16 bits are wished. inside : what is told of how it came
    about (recipe, key, source), or None. title : for formats that hold one. layers : by name, (h, w, 4) uint8, the lowest first.
    """

    picture: AnyArray
    wish: Wish
    inside: dict[str, Any] | None = None
    title: str = ""
    layers: tuple[tuple[str, Byte], ...] = ()

    @property
    def eight(self) -> Byte:
        """The picture with 8 bits a channel."""
        if self.picture.dtype == "uint8":
            return self.picture
        return ((self.picture.astype("uint32") + 128) // 257).astype("uint8")  # type: ignore[no-any-return]


@dataclass(frozen=True)
class Format:
    """One format: what it can hold, and how it is written.

    Attributes
    ----------
    name : in commands and addresses. title, says : for the panel. suffix, media : of the file. of : makes its bytes.
    alpha, deep, lossy, dpi : whether it holds transparency, 16 bits, is written with a quality, says how large it is on paper,
    can be written at another size.
    place : its rank.
    """

    name: str
    title: str
    says: str
    suffix: str
    media: str
    of: Callable[[Page], bytes]
    alpha: bool = True
    deep: bool = False
    lossy: bool = False
    dpi: bool = True
    sized: bool = True
    place: int = 100
