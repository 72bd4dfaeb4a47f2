"""A picture's colours moved to those of a look, colour by colour of its palette, so that one object stays one colour.

Sources
-------
1. F. Pitie, A. Kokaram, "The linear Monge-Kantorovitch colour mapping", 2007.
2. M. Cuturi, "Sinkhorn distances", 2013.
"""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import quick_blur
from ...understanding.palette import palette

_SOURCE_COLOURS = 9
_SINKHORN_ROUNDS = 60
_LINEAR = 0.45
_LEAST_GAIN, _MOST_GAIN = 0.35, 1.8
_TONE = 0.55
_LEAST_SLOPE, _MOST_SLOPE = 0.45, 2.2


def _root(matrix: AnyArray) -> AnyArray:
    values, vectors = np.linalg.eigh(matrix)
    return (vectors * np.sqrt(np.maximum(values, 1e-9))) @ vectors.T


def _spread(colours: AnyArray, mass: AnyArray) -> tuple[AnyArray, AnyArray]:
    mean = mass @ colours
    apart = colours - mean
    return mean, (apart * mass[:, None]).T @ apart + 2e-4 * np.eye(3)


def _linear_map(
    own: AnyArray, own_mass: AnyArray, wanted: AnyArray, mass: AnyArray
) -> tuple[AnyArray, AnyArray, AnyArray]:
    """Matrix, own mean and wanted mean of the linear transport between two palettes."""
    mean, spread = _spread(own, own_mass)
    goal, goal_spread = _spread(wanted, mass)
    root = _root(spread)
    inverse = np.linalg.inv(root)
    matrix = inverse @ _root(root @ goal_spread @ root) @ inverse
    u, gains, v = np.linalg.svd(matrix)
    return (u * np.clip(gains, _LEAST_GAIN, _MOST_GAIN)) @ v, mean, goal


def _met(own: AnyArray, own_mass: AnyArray, wanted: AnyArray, mass: AnyArray) -> AnyArray:
    """Where each own colour goes: the mean of the wanted colours that it is sent to at least cost."""
    cost = ((own[:, None] - wanted[None]) ** 2 * np.array([1.0, 3.2, 3.2])).sum(-1)
    kernel = np.exp(-cost / (0.15 * float(np.median(cost)) + 1e-6)) + 1e-9
    # Shares of colour differ between pictures; half way to equal shares keeps small accents possible.
    a, b = own_mass**0.6, mass**0.6
    a, b = a / a.sum(), b / b.sum()
    v = np.ones(len(b))
    for _ in range(_SINKHORN_ROUNDS):
        u = a / (kernel @ v)
        v = b / (kernel.T @ u)
    plan = u[:, None] * kernel * v[None]
    return (plan @ wanted) / plan.sum(1, keepdims=True)


def moved(lab: Float, wanted: Float, mass: Float) -> Float:
    """The picture (h, w, 3) in a look's colours. About 25 ms at 512 px.

    Every colour of the picture's own palette has one place to go; a pixel goes where the palette colours nearest
    to it go, so an object of one colour is never split in two.

    Parameters
    ----------
    wanted : (k, 3) OKLab colours of the look. mass : (k,) their shares.
    """
    own = palette(lab, _SOURCE_COLOURS).astype(np.float64)
    small = cv2.resize(lab, (max(lab.shape[1] // 2, 8), max(lab.shape[0] // 2, 8)), interpolation=cv2.INTER_AREA)
    smooth = quick_blur(small, 1.2)
    scale = np.array([1, 1.8, 1.8], f32)
    distance = (((smooth * scale)[:, :, None] - (own * scale)[None, None]) ** 2).sum(-1)
    near = np.exp(-(distance - distance.min(-1, keepdims=True)) / f32(0.004))
    near /= near.sum(-1, keepdims=True)
    own_mass = near.reshape(-1, len(own)).mean(0).astype(np.float64)
    matrix, mean, goal = _linear_map(own, own_mass, wanted.astype(np.float64), mass.astype(np.float64))
    linear = (own - mean) @ matrix.T + goal
    target = _LINEAR * linear + (1 - _LINEAR) * _met(own, own_mass, wanted.astype(np.float64), mass.astype(np.float64))
    # Light stays above dark: the order of tones carries the shapes.
    order = np.argsort(own[:, 0])
    target[order, 0] = 0.5 * target[order, 0] + 0.5 * np.sort(target[:, 0])
    size = (lab.shape[1], lab.shape[0])
    base, goal_field = (quick_blur((near @ colours).astype(f32), 1.0) for colours in (own, target))
    base, goal_field = (cv2.resize(field, size, interpolation=cv2.INTER_LINEAR) for field in (base, goal_field))
    # What a pixel differs from its palette colour by turns with the map; colour never grows by it.
    rest = (lab - base) @ (matrix.T * np.minimum(1, 1 / np.linalg.norm(matrix, axis=1))).astype(f32)
    out = (goal_field + rest).astype(f32)
    out[..., 0] = np.clip(out[..., 0], 0, 1)
    return out


def toned(lab: Float, tones: Float) -> Float:
    """The picture with its lightness spread more as a look's is.

    Parameters
    ----------
    tones : lightness at even quantiles, ascending.
    """
    light = np.ascontiguousarray(lab[..., 0])
    even = np.linspace(0, 1, len(tones))
    own = np.quantile(quick_blur(light, 2.0)[::3, ::3], even)
    own = np.maximum.accumulate(own + np.arange(len(own)) * 1e-5)
    goal = own + _TONE * (tones - own)
    # A calm sky must not be torn apart to fill a range: no tone is stretched more than this.
    slope = np.clip(np.diff(goal) / np.diff(own), _LEAST_SLOPE, _MOST_SLOPE)
    curve = np.concatenate([[0.0], np.cumsum(slope * np.diff(own))])
    curve += float(np.median(goal)) - float(np.median(curve))
    out = lab.copy()
    out[..., 0] = np.clip(np.interp(light, own, curve), 0, 1)
    return out
