"""What a look is, and what a painter is given."""

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, field
from typing import TypeVar

import numpy as np

from ..arrays import AnyArray, Float, Mask, f32
from ..engine.cache import SharedCache
from ..engine.faces import Face
from ..engine.noise import smooth_field
from ..scenes.behind import Backdrop
from ..scenes.words import SceneReading

Decision = TypeVar("Decision")


# Fields are kept as whole numbers: half the memory, and steps of a 4096th that no eye sees.
_PACK = 4096


def _packed(field: Float) -> AnyArray:
    return np.clip(np.rint(field * f32(_PACK)), -32767, 32767).astype(np.int16)


@dataclass(frozen=True)
class Original:
    """The framed source itself, for painters that keep its shapes whatever the sampler made of it.

    Attributes
    ----------
    lab : (h, w, 3) OKLab. key : what tells it from other sources. cover : (h, w) 0..1, how solid a cut-out is, or
    None. backdrop : the scene that it stands in, or None.
    """

    lab: Float
    key: Hashable
    cover: Float | None = None
    backdrop: Backdrop | None = None


@dataclass
class Sitting:
    """One painter's run: its seed, its noise fields, the size of its marks, what is known of the source.

    A field is named, and each has a random stream of its own, so that a draw which depends on the picture
    cannot shift the fields after it; equal fields are shared between takes. An inset sitting paints the square
    around a face again, larger: what the whole picture decided (tones, inks) holds there too. What words ask of a
    material's finish is in `words`, by name.
    """

    look: str
    seed: int
    height: int
    width: int
    ground: Mask | None = None
    cache: SharedCache = field(default_factory=SharedCache)
    faces: tuple[Face, ...] = ()
    inset: bool = False
    marks: float = 1.0
    decisions: dict[str, object] = field(default_factory=dict)
    original: Original | None = None
    guidance: float = 7.0
    strength: float = 1.0
    words: Mapping[str, float] = field(default_factory=dict)
    prompt: str = ""
    least_scale: float = 0.28

    @property
    def scale(self) -> float:
        """Size of marks: 1 at a short side of 400 px, so that a look is the same at every size; `marks` is the
        seed's own hand."""
        return max(min(self.height, self.width) / 400 * self.marks, self.least_scale)

    @property
    def flat(self) -> bool:
        """Whether the source stands on one calm colour; an inset belongs to the same source."""
        return self.decided("flat", lambda: self.ground is not None)

    def decided(self, name: str, decide: Callable[[], Decision]) -> Decision:
        """What the whole picture decides under a name; an inset is given the same."""
        if name not in self.decisions:
            self.decisions[name] = decide()
        return self.decisions[name]  # type: ignore[return-value]

    def closer(self, side: int, face: Face) -> "Sitting":
        """The sitting for a square around a face, painted again at `side` pixels; `face` as it lies in that square."""
        return Sitting(
            self.look, self.seed, side, side, cache=self.cache, faces=(face,), inset=True, marks=self.marks,
            decisions=self.decisions, least_scale=self.least_scale,
        )  # fmt: skip

    def random(self, name: str) -> np.random.Generator:
        """A random stream for draws that depend on the picture."""
        words = [int(b) for b in f"{self.look}/{name}".encode()]
        return np.random.default_rng([self.seed, *words])

    def field(self, name: str, scale: float) -> Float:
        """Smooth unit noise (h, w) with features of `scale` pixels."""
        key = ("field", self.look, self.seed, name, self.height, self.width, round(scale, 4))
        kept = self.cache.get(key, lambda: _packed(smooth_field(self.random(name), self.height, self.width, scale)))
        return kept.astype(f32) * f32(1 / _PACK)


Painter = Callable[[Float, Sitting], Float]
# What is to be said of a look's take of a source: names of warnings, see `readings.warnings`.
Remarks = Callable[[Original, SharedCache], list[str]]


@dataclass(frozen=True)
class Look:
    """A style built in.

    Attributes
    ----------
    paint : renders an OKLab picture (h, w, 3) in the look, same shape out. kinds : what it is made for
    (photo, sketch, render, flat art), best first. strengths : sample band where it usually works.
    seconds : one run of the painter at 512 x 341 on one core, for estimates.
    portrait : whether faces are painted a second time, finer. portrait_tone : see `painting.portrait`.
    owns_colour : the finished paint takes no colour hold (graphite stays graphite).
    push : multiplies the guided push of all octaves. deep_trust, deep_push : multiply, from the third octave on, the noise level at which paint is trusted and
    the guided push; below 1 for looks whose tone must not carry the photo's ghost (trust the more the higher the
    strength).
    bare_push : how far, in finer octaves, the guided push turns away from the source instead of only making marks
    bolder; below 1 for looks that leave paper bare, on which what is turned away from would show as its negative.
    placed : a place in the prompt is drawn behind the source or into it; not where the look is of one sheet, one building.
    around : reads the place that a look draws around its thing by itself, for looks that are not `placed`.
    hears : what a phrase asks of the parts of its thing, to be told to the artist.
    remarks : what a source makes it say of its takes.
    least_scale : size of marks at least, however small the picture. Where marks are paler or fewer and not only smaller
    in small pictures they must follow it further down, to .12 for 64 px; where each costs the same at any size they needn't.
    once : the painter runs once a take; its shapes are the source's own, so a second run would change nothing.
    """

    name: str
    title: str
    category: str
    kinds: tuple[str, ...]
    description: str
    strengths: tuple[float, float]
    paint: Painter
    seconds: float = 0.25
    portrait: bool = True
    portrait_tone: float = 0.8
    owns_colour: bool = False
    push: float = 1.0
    deep_trust: float = 1.0
    deep_push: float = 1.0
    bare_push: float = 1.0
    placed: bool = True
    around: Callable[[str], SceneReading] | None = None
    hears: Callable[[str], tuple[str, ...]] | None = None
    remarks: Remarks | None = None
    least_scale: float = 0.28
    once: bool = False


def shape_keeping(
    name: str, title: str, category: str, kind: str, description: str, paint: Painter, seconds: float,
    remarks: Remarks, own_colour: bool = True, placed: bool = False, push: float = 0.2, strengths: tuple[float, float] = (0.6, 1.0),
) -> Look:  # fmt: skip
    """A look that makes a thing of the source's own shapes: it paints once, and its ground carries no ghost of the source.

    Parameters
    ----------
    seconds : one run at 512 px. own_colour : its colours are its own whatever the source's are. The rest as in `Look`.
    """
    return Look(
        name=name, title=title, category=category, kinds=(kind,), description=description, strengths=strengths,
        paint=paint, seconds=seconds, portrait=False, owns_colour=own_colour, push=push, deep_trust=0.55,
        deep_push=0.0, placed=placed, remarks=remarks, once=True,
    )  # fmt: skip
