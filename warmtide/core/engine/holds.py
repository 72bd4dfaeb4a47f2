"""Holds on the composition, as a weight a step for every coefficient.

A hold is a limit on the denoiser's estimate, not a mix with the finished take: at every step the estimate is
pulled toward the source as this seed bends it. The weight of one step is the total weight spread over the
schedule; without that the pull accumulates and a hold of .5 acts like .9.
"""

import math

import cv2
import numpy as np

from ..maths.arrays import Bands, Float, Mask, f32
from ..maths.jit import kernel
from ..maths.octaves import PRIOR_LIGHT, at_octave, octave_of
from .schedule import SIGMA_MIN

# Octaves up to the first belong to lines, from the second on to shapes; between, both.
_LINES_END, _SHAPES_BEGIN = 1.0, 2.5
# A face's features are finer than this octave; its broad tone belongs to the picture.
_FEATURES_END = 4.5
# A subject keeps its outline and inner structure; where light and dark lie in it broadly is the picture's.
_SUBJECT_END = 5.5
_FIRM = 0.999
# Salience is measured against the local contrast, but never below this share of a natural picture's.
_LOCAL = 1.0
_AROUND = 15
_LEAST_UNIT = 0.14
_MOST = math.log(1000)
# A step of the depth map that counts as the rim of one thing before another.
_DEPTH_STEP = 0.05


@kernel
def _weights(energy, around, near, out, firmness, prior, least, share):  # type: ignore[no-untyped-def]
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            # Where the surroundings are pale or dark all over, less is salient: a figure at dusk counts too.
            calm = around[y, x] * around[y, x] * f32(_LOCAL)
            unit = f32(1.2) * min(max(calm, least), prior)
            salience = math.sqrt(max(energy[y, x], f32(0))) / unit - f32(0.35)
            salience = min(max(salience, f32(0)), f32(2)) * near[y, x]
            pull = min((f32(0.6) + f32(2.2) * salience) * firmness, f32(_MOST))
            out[y, x] = min(pull * share, f32(1))


def _firmness(hold: float) -> float:
    return -math.log(1 - min(hold, _FIRM))


def salience_share(weight: Float, hold: float, sigma_start: float) -> Float:
    """How salient the engine found each place, 0..1, from the weight that it gave it at a hold."""
    share = 1 / max(math.log(sigma_start / SIGMA_MIN), 1.0)
    salience: Float = (weight / f32(share * _firmness(hold)) - f32(0.6)) / f32(2.2 * 1.2)
    return np.clip(salience, 0, 1)


def mixed_hold(lines: float, shapes: float, octave: float) -> float:
    """The structure hold at an octave: lines where fine, shapes where coarse."""
    t = min(max((octave - _LINES_END) / (_SHAPES_BEGIN - _LINES_END), 0.0), 1.0)
    return lines + (shapes - lines) * t * t * (3 - 2 * t)


def _near_edges(image: Float, height: int) -> Float:
    """1 on the strongest fifth of the edges, falling off over three pixels of the reference size."""
    small = cv2.GaussianBlur(image, (0, 0), 1.0, borderType=cv2.BORDER_REFLECT)
    energy = np.zeros(small.shape[:2], f32)
    for k in range(3):
        channel = np.ascontiguousarray(small[..., k])
        energy += cv2.Scharr(channel, cv2.CV_32F, 1, 0) ** 2 + cv2.Scharr(channel, cv2.CV_32F, 0, 1) ** 2
    weak = energy < max(float(np.percentile(energy[::2, ::2], 80)), 1e-9)
    if weak.all():
        return np.zeros(small.shape[:2], f32)
    distance = cv2.distanceTransform(weak.astype(np.uint8), cv2.DIST_L2, 3) * (2 * 341 / max(height, 1))
    near: Float = np.exp(-((distance / 3) ** 2)).astype(f32)
    return near


def _depth_weights(depth: Float, shape: tuple[int, ...], octave: float) -> Float:
    """Pull over a whole schedule that keeps the steps of a depth map, and broadly what is near and far."""
    small = cv2.resize(depth, (shape[1], shape[0]), interpolation=cv2.INTER_AREA)
    step = np.hypot(cv2.Scharr(small, cv2.CV_32F, 1, 0), cv2.Scharr(small, cv2.CV_32F, 0, 1)) / 16
    step = cv2.dilate(step, np.ones((3, 3), np.uint8))
    hold = min(float(depth.max()), _FIRM)
    broad = 0.5 * min(max((octave - _LINES_END) / (_SHAPES_BEGIN - _LINES_END), 0.0), 1.0)
    pull: Float = (np.clip(step / f32(_DEPTH_STEP), 0, 1) * 2.6 + broad) * f32(_firmness(hold))
    return np.minimum(pull, f32(_MOST)).astype(f32)


