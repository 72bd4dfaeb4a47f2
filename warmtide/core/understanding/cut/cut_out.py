"""A cut-out in one go, and as strokes mend it."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float, Mask, f32
from ...maths.blur import blur
from ...maths.edge_aware import guided_by_colour
from ...maths.sizes import smaller
from ...model.face import Face
from ..faces import find_faces
from ..people.persons import find_persons
from ..saliency import on_smooth_ground, salient
from .alpha import BELT, edges_of
from .flat import cut_flat
from .masks import (
    IN,
    MAYBE_IN,
    MAYBE_OUT,
    OUT,
    grown,
    mended,
    parted,
    shrunk,
    states_of_line,
    states_of_odds,
    states_of_salience,
    without_crumbs,
)
from .stroked import stroked

What = Literal["subject", "person", "flat"]
Kind = Literal["person", "flat", "thing", "drawn round", "mended", "none"]
# Kinds whose mask strokes mend and never replace.
SURE_KINDS: tuple[Kind, ...] = ("flat", "drawn round", "mended")
# Long side at which a cut is found; its edges are then those of the whole picture.
WORKED = 512
# Trust below which a cut is to be shown as unsure.
UNSURE = 0.6
_PERSON, _PERSON_WITH_FACE, _PERSON_SURE = 0.5, 0.35, 0.85
_SMOOTH, _STANDS_OUT = 0.5, 0.28
_FIRST_SIDE = 320
_CLEAN = (0.05, 0.95)
# Strokes mean another thing than what was found where less than this of them lies in it (or beside it, in shares of the long
# side: hair that was left out lies beside a person), or where they strike out more than that share of it.
_HIT = 0.5
_MEANT: dict[Kind, tuple[float, float]] = {"thing": (0.0, 0.12), "person": (0.05, 0.2)}


@dataclass(frozen=True, eq=False)
class CutOut:
    """What was cut out of a picture.

    Attributes
    ----------
    alpha : (h, w) 0..1, all 0 where nothing was found. colours : (h, w, 3) uint8, at edges freed of the ground.
    mask : (h', w') hard, at the size at which it was found: what strokes mend. kind : what it was taken for, "none" where no
    one thing stands out. trust : 0..1.
    """

    alpha: Float
    colours: Byte
    mask: Mask
    kind: Kind
    trust: float


@dataclass(frozen=True, eq=False)
class _Found:
    mask: Mask
    kind: Kind
    trust: float
    strands: bool = True


def _person(small: Byte, faces: tuple[Face, ...], wanted: bool) -> _Found | None:
    persons = find_persons(small)
    if persons is None:
        return None
    enough = _PERSON_WITH_FACE if faces or wanted else _PERSON
    if persons.agreed <= enough:
        return None
    mask = without_crumbs(parted(small, states_of_odds(persons.odds), 2))
    kind: Kind = "person" if faces or wanted or persons.agreed > _PERSON_SURE else "thing"
    return _Found(mask, kind, float(min(1.0, persons.agreed + 0.1 * bool(faces))))


def _thing(small: Byte) -> _Found | None:
    mask, trust = on_smooth_ground(small)
    if trust > _SMOOTH:
        return _Found(mask, "thing", trust, strands=False)
    found = salient(small)
    if found.quality < _STANDS_OUT:
        return None
    # Where it lies is found freely on a small picture, its edge on the larger one.
    first = smaller(small, _FIRST_SIDE)
    plane = cv2.resize(found.plane, first.shape[1::-1], interpolation=cv2.INTER_LINEAR)
    rough = without_crumbs(parted(first, states_of_salience(plane, found.threshold), 4), 0.15, 0.004)
    rough = cv2.resize(rough.astype(np.uint8), small.shape[1::-1], interpolation=cv2.INTER_LINEAR) > 0
    states = np.where(rough, MAYBE_IN, MAYBE_OUT).astype(np.uint8)
    states[shrunk(rough, 6)], states[~grown(rough, 6)] = IN, OUT
    return _Found(without_crumbs(parted(small, states, 1), 0.15, 0.004), "thing", found.quality)


def _hair(faces: tuple[Face, ...], shape: tuple[int, int]) -> Mask | None:
    """Where hair may run on: around heads; None to look everywhere."""
    if not faces:
        return None
    plane, long_side = np.zeros(shape, np.uint8), max(shape)
    for face in faces:
        wide = face.width * long_side
        centre = (int(face.x * long_side), int(face.y * long_side - 0.25 * wide))
        cv2.ellipse(plane, centre, (int(1.1 * wide), int(1.3 * wide)), face.angle, 0, 360, 1, -1)
    return plane > 0


def cut_out(
    rgb: Byte, what: What = "subject", strokes: AnyArray | None = None, line: AnyArray | None = None,
    known: Mask | None = None, faces: tuple[Face, ...] | None = None,
) -> CutOut:  # fmt: skip
    """Cut a picture's subject out of it, softly. .1 to .9 s at 512 px, 1 to 3 s at 2048.

    Parameters
    ----------
    rgb : (h, w, 3). what : "subject" takes what is found first (flat art, a person or an animal, a thing); "person" and
    "flat" only that. strokes : at the size of `smaller(rgb, WORKED)`, 1 in, -1 out, 0 nothing said. line : (n, 2) a rough closed
    line around it, in pixels of that size. known : the mask of an earlier cut, to be mended; without it strokes
    may mean another thing than what is found first. faces : if they are known.

    Returns
    -------
    `CutOut`; its `kind` is "none" where no one thing stands out: draw a line around it then.
    """
    small = smaller(rgb, WORKED)
    said = None if strokes is None else np.sign(strokes).astype(np.int8)
    if known is None and line is None and what != "person" and said is None:
        flat = cut_flat(rgb)
        if flat is not None:
            return CutOut(flat.alpha, flat.colours, smaller_mask(flat.alpha, small.shape[:2]), "flat", 1.0)
    seen = find_faces(small) if faces is None else faces
    found = _found(small, what, line, known, seen)
    if found is None and said is not None and (said > 0).any():
        # Nothing stood out, but the artist says where it is.
        found = _Found(stroked(small, said), "mended", 1.0)
        said = None
    if found is None:
        return CutOut(np.zeros(rgb.shape[:2], f32), rgb, np.zeros(small.shape[:2], bool), "none", 0.0)
    mask = found.mask if said is None else _as_said(small, found, said, known is not None)
    belt = BELT if found.strands else BELT - 1
    hair = _hair(seen, small.shape[:2]) if found.kind == "person" else None
    edges = edges_of(small, mask, belt, hair, said, found.strands)
    alpha, own = _at_full(rgb, edges.alpha, edges.colours, edges.belt)
    alpha = np.clip((alpha - _CLEAN[0]) / (_CLEAN[1] - _CLEAN[0]), 0, 1).astype(f32)
    return CutOut(alpha, _clean(rgb, alpha, own), mask, found.kind, found.trust)


def _as_said(small: Byte, found: _Found, said: AnyArray, mending: bool) -> Mask:
    """A mask as strokes mend it, or where what was found has little to do with them, what they say alone."""
    inside = said > 0
    if not mending and found.kind in _MEANT and inside.any():
        beside, struck = _MEANT[found.kind]
        near = grown(found.mask, round(beside * max(said.shape))) if beside else found.mask
        held_out = float((found.mask & (said < 0)).sum()) / max(float(found.mask.sum()), 1.0)
        if float(near[inside].mean()) < _HIT or held_out > struck:
            return stroked(small, said)
    return mended(small, found.mask, said)


def smaller_mask(alpha: Float, shape: tuple[int, int]) -> Mask:
    """A hard mask of an alpha at the size at which strokes mend it."""
    found: Mask = cv2.resize(alpha, shape[::-1], interpolation=cv2.INTER_AREA) > 0.5
    return found


def _found(
    small: Byte, what: What, line: AnyArray | None, known: Mask | None, faces: tuple[Face, ...]
) -> _Found | None:
    if known is not None:
        return _Found(known, "mended", 1.0)
    if line is not None:
        mask = without_crumbs(parted(small, states_of_line(small.shape[:2], line), 4))
        return _Found(mask, "drawn round", 1.0)
    if what == "flat":
        return None
    person = _person(small, faces, what == "person")
    if person is not None or what == "person":
        return person
    return _thing(small)


def _at_full(rgb: Byte, alpha: Float, colours: Float, belt: Mask) -> tuple[Float, Float]:
    """Edges found on a smaller picture, at the whole picture's size, following its own edges."""
    height, width = rgb.shape[:2]
    if alpha.shape == (height, width):
        return alpha, colours
    larger = max(height, width) / WORKED
    rough = cv2.resize(alpha, (width, height), interpolation=cv2.INTER_CUBIC)
    near = cv2.resize(belt.astype(f32), (width, height), interpolation=cv2.INTER_LINEAR) > 0.01
    fine = guided_by_colour(rgb.astype(f32) / f32(255), rough, max(2, int(2 * larger)), 1e-4)
    whole = np.where(near, np.clip(fine, 0, 1), np.clip(np.round(rough), 0, 1)).astype(f32)
    return whole, cv2.resize(colours, (width, height), interpolation=cv2.INTER_LINEAR)


def _clean(rgb: Byte, alpha: Float, colours: Float) -> Byte:
    """The picture's colours, and where they are mixed with the ground's the subject's own."""
    plain = rgb.astype(f32) / f32(255)
    solid = np.clip((alpha - f32(0.85)) / f32(0.13), 0, 1)[..., None]
    out = plain * solid + blur(colours, 1.0) * (1 - solid)
    return np.clip(out * 255 + 0.5, 0, 255).astype(np.uint8)
