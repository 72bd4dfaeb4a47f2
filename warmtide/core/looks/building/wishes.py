"""What a prompt asks of each part of a building."""

from ..shared.wishes import Wish, by_part
from . import vocabulary


def building_wishes(prompt: str) -> dict[str, Wish]:
    """What a prompt asks of each part of a building: "white timber walls, zinc roof, brick plinth, green door".

    A material without a part is that of the walls, or of the ground where only ground is made of it.
    """
    return by_part(
        prompt, vocabulary.WORDS, vocabulary.PART_WORDS, lambda made: "ground" if made in vocabulary.GROUNDS else "wall"
    )
