"""Line and wash: watercolour laid into a sketch's areas, paper left white where the light falls, strokes showing through."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.relief import broad
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from .sitting import board, concept


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render a sketch (h, w, 3) OKLab as line and wash. About .3 s at 512 px, 1 s more once for its areas."""
    desk = board(lab, sitting)
    sketch, u = desk.sketch, desk.unit
    tone = desk.tone()
    inside = sketch.areas > 0
    # The brush stays a little off the line here and there, and runs over it elsewhere.
    reach = sketch.border + 2.6 * u * desk.noise("edge", 30)
    wash = smoothstep(-0.2 * u, 1.2 * u, reach) * inside
    bare = smoothstep(0.78, 0.90, tone + 0.07 * desk.noise("bare", 60, 24, -0.5))
    pool = desk.clouds("pool", 130, 3)
    grains = desk.clouds("grain", 4.5, 3)
    rim = np.exp(-(((reach - 1.6 * u) / (1.5 * u)) ** 2)) * inside
    bloom = np.exp(-((desk.noise("bloom", 150) - 1.1) ** 2) / 0.02)
    amount = 0.62 + 0.75 * (1 - tone) + 0.16 * pool + 0.10 * grains * (1 - 0.4 * tone) + 0.22 * rim + 0.10 * bloom
    amount = np.clip(amount, 0.15, 1.7) * wash * (1 - 0.80 * bare)
    colour = desk.by_area(desk.colours, 1.6)
    # Neighbouring washes run into each other where both are wet.
    mingled = broad(desk.colours[sketch.areas], 9 * u)
    wet = smoothstep(0.5, 1.4, desk.noise("wet", 90)) * 0.6
    colour = colour + (mingled - colour) * wet[..., None] * inside[..., None]
    out = np.zeros_like(colour)
    paper = 0.972 + 0.006 * grains + 0.004 * desk.noise("tooth", 2.2)
    light = np.clip(colour[..., 0], 0.25, 0.97)
    out[..., 0] = paper * np.power(light / 0.97, amount)
    out[..., 1:] = colour[..., 1:] * np.clip(amount, 0, 1.3)[..., None]
    out[..., 2] += 0.006
    shadow = blur(desk.ground_shadow() * (1 + 0.25 * pool), 2 * u)
    out[..., 0] -= 0.13 * np.clip(shadow, 0, 1.2)
    out[..., 2] -= 0.016 * np.clip(shadow, 0, 1.2)
    ink = smoothstep(0.06, 0.85, sketch.strokes.ink)
    out[..., 0] *= 1 - 0.72 * ink
    out[..., 1:] *= (1 - 0.6 * ink)[..., None]
    return np.asarray(out, f32)


LOOK = concept(
    "line-wash",
    "Line and wash",
    "Watercolour laid into your sketch, paper left white in the light, your strokes showing through.",
    paint,
    0.3,
)
