"""What a painter is given: the source itself, and one run's seed, fields, faces and words."""

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, field, replace
from typing import TypeVar

import numpy as np

from ..maths.arrays import AnyArray, Float, Mask, f32
from ..maths.gaussian import smooth_field
from .cache import SharedCache
from .face import Face
from .recipe import Holds
from .scene import Backdrop

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
    material's finish is in `words`, by name. `subject` (h, w) 0..1 is what the picture is about, which is painted finer.
    `holds` and `weight` are the recipe's, for looks that make the whole take.
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
    subject: Float | None = None
    holds: Holds = field(default_factory=Holds)
    weight: float = 1.0

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

    def finer(self, marks: float, rows: slice, columns: slice) -> "Sitting":
        """The sitting for a part of the picture painted again with marks of this size; what the whole decided holds there."""
        ground = None if self.ground is None else self.ground[rows, columns]
        return replace(
            self, height=rows.stop - rows.start, width=columns.stop - columns.start, ground=ground, faces=(), subject=None,
            marks=self.marks * marks * min(self.height, self.width) / min(rows.stop - rows.start, columns.stop - columns.start),
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
