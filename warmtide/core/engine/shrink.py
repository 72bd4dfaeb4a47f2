"""The denoiser's row kernels: one pass a band, with the sampler's update fused in.

Each detail coefficient keeps the share of itself that signal explains (a Wiener gain): the local energy of
its neighbourhood over what noise would give, gated by the energy that survived in the band above and by
joint significance over the three channels.

Sources
-------
1. M. Mihcak et al., "Low-complexity image denoising based on statistical modeling of wavelet coefficients",
   1999 (local-variance shrinkage).
2. L. Sendur, I. Selesnick, "Bivariate shrinkage functions exploiting interscale dependency", 2002.
"""

from typing import Any, NamedTuple

import numpy as np

from ..maths.arrays import f32
from ..maths.jit import kernel

# 7 taps, three boxes of 3: variance 2.0, close to a Gaussian of 1.4 px.
_T0, _T1, _T2, _T3 = f32(7 / 27), f32(6 / 27), f32(3 / 27), f32(1 / 27)
_ZERO, _ONE = f32(0), f32(1)
# Energy must exceed this multiple of the noise to count in full: less leaves coloured speckle.
_SIGNIFICANT = f32(1.9)
_PRIOR_SHARE = f32(0.22)
_CAP = f32(25)
_GATE_FLOOR, _GATE_SPAN, _GATE_AT = f32(0.25), f32(0.75), f32(0.8)
# A hold pulls the opponent channels less than lightness, or paint could not recolour.
_CHROMA_HELD = f32(0.6)
# Masks of row numbers: every row, and eight rows in turn, which stay in the first cache level.
_WHOLE, _RING = -1, 7


@kernel
def _mirror(i, n):  # type: ignore[no-untyped-def]
    if n == 1:
        return 0
    if i < 0:
        i = -i
    if i >= n:
        i = 2 * n - 2 - i
    return min(max(i, 0), n - 1)


@kernel
def _vertical_energy(a0, a1, a2, a3, a4, a5, a6, out, w):  # type: ignore[no-untyped-def]
    for x in range(w):
        out[x + 3] = (
            _T0 * (a3[x] * a3[x])
            + _T1 * (a2[x] * a2[x] + a4[x] * a4[x])
            + _T2 * (a1[x] * a1[x] + a5[x] * a5[x])
            + _T3 * (a0[x] * a0[x] + a6[x] * a6[x])
        )


@kernel
def _horizontal(t, out, w):  # type: ignore[no-untyped-def]
    for k in range(1, 4):
        t[3 - k] = t[3 + min(k, w - 1)]
        t[w + 2 + k] = t[w + 2 - min(k, w - 1)]
    for x in range(w):
        out[x] = _T0 * t[x + 3] + _T1 * (t[x + 2] + t[x + 4]) + _T2 * (t[x + 1] + t[x + 5]) + _T3 * (t[x] + t[x + 6])


