"""What is kept of a look's reference pictures: the pictures at the scale of their marks, palette, element size.

There is nothing to train: for a local, shift-equivariant model the ideal denoiser is a mean of training patches,
so the patches themselves are the model.

Sources
-------
1. M. Kamb, S. Ganguli, "An analytic theory of creativity in convolutional diffusion models", 2024.
"""

import hashlib
import io
import json
import re
import zipfile
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float, f32
from ...maths.blur import quick_blur
from ...maths.colour import bytes_to_lab
from ...maths.octaves import PRIOR_LIGHT, REFERENCE_SIDE, at_octave, octave_of
from ...maths.pyramid import build, levels_for
from ...model.errors import BadInput
from ...model.text import cleaned
from ...understanding.palette import palette

MOST_REFERENCES = 10
FORMAT = 1
_LEAST_SIDE = 64
# Elements of a look are at most this large at a short side of 341 px: larger ones swallow a picture's own shapes.
_ELEMENT = 11.0
_LEAST_SCALE = 0.4
# Pixels kept of all references together at the working size, and of the finer pictures for large takes.
_WORKING, _FINE = 700_000, 2_600_000
_COLOURS = 10
_FILE_LIMIT = 64 * 1024 * 1024


@dataclass(frozen=True)
class Dictionary:
    """A learned look.

    Attributes
    ----------
    name : the artist's. references : (h, w, 3) uint8 sRGB each, at twice the working size where they were large
    enough. finer : how many times the working size they have, 1 or 2. element : size of the look's marks in
    pixels of the working size. colours : (k, 3) OKLab palette, dark to light. mass : (k,) its shares.
    """

    name: str
    references: tuple[Byte, ...]
    finer: int
    element: float
    colours: Float
    mass: Float

    @cached_property
    def id(self) -> str:
        """Twelve hexadecimal digits of the hash of what is learned; the name does not count."""
        digest = hashlib.sha256(f"{FORMAT} {self.finer} {self.element:.4f}".encode())
        for picture in self.references:
            digest.update(f"{picture.shape}".encode())
            digest.update(picture.tobytes())
        return digest.hexdigest()[:12]

    @cached_property
    def tones(self) -> Float:
        """Lightness of the references, blurred over their marks, at 33 even quantiles."""
        planes = [bytes_to_lab(_resized(p, 1 / self.finer))[..., 0] for p in self.references]
        smooth = np.concatenate([quick_blur(np.ascontiguousarray(p), self.element)[::3, ::3].ravel() for p in planes])
        return np.quantile(smooth, np.linspace(0, 1, 33)).astype(f32)

    @property
    def chroma(self) -> float:
        """Mean chroma of the palette."""
        return float(self.mass @ np.hypot(self.colours[:, 1], self.colours[:, 2]))

    @property
    def bytes(self) -> int:
        return sum(picture.nbytes for picture in self.references)


def element_size(light: Float) -> float:
    """Size in pixels of the marks that a picture has more of than natural pictures do, 3 to 48.

    Octaves are weighed by their energy over that of natural pictures, squared.
    """
    levels = levels_for(*light.shape)
    bands = build(light[None], levels)[:-1]
    weights, sizes = [], []
    for b, band in enumerate(bands[:5]):
        # Natural energy at this pixel size, whatever the picture's size.
        usual = at_octave(PRIOR_LIGHT, octave_of(b, REFERENCE_SIDE, REFERENCE_SIDE))
        excess = float(band.std()) * 2 / usual
        weights.append(excess**2)
        sizes.append(b + 1.4)
    mean = float(np.dot(weights, sizes) / (sum(weights) + 1e-9))
    return float(np.clip(2**mean, 3, 48))


def _resized(picture: Byte, scale: float) -> Byte:
    height, width = picture.shape[:2]
    size = (max(round(width * scale), 24), max(round(height * scale), 24))
    if size == (width, height):
        return picture
    return cv2.resize(picture, size, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC)


