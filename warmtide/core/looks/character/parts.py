"""Where a person's skin and hair are: odds by colour, texture and place, smoothed within edges.

Sources
-------
1. D. Min et al., "Fast global image smoothing based on weighted least squares", 2014.
"""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Mask, f32
from ...maths.blur import blur
from ...maths.edge_aware import guided_plane
from ...maths.steps import smoothstep
from ...understanding.people.features import BROWS, CHEEKS, EYES, LIPS, OVAL
from ...understanding.people.outlines import filled, ring_of
from ..shared.flatten import smooth_within
from .head import Head

# Chroma counts this much beside lightness.
_WEIGHTS = np.array([1, 2.2, 2.2], f32)
# The part of the picture about a head that is looked at, in its widths.
_ABOUT = 4.5
_CLOSE = 0.0009


def _centres(colours: AnyArray, count: int) -> AnyArray:
    """Mean colours by k-means that begins along the light: no chance in it."""
    colours = colours[:: max(1, len(colours) // 1500)].astype(f32)
    places = ((np.arange(count) + 0.5) / count * len(colours)).astype(int)
    found = colours[np.argsort(colours[:, 0])][places]
    for _ in range(6):
        nearest = ((colours[:, None] - found[None]) ** 2).sum(2).argmin(1)
        found = np.stack([colours[nearest == j].mean(0) if (nearest == j).any() else found[j] for j in range(count)])
    return found


def _distance(picture: Float, centres: AnyArray) -> Float:
    out = np.full(picture.shape[:2], 9, f32)
    for centre in centres.astype(f32):
        off = picture - centre
        np.minimum(out, (off * off).sum(2), out=out)
    return np.sqrt(out)


def _even(odds: Float, weighed: Float, reach: float) -> Float:
    """Odds smoothed within the picture's edges."""
    ties = [
        1 / (1 + (np.diff(weighed, axis=axis, append=np.take(weighed, [-1], axis)) ** 2).sum(2) / f32(_CLOSE))
        for axis in (1, 0)
    ]
    stacked = np.dstack([odds] * 3).astype(f32)
    return smooth_within(stacked, ties[0].astype(f32), ties[1].astype(f32), reach * reach)[..., 0]


class Found:
    """Skin and hair of all heads of a picture, (h, w) 0..1 each, and each head's tone."""

    def __init__(self, shape: tuple[int, int]) -> None:
        self.skin, self.hair = np.zeros(shape, f32), np.zeros(shape, f32)
        self.tones: list[AnyArray] = []
        self.bald: list[bool] = []

    def add(self, lab: Float, person: Float, head: Head) -> None:
        """Skin and hair about one head: colours learnt from the face itself, hair from a ring over its brows."""
        height, width = person.shape
        low = np.clip(head.middle - _ABOUT * head.width, 0, (width, height)).astype(int)
        high = np.clip(head.middle + _ABOUT * head.width, 0, (width, height)).astype(int)
        box = (slice(low[1], high[1]), slice(low[0], high[0]))
        near = _Near(np.ascontiguousarray(lab[box]), person[box], head, low)
        self.tones.append(near.tone / _WEIGHTS)
        like = near.skin_like()
        oval = near.oval(1.0)
        hair = near.hair(like)
        self.bald.append(hair is None)
        if hair is None:
            self.skin[box] = np.maximum(self.skin[box], np.maximum(like, oval))
            return
        skin = np.maximum(like * (1 - smoothstep(0, 0.03, near.to_skin - near.to_hair)), oval)
        self.skin[box] = np.maximum(self.skin[box], skin)
        self.hair[box] = np.maximum(self.hair[box], hair)

    def settled(self) -> tuple[Float, Float]:
        """Skin and hair, no place both."""
        return np.clip(blur(self.skin, 0.8) - self.hair, 0, 1).astype(f32), self.hair


class _Near:
    """A head's surroundings."""

    def __init__(self, lab: Float, person: Float, head: Head, corner: AnyArray) -> None:
        self.head, self.person, self.xy = head, person, head.xy - corner.astype(f32)
        self.light = np.ascontiguousarray(lab[..., 0])
        self.weighed = (blur(lab, 0.8) * _WEIGHTS).astype(f32)
        ys, xs = np.mgrid[0 : person.shape[0], 0 : person.shape[1]].astype(f32)
        own = head.own(np.dstack([xs, ys]) + corner.astype(f32))
        self.u, self.v = own[..., 0], own[..., 1]
        self.inner = self.oval(0.82)
        cheeks = filled(person.shape, [self.xy[list(c)] for c in CHEEKS])
        self.on_cheeks: Mask = (cheeks > 0.5) & (self.inner > 0.5)
        some = self.weighed[self.on_cheeks] if int(self.on_cheeks.sum()) > 8 else self.weighed[self.inner > 0.5]
        self.tone = np.median(some, 0) if len(some) else np.array([0.65, 0.1, 0.1], f32)
        self.to_skin = self.to_hair = np.zeros(person.shape, f32)
        self.rough = self._roughness()

    def oval(self, grown: float, up: float = 0.0) -> Float:
        ring = self.xy[list(OVAL)]
        middle = ring.mean(0)
        return filled(self.person.shape, [middle + grown * (ring - middle) - self.head.down * up * self.head.width])

    def _roughness(self) -> Float:
        """Fine texture, 1 as smooth as the cheeks."""
        wide = self.head.width
        fine = np.abs(self.light - blur(self.light, max(0.014 * wide, 0.8)))
        rough = blur(fine, max(0.03 * wide, 1.2)) / (self.light + f32(0.15))
        own = float(np.median(rough[self.on_cheeks])) if self.on_cheeks.any() else 0.01
        return (rough / f32(np.clip(own, 0.004, 0.02))).astype(f32)

    def skin_like(self) -> Float:
        """Where it is like the cheeks at any light; under the chin, where shadow dulls it, with less care."""
        tone, au = self.tone, np.abs(self.u)
        hue = self.weighed[..., 1:] / (self.weighed[..., :1] + f32(0.06)) - tone[1:].astype(f32) / f32(tone[0] + 0.06)
        wide = 1 + 0.5 * (1 - smoothstep(0.30, 0.45, au)) * smoothstep(0.35, 0.5, self.v) * (
            1 - smoothstep(1.0, 1.3, self.v)
        )
        like = 1 - smoothstep(0.9, 1.8, np.hypot(hue[..., 0] / f32(0.075), hue[..., 1] / f32(0.11)) / wide)
        ratio = self.weighed[..., 0] / f32(tone[0])
        like = like * smoothstep(0.44, 0.64, ratio * wide**0.6) * (1 - smoothstep(1.28, 1.5, ratio))
        like = like * self.person * (1 - smoothstep(2.4, 4.3, np.hypot(self.u, self.v)))
        return np.asarray(like * (1 - smoothstep(2.5, 5, blur(self.rough, 0.03 * self.head.width))), f32)

    def _ring_over_brows(self) -> Mask:
        found: Mask = (self.oval(1.38, 0.10) > 0.5) & (self.oval(1.08) < 0.5) & (self.v < -0.15) & (self.person > 0.6)
        return found

    def hair(self, like: Float) -> Float | None:
        """Hair that hangs together with the ring over the brows, or None for a bald head or a hat of skin's colour."""
        over = self._ring_over_brows()
        colours = self.weighed[over & (like < 0.35)]
        if len(colours) < max(0.12 * float(over.sum()), 12):
            return None
        cuts = filled(self.person.shape, [ring_of(pair, self.xy) for pair in (*EYES, *BROWS, LIPS)])
        shades = self.tone * np.array([[0.62], [0.75], [0.9], [1.06], [1.14]])
        own = self.weighed[(self.inner > 0.5) & (cuts < 0.1)]
        skins = np.concatenate([_centres(own, 4), shades]) if len(own) > 8 else shades
        self.to_hair, self.to_skin = _distance(self.weighed, _centres(colours, 4)), _distance(self.weighed, skins)
        odds = self._odds()
        wide = self.head.width
        odds = _even(odds, self.weighed, 0.035 * wide)
        share = 1 / (1 + np.exp(-2.5 * odds))
        notches = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (max(int(0.30 * wide) | 1, 3),) * 2)
        closed = cv2.morphologyEx(share.astype(f32), cv2.MORPH_CLOSE, notches)
        share = np.maximum(share, closed * smoothstep(-1.9, -0.9, odds) * (self.v < -0.28))
        _, parts = cv2.connectedComponents((share > 0.5).astype(np.uint8), connectivity=8)
        keep = np.unique(parts[over & (parts > 0)])
        share = share * np.isin(cv2.dilate(parts.astype(f32), np.ones((3, 3))).astype(int), keep)
        share = (
            smoothstep(0.2, 0.75, guided_plane(self.light, share.astype(f32), max(2, int(0.02 * wide)), 5e-4))
            * self.person
        )
        return np.asarray(share * (1 - blur(self.inner, 1.0) * smoothstep(-0.34, -0.26, self.v)), f32)

    def _odds(self) -> Float:
        """Hair against all else, by colour and texture, and by where hair is on a head."""
        au, v = np.abs(self.u), self.v
        elsewhere = [
            _centres(self.weighed[some], 5)
            for some in (
                (self.person < 0.15) & (au < 1.4) & (np.abs(v) < 2),
                (self.person > 0.7) & (v > 0.95) & (self.to_hair > 0.08) & (au < 2),
            )
            if int(some.sum()) > 50
        ]
        to_other = _distance(self.weighed, np.concatenate(elsewhere)) if elsewhere else self.to_skin + 1
        nearest = np.minimum(self.to_skin, np.maximum(to_other, f32(0.03)))
        odds = np.clip((nearest - self.to_hair) / 0.030, -2.2, 2.2) + np.clip(0.75 * (self.rough - 1.6), -0.9, 1.6)
        away = np.hypot(self.u / 0.50, (v + 0.02) / 0.66)
        # Skull, forehead, face, neck, sides of the neck, far away.
        odds = odds + 1.9 * smoothstep(1.0, 1.28, away) * (1 - smoothstep(-0.35, -0.10, v)) * (away < 2)
        odds = odds - 1.3 * (1 - smoothstep(0.86, 1.02, away)) * (1 - smoothstep(-0.36, -0.28, v))
        face = 5.5 * (1 - smoothstep(0.76, 0.90, away)) + 1.3 * (1 - smoothstep(0.90, 1.04, away))
        odds = odds - face * smoothstep(-0.36, -0.26, v)
        odds = odds - 4 * (1 - smoothstep(0.34, 0.50, au)) * smoothstep(0.30, 0.45, v) * (1 - smoothstep(1.5, 1.9, v))
        sides = (1 - smoothstep(0.62, 0.85, au)) * smoothstep(0.10, 0.35, v) * (1 - smoothstep(0.9, 1.3, v))
        odds = odds - 2 * sides * (self.to_skin < 0.075)
        odds = odds - 8 * smoothstep(0.75, 1.25, np.maximum(au * 0.9, np.maximum(-v * 0.8, v * 0.5)))
        return np.where(self.person > 0.4, odds, -4).astype(f32)
