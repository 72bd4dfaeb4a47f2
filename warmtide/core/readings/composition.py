"""Composition kept: whether the edges of the source are still there, at their place, in any medium.

At every place the directions of the source's edges are correlated with the take's, at three scales and by two
routes (steps of tone, and lines where a step was), less what two unrelated pictures would give by chance.
What has only moved is found by optical flow and counts less the further it moved.

Sources
-------
1. J. Lewis, "Fast normalized cross-correlation", 1995 (local correlation).
2. T. Kroeger et al., "Fast optical flow using dense inverse search", 2016.
3. J. Cohen, "A coefficient of agreement for nominal scales", 1960 (agreement beyond chance).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import Float, Mask, f32, summed
from ..maths.blur import blur
from .features import LEVELS, Features
from .kind import ReadingKind

_NAMES = ("fine", "mid", "coarse")
_LEVEL_WEIGHTS = (0.30, 0.38, 0.32)
_SALIENCE_WEIGHTS = (1.0, 0.35, 0.20)
# Correlation that unrelated pictures reach, by scale: in place, and after the flow has searched for a match.
_CHANCE = (0.05, 0.10, 0.15)
_CHANCE_MOVED = (0.11, 0.14, 0.17)
# A shift of this share of the long side counts half.
_HALF_SHIFT = 0.03
# A match this good is as good as any.
_FULL = 0.85
_FLOOR, _POWER = 0.03, 1.15
# Places nearer to the silhouette than this share of the long side belong to it.
_RIM = 0.055
_LEAST_PART = 0.1
_INTERIOR = 0.75


@dataclass(frozen=True)
class Composition:
    """What a take kept of the source's composition.

    Attributes
    ----------
    kept : 0..100. fine, mid, coarse : the same by scale, in place only. moved : points lost to shifts.
    gone : points lost for good. shift : mean shift of what has moved, percent of the long side.
    added : structure of the take that the source doesn't have, 0..100.
    share : (h, w) kept share of each place, 0..1; weight : how much each place matters, summing to 1.
    """

    kept: float
    fine: float
    mid: float
    coarse: float
    moved: float
    gone: float
    shift: float
    added: float
    share: Float
    weight: Float

    @property
    def loss(self) -> Float:
        """Weighted loss of each place; its mean is the loss of the whole."""
        lost: Float = (self.weight * np.clip(1 - self.share, 0, 1) * self.weight.size).astype(f32)
        return lost


def _correlation(first: Float, second: Float, sigma: float = 4.0) -> Float:
    """Local centred correlation of two vector fields, -1..1."""
    mean_a, mean_b = blur(first, sigma), blur(second, sigma)
    ab = blur(summed(first * second), sigma) - summed(mean_a * mean_b)
    aa = blur(summed(first * first), sigma) - summed(mean_a * mean_a)
    bb = blur(summed(second * second), sigma) - summed(mean_b * mean_b)
    floor = f32(1e-8)
    return (ab / np.sqrt(np.maximum(aa, floor) * np.maximum(bb, floor) + floor)).astype(f32)


def _beyond(match: Float, chance: float) -> Float:
    return ((match - f32(chance)) / f32(1 - chance)).astype(f32)


def _resized(plane: Float, shape: tuple[int, ...]) -> Float:
    return cv2.resize(plane, (shape[1], shape[0]), interpolation=cv2.INTER_LINEAR)


def figure_of(share: float) -> float:
    """Points from a mean share that is there, 0..1: what chance gives is 0."""
    return float(100 * np.clip((share - _FLOOR) / (1 - _FLOOR), 0, 1) ** _POWER)


# On a plane lower than this the search reads and writes beside it, and ends the process.
_FLOW_SIDE = 32


def _flow(source: Features, take: Features) -> Float:
    """Where each place of the source has gone, in pixels at 256 px."""
    search = cv2.DISOpticalFlow.create(cv2.DISOPTICAL_FLOW_PRESET_FAST)
    height, width = source.edges.shape[:2]
    more = (max(_FLOW_SIDE - height, 0), max(_FLOW_SIDE - width, 0))
    first, second = (
        cv2.copyMakeBorder(edges, 0, more[0], 0, more[1], cv2.BORDER_REPLICATE) if any(more) else edges
        for edges in (source.edges, take.edges)
    )
    return blur(search.calc(first, second, None)[:height, :width], 2.0)


def _followed(take: Features, level: int, flow: Float) -> tuple[Float, Float]:
    """The take's directions of one scale, fetched from where the flow says that they went."""
    steps, traces = take.steps[level], take.traces[level]
    shape = steps.shape[:2]
    moved = _resized(flow, shape) * f32(shape[1] / flow.shape[1])
    xs, ys = np.meshgrid(np.arange(shape[1], dtype=f32), np.arange(shape[0], dtype=f32))
    both = np.concatenate([steps, traces], -1)
    fetched = cv2.remap(both, xs + moved[..., 0], ys + moved[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.ascontiguousarray(fetched[..., :2]), np.ascontiguousarray(fetched[..., 2:])


def _inside(ground: Mask | None, shape: tuple[int, ...]) -> Mask | None:
    """Places well inside the silhouette of flat art, at the size of the maps; None where there is no silhouette."""
    if ground is None:
        return None
    open_ = cv2.resize(ground.astype(np.uint8), (shape[1], shape[0]), interpolation=cv2.INTER_NEAREST)
    reach = 2 * round(_RIM * max(shape)) + 1
    found: Mask = cv2.dilate(open_, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))) == 0
    return found


