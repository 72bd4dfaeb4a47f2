"""What words bring into a region: which things, how many, how tall."""

import re
from dataclasses import dataclass

from .words import split

# Words, and what they bring.
_WORDS = {
    "conifer": ("pine", "pines", "fir", "firs", "spruce", "spruces", "conifer", "conifers", "pine tree", "pine trees", "fir tree", "fir trees", "christmas tree"),
    "broad": ("tree", "trees", "oak", "oaks", "maple", "maples", "beeches", "broadleaf trees"),
    "blossom": ("cherry tree", "cherry trees", "blossoming trees", "trees in blossom"),
    "bush": ("bush", "bushes", "shrub", "shrubs", "hedge", "undergrowth"),
    "rocks": ("rock", "rocks", "boulder", "boulders", "stones"),
    "grass": ("grass", "grasses", "lawn", "meadow grass", "reeds"),
    "sand": ("sand", "sandy ground"),
    "water": ("water", "pond", "pool", "puddle", "stream"),
    "people": ("people", "walkers", "figures", "person", "walker", "passers by"),
    "birds": ("bird", "birds", "gulls", "seagulls", "flock"),
    "boats": ("boat", "boats", "sailing boat", "sailing boats", "sailboats"),
    "lamps": ("lamp", "lamps", "street lamp", "street lamps", "lamp post", "lamp posts", "street light", "street lights"),
}  # fmt: skip
_COUNTS = {"a": 1, "an": 1, "one": 1, "single": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10}  # fmt: skip
_HEIGHTS = {"tall": 1.0, "high": 1.0, "large": 1.0, "big": 1.0, "small": 0.55, "little": 0.55, "low": 0.5, "young": 0.5, "tiny": 0.35}  # fmt: skip
_MOST = 24
_TITLES = {
    "conifer": "pines",
    "broad": "trees",
    "blossom": "trees in blossom",
    "bush": "shrubs",
    "people": "people",
    "lamps": "street lamps",
}


@dataclass(frozen=True)
class Thing:
    """One thing: its name, how many (None: as its mark has it), how tall in shares of its mark."""

    name: str
    count: int | None = None
    height: float = 1.0

    @property
    def title(self) -> str:
        named = _TITLES.get(self.name, self.name)
        return f"{self.count} {named}" if self.count is not None else named


def things_in(prompt: str) -> tuple[Thing, ...]:
    """What a prompt would bring into a region, in the order named. A word with a colour before it brings nothing."""
    found: dict[str, Thing] = {}
    for phrase in re.split(r"[,;\n]", prompt):
        for thing, _ in _read(split(phrase.partition("^")[0])):
            found.setdefault(thing.name, thing)
    return tuple(found.values())


def words_of_things(phrase: str) -> frozenset[str]:
    """The words of a phrase that bring something, their numbers and heights among them."""
    words = split(phrase)
    return frozenset(words[k] for _, taken in _read(words) for k in taken)


def _table() -> dict[tuple[str, ...], str]:
    return {tuple(split(word)): thing for thing, words in _WORDS.items() for word in words}


def _read(words: list[str]) -> list[tuple[Thing, tuple[int, ...]]]:
    """Things of one phrase, each with the places of its words."""
    table = _table()
    longest = max(len(known) for known in table)
    found: list[tuple[Thing, tuple[int, ...]]] = []
    before: list[int] = []
    i, count, height = 0, None, 1.0
    while i < len(words):
        for length in range(min(longest, len(words) - i), 0, -1):
            if name := table.get(tuple(words[i : i + length])):
                found.append((Thing(name, count, height), (*before, *range(i, i + length))))
                count, height, before = None, 1.0, []
                i += length
                break
        else:
            word = words[i]
            if word in _COUNTS or (word.isdecimal() and 1 <= int(word) <= _MOST):
                count = _COUNTS.get(word) or int(word)
                before.append(i)
            elif word in _HEIGHTS:
                height = _HEIGHTS[word]
                before.append(i)
            i += 1
    return found
