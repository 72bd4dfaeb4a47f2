"""What the engine knows of a source before any take: its pyramid, its ground, its key."""

from dataclasses import dataclass

import numpy as np

from ..maths.arrays import Bands, Byte, Float, Mask, f32, pixel_key
from ..maths.colour import bytes_to_lab
from ..maths.pyramid import build, levels_for, planes
from ..model.face import Face
from ..understanding.faces import find_faces
from ..understanding.ground import flat_ground

# The sampler's space: lightness and opponent channels scaled to about -1..1.
_SCALE = np.array([2, 4, 4], f32)
_SHIFT = np.array([1, 0, 0], f32)


def to_space(lab: Float) -> Float:
    """OKLab to the sampler's space."""
    return (lab * _SCALE - _SHIFT).astype(f32)


def from_space(image: Float) -> Float:
    """The sampler's space to OKLab, lightness clipped to 0..1."""
    lab = ((image + _SHIFT) / _SCALE).astype(f32)
    np.clip(lab[..., 0], 0, 1, out=lab[..., 0])
    return lab


@dataclass(frozen=True)
class PreparedSource:
    """A framed source, ready for the sampler.

    Attributes
    ----------
    image : (h, w, 3) in the sampler's space. bands : its pyramid. ground : pixels of a calm flat ground that
    touches the border, or None. faces : where faces are. subject : (h, w) 0..1, what it is about. key : hash of the pixels.
    """

    key: str
    lab: Float
    image: Float
    bands: Bands
    levels: int
    ground: Mask | None
    faces: tuple[Face, ...] = ()
    subject: Float | None = None

    @property
    def shape(self) -> tuple[int, int]:
        return int(self.image.shape[0]), int(self.image.shape[1])


def prepare(
    rgb: Byte, levels: int | None = None, faces: tuple[Face, ...] | None = None, subject: Float | None = None
) -> PreparedSource:
    """Analyse an 8 bit sRGB source (h, w, 3) that is already framed.

    Parameters
    ----------
    levels : detail bands of its pyramid; by its size when None. faces : marked by the artist; None to find them.
    subject : (h, w) 0..1, what it is about, if that is known; looked for where holds or painters need it.
    """
    lab = bytes_to_lab(rgb)
    image = to_space(lab)
    levels = levels or levels_for(*rgb.shape[:2])
    faces = find_faces(rgb) if faces is None else faces
    return PreparedSource(
        pixel_key(rgb), lab, image, build(planes(image), levels), levels, flat_ground(lab), faces, subject
    )
