"""A scene in words, and as a subject stands in it."""

from dataclasses import dataclass

from ..maths.arrays import AnyArray, Float


@dataclass(frozen=True)
class Asked:
    """A scene in words that were understood.

    Attributes
    ----------
    place : name of a place in the registry. time, sky, season : of TIMES, SKIES, SEASONS (season None: the
    place's own). mist, rain, snowfall : 0..1. rays, blurred, wet, neon, dark : yes or no. extras : birds,
    boats, people, flowers, planet, bubbles, fish. trees : conifer, broad, blossom, birch or None.
    """

    place: str
    time: str = "day"
    sky: str = "fair"
    season: str | None = None
    mist: float = 0.0
    rain: float = 0.0
    snowfall: float = 0.0
    rays: bool = False
    blurred: bool = False
    wet: bool = False
    neon: bool = False
    dark: bool = False
    extras: frozenset[str] = frozenset()
    trees: str | None = None


@dataclass(frozen=True)
class SceneReading:
    """A prompt read for its scene.

    Attributes
    ----------
    asked : the scene, or None when no place is named. understood : for every phrase, in words. conflicts : sentences
    about what cannot be together.
    """

    asked: Asked | None
    understood: tuple[tuple[str, tuple[str, ...]], ...]
    conflicts: tuple[str, ...]


@dataclass(frozen=True)
class Backdrop:
    """A scene that a subject stands in.

    Attributes
    ----------
    picture : (h, w, 3) sRGB 0..1, with shadow and mirror of the subject and without the subject. bare : without
    them too. sun : unit direction to the light, x right, y up, z away from the eye. colour : of the light, linear.
    """

    picture: Float
    bare: Float
    sun: AnyArray
    colour: AnyArray
