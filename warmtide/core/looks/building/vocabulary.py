"""What buildings are made of and their parts, as they are called: "white timber walls, zinc roof"."""

from functools import cache

# Words for them, and for the parts of a building.
WORDS = {
    "boards": ("timber", "wood", "wooden", "boards", "boarding", "larch", "cedar", "oak", "planks", "weatherboard"),
    "brick": ("brick", "bricks", "brickwork"),
    "plaster": ("plaster", "plastered", "render", "rendered", "stucco", "lime", "whitewashed"),
    "concrete": ("concrete", "cement"),
    "stone": ("stone", "granite", "sandstone", "rubble", "limestone"),
    "zinc": ("zinc", "metal", "steel", "tin", "aluminium", "seam", "seamed"),
    "tiles": ("tiles", "tiled", "tile", "terracotta", "clay"),
    "slate": ("slate", "slates"),
    "paving": ("paving", "paved", "slabs", "flagstones", "cobbles"),
    "gravel": ("gravel", "shingle", "sand"),
    "grass": ("grass", "lawn", "meadow", "turf"),
    "snow": ("snow", "snowy"),
}


PART_WORDS = {
    "wall": ("walls", "wall", "facade", "front", "cladding"),
    "roof": ("roof", "roofs", "roofing"),
    "plinth": ("plinth", "base", "foot", "socle"),
    "ground": ("ground", "yard", "forecourt", "floor", "street", "path"),
    "door": ("door", "doors", "gate", "gates"),
    "frame": ("windows", "window", "frames", "frame"),
}


# Materials that only ground is made of.
GROUNDS = ("paving", "gravel", "grass", "snow")


@cache
def part_words() -> frozenset[str]:
    """All words for materials and parts."""
    return frozenset(word for table in (WORDS, PART_WORDS) for words in table.values() for word in words)
