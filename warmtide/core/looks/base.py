"""What a look is, and what a painter is given."""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from ..arrays import Float, Mask
from ..engine.cache import SharedCache
from ..engine.noise import smooth_field


@dataclass
class Sitting:
    """One painter's run: its seed, its noise fields, the size of its marks, what is known of the source.

    A field is named, and each has a random stream of its own, so that a draw which depends on the picture
    cannot shift the fields after it; equal fields are shared between takes.
    """

    look: str
    seed: int
    height: int
    width: int
    ground: Mask | None = None
    cache: SharedCache = field(default_factory=SharedCache)

    @property
    def scale(self) -> float:
        """Size of marks: 1 at a short side of 400 px, so that a look is the same at every size."""
        return max(min(self.height, self.width) / 400, 0.4)

    @property
    def flat(self) -> bool:
        """Whether the source stands on one calm colour."""
        return self.ground is not None

    def random(self, name: str) -> np.random.Generator:
        """A random stream for draws that depend on the picture."""
        words = [int(b) for b in f"{self.look}/{name}".encode()]
        return np.random.default_rng([self.seed, *words])

    def field(self, name: str, scale: float) -> Float:
        """Smooth unit noise (h, w) with features of `scale` pixels."""
        key = ("field", self.look, self.seed, name, self.height, self.width, round(scale, 4))
        return self.cache.get(key, lambda: smooth_field(self.random(name), self.height, self.width, scale))


Painter = Callable[[Float, Sitting], Float]


@dataclass(frozen=True)
class Look:
    """A style built in.

    Attributes
    ----------
    paint : renders an OKLab picture (h, w, 3) in the look, same shape out. kinds : what it is made for
    (photo, sketch, render, flat art), best first. strengths : sample band where it usually works.
    seconds : one run of the painter at 512 x 341 on one core, for estimates.
    owns_colour : the finished paint takes no colour hold (graphite stays graphite).
    deep_trust, deep_push : multiply, from the third octave on, the noise level at which paint is trusted and
    the guided push; below 1 for looks whose tone must not carry the photo's ghost.
    """

    name: str
    title: str
    category: str
    kinds: tuple[str, ...]
    description: str
    strengths: tuple[float, float]
    paint: Painter
    seconds: float = 0.25
    owns_colour: bool = False
    deep_trust: float = 1.0
    deep_push: float = 1.0
