"""A prompt read with our own lexicon: which phrases mean what, how strongly, and which mean nothing to us."""

import difflib
import re
from dataclasses import dataclass, replace
from functools import cache, lru_cache

from ..looks.registry import part_words
from ..model.lexicon import SMALL, concepts, is_ground, split, vocabulary
from ..model.phrases import phrases
from ..model.scene import SceneReading
from ..scenes.words import read_scene, runs, scene_phrases
from ..understanding.places import PLACE_WORDS, of_hue
from .effects import Effect

# Kinds of words that a scene shows by itself.
_IN_SCENE = ("light", "weather", "season", "material")
_TYPING = 0.84
_NEAR = 0.72
_SUGGESTED = 3


@dataclass(frozen=True)
class Phrase:
    """One phrase of a prompt as it was understood.

    Attributes
    ----------
    text : as written. weight : .1 to 2. concepts : titles of what it means. unknown : words of it that mean
    nothing here. corrected : spellings that were forgiven, as written and as read. place : where in the picture it
    belongs, or None for everywhere. scene : what of a scene it asks for, where the prompt names a place.
    """

    text: str
    weight: float
    concepts: tuple[str, ...]
    unknown: tuple[str, ...]
    corrected: tuple[tuple[str, str], ...] = ()
    place: str | None = None
    scene: tuple[str, ...] = ()


@cache
def _places() -> dict[tuple[str, ...], str]:
    return {tuple(split(word)): place for place, words in PLACE_WORDS.items() for word in words}


# Words that are looked up for their spelling: longer ones are none of ours, and the list of them has an end.
_LONGEST = 24
_LOOKED_UP = 4096


@lru_cache(maxsize=_LOOKED_UP)
def _spelling(word: str) -> str:
    """The known word that was meant, or the word itself."""
    known = {part for table in (vocabulary(), _places()) for words in table for part in words} | SMALL
    known |= part_words()
    if word in known or not 5 <= len(word) <= _LONGEST:
        return word
    if word.endswith("s") and word[:-1] in known:
        return word[:-1]
    # Letters in the wrong order are the commonest slip of all.
    swapped = [k for k in known if k[0] == word[0] and len(k) == len(word) and sorted(k) == sorted(word)]
    if swapped:
        return min(swapped)
    near = difflib.get_close_matches(word, [k for k in known if len(k) >= 4 and _as_long(word, k, _TYPING)], 1, _TYPING)
    return near[0] if near else word


def _as_long(word: str, known: str, ratio: float) -> bool:
    """Whether two words are of lengths that can agree by that ratio at all: twice what they share over all they have."""
    return 2 * min(len(word), len(known)) >= ratio * (len(word) + len(known))


def _colours_a_place(words: list[str]) -> bool:
    """ "Dark blue water": colours and a place that the picture has already, and nothing else."""
    left, coloured = [word for word in words if word not in SMALL], False
    found = [length for length in range(min(3, len(left)), 0, -1) if tuple(left[-length:]) in _places()]
    if not found:
        return False
    for word in left[: -found[0]]:
        title = vocabulary().get((word,))
        if title is None or (
            concepts()[title].kind not in ("colour", "palette") and word not in ("dark", "bright", "pale")
        ):
            return False
        coloured = True
    return coloured


@lru_cache(maxsize=512)
def scene_of(prompt: str, lying: bool = False) -> SceneReading:
    """The scene that a prompt asks for; a colour for a place that is there asks for none.

    lying : what is made is a thing, so that "on marble" is what it lies on and not a place.
    """
    written = [part for part in re.split(r"[,;\n]", prompt) if part.strip()]
    asking = [part for part in written if not _colours_a_place(split(part.partition("^")[0]))]
    if lying:
        asking = [part for part in asking if not is_ground(split(part.partition("^")[0]))]
    return read_scene(", ".join(asking))


def _scenic(phrase: Phrase, reading: SceneReading) -> Phrase:
    """A phrase with what it asks of the scene; words that only the scene knows are understood now."""
    means = dict(reading.understood).get(phrase.text)
    if reading.asked is None or means is None:
        return phrase
    words = split(phrase.text)
    known = {word for first, last, _ in runs(words) for word in words[first:last]}
    # "Sea behind": where it lies is said by the scene itself.
    unknown = tuple(word for word in phrase.unknown if word not in known and (word,) not in _places())
    corrected = tuple(pair for pair in phrase.corrected if pair[0] not in known)
    return replace(phrase, scene=means, unknown=unknown, corrected=corrected, place=None)


