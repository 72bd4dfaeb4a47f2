"""What a look is, and what a painter is given."""

from collections.abc import Callable
from dataclasses import dataclass

from ..maths.arrays import Float
from .cache import SharedCache
from .scene import SceneReading
from .sitting import Original, Sitting

Painter = Callable[[Float, Sitting], Float]
# What is to be said of a look's take of a source: names of warnings, see `readings.warnings`.
Remarks = Callable[[Original, SharedCache], list[str]]


@dataclass(frozen=True)
class Handling:
    """How a look's paint is sampled.

    Attributes
    ----------
    portrait : whether faces are painted a second time, finer; finer : whether what the picture is about is, without portraits.
    portrait_tone : see `looks.shared.portrait`.
    owns_colour : the finished paint takes no colour hold (graphite stays graphite).
    push : multiplies the guided push of all octaves. deep_trust, deep_push : multiply, from the third octave on, the
    noise level at which paint is trusted and the guided push; below 1 for looks whose tone must not carry the photo's
    ghost (trust the more the higher the strength).
    bare_push : how far, in finer octaves, the guided push turns away from the source instead of only making marks
    bolder; below 1 for looks that leave paper bare, on which what is turned away from would show as its negative.
    least_scale : size of marks at least, however small the picture. Where marks are paler or fewer and not only smaller
    in small pictures they must follow it further down, to .12 for 64 px; where each costs the same at any size they needn't.
    whole : the painter makes the whole take from the source itself, by strength, holds and weight of the sitting: its forms are
    not the source's, so that a mix with it would show both. once : the painter runs once a take; its shapes are the source's own, so a second run would change nothing.
    """

    portrait: bool = True
    finer: bool = False
    portrait_tone: float = 0.8
    owns_colour: bool = False
    push: float = 1.0
    deep_trust: float = 1.0
    deep_push: float = 1.0
    bare_push: float = 1.0
    least_scale: float = 0.28
    once: bool = False
    whole: bool = False


@dataclass(frozen=True)
class Look:
    """A style: what it is, what it hears, and how it is sampled.

    Attributes
    ----------
    paint : renders an OKLab picture (h, w, 3) in the look, same shape out. kinds : what it is made for
    (photo, sketch, render, flat art), best first. strengths : sample band where it usually works.
    seconds : one run of the painter at 512 x 341 on one core, for estimates. handling : how its paint is sampled.
    shapes : it makes a thing of the source's own shapes, so that "on marble" is what that lies on and no place.
    placed : a place in the prompt is drawn behind the source or into it; not where the look is of one sheet, one building.
    around : reads the place that a look draws around its thing by itself, for looks that are not `placed`.
    hears : what a phrase asks of the parts of its thing, to be told to the artist.
    remarks : what a source makes it say of its takes.
    """

    name: str
    title: str
    category: str
    kinds: tuple[str, ...]
    description: str
    strengths: tuple[float, float]
    paint: Painter
    seconds: float = 0.25
    handling: Handling = Handling()
    shapes: bool = False
    placed: bool = True
    around: Callable[[str], SceneReading] | None = None
    hears: Callable[[str], tuple[str, ...]] | None = None
    remarks: Remarks | None = None


def shape_keeping(
    name: str, title: str, category: str, kind: str, description: str, paint: Painter, seconds: float,
    remarks: Remarks, own_colour: bool = True, placed: bool = False, push: float = 0.2, strengths: tuple[float, float] = (0.6, 1.0),
) -> Look:  # fmt: skip
    """A look that makes a thing of the source's own shapes: it paints once, and its ground carries no ghost of the source.

    Parameters
    ----------
    seconds : one run at 512 px. own_colour : its colours are its own whatever the source's are. The rest as in `Look`.
    """
    sampled = Handling(portrait=False, owns_colour=own_colour, push=push, deep_trust=0.55, deep_push=0.0, once=True)
    return Look(
        name=name, title=title, category=category, kinds=(kind,), description=description, strengths=strengths,
        paint=paint, seconds=seconds, handling=sampled, shapes=True, placed=placed, remarks=remarks,
    )  # fmt: skip
