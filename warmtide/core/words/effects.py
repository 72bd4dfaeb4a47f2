"""What words do to a picture before it is painted: amounts that add up, and the picture in their light.

An effect is a sum, so that phrases combine, weights scale and an avoided word takes away what it would have
given. All act on OKLab at the picture's own scale.
"""

import math

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from ..maths.gaussian import smooth_field

# No pile of words may carry a picture beyond these.
_MOST = {"light": 0.45, "contrast": 0.8, "chroma": 0.6, "warm": 0.09, "red": 0.06, "green": 0.06, "marks": 0.5}
_STREAM = 80

Effect = dict[str, float]


def _limited(effect: Effect, name: str) -> float:
    most = _MOST.get(name, 1.0)
    # Colour can be taken away altogether, but never grows without end.
    least = -2.8 if name == "chroma" else -most
    return min(max(effect.get(name, 0.0), least), most)


def marks_of(effect: Effect) -> float:
    """Factor on the size of marks."""
    return math.exp(_limited(effect, "marks"))


def _tones(lab: Float, effect: Effect) -> Float:
    """Light, contrast, warmth, chroma, and colours given to lights and darks."""
    light = lab[..., 0]
    room = np.clip(4 * light * (1 - light), 0, 1)
    contrast = math.exp(_limited(effect, "contrast"))
    middle = float(np.clip(np.median(light[::4, ::4]), 0.3, 0.7))
    changed = middle + (light - middle) * f32(contrast)
    # Darkening keeps what shines: lamps stay lamps at night.
    lamp = np.clip((light - 0.80) / 0.15, 0, 1) if effect.get("light", 0) < 0 else f32(0)
    changed = changed + f32(_limited(effect, "light")) * (0.35 + 0.65 * room) * (1 - lamp)
    chroma = f32(math.exp(_limited(effect, "chroma")))
    high, low = np.clip((changed - 0.45) / 0.45, 0, 1), np.clip((0.55 - changed) / 0.45, 0, 1)
    out = np.empty_like(lab)
    out[..., 0] = np.clip(changed, 0, 1)
    for k, own in ((1, _limited(effect, "red") - _limited(effect, "green")), (2, _limited(effect, "warm"))):
        shade = f32(effect.get(f"lights{k}", 0.0)) * high + f32(effect.get(f"darks{k}", 0.0)) * low
        out[..., k] = lab[..., k] * chroma + f32(own) * (0.4 + 0.6 * room) + shade
    return out


def _toward(lab: Float, strength: float, hue: float, firm: bool) -> Float:
    """Colours of neighbouring hues pulled to one hue and strengthened; greys take a little of it. Firm: all of them."""
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    own = np.arctan2(lab[..., 2], lab[..., 1])
    apart = np.abs(np.angle(np.exp(1j * (own - hue)))).astype(f32)
    related = np.exp(-((apart / 1.1) ** 2)) * np.clip(chroma / 0.03, 0, 1)
    share = np.clip(0.40 + 0.60 * related, 0, 1) * min(abs(strength) / 0.15, 1.5) * 0.55
    reach = np.maximum(chroma, 0.35 * abs(strength)) * (1 + 0.5 * related)
    if firm and strength > 0:
        share = np.full_like(chroma, min(0.85 * strength / 0.15, 0.92))
        reach = np.clip(1.25 * chroma, 0.45 * strength, np.maximum(chroma, 1.1 * strength))
    sign = 1.0 if strength >= 0 else -1.0
    out = lab.copy()
    for k, direction in ((1, math.cos(hue)), (2, math.sin(hue))):
        out[..., k] = lab[..., k] + share * (sign * reach * f32(direction) - sign * lab[..., k])
    if strength < 0:
        # Away from a hue: what has it fades.
        out[..., 1:] = lab[..., 1:] * (1 - np.clip(share * related, 0, 0.9))[..., None]
    return out.astype(f32)


def _blurred(plane: Float, sigma: float) -> Float:
    return cv2.GaussianBlur(
        np.ascontiguousarray(plane, dtype=f32), (0, 0), max(sigma, 0.3), borderType=cv2.BORDER_REFLECT
    )


def _air(lab: Float, effect: Effect, short: int) -> Float:
    """Haze, glow, and how sharp or soft things are."""
    out = lab
    soft = _limited(effect, "soft")
    if soft > 0:
        smooth: Float = cv2.bilateralFilter(np.ascontiguousarray(out), 0, 0.18, max(short * 0.022 * soft, 1.2))
        out = (out + min(1.2 * soft, 1.0) * (smooth - out)).astype(f32)
    crisp = _limited(effect, "sharp") - min(soft, 0.0)
    if crisp:
        out = out.copy()
        for sigma in (0.004, 0.014):
            out[..., 0] += f32(0.8 * crisp) * (lab[..., 0] - _blurred(lab[..., 0], short * sigma))
    haze = _limited(effect, "haze")
    if haze > 0:
        height = lab.shape[0]
        # Air is thicker far away, which is mostly up to the horizon and behind.
        veil = np.interp(np.linspace(0, 1, height), (0, 0.45, 1), (0.85, 1.0, 0.35)).astype(f32)[:, None]
        veil = np.clip(0.75 * haze * veil, 0, 0.9)[..., None]
        top = float(np.percentile(out[::4, ::4, 0], 90))
        air = np.array([min(0.25 + 0.72 * top, 0.93), *(0.4 * out[..., 1:].reshape(-1, 2).mean(0))], f32)
        out = (out + veil * (air - out)).astype(f32)
    elif haze < 0:
        out = out + f32(-0.6 * haze) * (out - np.dstack([_blurred(out[..., k], short * 0.08) for k in range(3)]))
    glow = _limited(effect, "glow")
    if glow:
        shining = np.clip(out[..., 0] - 0.62, 0, 1)
        spread = 0.6 * _blurred(shining, short * 0.02) + 0.6 * _blurred(shining, short * 0.07)
        out = out.copy()
        out[..., 0] = out[..., 0] + f32(2.0 * glow) * spread * (1 - 0.6 * np.clip(out[..., 0], 0, 1))
    return np.ascontiguousarray(out, dtype=f32)


