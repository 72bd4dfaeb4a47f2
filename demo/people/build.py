"""What a made-up person is made of, and one drawn by lot."""

from typing import NamedTuple

import numpy as np

Colour = tuple[float, float, float]
BALD, SHORT, LONG, BUN = 0, 1, 2, 3
# Linear light. From very fair to very dark.
SKINS: tuple[Colour, ...] = (
    (0.62, 0.40, 0.31), (0.55, 0.33, 0.23), (0.44, 0.25, 0.16), (0.30, 0.155, 0.09), (0.17, 0.085, 0.05), (0.095, 0.048, 0.03),
)  # fmt: skip
HAIRS: tuple[Colour, ...] = (
    (0.012, 0.010, 0.009), (0.045, 0.022, 0.012), (0.12, 0.055, 0.022), (0.34, 0.20, 0.08), (0.22, 0.06, 0.018), (0.32, 0.31, 0.30),
)  # fmt: skip
IRISES: tuple[Colour, ...] = (
    (0.05, 0.022, 0.010),
    (0.09, 0.045, 0.015),
    (0.06, 0.14, 0.24),
    (0.07, 0.13, 0.07),
    (0.13, 0.14, 0.15),
)
CLOTHS: tuple[Colour, ...] = (
    (0.06, 0.10, 0.17),
    (0.30, 0.07, 0.04),
    (0.10, 0.14, 0.08),
    (0.42, 0.30, 0.10),
    (0.25, 0.25, 0.27),
)


class Build(NamedTuple):
    """Sizes are shares of a common one. `turn`, `nod`, `tilt` of the head are radians: to the right of the picture, up, and
    clockwise; `age` 0..1 deepens folds; `child` 0..1 makes the face a child's; `light` is the side of the lamp, -1..1. `dog` 1 sits one beside."""

    skin: Colour = SKINS[1]
    hair: Colour = HAIRS[1]
    iris: Colour = IRISES[2]
    coat: Colour = CLOTHS[0]
    scarf: Colour = CLOTHS[3]
    style: int = SHORT
    jaw: float = 1.0
    long: float = 1.0
    nose: float = 1.0
    eyes: float = 1.0
    open: float = 1.0
    lips: float = 1.0
    smile: float = 0.3
    brows: float = 1.0
    beard: float = 0.0
    glasses: float = 0.0
    hat: float = 0.0
    freckles: float = 0.0
    age: float = 0.2
    child: float = 0.0
    turn: float = 0.0
    nod: float = 0.0
    tilt: float = 0.0
    gaze: float = 0.0
    light: float = -0.6
    dog: float = 0.0


def by_lot(number: int) -> Build:
    """A person drawn by lot: the same for the same number."""
    lot = np.random.default_rng([7241, number])
    age = float(lot.uniform(0, 1))
    man = bool(lot.uniform() < 0.5)
    child = float(lot.uniform(0.6, 1)) if lot.uniform() < 0.15 else 0.0
    style = int(lot.choice([BALD, SHORT, SHORT, SHORT] if man else [SHORT, LONG, LONG, BUN]))
    return Build(
        skin=SKINS[lot.integers(len(SKINS))], hair=HAIRS[5] if age > 0.75 else HAIRS[lot.integers(5)],
        iris=IRISES[lot.integers(len(IRISES))], coat=CLOTHS[lot.integers(5)], scarf=CLOTHS[lot.integers(5)],
        style=SHORT if child and style == BALD else style,
        jaw=float(lot.uniform(0.92, 1.08) + 0.04 * man), long=float(lot.uniform(0.95, 1.06)), nose=float(lot.uniform(0.85, 1.2)),
        eyes=float(lot.uniform(0.92, 1.1)), open=float(lot.uniform(0.8, 1.1)), lips=float(lot.uniform(0.75, 1.3)),
        smile=float(lot.uniform(0, 0.7)), brows=float(lot.uniform(0.7, 1.2) + 0.3 * man),
        beard=float(man and not child and lot.uniform() < 0.35), glasses=float(lot.uniform() < 0.25),
        hat=float(lot.uniform() < 0.2), freckles=float(lot.uniform() < 0.2), age=0.0 if child else age, child=child,
        turn=float(lot.uniform(-0.5, 0.5)), nod=float(lot.uniform(-0.12, 0.12)), tilt=float(lot.uniform(-0.3, 0.3)),
        gaze=float(lot.uniform(-0.4, 0.4)), light=float(lot.choice([-0.7, 0.7, 0.3])),
    )  # fmt: skip
