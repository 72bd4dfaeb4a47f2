"""Foil: holographic film pressed on card, colours of interference that differ from part to part, creased."""

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.light import linear_of
from ...maths.relief import normals
from ...model.sitting import Sitting
from ..shared.shading import Surface, shade
from ..shared.texture import over
from .casting import scratched
from .look import material
from .workpiece import Workpiece, workpiece

# Wavelengths (nm) that stand for red, green and blue.
_LINES = ((640, 610, 585), (560, 535, 510), (475, 452, 430))


def interference(path: AnyArray) -> Float:
    """Colour (..., 3) of light that meets itself after an optical path in nm, mean over three lines a channel."""
    out = np.zeros((*path.shape, 3), f32)
    for k, lines in enumerate(_LINES):
        out[..., k] = sum(0.5 - 0.5 * np.cos(2 * np.pi * path / line) for line in lines) / 3
    return out


def _creases(piece: Workpiece) -> Float:
    """Facets of crumpled film with soft folds between."""
    u = piece.unit
    random = piece.random("creases")
    ys, xs = np.mgrid[0 : piece.height, 0 : piece.width].astype(f32)
    found = np.zeros((piece.height, piece.width), f32)
    bend = piece.noise("bend", 200)
    for _ in range(9):
        angle, size = random.uniform(0, np.pi), random.uniform(70, 240) * u
        wave = (xs * np.cos(angle) + ys * np.sin(angle)) / size + 0.45 * bend + random.uniform(0, 1)
        found += (np.abs(wave - np.floor(wave) - 0.5) * size * random.uniform(0.010, 0.030)).astype(f32)
    found += np.abs(piece.noise("fold", 60)) * f32(1.1 * u) + np.abs(piece.noise("broad fold", 130)) * f32(2.4 * u)
    smooth = float(np.exp(-1.2 * max(piece.word("polish"), 0) + 0.8 * max(piece.word("wear"), 0)))
    return (blur(found, 1.1 * u) * f32(smooth) + 0.04 * u * piece.noise("skin", 3)).astype(f32)


def _patterns(piece: Workpiece) -> Float:
    """Stamped patterns: plain, rings or lozenges, by part."""
    art, u = piece.art, piece.unit
    ys, xs = np.mgrid[0 : piece.height, 0 : piece.width].astype(f32)
    random = piece.random("patterns")
    kinds = random.integers(0, 4, art.count)
    kind = art.by_part(kinds.astype(f32), -1)
    rings = 0.10 * (0.5 + 0.5 * np.cos(np.hypot(xs - piece.width * 0.3, ys - piece.height * 0.2) / (7 * u)))
    p, q = np.floor((xs + ys) / (26 * u)), np.floor((xs - ys) / (26 * u))
    lozenges = 0.16 * (np.mod(p + q, 2) - 0.5)
    return np.asarray(np.where(kind == 2, rings, np.where(kind == 3, lozenges, 0)), f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in holographic foil. About 1.3 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    press = 2.2 * u * piece.thick * np.clip(art.within / (5 * u), 0, 1)
    height = blur(np.where(art.solid, 3 * u + press + 0.75 * _creases(piece), f32(0)), 1.0 * u)
    ground = piece.ground("concrete", "3a3b40")
    whole = (height + ground.height * 0.35 * (1 - art.cover)).astype(f32)
    nx, ny, nz = normals(whole)
    turned = art.by_part(piece.random("gratings").uniform(0, np.pi, art.count))
    across, down = np.meshgrid(
        np.linspace(-0.5, 0.5, piece.width, dtype=f32), np.linspace(-0.5, 0.5, piece.height, dtype=f32)
    )
    cosine, sine = np.cos(turned), np.sin(turned)
    tilt = 1.9 * (nx * cosine + ny * sine) + across * np.cos(turned + 0.5) + down * np.sin(turned + 0.5)
    tilt = tilt + _patterns(piece)
    path = 760 + 900 * (0.9 * tilt + 0.10 * piece.noise("film", 260) + 0.25)
    rainbow = interference(path)
    light = rainbow @ np.array([0.2126, 0.7152, 0.0722], f32)
    rainbow = np.clip(0.30 + 0.75 * (light[..., None] + (rainbow - light[..., None]) * 1.15), 0.06, 1.05)
    tint = piece.colours.copy()
    tint[:, 0] = np.clip(tint[:, 0] * 0.50 + 0.47, 0, 0.97)
    own = piece.painted(linear_of(tint), 0.6)
    seam = np.exp(-((art.within / (1.6 * u)) ** 2))[..., None]
    metal = np.clip(rainbow * (0.38 + 0.72 * own), 0, 1) * (1 - 0.35 * seam)
    worn = scratched(piece)
    cover = art.cover
    thing = Surface(
        height=whole,
        albedo=over(ground.albedo, over(metal, np.full_like(metal, 0.5), 0.7 * worn), cover),
        rough=np.clip(cover * piece.rough(0.20) + (1 - cover) * ground.rough + 0.4 * worn * cover, 0.04, 0.95).astype(
            f32
        ),
        metal=(0.96 * cover * (1 - worn)).astype(f32),
        coat=(0.55 * cover).astype(f32),
        normal=(nx, ny, nz),
    )
    lamp = piece.lamp("studio", (2.2, 2.15, 2.05), 1.0, 0.2)
    out = shade(thing, lamp, u, 0.6, view=0.9)
    # The lamp itself, split into its colours where a facet turns to it.
    lobe = np.exp(-(((np.abs(tilt) - 0.35) / 0.28) ** 2)) * cover
    out = out + (0.55 * lobe)[..., None] * rainbow * own
    glints = blur(((piece.noise("glints", 1.5) > 2.75) & art.solid).astype(f32), 0.7 * u) * 4
    return piece.finished(out + glints[..., None] * rainbow, 0.80, 0.10)


LOOK = material(
    "foil",
    "Holographic foil",
    "Creased film pressed on card, its colours shifting from part to part.",
    paint,
    1.3,
)
