"""What is seen in a source, once, whatever is made of it: faces with their points, and what it is about."""

from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import Byte, pixel_key
from ..model.cache import SharedCache
from ..model.face import Face
from ..model.guides import NO_GUIDES, Guides
from ..understanding.faces import find_faces, pointed
from ..understanding.subject import Subject, corrected, find_subject


@dataclass(frozen=True, eq=False)
class Seen:
    """`faces` as the artist marked them or as found; `subject` as found and mended; `key` of what the artist said."""

    faces: tuple[Face, ...]
    subject: Subject
    key: str

    def subject_at(self, height: int, width: int) -> Subject:
        """The subject's map at another size."""
        if self.subject.plane.shape == (height, width):
            return self.subject
        plane = cv2.resize(self.subject.plane, (width, height), interpolation=cv2.INTER_AREA)
        return Subject(np.ascontiguousarray(plane), self.subject.kinds)


def seen_of(source: Byte, guides: Guides = NO_GUIDES, cache: SharedCache | None = None) -> Seen:
    """What is seen in a framed source (h, w, 3), .2 to .4 s the first time; kept, whatever quality it is rendered at."""
    cache = cache if cache is not None else SharedCache()
    pixels = pixel_key(source)

    def faces() -> tuple[Face, ...]:
        return find_faces(source) if guides.faces is None else pointed(source, guides.faces)

    found = cache.get(("faces", pixels, guides.faces), faces)
    plain = cache.get(("subject", pixels, guides.faces), lambda: find_subject(source, found))
    if guides.subject is None:
        return Seen(found, plain, "")
    strokes = guides.at(*source.shape[:2]).subject
    key = pixel_key(guides.subject)
    mended = cache.get(
        ("subject", pixels, guides.faces, key), lambda: corrected(plain, strokes) if strokes is not None else plain
    )
    return Seen(found, mended, key)
