"""What a prompt asks of each part of a product."""

from ..shared.wishes import Wish, by_part
from . import vocabulary


def wishes(prompt: str) -> dict[str, Wish]:
    """What a prompt asks of each part of a product; without the name of a part it is the body's."""
    return by_part(prompt, vocabulary.WORDS, vocabulary.PART_WORDS, lambda _: "body")
