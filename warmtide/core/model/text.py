"""Text as it is kept: no characters that can't be seen, kept or put on a line."""

import unicodedata
from typing import Annotated

from pydantic import AfterValidator

# What tables, files and headers can't hold, or what writes over other text: control characters and halves of pairs.
_NONE = ("Cc", "Cs")


def visible(text: str, kept: str = "") -> str:
    """Text without characters that can't be seen; line breaks and tabs become spaces, but for those `kept`.

    Raises
    ------
    ValueError : there are other control characters in it.
    """
    out = []
    for character in text:
        if character in "\t\n\r\v\f\x85" and character not in kept:
            out.append(" ")
        elif unicodedata.category(character) in _NONE and character not in kept:
            raise ValueError(f"there is a character in it that can't be seen (U+{ord(character):04X}); take it out")
        else:
            out.append(character)
    return "".join(out)


def cleaned(text: str) -> str:
    """A name that came with a file: what can't be kept of it is left out."""
    return "".join(c for c in text if unicodedata.category(c) not in _NONE)


# A name or a prompt, on one line.
Line = Annotated[str, AfterValidator(visible)]
# A note, which may have several.
Prose = Annotated[str, AfterValidator(lambda text: visible(text, "\n\t"))]
