"""All that is found once in a portrait: heads, person, skin, hair, features."""

from dataclasses import dataclass

import numpy as np

from ...maths.arrays import Byte, Float
from ...maths.colour import bytes_to_lab
from ...model.face import Face
from ...understanding.people.persons import person_mask
from .head import Head
from .parts import Found
from .states import States, states_of


@dataclass(frozen=True, eq=False)
class Person:
    """A head with its features."""

    head: Head
    states: States
    bald: bool


@dataclass(frozen=True, eq=False)
class Portrait:
    """`lab` (h, w, 3) the source; `body`, `skin`, `hair` (h, w) 0..1; `people` the largest first, without those whose
    faces have no points."""

    lab: Float
    body: Float
    skin: Float
    hair: Float
    people: tuple[Person, ...]

    @property
    def unit(self) -> float:
        """Pixels of a length of 1 at 512 px."""
        return max(self.lab.shape[:2]) / 512


def portrait_of(rgb: Byte, faces: tuple[Face, ...]) -> Portrait:
    """Read a portrait (h, w, 3). .3 to .9 s at 512 px, by how many faces there are."""
    lab = bytes_to_lab(rgb)
    body = person_mask(rgb, faces)
    found = Found(body.shape)
    heads = [head for face in faces if (head := Head.of(face, max(rgb.shape[:2]))) is not None]
    for head in heads:
        found.add(lab, body, head)
    skin, hair = found.settled()
    people = tuple(
        Person(head, states_of(head, lab, hair, np.asarray(tone)), bald)
        for head, tone, bald in zip(heads, found.tones, found.bald, strict=True)
    )
    return Portrait(lab, body, skin, hair, people)