@kernel
def _parent_row(parent, y, out, row, w):  # type: ignore[no-untyped-def]
    """A row of the band above at twice the size, bilinear; coarse sample i sits on fine sample 2i."""
    rows, columns = parent.shape
    upper = min(y >> 1, rows - 1)
    lower = min((y >> 1) + (y & 1), rows - 1)
    for x in range(columns):
        row[x] = f32(0.5) * (parent[upper, x] + parent[lower, x])
    row[columns] = row[columns - 1]
    for x in range((w + 1) // 2):
        out[2 * x] = row[x]
        out[2 * x + 1] = f32(0.5) * (row[x] + row[x + 1])


@kernel
def _gain_row(gating, at_hand, y, w):  # type: ignore[no-untyped-def]
    """Gains of one row for three channels, and the gate for the band below."""
    e0, e1, e2 = at_hand.energy[0], at_hand.energy[1], at_hand.energy[2]
    noise, floor, prior = gating.noise, gating.floor, gating.prior
    i0, i1, i2 = _ONE / noise[0], _ONE / noise[1], _ONE / noise[2]
    for x in range(w):
        joint = (e0[x] * i0 + e1[x] * i1 + e2[x] * i2) * f32(1 / 3) - _SIGNIFICANT
        half = min(max(joint, _ZERO), _ONE) * f32(0.5)
        for k in range(3):
            energy = e0[x] if k == 0 else (e1[x] if k == 1 else e2[x])
            n = noise[k]
            p = prior[k, y, x]
            excess = max(energy - _SIGNIFICANT * n, _ZERO) + max(energy - n, _ZERO) * half
            excess *= _GATE_FLOOR + _GATE_SPAN * at_hand.above[k, x]
            signal = min(excess, _CAP * max(p, floor[k])) + _PRIOR_SHARE * p
            g = signal / (signal + n)
            at_hand.gain[k, x] = g
            if gating.hand_on:
                gating.gate[k, y, x] = min(g * g * energy / (_GATE_AT * p + f32(1e-9)), _ONE)


class _AtHand(NamedTuple):
    """Rows that one band after another is worked out in, for a width.

    Attributes
    ----------
    column : energy across rows, with room for the taps beside. energy, gain : by channel. above : the gate of the band
    above at this size. row : one of its rows on the way there.
    """

    column: Any
    energy: Any
    gain: Any
    above: Any
    row: Any


class Gating(NamedTuple):
    """What the gains of a band hang on besides the band itself.

    Attributes
    ----------
    prior : expected energy of the signal, (3, h, w). above : gate of the band above, at half the size. gate : takes this
    band's own. noise, floor : noise variance and least energy by channel. first : there is no band above. hand_on : the band
    below wants the gate.
    """

    prior: Any
    above: Any
    gate: Any
    noise: Any
    floor: Any
    first: bool
    hand_on: bool


@kernel
def _at_hand(w):  # type: ignore[no-untyped-def]
    return _AtHand(
        np.empty(w + 8, np.float32),
        np.empty((3, w), np.float32),
        np.empty((3, w), np.float32),
        np.ones((3, w + 2), np.float32),
        np.empty(w + 4, np.float32),
    )


@kernel
def _gains(band, rows, y, h, w, at_hand, gating):  # type: ignore[no-untyped-def]
    """Gains of row `y` of a band (3, h, w) into `at_hand.gain`.

    rows : a mask of row numbers: `_WHOLE` where all rows are there, `_RING` where the last eight are kept in turn.
    """
    for k in range(3):
        a = band[k]
        _vertical_energy(
            a[_mirror(y - 3, h) & rows], a[_mirror(y - 2, h) & rows], a[_mirror(y - 1, h) & rows], a[y & rows],
            a[_mirror(y + 1, h) & rows], a[_mirror(y + 2, h) & rows], a[_mirror(y + 3, h) & rows], at_hand.column, w,
        )  # fmt: skip
        _horizontal(at_hand.column, at_hand.energy[k], w)
        if not gating.first:
            _parent_row(gating.above[k], y, at_hand.above[k], at_hand.row, w)
    _gain_row(gating, at_hand, y, w)


@kernel
def content_estimate(c, gating, estimate):  # type: ignore[no-untyped-def]
    """Denoise one band without updating the state (used where a smoother runs before the update)."""
    _, h, w = c.shape
    at_hand = _at_hand(w)
    gain = at_hand.gain
    for y in range(h):
        _gains(c, _WHOLE, y, h, w, at_hand, gating)
        for k in range(3):
            for x in range(w):
                estimate[k, y, x] = c[k, y, x] * gain[k, x]


@kernel
def hold_and_update(estimate, c, before, hold, bent, source, chroma, step):  # type: ignore[no-untyped-def]
    """Pull the estimate toward the source, then update the state; both in place.

    hold : (h, w) weight a step; bent : the source as this seed bends it; source : as it is.
    chroma : weight a step of the colour hold; step : keep, gain, now, before of `samplers.Update`.
    """
    _, h, w = estimate.shape
    keep, gain, now, old = step[0], step[1], step[2], step[3]
    for k in range(3):
        share = _ONE if k == 0 else _CHROMA_HELD
        colour = _ZERO if k == 0 else chroma
        for y in range(h):
            for x in range(w):
                v = estimate[k, y, x]
                v = v + share * hold[y, x] * (bent[k, y, x] - v)
                v = v + colour * (source[k, y, x] - v)
                c[k, y, x] = keep * c[k, y, x] + gain * (now * v - old * before[k, y, x])
                estimate[k, y, x] = v


@kernel
def content_step(c, out, gating, estimate, hold, bent, source, chroma, step):  # type: ignore[no-untyped-def]
    """`content_estimate` and `hold_and_update` in one pass; the new state goes to `out`."""
    _, h, w = c.shape
    keep, gain_, now, old = step[0], step[1], step[2], step[3]
    at_hand = _at_hand(w)
    gain = at_hand.gain
    for y in range(h):
        _gains(c, _WHOLE, y, h, w, at_hand, gating)
        for k in range(3):
            share = _ONE if k == 0 else _CHROMA_HELD
            colour = _ZERO if k == 0 else chroma
            for x in range(w):
                v = c[k, y, x] * gain[k, x]
                v = v + share * hold[y, x] * (bent[k, y, x] - v)
                v = v + colour * (source[k, y, x] - v)
                out[k, y, x] = keep * c[k, y, x] + gain_ * (now * v - old * estimate[k, y, x])
                estimate[k, y, x] = v


@kernel
def paint_step(x_, paint, content, gating, before, source, chroma, step, doubt, guided_by, low, low_gain):  # type: ignore[no-untyped-def]
    """Painted track of one band, in place: denoise around the guided rendering, mix, hold colour, update.

    doubt : how far the denoised residual is believed; guided_by : guidance of lightness and of chroma;
    low : the residue, whose gain `low_gain` is fixed. A ring of eight rows stays in the first cache level.
    """
    _, h, w = x_.shape
    push, colour = guided_by
    keep, gain_, now, old = step[0], step[1], step[2], step[3]
    at_hand = _at_hand(w)
    gain = at_hand.gain
    rest = np.empty((3, _RING + 1, w), np.float32)
    guided = np.empty((3, _RING + 1, w), np.float32)
    for y in range(-3, h):
        ahead = y + 3
        if ahead < h:
            for k in range(3):
                p = push if k == 0 else _ZERO
                m = _ONE if k == 0 else colour
                for x in range(w):
                    r = paint[k, ahead, x]
                    v = m * r + p * (r - content[k, ahead, x])
                    guided[k, ahead & _RING, x] = v
                    rest[k, ahead & _RING, x] = x_[k, ahead, x] - v
        if y < 0:
            continue
        if low:
            for k in range(3):
                for x in range(w):
                    gain[k, x] = low_gain[k]
        else:
            _gains(rest, _RING, y, h, w, at_hand, gating)
        for k in range(3):
            held = _ZERO if k == 0 else chroma
            for x in range(w):
                v = guided[k, y & _RING, x] + doubt * (rest[k, y & _RING, x] * gain[k, x])
                v = v + held * (source[k, y, x] - v)
                x_[k, y, x] = keep * x_[k, y, x] + gain_ * (now * v - old * before[k, y, x])
                before[k, y, x] = v


@kernel
def move_to_paint(x_, before, paint, content, ratio, push, colour):  # type: ignore[no-untyped-def]
    """A sleeping band in closed form: the state goes the share 1 - ratio of its way to the guided rendering."""
    for k in range(3):
        p = push if k == 0 else _ZERO
        m = _ONE if k == 0 else colour
        for y in range(x_.shape[1]):
            for x in range(x_.shape[2]):
                v = m * paint[k, y, x] + p * (paint[k, y, x] - content[k, y, x])
                x_[k, y, x] = ratio * x_[k, y, x] + (_ONE - ratio) * v
                before[k, y, x] = v


@kernel
def centre_on_paint(x_, before, content, paint, push, colour, rho, believed):  # type: ignore[no-untyped-def]
    """Where the painted track would stand by now had it started with the first step (closed form)."""
    for k in range(3):
        p = push if k == 0 else _ZERO
        m = _ONE if k == 0 else colour
        for y in range(x_.shape[1]):
            for x in range(x_.shape[2]):
                u = content[k, y, x]
                v = m * paint[k, y, x] + p * (paint[k, y, x] - u)
                x_[k, y, x] += (_ONE - rho) * (v - u)
                before[k, y, x] = v + believed * rho * (u - v)
