"""A prompt read with our own lexicon: which phrases mean what, how strongly, and which mean nothing to us."""

import difflib
import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from ..errors import BadInput
from .effects import NAMES, Effect

_LEXICON = Path(__file__).parent / "lexicon.txt"
_WEIGHTS = (0.1, 2.0)
# Words that carry no meaning by themselves; left out of what is said not to be understood.
_SMALL = set(
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
_TYPING = 0.84


@dataclass(frozen=True)
class Concept:
    """One line of the lexicon: what a phrase means and what it does at weight 1."""

    title: str
    kind: str
    effect: tuple[tuple[str, float], ...]
    words: tuple[str, ...]


@dataclass(frozen=True)
class Phrase:
    """One phrase of a prompt as it was understood.

    Attributes
    ----------
    text : as written. weight : .1 to 2. concepts : titles of what it means. unknown : words of it that mean
    nothing here. corrected : spellings that were forgiven, as written and as read.
    """

    text: str
    weight: float
    concepts: tuple[str, ...]
    unknown: tuple[str, ...]
    corrected: tuple[tuple[str, str], ...] = ()


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
            found[title] = Concept(title, kind, _effect(effect), tuple(w.strip() for w in words.split(",")))
    return found


@cache
def vocabulary() -> dict[tuple[str, ...], str]:
    """Title of the concept for every known word or run of words."""
    return {tuple(_split(word)): c.title for c in concepts().values() for word in (c.title, *c.words)}


def _split(text: str) -> list[str]:
    return re.findall(r"[a-z0-9]+", text.lower())


@cache
def _spelling(word: str) -> str:
    """The known word that was meant, or the word itself."""
    known = {part for words in vocabulary() for part in words} | _SMALL
    if word in known or len(word) < 5:
        return word
    if word.endswith("s") and word[:-1] in known:
        return word[:-1]
    # Letters in the wrong order are the commonest slip of all.
    swapped = [k for k in known if k[0] == word[0] and len(k) == len(word) and sorted(k) == sorted(word)]
    if swapped:
        return min(swapped)
    near = difflib.get_close_matches(word, [k for k in known if len(k) >= 4], 1, _TYPING)
    return near[0] if near else word


def _weighed(text: str) -> tuple[str, float]:
    """A phrase and its weight: `misty morning^1.4`."""
    body, mark, number = text.partition("^")
    if not mark:
        return body.strip(), 1.0
    try:
        weight = float(number)
    except ValueError:
        raise BadInput(f"The weight in {text.strip()!r} is not a number; write it like mist^1.4.") from None
    if not _WEIGHTS[0] <= weight <= _WEIGHTS[1]:
        raise BadInput(f"The weight of {body.strip()!r} is {weight:g}; weights go from 0.1 to 2.")
    return body.strip(), weight


def _read(text: str, weight: float) -> Phrase:
    """The longest runs of known words in a phrase, from left to right."""
    written = _split(text)
    read = [_spelling(word) for word in written]
    corrected = tuple((a, b) for a, b in zip(written, read, strict=True) if a != b and a != f"{b}s")
    found: list[str] = []
    unknown: list[str] = []
    longest = max(len(words) for words in vocabulary())
    i = 0
    while i < len(read):
        for length in range(min(longest, len(read) - i), 0, -1):
            title = vocabulary().get(tuple(read[i : i + length]))
            if title:
                if title not in found:
                    found.append(title)
                i += length
                break
        else:
            if read[i] not in _SMALL:
                unknown.append(written[i])
            i += 1
    return Phrase(text, weight, tuple(found), tuple(unknown), corrected)


def understand(text: str) -> tuple[Phrase, ...]:
    """Read a prompt: phrases separated by commas or new lines, each with an optional weight.

    Raises
    ------
    BadInput : a weight that is not a number from .1 to 2.
    """
    phrases = []
    for part in re.split(r"[,;\n]", text):
        body, weight = _weighed(part)
        if body:
            phrases.append(_read(body, weight))
    return tuple(phrases)


def effect_of(prompt: str, avoid: str, guidance: float) -> Effect:
    """Sum of what the words of a prompt give and those to avoid take, scaled by guidance: 0 at 1, full at 7."""
    scale = min(max((guidance - 1) / 6, 0.0), 2.5) ** 0.8
    total: Effect = {}
    for text, sign in ((prompt, 1.0), (avoid, -1.0)):
        for phrase in understand(text):
            for title in phrase.concepts:
                _add(total, dict(concepts()[title].effect), sign * phrase.weight * scale)
    return {name: amount for name, amount in total.items() if amount}


def _add(total: Effect, effect: Effect, amount: float) -> None:
    """Hues are directions: two colours meet between them, amounts of everything else add up."""
    if "toward1" in effect and amount * total.get("toward1", 0.0) > 0:
        had, more = total["toward1"], amount * effect["toward1"]
        turn = effect["toward2"] - total["toward2"]
        turn = (turn + 3.141592653589793) % 6.283185307179586 - 3.141592653589793
        total["toward2"] += turn * more / (had + more)
        total["toward1"] = max(abs(had), abs(more)) * (1 if amount > 0 else -1)
    elif "toward1" in effect and abs(amount * effect["toward1"]) >= abs(total.get("toward1", 0.0)):
        total["toward1"], total["toward2"] = amount * effect["toward1"], effect["toward2"]
    for name, value in effect.items():
        if not name.startswith("toward"):
            total[name] = total.get(name, 0.0) + amount * value
