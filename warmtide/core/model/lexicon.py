"""The vocabulary of prompts: one line of `lexicon.txt` a meaning."""

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

_LEXICON = Path(__file__).parent / "lexicon.txt"


# Words that carry no meaning by themselves; left out of what is said not to be understood.
SMALL = frozenset(
    [
        "a",
        "an",
        "the",
        "of",
        "in",
        "on",
        "at",
        "with",
        "and",
        "or",
        "to",
        "by",
        "for",
        "from",
        "as",
        "very",
        "some",
        "its",
        "his",
        "her",
        "their",
        "it",
        "is",
        "are",
        "be",
        "this",
        "that",
        "into",
        "over",
        "under",
        "light",
        "lights",
        "lighting",
        "style",
        "look",
        "colours",
        "colors",
        "colour",
        "color",
        "tones",
        "tone",
        "picture",
        "image",
        "painting",
        "scene",
    ]
)


# Amount of each name at weight 1; the second number only where an effect has two.
NAMES = {
    "light": 1, "contrast": 1, "warm": 1, "red": 1, "green": 1, "chroma": 1, "lights": 2, "darks": 2, "haze": 1,
    "glow": 1, "side": 1, "back": 1, "rays": 1, "soft": 1, "sharp": 1, "grain": 1, "marks": 1, "vignette": 1,
    "streaks": 1, "flakes": 1, "toward": 2,
    # What only a material knows: its finish, and what it lies on.
    "polish": 1, "wear": 1, "thick": 1, "brushed": 1, "rough": 1,
    "planks": 1, "slate": 1, "linen": 1, "denim": 1, "concrete": 1, "paper": 1, "leather": 1, "marble": 1,
}  # fmt: skip


@dataclass(frozen=True)
class Concept:
    """One line of the lexicon: what a phrase means and what it does at weight 1; `look`: the look that it names."""

    title: str
    kind: str
    effect: tuple[tuple[str, float], ...]
    words: tuple[str, ...]
    look: str | None = None


def split(text: str) -> list[str]:
    """Words in lower case."""
    return re.findall(r"[a-z0-9]+", text.lower())


def _effect(text: str) -> tuple[tuple[str, float], ...]:
    found: list[tuple[str, float]] = []
    for part in text.split(","):
        name, *amounts = part.split()
        if len(amounts) != NAMES[name]:
            raise ValueError(f"{name} takes {NAMES[name]} amounts, not {len(amounts)}")
        if len(amounts) == 1:
            found.append((name, float(amounts[0])))
        else:
            found += [(f"{name}{k + 1}", float(amount)) for k, amount in enumerate(amounts)]
    return tuple(found)


@cache
def concepts() -> dict[str, Concept]:
    """Every concept by title."""
    found = {}
    for line in _LEXICON.read_text(encoding="utf-8").splitlines():
        if line.strip() and not line.startswith("#"):
            title, kind, effect, words = (part.strip() for part in line.split("|"))
            look = effect if kind == "look" else None
            found[title] = Concept(
                title, kind, () if look else _effect(effect), tuple(w.strip() for w in words.split(",")), look
            )
    return found


@cache
def vocabulary() -> dict[tuple[str, ...], str]:
    """Title of the concept for every known word or run of words."""
    return {tuple(split(word)): c.title for c in concepts().values() for word in (c.title, *c.words)}


def is_ground(words: list[str]) -> bool:
    """Whether a phrase says what a thing lies on: "on marble"."""
    title = vocabulary().get(tuple(words))
    return title is not None and concepts()[title].kind == "ground"
