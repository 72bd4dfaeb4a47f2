"""Flat shapes: ten designed colours in clean areas, as cut for a poster (see `looks.shared.areas`)."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.colour import to_lab, to_rgb
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.areas import enlarged_labels, shapes
from ..shared.flatten import soft_labels

_COLOURS = 10


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
    found = shapes(lab, sitting, _COLOURS, 2.4, 90, 0.045)
    inks = designed(found.colours, sitting) if not sitting.flat else found.colours
    labels = enlarged_labels(found.labels, 1.2 * found.scale, (sitting.width, sitting.height))
    weights = soft_labels(labels, len(inks), 1.3 * max(s, 0.7) ** 0.5)
    linear = to_rgb(inks[None])[0] ** 2.2
    mixed = np.tensordot(np.moveaxis(weights, 0, -1), linear.astype(f32), 1)
    return to_lab(np.clip(mixed, 0, 1).astype(f32) ** f32(1 / 2.2))


LOOK = Look(
    name="flat-shapes",
    title="Flat shapes",
    category="graphic",
    kinds=("photo", "flat art", "render"),
    description="Ten clean colours in smooth areas, no lines and no texture: a poster cut from paper.",
    strengths=(0.35, 0.8),
    paint=paint,
    seconds=0.20,
    handling=Handling(owns_colour=True, deep_trust=0.75),
)
