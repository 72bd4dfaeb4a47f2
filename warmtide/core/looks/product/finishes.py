"""What a product can be made of, and which part words mean: "red enamel body, brass lid, walnut handle"."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Finish:
    """How a surface throws light back: its own colour (linear) or None for any, roughness, metal, lacquer, grain of wood."""

    colour: tuple[float, float, float] | None
    rough: float
    metal: float = 0.0
    coat: float = 0.0
    wood: bool = False


FINISHES = {
    "enamel": Finish(None, 0.35, coat=1.0),
    "ceramic": Finish(None, 0.40, coat=0.7),
    "plastic": Finish(None, 0.45, coat=0.25),
    "matt": Finish(None, 0.80),
    "rubber": Finish((0.028, 0.028, 0.030), 0.75),
    "steel": Finish((0.70, 0.71, 0.72), 0.22, metal=1.0),
    "brass": Finish((0.86, 0.62, 0.26), 0.24, metal=1.0),
    "copper": Finish((0.88, 0.47, 0.30), 0.22, metal=1.0),
    "wood": Finish((0.36, 0.20, 0.10), 0.42, coat=0.3, wood=True),
}
