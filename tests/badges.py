"""Ten made-up badges of different build, as SVG: thin and thick, holes, letters, many and few colours.

No material was tuned on them. `picture` gives what an artist would bring, `silhouette` where its art truly is.
"""

import io
import math

import numpy as np
import resvg_py
from PIL import Image

from warmtide.core.maths.arrays import Byte, Mask


def _star(cx: float, cy: float, outer: float, inner: float, points: int) -> str:
    corners = []
    for k in range(2 * points):
        r, a = (outer if k % 2 == 0 else inner), math.pi * k / points - math.pi / 2
        corners.append(f"{cx + r * math.cos(a):.1f},{cy + r * math.sin(a):.1f}")
    return " ".join(corners)


def _gear(teeth: int) -> str:
    corners = []
    for k in range(teeth * 4):
        r = 215 if k % 4 in (1, 2) else 180
        a = 2 * math.pi * (k + 0.5) / (teeth * 4)
        corners.append(f"{256 + r * math.cos(a):.1f},{256 + r * math.sin(a):.1f}")
    return " ".join(corners)


# Letters are strokes and outlines of our own: no font is at hand everywhere.
_LETTERS = (
    '<path d="M70 350 V150 M70 250 H150 M150 350 V150" {s}/><path d="M190 350 L240 150 L290 350 M208 290 H272" {s}/>'
    '<path d="M330 350 V150 L430 350 V150" {s}/>'
)

BADGES: dict[str, str] = {
    "two rings": '<path fill="#1d4f91" fill-rule="evenodd" d="M256 40 a216 216 0 1 0 .1 0 Z M256 100 a156 156 0 1 1 -.1 0 Z"/>'
    '<path fill="#e4572e" fill-rule="evenodd" d="M256 150 a106 106 0 1 0 .1 0 Z M256 200 a56 56 0 1 1 -.1 0 Z"/>',
    "gear": f'<polygon points="{_gear(14)}" fill="#2b2f36"/><circle cx="256" cy="256" r="132" fill="#f2b134"/>'
    '<path d="M256 140 L300 256 L256 372 L212 256 Z" fill="#ed553b"/><circle cx="256" cy="256" r="22" fill="#f7f4ea"/>',
    "leaf": '<path d="M256 40 C430 150 430 360 256 470 C82 360 82 150 256 40 Z" fill="#2f7d4f"/>'
    '<path d="M256 70 V450" stroke="#d9ead3" stroke-width="12"/>'
    '<path d="M256 170 L352 120 M256 250 L372 210 M256 330 L348 310 M256 170 L160 120 M256 250 L140 210 M256 330 L164 310" '
    'stroke="#d9ead3" stroke-width="8"/>',
    "letters": _LETTERS.format(s='fill="none" stroke="#7b2d8b" stroke-width="34" stroke-linejoin="round"'),
    "thin": '<circle cx="256" cy="256" r="200" fill="none" stroke="#0b7a75" stroke-width="7"/>'
    f'<polygon points="{_star(256, 256, 180, 70, 8)}" fill="none" stroke="#d1495b" stroke-width="6"/>'
    '<circle cx="256" cy="256" r="40" fill="none" stroke="#edae49" stroke-width="5"/>',
    "shield": '<path d="M90 70 H422 V270 C422 390 330 440 256 470 C182 440 90 390 90 270 Z" fill="#22223b"/>'
    '<path d="M112 92 H256 V256 H112 Z" fill="#c9ada7"/><path d="M256 92 H400 V256 H256 Z" fill="#9a031e"/>'
    '<path d="M112 256 H256 V444 C190 416 112 372 112 270 Z" fill="#5f0f40"/>'
    '<path d="M256 256 H400 V270 C400 372 322 416 256 444 Z" fill="#e36414"/>'
    f'<polygon points="{_star(256, 256, 70, 30, 5)}" fill="#fcefb4"/>',
    "fish": '<path d="M60 256 C130 130 300 130 380 256 C300 382 130 382 60 256 Z" fill="#3a86c8"/>'
    '<path d="M360 256 L460 160 L440 256 L460 352 Z" fill="#1b4965"/><circle cx="140" cy="236" r="22" fill="#ffffff"/>'
    '<circle cx="140" cy="236" r="10" fill="#14213d"/><path d="M200 190 Q240 256 200 322" fill="none" stroke="#bee9e8" stroke-width="12"/>'
    '<path d="M250 180 Q290 256 250 332" fill="none" stroke="#bee9e8" stroke-width="12"/>',
    "sunburst": "".join(
        f'<path d="M256 256 L{256 + 220 * math.cos(a - 0.13):.1f} {256 + 220 * math.sin(a - 0.13):.1f} '
        f'L{256 + 220 * math.cos(a + 0.13):.1f} {256 + 220 * math.sin(a + 0.13):.1f} Z" fill="{c}"/>'
        for a, c in ((2 * math.pi * k / 12, ("#ffb703", "#fb8500")[k % 2]) for k in range(12))
    )
    + '<circle cx="256" cy="256" r="90" fill="#d62828"/><circle cx="256" cy="256" r="62" fill="#fcbf49"/>',
    "crescent": '<path d="M320 60 A200 200 0 1 0 320 452 A160 160 0 1 1 320 60 Z" fill="#5a4fcf"/>'
    f'<polygon points="{_star(350, 200, 60, 24, 5)}" fill="#f4d35e"/><polygon points="{_star(400, 330, 36, 14, 4)}" fill="#f4d35e"/>',
    "twelve": "".join(
        f'<rect x="{66 + 98 * (k % 4)}" y="{106 + 104 * (k // 4)}" width="86" height="92" rx="14" fill="{c}"/>'
        for k, c in enumerate(
            (
                "#e63946",
                "#f4a261",
                "#e9c46a",
                "#a7c957",
                "#2a9d8f",
                "#219ebc",
                "#1d3557",
                "#6a4c93",
                "#c77dff",
                "#ff99c8",
                "#6b705c",
                "#111111",
            )
        )
    ),
}


def _drawn(name: str, size: int) -> Byte:
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 512 512">{BADGES[name]}</svg>'
    data = bytes(resvg_py.svg_to_bytes(svg_string=svg, width=size, height=size, skip_system_fonts=True))
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))


def picture(name: str, size: int = 512, ground: tuple[int, int, int] = (255, 255, 255)) -> Byte:
    """A badge (size, size, 3) on a ground of one colour."""
    rgba = _drawn(name, size).astype(np.float32)
    alpha = rgba[..., 3:] / 255
    return np.asarray(rgba[..., :3] * alpha + np.array(ground) * (1 - alpha) + 0.5, np.uint8)


def cover(name: str, size: int = 512) -> Byte:
    """How solid a badge is, (size, size)."""
    return np.ascontiguousarray(_drawn(name, size)[..., 3])


def silhouette(name: str, size: int = 512) -> Mask:
    """Where the art truly is."""
    return cover(name, size) > 127