def _lit(lab: Float, effect: Effect) -> Float:
    """Light from a side, from behind, in rays; dark corners."""
    height, width = lab.shape[:2]
    xs = np.linspace(-1, 1, width, dtype=f32)[None]
    ys = np.linspace(-1, 1, height, dtype=f32)[:, None]
    change: AnyArray = f32(_limited(effect, "side")) * np.clip(-0.85 * xs - 0.5 * ys, -1, 1)
    back = _limited(effect, "back")
    if back:
        sun = np.exp(-((xs / 0.75) ** 2 + ((ys + 0.35) / 0.6) ** 2))
        change = change + f32(back) * (1.25 * sun - 0.55) * np.where(lab[..., 0] > 0.35, 1.0, 0.6)
    rays = _limited(effect, "rays")
    if rays:
        angle = np.arctan2(xs + 0.55, ys + 1.4)
        beams = sum(np.cos(angle * n + p) for n, p in ((17, 0.4), (31, 1.9), (47, 4.0)))
        change = change + f32(rays) * np.clip(beams / 2, 0, 1) * np.exp(-0.5 * (ys + 1))
    change = change - f32(_limited(effect, "vignette")) * np.clip((xs**2 + ys**2) / 2, 0, 1) ** 1.3
    out = lab.copy()
    light = out[..., 0]
    out[..., 0] = np.clip(light + change * np.clip(3 * light * (1.1 - light), 0.12, 1), 0, 1)
    return out


def _falling(lab: Float, effect: Effect, seed: int) -> Float:
    """Grain, streaks of rain, flakes of snow."""
    height, width = lab.shape[:2]
    unit = max(min(height, width) / 400, 0.4)
    out = lab.copy()

    def field(part: int, scale: float) -> Float:
        return smooth_field(np.random.default_rng([seed, _STREAM, part]), height, width, scale * unit)

    grain = _limited(effect, "grain")
    if grain:
        out[..., 0] += f32(0.12 * grain) * (0.6 * field(0, 1.6) + 0.6 * field(1, 4.0))
    streaks = _limited(effect, "streaks")
    if streaks > 0:
        kernel = np.zeros((2 * int(9 * unit) + 1,) * 2, f32)
        middle = kernel.shape[0] // 2
        cv2.line(kernel, (middle - int(2 * unit), kernel.shape[0] - 1), (middle + int(2 * unit), 0), 1, 1)
        drops = cv2.filter2D(
            np.clip(field(2, 1.2) - 1.6, 0, None), -1, kernel / kernel.sum(), borderType=cv2.BORDER_REFLECT
        )
        out[..., 0] += f32(2.2 * streaks) * (np.clip(drops, 0, 0.12))
    flakes = _limited(effect, "flakes")
    if flakes > 0:
        fall = np.clip(field(3, 3.0) - 2.0, 0, 0.5) * 2 + np.clip(field(4, 6.0) - 2.3, 0, 0.5) * 2
        cover = np.clip(flakes * fall, 0, 1)[..., None]
        out = out + cover * (np.array([0.97, 0.0, -0.005], f32) - out)
    return out.astype(f32)


def places_of(effect: Effect) -> tuple[str, ...]:
    """Names of the places that an effect speaks of."""
    return tuple(sorted({name.split("/")[0] for name in effect if "/" in name}))


def worded(lab: Float, effect: Effect, seed: int, masks: dict[str, Float] | None = None) -> Float:
    """An OKLab picture (h, w, 3) as the words see it; the same picture where there are none. About 15 ms at 512 px.

    Parameters
    ----------
    effect : amounts by name; two-number effects are stored as `name1`, `name2`; `place/name` acts at a place only.
    seed : where rain and snow fall. masks : (h, w) 0..1 for every place that the picture has.
    """
    if not effect:
        return lab
    out = _worded(lab, {name: amount for name, amount in effect.items() if "/" not in name}, seed)
    for place in places_of(effect):
        if masks and place in masks:
            own = {name.split("/")[1]: v for name, v in effect.items() if name.startswith(f"{place}/")}
            mask = masks[place][..., None]
            out = out + mask * (_worded(out, own, seed, firm=True) - out)
    return np.ascontiguousarray(out, dtype=f32)


def _worded(lab: Float, effect: Effect, seed: int, firm: bool = False) -> Float:
    if not effect:
        return lab
    out = lab
    if effect.get("toward1"):
        out = _toward(out, effect["toward1"], effect["toward2"], firm)
    out = _tones(out, effect)
    out = _lit(out, effect)
    out = _air(out, effect, min(lab.shape[:2]))
    out = _falling(out, effect, seed)
    out[..., 0] = np.clip(out[..., 0], 0, 1)
    # Chroma that words have raised bends towards what paint can hold; what the source had stays.
    chroma = np.hypot(out[..., 1], out[..., 2]) + f32(1e-6)
    had = np.maximum(np.hypot(lab[..., 1], lab[..., 2]), f32(0.12))
    raised = np.maximum(chroma - had, 0)
    out[..., 1:] *= ((chroma - raised + f32(0.06) * np.tanh(raised / f32(0.06))) / chroma)[..., None]
    return np.ascontiguousarray(out, dtype=f32)
