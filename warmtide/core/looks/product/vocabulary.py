"""What products are made of and their parts, as they are called: "red enamel body, walnut handle"."""

from functools import cache

WORDS = {
    "enamel": ("enamel", "enamelled", "lacquer", "lacquered", "glossy"),
    "ceramic": ("ceramic", "porcelain", "stoneware", "glazed", "earthenware"),
    "plastic": ("plastic", "resin", "bakelite"),
    "matt": ("matt", "matte", "painted", "powder"),
    "rubber": ("rubber", "silicone"),
    "steel": ("steel", "chrome", "chromed", "metal", "aluminium", "nickel", "silver", "tin"),
    "brass": ("brass", "gold", "golden", "gilt"),
    "copper": ("copper", "bronze"),
    "wood": ("wood", "wooden", "oak", "walnut", "beech", "timber", "teak"),
}


PART_WORDS = {
    "body": ("body", "case", "housing"),
    "top": ("lid", "cap", "top", "knob", "shade", "seat", "rim"),
    "side": ("handle", "handles", "grip", "spout", "leg", "legs", "arm", "arms"),
    "base": ("base", "foot", "stand", "bottom"),
    "detail": ("detail", "details", "trim", "buttons", "cone", "cones"),
}


@cache
def part_words() -> frozenset[str]:
    """All words for materials and parts."""
    return frozenset(word for table in (WORDS, PART_WORDS) for words in table.values() for word in words)