def learn(pictures: list[Byte], name: str, element_scale: float | None = None) -> Dictionary:
    """Learn a look from one to ten reference pictures (h, w, 3) uint8 sRGB. About .1 s a picture.

    Parameters
    ----------
    element_scale : size of the references' marks in takes, 1 as they are when both pictures have one short side;
        None chooses it so that the marks leave room for a picture's own shapes.

    Raises
    ------
    BadInput : no pictures, more than ten, one under 64 px, or one of a single colour.
    """
    if not 1 <= len(pictures) <= MOST_REFERENCES:
        raise BadInput(f"A look is learned from one to {MOST_REFERENCES} pictures, not {len(pictures)}.")
    for number, picture in enumerate(pictures, 1):
        if min(picture.shape[:2]) < _LEAST_SIDE:
            raise BadInput(
                f"Reference {number} has {picture.shape[1]} x {picture.shape[0]} pixels; "
                f"at least {_LEAST_SIDE} a side are needed."
            )
        if float(picture.reshape(-1, 3).std(0).max()) < 2:
            raise BadInput(f"Reference {number} is one single colour; choose a picture with marks in it.")
    working = [_resized(p, min(REFERENCE_SIDE / min(p.shape[:2]), 1.5)) for p in pictures]
    labs = [bytes_to_lab(p) for p in working]
    element = float(np.median([element_size(np.ascontiguousarray(lab[..., 0])) for lab in labs]))
    scale = min(max(_ELEMENT / element, _LEAST_SCALE), 1.0) if element_scale is None else element_scale
    area = sum(p.shape[0] * p.shape[1] for p in working) * scale**2
    if area > _WORKING:
        # Many references: a middle part of each, at the right scale.
        share = float(np.sqrt(_WORKING / area))
        pictures = [_middle(p, share) for p in pictures]
        working = [_middle(p, share) for p in working]
    large = all(min(p.shape[:2]) >= 1.6 * min(w.shape[:2]) * scale for p, w in zip(pictures, working, strict=True))
    finer = 2 if large and 4 * min(area, _WORKING) <= _FINE else 1
    kept = tuple(
        np.ascontiguousarray(_resized(p, finer * scale * min(w.shape[:2]) / min(p.shape[:2])))
        for p, w in zip(pictures, working, strict=True)
    )
    small = np.concatenate([cv2.resize(lab, (96, 96), interpolation=cv2.INTER_AREA) for lab in labs])
    colours = palette(small, _COLOURS)
    nearest = ((small.reshape(-1, 1, 3) - colours[None]) ** 2).sum(-1).argmin(1)
    mass = np.bincount(nearest, minlength=len(colours)).astype(f32)
    return Dictionary(name.strip() or "Learned look", kept, finer, element * scale, colours, mass / mass.sum())


def _middle(picture: Byte, share: float) -> Byte:
    height, width = picture.shape[:2]
    rows, columns = max(round(height * share), 24), max(round(width * share), 24)
    top, left = (height - rows) // 2, (width - columns) // 2
    return np.ascontiguousarray(picture[top : top + rows, left : left + columns])


def written(dictionary: Dictionary) -> bytes:
    """The file of a learned look (docs/formats.md): a .npz whose `header` is JSON."""
    header = {
        "format": "warmtide-look", "version": FORMAT, "id": dictionary.id, "name": dictionary.name,
        "references": len(dictionary.references), "finer": dictionary.finer, "element": round(dictionary.element, 4),
    }  # fmt: skip
    arrays: dict[str, AnyArray] = {f"reference_{i}": p for i, p in enumerate(dictionary.references)}
    out = io.BytesIO()
    np.savez_compressed(
        out, header=np.frombuffer(json.dumps(header).encode(), np.uint8), colours=dictionary.colours,
        mass=dictionary.mass, **arrays,  # type: ignore[arg-type]
    )  # fmt: skip
    return out.getvalue()


def read(data: bytes) -> Dictionary:
    """A learned look from its file, which may be hostile.

    Raises
    ------
    BadInput : not such a file, another version, sizes beyond what a look has, or contents that don't fit their id.
    """
    wrong = BadInput("This is not a learned look that can be read; use a .npz that Warm Tide wrote.")
    if len(data) > _FILE_LIMIT:
        raise wrong
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > _FILE_LIMIT:
                raise wrong
        with np.load(io.BytesIO(data), allow_pickle=False) as arrays:
            header: dict[str, Any] = json.loads(arrays["header"].tobytes())
            if header.get("format") != "warmtide-look":
                raise wrong
            if header.get("version") != FORMAT:
                raise BadInput(f"This look has version {header.get('version')}; version {FORMAT} can be read.")
            count = int(header["references"])
            references = tuple(np.ascontiguousarray(arrays[f"reference_{i}"]) for i in range(count))
            colours, mass = arrays["colours"].astype(f32), arrays["mass"].astype(f32)
        fits = (
            1 <= count <= MOST_REFERENCES
            and all(p.ndim == 3 and p.shape[2] == 3 and p.dtype == np.uint8 and min(p.shape[:2]) >= 24 for p in references)
            and colours.ndim == 2 and colours.shape[1] == 3 and mass.shape == (len(colours),)
            and np.isfinite(colours).all() and np.isfinite(mass).all()
            and header["finer"] in (1, 2) and 1 <= float(header["element"]) <= 64
        )  # fmt: skip
        if not fits:
            raise wrong
        name, known = cleaned(str(header["name"]))[:80], str(header["id"])
        found = Dictionary(name, references, int(header["finer"]), float(header["element"]), colours, mass)
    except BadInput:
        raise
    except Exception:
        # Three readers (archive, arrays, JSON) raise whatever a damaged file makes them come upon.
        raise wrong from None
    if not re.fullmatch(r"[0-9a-f]{12}", known) or found.id != known:
        raise BadInput("This learned look does not match its id; the file is damaged or was changed.")
    return found