def _salient(band: Float, near: Float, octave: float, hold: float, share: float, out: Float) -> None:
    """Weights of a detail band by how much it stands out, into `out` (h, w); near : edges, for the finest octaves."""
    energy = np.einsum("kij,kij->ij", band, band)
    for _ in range(3):
        energy = cv2.blur(energy, (3, 3))
    size = (out.shape[1], out.shape[0])
    edges = cv2.resize(near, size, interpolation=cv2.INTER_LINEAR) if octave < 1.5 else np.ones_like(out)
    prior = f32(at_octave(PRIOR_LIGHT, octave))
    # The mean of roots: one lamp beside a figure must not make the figure count for nothing.
    around = cv2.blur(cv2.blur(np.sqrt(np.sqrt(np.maximum(energy, 0))), (_AROUND, _AROUND)), (_AROUND, _AROUND))
    least = f32(prior * _LEAST_UNIT)
    _weights(energy, around, edges, out, f32(_firmness(hold)), prior, least, f32(share))


def _hold_subject(band: Float, near: Float, octave: float, subject: Float, share: float, out: Float) -> None:
    """Raise the weights `out` of a detail band to those of the subject's own hold."""
    held = cv2.resize(subject, (out.shape[1], out.shape[0]), interpolation=cv2.INTER_AREA)
    most = float(held.max())
    if most <= 0:
        return
    own = np.empty_like(out)
    _salient(band, near, octave, most, share, own)
    np.maximum(out, own * held / f32(most), out=out)


def hold_weights(
    bent: Bands,
    image: Float,
    ground: Mask | None,
    lines: float,
    shapes: float,
    sigma_start: float,
    features: Float | None = None,
    subject: Float | None = None,
    depth: Float | None = None,
    untouched: Float | None = None,
) -> list[Float]:
    """Weight a step of the structure hold, (h_b, w_b) for every band.

    Parameters
    ----------
    bent : pyramid of the source as the seed bends it. image : the same, (h, w, 3).
    ground : flat ground of the source, held more firmly so that it stays calm; or None.
    lines, shapes : 0 (free) to 1 (kept). sigma_start : noise level of the first step.
    features : (h, w) hold of its own, 0..1, that wins where it is firmer: eyes and mouths; or None.
    subject : (h, w) hold on lines and shapes of its own, 0..1, that wins where it is firmer; or None.
    depth : (h, w) depth 0..1 times its hold: its steps and its broad relief are kept; or None.
    untouched : (h, w) 1 where nothing changes at all, outside a region; or None.
    """
    height, width = image.shape[:2]
    if lines <= 0 and shapes <= 0 and features is None and subject is None and depth is None and untouched is None:
        return [np.zeros(band.shape[1:], f32) for band in bent]
    share = 1 / max(math.log(sigma_start / SIGMA_MIN), 1.0)
    half = cv2.resize(image, (max(width // 2, 1), max(height // 2, 1)), interpolation=cv2.INTER_AREA)
    near = _near_edges(half, min(height, width))
    calm = None if ground is None else ground.astype(f32)
    weights = []
    for b, band in enumerate(bent):
        octave = octave_of(b, height, width)
        hold = mixed_hold(lines, shapes, octave)
        out: Float = np.empty(band.shape[1:], f32)
        if b == len(bent) - 1:
            out[:] = min(_firmness(hold) * share, 1.0)
        else:
            _salient(band, near, octave, hold, share, out)
        if calm is not None:
            firm = min(3 * _firmness(hold) * share, 1.0)
            coverage = cv2.resize(calm, (out.shape[1], out.shape[0]), interpolation=cv2.INTER_AREA)
            np.maximum(out, firm * coverage, out=out)
        if features is not None and octave < _FEATURES_END:
            held = cv2.resize(features, (out.shape[1], out.shape[0]), interpolation=cv2.INTER_AREA)
            np.maximum(out, np.minimum(-1.6 * np.log1p(-np.minimum(held, f32(_FIRM))) * f32(share), 1), out=out)
        if subject is not None and b < len(bent) - 1 and octave < _SUBJECT_END:
            _hold_subject(band, near, octave, subject, share, out)
        if depth is not None:
            np.maximum(out, _depth_weights(depth, out.shape, octave) * f32(share), out=out)
        if untouched is not None:
            size = (out.shape[1], out.shape[0])
            np.maximum(out, cv2.resize(untouched, size, interpolation=cv2.INTER_AREA), out=out)
        weights.append(out)
    return weights
