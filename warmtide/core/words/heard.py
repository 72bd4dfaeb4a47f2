"""What a look hears of a prompt by itself, and what is left to the meanings that words have everywhere."""

from dataclasses import replace

from ..model.lexicon import split
from ..model.look import Look
from ..model.phrases import phrases
from .prompt import Phrase


def as_heard(phrase: Phrase, look: Look) -> tuple[Phrase, tuple[str, ...]]:
    """A phrase without the unknown words that a look hears, and what it hears in it."""
    heard = look.hears(phrase.text) if look.hears is not None else ()
    words = {word for text in heard for word in split(text)}
    return replace(phrase, unknown=tuple(word for word in phrase.unknown if word not in words)), heard


def left_of(prompt: str, look: Look) -> str:
    """The phrases of a prompt that a look does not hear by itself, with their weights."""
    if look.hears is None:
        return prompt
    return ", ".join(f"{text}^{weight:g}" for text, weight in phrases(prompt) if not look.hears(text))