@lru_cache(maxsize=_LOOKED_UP)
def _read(text: str, weight: float) -> Phrase:
    """The longest runs of known words in a phrase, from left to right."""
    written = split(text)
    read = [_spelling(word) for word in written]
    corrected = tuple((a, b) for a, b in zip(written, read, strict=True) if a != b and a != f"{b}s")
    found: list[str] = []
    unknown: list[str] = []
    place: str | None = None
    longest = max(len(words) for words in vocabulary())
    i = 0
    while i < len(read):
        for length in range(min(longest, len(read) - i), 0, -1):
            title = vocabulary().get(tuple(read[i : i + length]))
            where = _places().get(tuple(read[i : i + length]))
            if where and not title:
                place = where
                i += length
                break
            if title:
                if title not in found:
                    found.append(title)
                i += length
                break
        else:
            # Parts of a building or a product say where a material goes; alone they ask for nothing.
            if read[i] not in SMALL and read[i] not in part_words():
                unknown.append(written[i])
            i += 1
    if place is None and unknown:
        hues = [dict(concepts()[title].effect).get("toward2") for title in found if concepts()[title].kind == "colour"]
        if hues and hues[0] is not None and len(found) == 1:
            place = of_hue(hues[0])
    if place and found and all(concepts()[title].look for title in found):
        # A look is mixed in everywhere: "watercolour sky" is no sky in watercolour.
        unknown += [word for word in written if (word,) in _places()]
        place = None
    if not found:
        # A place alone says nothing about how it should be.
        unknown = [word for word in written if word not in SMALL]
        place = None
    return Phrase(text, weight, tuple(found), tuple(unknown), corrected, place)


def suggestions(phrase: Phrase) -> tuple[str, ...]:
    """Up to three phrases of the lexicon that may have been meant by one that was not understood in full."""
    if not phrase.unknown:
        return ()
    found: list[str] = []
    for unknown in phrase.unknown:
        found += _meant(unknown)
        if len(set(found)) >= _SUGGESTED:
            break
    return tuple(dict.fromkeys(found))[:_SUGGESTED]


@lru_cache(maxsize=_LOOKED_UP)
def _meant(unknown: str) -> tuple[str, ...]:
    """Phrases of the lexicon that are spelled much like a word."""
    if len(unknown) > _LONGEST:
        return ()
    words = {" ".join(words) for words in vocabulary()} | scene_phrases()
    near = [word for word in words if _as_long(unknown, word, _NEAR)]
    shared = sorted((w for w in words if len(unknown) > 4 and w.startswith(unknown[:5])), key=len)
    return (*difflib.get_close_matches(unknown, near, 3, _NEAR), *shared[:2])


def understand(text: str, scene: SceneReading | None = None) -> tuple[Phrase, ...]:
    """Read a prompt: phrases separated by commas or new lines, each with an optional weight.

    scene : the scene that a look reads in it, where that isn't `scene_of`.

    Raises
    ------
    BadInput : a weight that is not a number from .1 to 2.
    """
    reading = scene_of(text) if scene is None else scene
    return tuple(_scenic(_read(body, weight), reading) for body, weight in phrases(text))


def acts(text: str) -> bool:
    """Whether a phrase would steer a take."""
    return bool(understand(text)[0].concepts)


def words_scale(guidance: float) -> float:
    """How much of their effect words have: none at guidance 1, all at 7."""
    return float(min(max((guidance - 1) / 6, 0.0), 2.5) ** 0.8)


def effect_of(prompt: str, avoid: str, guidance: float, drawn: float = 0.0) -> Effect:
    """Sum of what the words of a prompt give and those to avoid take, scaled by guidance: 0 at 1, full at 7.

    drawn : 0..1, how much of the picture is a scene that the prompt asks for; what a phrase says of its light and
    weather is in that already.
    """
    scale = words_scale(guidance)
    places: dict[str, Effect] = {}
    for text, sign in ((prompt, 1.0), (avoid, -1.0)):
        for phrase in understand(text):
            for title in phrase.concepts:
                amount = sign * phrase.weight * scale
                if drawn > 0 and sign > 0 and phrase.scene and concepts()[title].kind in _IN_SCENE:
                    amount *= 1 - drawn
                part = places.setdefault(phrase.place or "", {})
                _add(part, dict(concepts()[title].effect), amount)
    return {
        f"{place}/{name}" if place else name: amount
        for place, part in places.items()
        for name, amount in part.items()
        if amount
    }


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