def _whole(share: Float, weight: Float, inside: Mask | None) -> float:
    """Kept share of a picture. On flat art silhouette and interior must both be there: round badges share their
    outline, and nothing else."""
    plain = float((weight * share).sum())
    if inside is None:
        return plain
    within = float(weight[inside].sum())
    if not _LEAST_PART < within < 1 - _LEAST_PART:
        return plain
    interior = float((weight * share)[inside].sum()) / within
    outline = (plain - interior * within) / (1 - within)
    return min(plain, max(interior, 0.0) ** _INTERIOR * max(outline, 0.0) ** (1 - _INTERIOR))


def composition_kept(source: Features, take: Features, ground: Mask | None = None) -> Composition:
    """Compare a take with its source, both read at one size. About 15 ms.

    Parameters
    ----------
    ground : (h, w) bool at any size, flat ground around the source's subject; or None.

    Returns
    -------
    `Composition`; its maps have half the reading size.
    """
    flow = _flow(source, take)
    shape = source.steps[0].shape[:2]
    in_place, found = np.zeros(shape, f32), np.zeros(shape, f32)
    parts = {}
    for level in range(LEVELS):
        steps, traces = source.steps[level], source.traces[level]
        match = np.maximum(_correlation(steps, take.steps[level]), _correlation(traces, take.traces[level]))
        beyond = _beyond(match, _CHANCE[level])
        weight = source.salience[level]
        kept = float((weight * np.minimum(beyond / _FULL, 1)).sum() / (weight.sum() + 1e-6))
        parts[_NAMES[level]] = 100 * min(max(kept, 0.0), 1.0)
        there, there_traced = _followed(take, level, flow)
        moved = np.maximum(_correlation(steps, there), _correlation(traces, there_traced))
        in_place += f32(_LEVEL_WEIGHTS[level]) * _resized(beyond, shape)
        found += f32(_LEVEL_WEIGHTS[level]) * _resized(_beyond(moved, _CHANCE_MOVED[level]), shape)

    distance = _resized(np.hypot(flow[..., 0], flow[..., 1]), shape) / max(flow.shape[:2])
    nearness = 1 / (1 + (distance / f32(_HALF_SHIFT)) ** 2)
    by_flow = np.clip((found - in_place) / f32(0.15), 0, 1)
    present = np.maximum(in_place, found)
    share = np.where(found > in_place, present * (1 - by_flow * (1 - nearness)), in_place)
    # Clipped place by place: clipping the whole would hide a local loss.
    share, present = np.minimum(share / _FULL, 1).astype(f32), np.minimum(present / _FULL, 1).astype(f32)

    weight = sum(
        (f32(w) * _resized(s, shape) for w, s in zip(_SALIENCE_WEIGHTS, source.salience, strict=True)),
        np.zeros(shape, f32),
    )
    featureless = float(weight.sum()) < 1e-6
    weight = np.full(shape, 1 / weight.size, f32) if featureless else (weight / weight.sum()).astype(f32)
    inside = _inside(ground, shape)
    figure, presence = figure_of(_whole(share, weight, inside)), figure_of(_whole(present, weight, inside))
    moving = weight * by_flow * np.clip(present, 0, 1)
    last = LEVELS - 1
    match = np.maximum(
        _correlation(source.steps[last], take.steps[last]), _correlation(source.traces[last], take.traces[last])
    )
    new = take.salience[last]
    added = 100 * float((new * (1 - np.clip(match, 0, 1))).sum() / (new.sum() + 1e-6))
    if featureless:
        # A blank source has no composition to lose: only what a take puts there counts.
        figure, share = max(0.0, 100 - added), np.ones(shape, f32)
        presence = figure
    return Composition(
        kept=figure, **parts, moved=max(0.0, presence - figure), gone=100 - presence,
        shift=100 * float((moving * distance).sum() / (moving.sum() + 1e-6)), added=added,
        share=share, weight=weight,
    )  # fmt: skip


_PARTS = (*_NAMES, "moved", "gone", "shift", "added")

READING = ReadingKind(
    "composition",
    "Composition kept",
    "Whether the edges of the source are still there, and at their place.",
    of=lambda pair: pair.composition.kept,
    parts=lambda pair: {name: round(getattr(pair.composition, name), 1) for name in _PARTS},
    part_names=_PARTS,
    place=1,
)
