"""What the engine knows of a source before any take: its pyramid, its ground, its key."""

import hashlib
from dataclasses import dataclass

import cv2
import numpy as np

from ..arrays import Bands, Byte, Float, Mask, f32, summed
from ..colour import bytes_to_lab
from ..words.places import find_places
from .faces import Face, find_faces
from .pyramid import build, levels_for, planes

# The sampler's space: lightness and opponent channels scaled to about -1..1.
_SCALE = np.array([2, 4, 4], f32)
_SHIFT = np.array([1, 0, 0], f32)
_CALM_BORDER = 0.012
_GROUND_REACH = 0.03


def to_space(lab: Float) -> Float:
    """OKLab to the sampler's space."""
    return (lab * _SCALE - _SHIFT).astype(f32)


def from_space(image: Float) -> Float:
    """The sampler's space to OKLab, lightness clipped to 0..1."""
    lab = ((image + _SHIFT) / _SCALE).astype(f32)
    np.clip(lab[..., 0], 0, 1, out=lab[..., 0])
    return lab


def pixel_key(rgb: Byte) -> str:
    """Hash of pixels and size."""
    digest = hashlib.blake2b(f"{rgb.shape[0]}x{rgb.shape[1]}:".encode(), digest_size=32)
    digest.update(np.ascontiguousarray(rgb).data)
    return digest.hexdigest()


@dataclass(frozen=True)
class PreparedSource:
    """A framed source, ready for the sampler.

    Attributes
    ----------
    image : (h, w, 3) in the sampler's space. bands : its pyramid. ground : pixels of a calm flat ground that
    touches the border, or None. faces : where faces are. key : hash of the pixels.
    """

    key: str
    lab: Float
    image: Float
    bands: Bands
    levels: int
    ground: Mask | None
    faces: tuple[Face, ...] = ()

    @property
    def shape(self) -> tuple[int, int]:
        return int(self.image.shape[0]), int(self.image.shape[1])


def flat_ground(lab: Float) -> Mask | None:
    """Pixels of the flat ground around a subject, or None when the border is not one calm colour."""
    ring = np.concatenate(
        [lab[:4].reshape(-1, 3), lab[-4:].reshape(-1, 3), lab[:, :4].reshape(-1, 3), lab[:, -4:].reshape(-1, 3)]
    )
    colour = np.median(ring, axis=0)
    if float(np.abs(ring - colour).mean()) >= _CALM_BORDER:
        return None
    alike = (summed(np.abs(lab - colour)) < _GROUND_REACH).astype(np.uint8)
    _, parts = cv2.connectedComponents(alike, connectivity=4)
    edge = np.unique(np.concatenate([parts[0], parts[-1], parts[:, 0], parts[:, -1]]))
    return np.isin(parts, edge[edge > 0])


def places_in(rgb: Byte, names: tuple[str, ...]) -> frozenset[str]:
    """Which places that words speak of a framed source has. About 40 ms and a look for faces; none for no names."""
    if not names:
        return frozenset()
    lab = bytes_to_lab(rgb)
    return frozenset(find_places(lab, names, find_faces(rgb), flat_ground(lab)))


def prepare(rgb: Byte, levels: int | None = None, faces: tuple[Face, ...] | None = None) -> PreparedSource:
    """Analyse an 8 bit sRGB source (h, w, 3) that is already framed.

    Parameters
    ----------
    levels : detail bands of its pyramid; by its size when None. faces : marked by the artist; None to find them.
    """
    lab = bytes_to_lab(rgb)
    image = to_space(lab)
    levels = levels or levels_for(*rgb.shape[:2])
    faces = find_faces(rgb) if faces is None else faces
    return PreparedSource(pixel_key(rgb), lab, image, build(planes(image), levels), levels, flat_ground(lab), faces)
