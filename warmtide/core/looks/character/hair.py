"""A character's hair: locks that follow the person's own strands, with a sheen across them.

Sources
-------
1. J. Kajiya, T. Kay, "Rendering fur with three dimensional textures", 1989 (light along strands).
"""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ..shared.flow import directions
from .fill import along, filled_in, within
from .light import Lit, relit

_POWER = 26


def painted_hair(photo: Float, hair: Float, wide: float, light: Lit, unit: float, flow: Float | None = None) -> Float:
    """Hair (h, w, 3), right only where `hair` is. 50 ms at 512 px.

    Parameters
    ----------
    wide : head width in pixels. unit : pixels of a length of 1 at 512 px. flow : (h, w) what the seed turns strands by; or None.
    """
    mask = smoothstep(0.15, 0.6, hair)
    filled = filled_in(photo, mask, 0.05 * wide)
    angle, coherent, _ = directions(filled, max(0.045 * wide, 2.0))
    if flow is not None:
        angle = angle + flow
    long = along(filled, angle, mask, 0.16 * wide, 2)
    broad, middle = within(long, mask, 0.10 * wide), within(long, mask, 0.022 * wide)
    fine, clump = long[..., 0] - middle[..., 0], 0.05 * np.tanh((middle[..., 0] - broad[..., 0]) / 0.05)
    # Grizzled and curly hair is seen by its darks: the mean alone would pale it.
    spread = within((filled[..., 0] - broad[..., 0]) ** 2, mask, 0.06 * wide)
    deep = np.minimum(0.75 * np.sqrt(spread.clip(0)), 0.10)
    usual = float(np.median(broad[..., 0][mask > 0.8])) if (mask > 0.8).any() else 0.4
    off = broad[..., 0] - usual
    tone = usual + off * (0.85 - 0.25 * (off > 0)) - deep + 1.25 * clump + 0.75 * fine
    shine = (
        _sheen(angle, clump, mask, light, wide) * smoothstep(0.15, 0.55, blur(coherent, 2 * unit)) * (0.6 + 6 * clump)
    )
    tone = relit(np.asarray(tone, f32), 1 + 0.9 * (light.shade - 1))
    own = 0.03 + 0.23 * np.clip(tone, 0, 0.8)
    tone = tone + own * (shine + light.rim)
    chroma = (0.6 * broad[..., 1:] + 0.4 * middle[..., 1:]) * 1.22 * (1 + 0.5 * shine[..., None])
    return np.dstack([tone, chroma]).astype(f32)


def _sheen(angle: Float, clump: Float, mask: Float, light: Lit, wide: float) -> Float:
    """Light that strands throw back across their run."""
    normals = light.normals
    strands = np.dstack([np.cos(angle), np.sin(angle), np.zeros_like(angle)])
    strands = strands - (strands * normals).sum(2, keepdims=True) * normals
    way = light.lamp.way
    half = way + np.array([0, 0, 1], f32)
    half = half / np.linalg.norm(half)
    across = np.abs(strands @ half) / (np.sqrt((strands * strands).sum(2)) + 1e-6) + 2.5 * clump
    spec = np.sqrt(np.clip(1 - across * across, 0, 1)) ** _POWER * np.clip(normals @ way + 0.25, 0, 1)
    return along(spec.astype(f32), angle, mask, 0.05 * wide)
