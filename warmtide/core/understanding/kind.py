"""What kind of picture a source is: it decides which looks come first and where the holds begin."""

from dataclasses import dataclass
from typing import Literal, get_args

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, f32
from ..maths.colour import bytes_to_lab
from ..model.recipe import Holds

Kind = Literal["photo", "sketch", "render", "flat art"]
KINDS: tuple[Kind, ...] = get_args(Kind)

_SIDE = 320
# Pixels whose neighbours differ by less than this are calm; flat art is nearly all calm, in few colours.
_CALM = 0.004
_FLAT_CALM = 0.80
_FEW = 14
_RENDER_CHROMA = 0.020
_SKETCH_CHROMA = 0.040
_PAPER = 0.58
_NO_CHROMA = 0.008
_MID_GREYS = slice(6, 24)
_GREY_SHARE = 0.05
_FACES = 3


@dataclass(frozen=True)
class Signs:
    """What the guess is made from, each 0..1 but `colours`.

    Attributes
    ----------
    calm : share of pixels that differ little from their neighbours. colours : how many cover 95 % of them.
    chroma : mean OKLab chroma of what is not paper. paper : share of pixels near the commonest light tone.
    thin : share of the dark that thin strokes hold. smooth : share of soft shading, neither calm nor edge.
    cut_out : share of transparency. greys : tones between black and white that cover a twentieth each.
    """

    calm: float
    colours: int
    chroma: float
    paper: float
    thin: float
    smooth: float
    cut_out: float
    greys: int


def _small(rgba: Byte) -> Byte:
    scale = min(_SIDE / max(rgba.shape[:2]), 1.0)
    size = (max(round(rgba.shape[1] * scale), 8), max(round(rgba.shape[0] * scale), 8))
    # Nearest keeps flat colours flat; averages would invent the tones between two of them.
    exact = cv2.resize(rgba, size, interpolation=cv2.INTER_NEAREST)
    soft = cv2.resize(rgba, size, interpolation=cv2.INTER_AREA)
    same = np.abs(exact.astype(int) - soft).max(-1, keepdims=True) < 12
    return np.where(same, soft, exact).astype(np.uint8)


def signs_of(rgba: Byte) -> Signs:
    """Measure a picture (h, w, 4) uint8. About 10 ms."""
    small = _small(rgba)
    alpha = small[..., 3]
    seen = alpha > 128
    ground = np.array([255, 255, 255], np.uint8)
    lab = bytes_to_lab(np.where(seen[..., None], small[..., :3], ground).astype(np.uint8))
    inside: AnyArray = seen if seen.mean() > 0.02 else np.ones_like(seen)
    light = np.ascontiguousarray(lab[..., 0])
    step = np.maximum(np.abs(cv2.Laplacian(light, cv2.CV_32F)), 0)
    slope = np.hypot(cv2.Scharr(light, cv2.CV_32F, 1, 0), cv2.Scharr(light, cv2.CV_32F, 0, 1)) / 32
    calm = float(((slope < _CALM) & (step < 3 * _CALM))[inside].mean())
    smooth = float(((slope >= _CALM) & (slope < 0.05) & (step < 0.03))[inside].mean())
    cells = np.floor(lab[inside] / np.array([0.025, 0.02, 0.02], f32)).astype(np.int64)
    counts = np.sort(np.unique((cells[:, 0] * 1000 + cells[:, 1]) * 1000 + cells[:, 2], return_counts=True)[1])[::-1]
    colours = int(np.searchsorted(np.cumsum(counts), 0.95 * counts.sum())) + 1
    common = np.histogram(light[inside], 40, (0, 1))[0]
    tone = (int(common[24:].argmax()) + 24.5) / 40
    paper_mask = (np.abs(light - tone) < 0.09) & inside
    paper = float(paper_mask.sum() / max(inside.sum(), 1))
    rest = inside & ~paper_mask
    chroma = float(np.hypot(lab[..., 1], lab[..., 2])[rest].mean()) if rest.sum() > 50 else 0.0
    if paper > 0.5:
        # On tinted paper what counts is how far strokes are from the paper's own colour.
        tint = np.median(lab[paper_mask][:, 1:], axis=0)
        chroma = float(np.hypot(*(lab[..., 1:] - tint)[rest].T).mean()) if rest.sum() > 50 else 0.0
    dark = (light < tone - 0.12) & inside
    opened = cv2.morphologyEx(dark.astype(np.uint8), cv2.MORPH_OPEN, np.ones((7, 7), np.uint8)) > 0
    thin = 1 - float(opened.sum() / max(dark.sum(), 1))
    shares = np.histogram(light[inside], 25, (0, 1))[0] / max(inside.sum(), 1)
    greys = int((shares[_MID_GREYS] > _GREY_SHARE).sum())
    return Signs(calm, colours, chroma, paper, thin, smooth, 1 - float(seen.mean()), greys)


def guess_kind(rgba: Byte) -> Kind:
    """The likeliest kind of a picture (h, w, 4) uint8. A guess: the artist can say otherwise. About 10 ms."""
    signs = signs_of(rgba)
    if signs.paper > _PAPER and signs.chroma < _SKETCH_CHROMA and signs.thin > 0.6:
        return "sketch"
    # Faces of a massing model are flat too, but in greys; a logo has black, white and hardly one between.
    if signs.chroma < _NO_CHROMA and signs.greys >= _FACES and signs.calm > 0.5:
        return "render"
    few = signs.colours <= _FEW and signs.calm > _FLAT_CALM and signs.smooth < 0.12
    fewer = signs.colours <= _FEW // 2 and signs.calm > 0.65 and signs.smooth < 0.06
    cut = signs.cut_out > 0.05 and signs.calm > 0.6 and signs.colours <= _FEW
    if few or fewer or cut:
        return "flat art"
    if signs.chroma < _RENDER_CHROMA and signs.calm > 0.5:
        return "render"
    return "photo"


# Firm enough that nothing is lost where a look sets in, loose enough that the composition gives way within the first sweep
# (bench/first_sweep.py): that is where holding its lines begins to tell.
_BEGIN = {
    "photo": Holds(lines=0.3, shapes=0.3, colours=0.3),
    "sketch": Holds(lines=0.4, shapes=0.3, colours=0.2),
    "render": Holds(lines=0.3, shapes=0.3, colours=0.2),
    "flat art": Holds(lines=0.5, shapes=0.5, colours=0.5),
}
_PEOPLE = Holds(lines=0.25, shapes=0.3, colours=0.3, faces=0.9)


def holds_for(kind: str, people: bool = False) -> Holds:
    """Holds that a new study of a kind begins with; where people are, it is they who are held."""
    return _PEOPLE if people and kind == "photo" else _BEGIN.get(kind, _BEGIN["photo"])


# Within this much of the usual value a hold works as it should for its kind.
_AROUND = 0.15


def hold_ranges(kind: str, people: bool = False) -> dict[str, tuple[float, float]]:
    """From where to where each hold usually lies for a kind, 0..1."""
    usual = holds_for(kind, people).model_dump()
    return {
        name: (round(max(value - _AROUND, 0), 2), round(min(value + _AROUND, 1), 2)) if value > 0 else (0.0, 0.0)
        for name, value in usual.items()
    }
