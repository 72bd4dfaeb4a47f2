"""The painter of a learned look: the picture laid again out of the references' patches, coarse to fine."""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Int, f32
from ...maths.blur import quick_blur
from ...maths.colour import bytes_to_lab
from ...maths.octaves import REFERENCE_SIDE
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from .dictionary import Dictionary
from .features import CHANNELS, GUIDES, JETS, PATCH, guide, jets
from .match import first_field, search, vote
from .transport import moved, toned

_LEVELS = 3
_LEAST_SHORT = 40
# Rounds of matching and voting at every level: first by what lies where, then by the marks themselves.
_TURNS = ((0.35, 1.0), (1.0, 0.7), (1.4, 0.5))
_COHERENCE = 0.22
_PENALTY = 0.012
# Patches take this much of the picture's own broad lightness and colour.
_LIGHT_SHIFT, _COLOUR_SHIFT = 0.30, 0.35
_HALF = PATCH // 2
_ANCHOR = 0.4
# A look of less chroma than this (graphite, ink) has no colour to give back.
_COLOURLESS = 0.03


class Bench:
    """The dictionary at one size, ready to be matched."""

    def __init__(self, dictionary: Dictionary, ratio: float) -> None:
        pictures = []
        for reference in dictionary.references:
            lab = bytes_to_lab(reference) * CHANNELS
            size = (
                max(round(lab.shape[1] * ratio), PATCH + 3),
                max(round(lab.shape[0] * ratio), PATCH + 3),
            )
            shrink = size[0] < lab.shape[1]
            how = cv2.INTER_AREA if shrink else cv2.INTER_CUBIC
            pictures.append(lab if size == lab.shape[1::-1] else cv2.resize(lab, size, interpolation=how))
        height, width = sum(p.shape[0] for p in pictures), max(p.shape[1] for p in pictures)
        self.picture: Float = np.zeros((height, width, 3), f32)
        self.valid = np.zeros((height, width), np.bool_)
        self.mean: Float = np.zeros((height, width, 3), f32)
        self.features: Float | None = None
        self.rows: list[tuple[int, int, int]] = []
        top = 0
        for p in pictures:
            rows, columns = p.shape[:2]
            self.picture[top : top + rows, :columns] = p
            self.valid[top + _HALF : top + rows - _HALF, _HALF : columns - _HALF] = True
            self.mean[top : top + rows, :columns] = cv2.boxFilter(p, -1, (PATCH, PATCH), borderType=cv2.BORDER_REFLECT)
            self.rows.append((top, rows, columns))
            top += rows

    def appearance(self, radius: float) -> Float:
        """Jets and guides of every place of the dictionary; one radius belongs to one size."""
        if self.features is None:
            self.features = np.zeros((*self.valid.shape, JETS + GUIDES), f32)
            for i, (top, rows, columns) in enumerate(self.rows):
                self.features[top : top + rows, :columns, :JETS] = jets(self._part(i))
                self.features[top : top + rows, :columns, JETS:] = guide(self._part(i), radius)
        return self.features

    def _part(self, i: int) -> Float:
        top, rows, columns = self.rows[i]
        return np.ascontiguousarray(self.picture[top : top + rows, :columns])


