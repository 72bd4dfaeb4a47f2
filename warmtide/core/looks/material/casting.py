"""A plate of metal with its parts in relief: what gold, bronze and chrome share."""

from dataclasses import dataclass

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.relief import broad, curvature, openness, rounded
from ...maths.steps import smoothstep
from .workpiece import Workpiece


@dataclass(frozen=True)
class Casting:
    """Relief of a cast plate on its ground, and where dirt and wear gather.

    Attributes
    ----------
    height : (h, w) without the ground. hollow : 0..1 in grooves. ridge : about -3..3. pits : 0..1.
    """

    height: Float
    hollow: Float
    ridge: Float
    pits: Float


def cast(piece: Workpiece, texture: float = 1.0) -> Casting:
    """Relief of the art as one cast plate: parts stand on each other, a groove between, every part slightly domed.

    texture : how uneven the metal is, 0 for what was turned and polished.
    """
    art, u = piece.art, piece.unit
    thick = f32(piece.thick)
    plate = 26 * u * rounded(art.deep, 16 * u)
    level = art.by_part(art.levels.astype(f32))
    height = plate + 8.1 * u * level + 9 * u * rounded(art.within, 11 * u) + 0.20 * np.minimum(art.pillows, 170 * u)
    height = height + 4 * u * np.exp(-(((art.within - 9 * u) / (4 * u)) ** 2))
    height = height - 6 * u * np.exp(-((art.within / (4.5 * u)) ** 2)) * (art.deep > 7 * u)
    height = blur(np.where(art.solid, height * thick, f32(0)), 1.9 * u)
    uneven = texture * float(np.exp(0.8 * piece.word("rough")))
    skin = (
        0.34 * piece.clouds("skin", 26, 3) + 0.09 * piece.noise("skin fine", 3) + 0.5 * piece.noise("skin broad", 110)
    )
    pits = 0.6 * smoothstep(2.5, 3.3, piece.noise("pits", 6) + 0.25 * piece.noise("pits broad", 60))
    # The deeper fields are stippled with a punch, as engravers do, so that the raised parts stand out.
    field = (level < max(int(art.levels.max(initial=1)), 2)) * smoothstep(12 * u, 18 * u, art.within)
    skin = skin + field * 0.16 * piece.noise("stipple", 9)
    height = (height + art.cover * u * uneven * (skin - 2.2 * pits)).astype(f32)
    hollow = np.clip(1 - openness(height, u, 2.2, (4, 9, 20)), 0, 1)
    return Casting(height, hollow.astype(f32), curvature(height, u), (pits * min(uneven, 1)).astype(f32))


def brushed(piece: Workpiece, height: Float) -> Float:
    """Scratches in one direction, where words ask for brushed metal."""
    amount = max(piece.word("brushed"), 0.0)
    if amount <= 0:
        return height
    lines = piece.noise("brushed", 340, 1.6, 0.12) + 0.6 * piece.noise("brushed broad", 700, 5, 0.12)
    return (height + f32(0.35 * amount * piece.unit) * piece.art.cover * lines).astype(f32)


def scratched(piece: Workpiece) -> Float:
    """0..1 where wear has taken the finish off: edges first, then patches."""
    worn = max(piece.word("wear"), 0.0)
    if worn <= 0:
        return np.zeros((piece.height, piece.width), f32)
    patches = piece.clouds("worn", 90, 5, 0.6) + 0.8 * piece.noise("worn streaks", 160, 3, 0.5)
    edge = np.exp(-piece.art.within / (9 * piece.unit)) * 1.6
    found: Float = (worn * smoothstep(1.3 - 0.5 * worn, 2.4, patches + edge) * piece.art.cover).astype(f32)
    return np.asarray(np.clip(found + 0.2 * broad(found, 3 * piece.unit), 0, 1), f32)
