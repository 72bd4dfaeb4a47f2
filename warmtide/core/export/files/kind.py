"""What a format of a picture file is, and what it is given."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from ...maths.arrays import AnyArray, Byte
from ..layered import Layered

DPI = (36, 2400)
SIDE = (16, 8192)


class Wish(BaseModel):
    """How pictures are written; what a format has no place for is left out."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    size: int | None = Field(None, ge=SIDE[0], le=SIDE[1], description="long side in pixels; null: as it is")
    dpi: int = Field(300, ge=DPI[0], le=DPI[1], description="pixels an inch, written into the file")
    depth: int = Field(8, description="bits a channel: 8 or 16", json_schema_extra={"enum": [8, 16]})
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
    about (recipe, key, source), or None. title : for formats that hold one. layered : gives its layers.
    """

    picture: AnyArray
    wish: Wish
    inside: dict[str, Any] | None = None
    title: str = ""
    layered: Callable[[], Layered] | None = None

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
