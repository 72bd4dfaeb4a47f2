"""How large a picture becomes: by a factor, or in pixels."""

from ...model.errors import BadInput

MOST_SIDE = 8192
MOST_FACTOR = 16.0


def by_factor(height: int, width: int, factor: float) -> tuple[int, int]:
    """Height and width of a picture that becomes `factor` times as large a side, 1 to 16."""
    if not 1 <= factor <= MOST_FACTOR:
        raise BadInput(f"A picture becomes 1 to {MOST_FACTOR:g} times as large; {factor:g} is not in that range.")
    return checked(round(height * factor), round(width * factor))


def by_side(height: int, width: int, side: int) -> tuple[int, int]:
    """Height and width of a picture whose long side gets `side` pixels."""
    long_side = max(height, width)
    if not long_side <= side <= MOST_SIDE:
        raise BadInput(
            f"The long side goes from the {long_side} px that there are to {MOST_SIDE}; {side} is not in that range."
        )
    scale = side / long_side
    return checked(max(round(height * scale), 1), max(round(width * scale), 1))


def checked(height: int, width: int) -> tuple[int, int]:
    """A size, or `BadInput` where it is more than can be made."""
    if not 1 <= min(height, width) <= max(height, width) <= MOST_SIDE:
        raise BadInput(f"{width} x {height} px can't be made; sides go from 1 to {MOST_SIDE} px.")
    return height, width
