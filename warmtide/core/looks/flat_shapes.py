"""Flat shapes: ten designed colours in clean areas, as cut for a poster.

Sources
-------
1. B. Merriman, J. Bence, S. Osher, 1992 (threshold dynamics, see `painting.palette`).
"""

import numpy as np

from ..arrays import Float, Int, f32
from ..colour import to_lab, to_rgb
from .base import Look, Sitting
from .painting.filters import brought_out, soften
from .painting.flatten import crisp, flatten, soft_labels
from .painting.ground import smoothstep, stretch
from .painting.palette import colour_labels, merged, palette, parts
from .painting.pen import chains

_COLOURS = 10


def shapes(
    lab: Float, sitting: Sitting, count: int, outlines: float, area: float, alike: float
) -> tuple[Float, Float, Int, Int]:
    """The picture flattened, its colours, the colour of every pixel, and the areas they form.

    Parameters
    ----------
    outlines, area : smoothness in pixels and least size in square pixels at mark size 1. alike : colour
    difference below which neighbouring areas join.
    """
    s = sitting.scale
    firm = 0.0009
    if sitting.inset:
        # A face needs its lids and lips: more colours, smaller areas, less flattening.
        count, outlines, area, alike, firm = count + 4, 0.6 * outlines, 0.25 * area, 0.6 * alike, 0.0003
    flat = crisp(flatten(soften(brought_out(lab, 18 * s), 1, 0.06, 2 * s), 4.5 * s, firm, 3), 1.3 * s, 3)
    flat[..., 0] = stretch(np.ascontiguousarray(flat[..., 0]), sitting, (1, 99), (0.04, 0.98), 0.7)
    colours = palette(flat, count)
    labels = colour_labels(flat, colours, outlines * s)
    ids, _ = parts(labels)
    ids = merged(ids, flat, alike, area * s * s)
    # A joined area takes the colour that most of it had.
    n = int(ids.max()) + 1
    votes = np.bincount(ids.ravel() * len(colours) + labels.ravel(), minlength=n * len(colours))
    return flat, colours, votes.reshape(n, -1).argmax(1).astype(np.int32)[ids], ids


def outlines(lab: Float, sitting: Sitting, area: float, alike: float, least: float) -> list[Float]:
    """Borders of the picture's broad areas as chains of at least `least` marks; the rest as in `shapes`."""
    _, _, _, ids = shapes(lab, sitting, 8, 2.2, area, alike)
    border = np.zeros(ids.shape, bool)
    border[:, :-1] |= ids[:, 1:] != ids[:, :-1]
    border[:-1] |= ids[1:] != ids[:-1]
    return chains(border, least * sitting.scale)


def designed(colours: Float, sitting: Sitting) -> Float:
    """The palette as a designer would set it: tones spread, chroma up, darks to one cool hue, lights to cream."""
    out = colours.copy()
    light = out[:, 0]
    count = len(out)
    ranks = np.empty(count)
    ranks[np.argsort(light)] = np.arange(count) / max(count - 1, 1)
    low, high = light.min(), light.max()
    even = 0.19 + 0.78 * (light - low) / (high - low + 1e-3)
    out[:, 0] = 0.5 * even + 0.3 * (0.20 + 0.77 * ranks**0.9) + 0.2 * light
    chroma = np.hypot(out[:, 1], out[:, 2])
    # A seed turns all hues a little the same way: a variant, not a mistake.
    hue = np.arctan2(out[:, 2], out[:, 1]) + sitting.random("hue").normal(0, 0.05)
    strong = 0.20 * np.tanh(chroma * 1.45 / 0.20)
    out[:, 1], out[:, 2] = np.cos(hue) * strong, np.sin(hue) * strong
    dark = (1 - smoothstep(0.22, 0.45, out[:, 0])) * (1 - smoothstep(0.05, 0.14, chroma))
    pale = smoothstep(0.80, 0.95, out[:, 0]) * (1 - smoothstep(0.02, 0.08, chroma))
    out[:, 1] = out[:, 1] * (1 - 0.6 * dark) * (1 - 0.5 * pale) + 0.008 * dark + 0.002 * pale
    out[:, 2] = out[:, 2] * (1 - 0.7 * dark) * (1 - 0.5 * pale) - 0.055 * dark + 0.026 * pale
    return out.astype(f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as flat shapes. About .2 s at 512 px."""
    s = sitting.scale
    _, colours, labels, _ = shapes(lab, sitting, _COLOURS, 2.4, 90, 0.045)
    inks = designed(colours, sitting) if not sitting.flat else colours
    weights = soft_labels(labels, len(colours), 1.3 * max(s, 0.7) ** 0.5)
    linear = to_rgb(inks[None])[0] ** 2.2
    mixed = np.tensordot(np.moveaxis(weights, 0, -1), linear.astype(f32), 1)
    return to_lab(np.clip(mixed, 0, 1).astype(f32) ** f32(1 / 2.2))


LOOK = Look(
    name="flat-shapes",
    title="Flat shapes",
    category="graphic",
    kinds=("photo", "flat art", "render", "sketch"),
    description="Ten clean colours in smooth areas, no lines and no texture: a poster cut from paper.",
    strengths=(0.35, 0.8),
    paint=paint,
    seconds=0.20,
    owns_colour=True,
    deep_trust=0.75,
)
