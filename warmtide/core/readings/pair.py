"""A source and a take side by side: what readings are worked out from, each part once."""

from dataclasses import dataclass
from functools import cached_property

from ..maths.arrays import AnyArray, Byte, Float, Mask
from ..model.face import Face
from ..understanding.faces import find_faces
from ..understanding.ground import flat_ground
from ..understanding.subject import find_subject
from .colour import ColourKept, colour_kept
from .composition import Composition, composition_kept
from .face import face_kept
from .face_parts import FaceKept
from .features import Features, read_features
from .look import at_reading_size, statistics


@dataclass
class SourceReading:
    """A framed source as the readings need it; what is costly is worked out once, on first use.

    Attributes
    ----------
    rgb : (h, w, 3) uint8. marked : faces as they are known; None to look for them. about : (h, w) 0..1 at any size, what
    the picture is about, if that is known.
    """

    rgb: Byte
    marked: tuple[Face, ...] | None = None
    about: Float | None = None

    @cached_property
    def features(self) -> Features:
        return read_features(self.rgb)

    @cached_property
    def ground(self) -> Mask | None:
        """The flat ground around the subject of flat art."""
        return flat_ground(self.features.lab)

    @cached_property
    def faces(self) -> tuple[Face, ...]:
        return find_faces(self.rgb) if self.marked is None else self.marked

    @cached_property
    def subject(self) -> Float:
        """What the picture is about, (h, w) 0..1; all 0 where it is about no one thing."""
        return find_subject(self.rgb, self.faces).plane if self.about is None else self.about

    @cached_property
    def small(self) -> Byte:
        return at_reading_size(self.rgb)

    @cached_property
    def statistics(self) -> tuple[AnyArray, ...]:
        return statistics(self.small)


@dataclass(frozen=True)
class FullRendering:
    """A look's own rendering of a whole source, which look reached is relative to."""

    rgb: Byte
    statistics: tuple[AnyArray, ...]


def full_rendering(rgb: Byte) -> FullRendering:
    """A rendering (h, w, 3) uint8 with its statistics."""
    small = at_reading_size(rgb)
    return FullRendering(small, statistics(small))


@dataclass
class Pair:
    """A framed source and a take (h, w, 3) uint8 of the same size.

    Attributes
    ----------
    full : the look's own rendering of the source, where it is known. meant : pictures (h, w, 3) whose colours were asked
    for, as the source and the look's rendering are.
    """

    source: SourceReading
    take: Byte
    full: FullRendering | None = None
    meant: tuple[Byte, ...] = ()

    @cached_property
    def features(self) -> Features:
        """The take's, at the size of the source's."""
        return read_features(self.take, self.source.features.size)

    @cached_property
    def small(self) -> Byte:
        """The take at reading size."""
        return at_reading_size(self.take)

    @cached_property
    def composition(self) -> Composition:
        return composition_kept(self.source.features, self.features, self.source.ground)

    @cached_property
    def colour(self) -> ColourKept:
        return colour_kept(self.source.features, self.features)

    @cached_property
    def faces(self) -> list[FaceKept]:
        """What was kept of each face."""
        return [face_kept(self.source.rgb, self.take, face) for face in self.source.faces]
