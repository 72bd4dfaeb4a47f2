"""What a prompt asks of each part of a product or a building.

Colours by name are the lexicon's, so that a colour means here what it means everywhere.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.colour import to_rgb
from ...model.lexicon import SMALL, concepts, is_ground
from ...scenes.registry import place_named
from ...scenes.view import linear
from ...scenes.words import runs

# How much of a colour house paint has.
_DULL = 0.62

# Parts and finishes as they are called, where that isn't their name.
_SAID = {
    "wall": "walls", "ground": "yard", "door": "doors", "frame": "windows", "side": "handles", "detail": "details",
    "boards": "timber",
}  # fmt: skip

Table = Mapping[str, tuple[str, ...]]


@dataclass(frozen=True)
class Wish:
    """What words ask of a part: a finish and a colour (OKLab) with its name, either may be None."""

    finish: str | None = None
    colour: Float | None = None
    named: str = ""


@cache
def _colours() -> dict[str, tuple[float, float, float]]:
    """OKLab of every colour word: its hue, as strong as paint is."""
    found = {"white": (0.93, 0.0, 0.01), "ivory": (0.90, 0.0, 0.03), "cream": (0.90, 0.0, 0.04), "black": (0.20, 0.0, 0.0), "grey": (0.58, 0.0, 0.0)}  # fmt: skip
    for concept in concepts().values():
        effect = dict(concept.effect)
        if concept.kind == "colour" and "toward1" in effect:
            light = 0.80 if concept.title == "yellow" else 0.70 if concept.title in ("pink", "orange") else 0.52
            chroma, hue = effect["toward1"], effect["toward2"]
            for word in concept.words:
                dark = 0.16 if word.split()[0] in ("navy", "midnight", "bottle", "forest") else 0.0
                found[word] = (light - dark, chroma * float(np.cos(hue)), chroma * float(np.sin(hue)))
    return found


def _of_the_thing(words: list[str]) -> list[str]:
    """The words of a phrase without those that say where and when it is: "golden hour" is no gold, and a wooden jetty
    no wooden wall."""
    if is_ground(words):
        return []
    kept, known = list(words), runs(words)
    begun = {first for first, _, _ in known}
    for first, last, meaning in known:
        if meaning.field == "place" and not place_named(str(meaning.value)).outdoors:
            continue
        # What kind of jetty it is stands right before it; a brick harbour warehouse is a warehouse of brick.
        ends = last == len(words) or last in begun or words[last] in SMALL
        begin = max(first - 1, 0) if meaning.field == "place" and ends else first
        kept[begin:last] = [""] * (last - begin)
    return [word for word in kept if word]


def by_part(prompt: str, words_of: Table, parts_of: Table, usual: Callable[[str | None], str]) -> dict[str, Wish]:
    """What every phrase asks of the part that it names, else of the one that its finish is usual on."""
    materials = {word: name for name, words in words_of.items() for word in words}
    parts = {word: name for name, words in parts_of.items() for word in words}
    found: dict[str, Wish] = {}
    for phrase in prompt.lower().replace(";", ",").replace("\n", ",").replace(" and ", ",").split(","):
        words = [w.strip("^.0123456789") for w in phrase.replace("-", " ").split()]
        part = next((parts[w] for w in words if w in parts), None)
        words = words if part else _of_the_thing(words)
        finish = next((materials[w] for w in words if w in materials), None)
        named = next((w for w in words if w in _colours() and not (w in materials and finish)), "")
        if finish or (named and part):
            colour = np.array(_colours()[named], f32) if named else None
            found.setdefault(part or usual(finish), Wish(finish, colour, named))
    return found


def said(wishes: dict[str, Wish]) -> tuple[str, ...]:
    """Wishes for the artist to read: "walls: white timber"."""
    found = []
    for part, wish in wishes.items():
        finish = _SAID.get(wish.finish or "", wish.finish or "")
        found.append(f"{_SAID.get(part, part)}: {' '.join(word for word in (wish.named, finish) if word)}")
    return tuple(found)


def paint_of(wish: Wish) -> Float | None:
    """The linear colour that a wish paints a surface with, or None for the material's own."""
    if wish.colour is None:
        return None
    # Walls and doors are painted in duller colours than things.
    dull = wish.colour * np.array((1, _DULL, _DULL), f32)
    return linear(to_rgb(dull[None, None])[0, 0])
