"""The change of form, as one map from the character back to the photograph: a larger head, larger eyes, a smaller nose and jaw.

Photograph and drawing share it, so that nothing is seen twice.
"""

from dataclasses import dataclass

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.steps import smoothstep
from ...understanding.people.features import CHIN, EYES
from .portrait import Person

_NOSE = (4, 2, 5)


@dataclass(frozen=True)
class Proportions:
    """How far each part goes, 0 as in the photograph, 1 as a character has it.

    Attributes
    ----------
    amount : of all. eyes, jaw, round : of the eyes' size, of how narrow jaw and chin become, of how round the cheeks are.
    young : more forehead, smaller nose.
    """

    amount: float = 1.0
    eyes: float = 1.0
    jaw: float = 1.0
    round: float = 0.0
    young: float = 0.0


def _bump(u: Float, v: Float, centre: AnyArray, across: float, down: float, flat: float) -> Float:
    """1 within `flat` of an ellipse, 0 outside of it."""
    return np.asarray(1 - smoothstep(flat, 1, np.hypot((u - centre[0]) / across, (v - centre[1]) / down)), f32)


def back_map(points: AnyArray, people: tuple[Person, ...], form: Proportions) -> Float:
    """Where points (..., 2) of the character lie in the photograph."""
    out = np.asarray(points, f32)
    for person in people:
        out = person.head.placed(_one(person.head.own(out), person, form))
    return np.asarray(out, f32)


def _one(own: Float, person: Person, form: Proportions) -> Float:
    """The map of one head, in its own frame."""
    head, amount = person.head, form.amount
    # Breadth that is left of a face that is turned away.
    side = float(np.clip(1 - 0.5 * abs(head.turned), 0.45, 1))
    chin = head.own(head.xy[CHIN])
    larger = 1 + (0.085 + 0.03 * form.young) * amount * _bump(
        own[..., 0], own[..., 1], np.array([0, -0.15]), 1.25, 1.45, 0.42
    )
    own = chin + (own - chin) / larger[..., None]
    u, v = own[..., 0], own[..., 1]
    low = smoothstep(0.10, 0.52, v) * (1 - smoothstep(0.62, 1.0, v)) * (1 - smoothstep(0.50, 0.95, np.abs(u) / side))
    up = smoothstep(0.22, 0.55, v) * (1 - smoothstep(0.60, 1.05, v)) * (1 - smoothstep(0.35, 0.9, np.abs(u)))
    cheeks = _bump(np.abs(u), v, np.array([0.33 * side, 0.14]), 0.34, 0.34, 0.2)
    narrow = 0.10 * form.jaw * low - 0.09 * form.round * cheeks
    own = np.stack([u * (1 + amount * narrow), v + 0.055 * amount * form.jaw * up], -1).astype(f32)
    if not head.drawn:
        return own
    nose = head.own(head.xy[list(_NOSE)]).mean(0)
    smaller = np.array([0.20, 0.14 + 0.05 * form.young]) * amount
    near = _bump(own[..., 0], own[..., 1], nose, 0.26 * max(side, 0.7), 0.27, 0.25)
    own = nose + (own - nose) / (1 - smaller * near[..., None])
    return _eyes(own.astype(f32), person, form)


def _eyes(own: Float, person: Person, form: Proportions) -> Float:
    head, states = person.head, person.states
    # Eyes that are narrow stay so, and glasses leave less room.
    lively = float(smoothstep(0.20, 0.33, states.opened)) * states.lids
    room = 1 - 0.45 * (states.glasses.sure if states.glasses else 0.0)
    growth = np.array([0.42, 0.36 + 0.22 * lively]) * form.amount * form.eyes * room
    for lids in EYES:
        points = head.own(head.xy[list(lids[0] + lids[1])])
        centre, width = points.mean(0) + np.array([0, 0.01], f32), float(np.ptp(points[:, 0]))
        if width > 0.05:
            near = _bump(own[..., 0], own[..., 1], centre, 1.30 * width, 0.31, 0.34)
            own = (centre + (own - centre) / (1 + growth * near[..., None])).astype(f32)
    return own


def moved(points: AnyArray, people: tuple[Person, ...], form: Proportions) -> Float:
    """Points of the photograph in the character: the map turned round by iteration."""
    points = np.asarray(points, f32)
    out = points.copy()
    for _ in range(25):
        out += f32(0.8) * (points - back_map(out, people, form))
    return out