def _halved(picture: Float, times: int) -> Float:
    for _ in range(times):
        size = ((picture.shape[1] + 1) // 2, (picture.shape[0] + 1) // 2)
        picture = cv2.resize(picture, size, interpolation=cv2.INTER_AREA)
    return np.ascontiguousarray(picture)


def _enlarged(field: Int, shape: tuple[int, int], valid: AnyArray) -> Int:
    """Matches of a level twice as fine: the same places of the dictionary, at twice the size."""
    rows, columns = (shape[0] + 1) // 2, (shape[1] + 1) // 2
    i = np.minimum(np.arange(rows) // 2, field.shape[0] - 1)
    j = np.minimum(np.arange(columns) // 2, field.shape[1] - 1)
    grown = field[i[:, None], j[None]] * 2
    grown[..., 0] += 2 * (np.arange(rows) % 2)[:, None]
    grown[..., 1] += 2 * (np.arange(columns) % 2)[None]
    height, width = valid.shape
    grown[..., 0] = np.clip(grown[..., 0], 0, height - 1)
    grown[..., 1] = np.clip(grown[..., 1], 0, width - 1)
    lost = ~valid[grown[..., 0], grown[..., 1]]
    if lost.any():
        places = np.argwhere(valid)
        grown[lost] = places[(np.arange(int(lost.sum())) * 7919) % len(places)]
    return np.ascontiguousarray(grown, dtype=np.int32)


def paint_with(dictionary: Dictionary, lab: Float, sitting: Sitting) -> Float:
    """The picture (h, w, 3) in a learned look. About .5 s at 512 px.

    From coarse to fine, every place looks for the patch of the dictionary that fits what lies there, and what
    has been laid so far; overlapping patches vote, each moved part of the way to the picture's own tone.
    """
    short = min(lab.shape[:2])
    finest = short / REFERENCE_SIDE
    # Beyond the working size matches stay, and the finer pictures vote.
    vote_scale = 2 if finest > 1.35 and dictionary.finer == 2 else 1
    target = toned(moved(lab, dictionary.colours, dictionary.mass), dictionary.tones) * CHANNELS
    work = _halved(target, 1) if vote_scale == 2 else target
    levels = _LEVELS
    while levels > 1 and min(work.shape[:2]) >> (levels - 1) < _LEAST_SHORT:
        levels -= 1
    ratio = finest / vote_scale / dictionary.finer
    radius = max(0.45 * dictionary.element * finest / vote_scale, 1.4)
    field: Int | None = None
    laid = work
    for level in range(levels - 1, -1, -1):
        key = ("learned", dictionary.id, round(ratio / 2**level, 5))
        bench = sitting.cache.get(key, lambda r=ratio / 2**level: Bench(dictionary, r))  # type: ignore[misc]
        goal = _halved(work, level)
        shape = goal.shape[:2]
        reach = max(radius / 2**level, 1.2)
        ref = bench.appearance(reach)
        led = guide(goal, reach)[::2, ::2]
        fresh = field is None
        field = first_field(shape, bench.valid, sitting.seed) if field is None else _enlarged(field, shape, bench.valid)
        laid = goal if fresh else _grown(laid, goal, reach)
        broad = cv2.boxFilter(goal, -1, (PATCH, PATCH), borderType=cv2.BORDER_REFLECT)
        for turn, (by_mark, by_place) in enumerate(_TURNS if level else _TURNS[1:]):
            query = np.ascontiguousarray(np.dstack([jets(laid)[::2, ::2], led]))
            worth = np.repeat(np.array([by_mark, by_place], f32) ** 2, (JETS, GUIDES))
            field = search(
                query, ref, worth, bench.valid, field, 4 if fresh and turn == 0 else 2, _PENALTY, _COHERENCE,
                sitting.seed * 31 + 7 * level + turn + 1, fresh and turn == 0,
            )  # fmt: skip
            spread = 1.5 if level else 1.3 if turn == 0 else 0.95
            laid = vote(bench.picture, bench.mean, field, broad, (_LIGHT_SHIFT, _COLOUR_SHIFT), spread, shape)
            laid += f32(_ANCHOR) * (quick_blur(goal, 2 * reach) - quick_blur(laid, 2 * reach))
    assert field is not None
    if vote_scale == 2:
        key = ("learned", dictionary.id, round(2 * ratio, 5))
        fine = sitting.cache.get(key, lambda: Bench(dictionary, 2 * ratio))
        laid = vote(fine.picture, bench.mean, field, broad, (_LIGHT_SHIFT, _COLOUR_SHIFT), 1.25, lab.shape[:2], 2)
        laid += f32(_ANCHOR) * (quick_blur(target, 4 * reach) - quick_blur(laid, 4 * reach))
    return np.ascontiguousarray(laid / CHANNELS, dtype=f32)


def _grown(laid: Float, goal: Float, radius: float) -> Float:
    """What was laid on the coarser level, with the fine shapes of the picture to begin the finer one."""
    up = cv2.resize(laid, (goal.shape[1], goal.shape[0]), interpolation=cv2.INTER_LINEAR)
    return np.ascontiguousarray(up + f32(0.6) * (goal - quick_blur(goal, radius)), dtype=f32)


def look_from(dictionary: Dictionary) -> Look:
    """The look that paints with a dictionary; its name is `learned-` and the dictionary's id."""
    colourless = dictionary.chroma < _COLOURLESS
    return Look(
        name=f"learned-{dictionary.id}",
        title=dictionary.name,
        category="learned",
        kinds=("photo", "render", "sketch", "flat art"),
        description=f"learned from {len(dictionary.references)} reference pictures"
        if len(dictionary.references) > 1
        else "learned from one reference picture",
        strengths=(0.4, 0.8),
        paint=lambda lab, sitting: paint_with(dictionary, lab, sitting),
        seconds=0.6,
        handling=Handling(owns_colour=colourless, deep_trust=0.35 if colourless else 0.75, deep_push=0.3),
    )
