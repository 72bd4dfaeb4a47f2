"""What a picture is about: a calm map of its faces, persons, animals or thing; nothing for landscapes and textures."""

from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, f32
from ..maths.blur import blur
from ..maths.colour import bytes_to_lab
from ..maths.edge_aware import guided_plane
from ..maths.sizes import smaller
from ..maths.steps import smoothstep
from ..model.face import Face
from .faces import face_mask
from .people.persons import find_persons
from .saliency import on_smooth_ground, salient

# The map is made at this long side: it is to be calm.
_SIDE = 256
_PERSON, _THING = 0.9, 0.85
# Agreement of the two networks from which a figure without a face is believed, and wholly; from the last on it is a person.
_BELIEVED, _SURE, _PERSON_SURE = 0.40, 0.62, 0.85
# What covers more than this of a picture without a face is no subject, but the picture.
_MOST = 0.72
_STANDS_OUT = 0.20
_LEAST = 0.004
_CLOSED = 13


@dataclass(frozen=True, eq=False)
class Subject:
    """`plane` (h, w) 0..1, all 0 where the picture is about no one thing; `kinds` say what was found: "face", "person",
    "thing"."""

    plane: Float
    kinds: tuple[str, ...]


def find_subject(rgb: Byte, faces: tuple[Face, ...] = ()) -> Subject:
    """What a picture (h, w, 3) is about. 60 ms at 512 px.

    Parameters
    ----------
    faces : those of the picture, which belong to its subject.
    """
    small = smaller(rgb, _SIDE)
    height, width = small.shape[:2]
    plane, kinds = np.zeros((height, width), f32), []
    persons = find_persons(small, quick=bool(faces))
    person = 0.0
    if persons is not None and persons.agreed > _BELIEVED:
        person = float(smoothstep(_BELIEVED, _SURE, persons.agreed))
        closed = cv2.morphologyEx(persons.odds, cv2.MORPH_CLOSE, np.ones((_CLOSED, _CLOSED), np.uint8))
        plane = closed * f32(_PERSON * person)
        kinds.append("person" if faces or persons.agreed > _PERSON_SURE else "thing")
    if person < 0.9:
        thing = _thing(small, plane.shape) * f32(1 - 0.7 * person)
        if float(thing.max()) > _STANDS_OUT:
            np.maximum(plane, thing, out=plane)
            kinds += () if "thing" in kinds else ("thing",)
    covered = float((plane > _STANDS_OUT).mean())
    if covered < _LEAST or (covered > _MOST and not faces):
        plane, kinds = np.zeros((height, width), f32), []
    if kinds:
        light = np.ascontiguousarray(bytes_to_lab(small)[..., 0])
        plane = np.clip(guided_plane(light, blur(plane, 1.2), 4, 2e-3), 0, 1)
    if faces:
        np.maximum(plane, face_mask(faces, height, width, 1.15), out=plane)
        kinds.insert(0, "face")
    large = cv2.resize(plane, (rgb.shape[1], rgb.shape[0]), interpolation=cv2.INTER_LINEAR)
    return Subject(np.ascontiguousarray(large, dtype=f32), tuple(kinds))


# In strokes of an artist, what is not said; below it is out, above it is in.
UNSAID = 128
SAID = 40


def corrected(subject: Subject, strokes: Byte) -> Subject:
    """A subject as an artist mended it: `strokes` (h, w) uint8, 255 in, 0 out, 128 where nothing is said."""
    said = strokes.astype(f32) - f32(UNSAID)
    soft = max(strokes.shape) / 400
    within, out = (blur(((way * said) > SAID).astype(f32), soft) for way in (1, -1))
    plane = np.maximum(subject.plane, within) * (1 - out)
    kinds = subject.kinds or (("thing",) if float(plane.max()) > _STANDS_OUT else ())
    return Subject(plane.astype(f32), kinds if float(plane.max()) > _STANDS_OUT else ())


def _thing(small: Byte, shape: tuple[int, ...]) -> Float:
    """A thing on smooth ground, or what stands out of any other; (h, w) 0..1."""
    mask, trust = on_smooth_ground(small)
    if trust > 0.5:
        return (mask * f32(_THING)).astype(f32)
    found = salient(small)
    if found.quality <= _STANDS_OUT:
        return np.zeros(shape[:2], f32)
    plane = cv2.resize(found.plane, (shape[1], shape[0]), interpolation=cv2.INTER_LINEAR)
    there = smoothstep(0.6 * found.threshold, 1.25 * found.threshold, plane)
    return (there * f32(_THING * smoothstep(_STANDS_OUT, 0.7, found.quality))).astype(f32)
