"""What words ask of a character: proportions, age, light, colours of hair and eyes."""

from dataclasses import dataclass
from functools import cache

from ...model.phrases import phrases

# Words, and what each asks: how much of what.
_ASKS: dict[str, tuple[str, float]] = {
    "round": ("round", 1.0), "round face": ("round", 1.0), "sharp chin": ("jaw", 1.8), "pointed chin": ("jaw", 1.8), "strong jaw": ("jaw", 0.1),
    "big eyes": ("eyes", 1.3), "large eyes": ("eyes", 1.3), "small eyes": ("eyes", 0.5), "big head": ("form", 1.25),
    "young": ("age", -1.0), "younger": ("age", -1.0), "old": ("age", 1.0), "older": ("age", 1.0),
    "freckles": ("freckles", 1.0), "freckles kept": ("freckles", 1.0), "keep freckles": ("freckles", 1.0),
    "soft light": ("soft", 1.0), "studio light": ("soft", 0.6), "rim light": ("rim", 2.4), "backlight": ("rim", 2.8),
    "golden hour": ("warm", 1.0), "sunset": ("warm", 1.2), "moonlight": ("warm", -1.0), "night": ("warm", -0.8),
    "light from the left": ("side", -1.0), "light from the right": ("side", 1.0), "blurred background": ("depth", 2.0),
    "sharp background": ("depth", 0.15), "clay": ("clay", 1.0),
}  # fmt: skip
# Colours in OKLab.
_HAIRS = {
    "black": (0.20, 0.005, 0.005), "brown": (0.34, 0.030, 0.045), "dark brown": (0.26, 0.022, 0.032), "blond": (0.72, 0.012, 0.095),
    "blonde": (0.72, 0.012, 0.095), "red": (0.45, 0.105, 0.085), "ginger": (0.55, 0.085, 0.105), "grey": (0.60, 0.0, 0.004),
    "white": (0.82, 0.0, 0.008), "pink": (0.70, 0.12, 0.0), "blue": (0.50, -0.02, -0.11), "green": (0.55, -0.10, 0.06),
}  # fmt: skip
_EYES = {
    "blue": (0.58, -0.020, -0.070), "green": (0.56, -0.060, 0.040), "brown": (0.40, 0.040, 0.070), "dark": (0.28, 0.025, 0.040),
    "grey": (0.60, -0.008, -0.018), "amber": (0.58, 0.030, 0.105), "hazel": (0.48, 0.005, 0.075), "violet": (0.48, 0.060, -0.090),
}  # fmt: skip
Lab = tuple[float, float, float]


@dataclass(frozen=True)
class Wishes:
    """What a prompt asks for: `amounts` by name; colours of hair and eyes, OKLab, or None for the person's own."""

    amounts: tuple[tuple[str, float], ...] = ()
    hair: Lab | None = None
    iris: Lab | None = None

    def get(self, name: str, usual: float) -> float:
        return dict(self.amounts).get(name, usual)


def _colour_in(text: str, ends: tuple[str, ...], colours: dict[str, Lab]) -> Lab | None:
    for end in ends:
        if text.endswith(f" {end}"):
            return colours.get(text[: -len(end) - 1].strip())
    return None


@cache
def wishes_in(prompt: str) -> tuple[Wishes, tuple[str, ...]]:
    """What a prompt asks of a character, and which of its phrases were heard."""
    amounts: dict[str, float] = {}
    hair = iris = None
    heard = []
    for written, weight in phrases(prompt):
        text = written.lower().strip()
        found_hair = _colour_in(text, ("hair",), _HAIRS)
        found_iris = _colour_in(text, ("eyes", "eye", "irises"), _EYES)
        asked = _ASKS.get(text)
        if asked is not None:
            name, amount = asked
            amounts[name] = (
                amount * weight if name not in ("jaw", "eyes", "form", "depth") else 1 + (amount - 1) * weight
            )
        hair, iris = found_hair or hair, found_iris or iris
        if asked is not None or found_hair or found_iris:
            heard.append(written)
    return Wishes(tuple(sorted(amounts.items())), hair, iris), tuple(heard)
