"""Draw the library anew: `python -m demo.library`."""

import json
from pathlib import Path

from .craft import bench, bicycle, cart, fishing_boat, lamp, rowing_boat, sailing_boat
from .figures import HAIRS, SKINS, bird, dog, person
from .growth import broad_tree, conifer, grasses, rock, shrub
from .svg import whole

FOLDER = Path(__file__).resolve().parent
Entry = tuple[str, str, str, str, float, int, int, list[str]]

_FIGURE = {"ground": 586.0, "tall": 560.0}


def _people() -> list[Entry]:
    def one(x: float = 150, **more: object) -> list[str]:
        look = {"coat": "#3d5a73", "trousers": "#2c2f36", "skin": SKINS[0], "hair": HAIRS[1], **_FIGURE, **more}
        return person(x, **look)  # type: ignore[arg-type]

    seat = {"ground": 586.0, "tall": 620.0, "seated": True}
    child = {"tall": 380.0, "ground": 586.0}
    red, green = "#a33b2e", "#4c6b4f"
    return [
        ("walker", "Walker", "people", "walking man person", 1.75, 300, 600, one(scarf=red)),
        ("walker-hat", "Walker with a hat", "people", "walking person cap", 1.7, 300, 600, one(coat="#6a5138", hat="#2f3a40", skin=SKINS[1], side=-1)),
        ("walker-skirt", "Walker in a long coat", "people", "walking woman person", 1.68, 300, 600, one(coat=red, skirt=True, skin=SKINS[3], hair=HAIRS[2], stride=14)),
        ("walker-bag", "Walker with a bag", "people", "walking woman shopping person", 1.7, 300, 600, one(coat=green, skirt=True, skin=SKINS[2], hair=HAIRS[4], bag="#b98b4a", side=-1, stride=13)),
        ("lantern-bearer", "Lantern bearer", "people", "walking person lantern light", 1.74, 340, 600, one(coat="#2f4858", scarf="#d9a441", lantern=True, skin=SKINS[4], hair=HAIRS[4], hat="#8c3b30")),
        ("standing", "Standing person", "people", "waiting man person", 1.76, 260, 600, one(130, coat="#575c63", stride=3, skin=SKINS[3], hair=HAIRS[3])),
        ("sitter", "Sitter", "people", "sitting person", 1.3, 420, 600, one(190, **seat, scarf=green)),
        ("sitter-left", "Sitter to the left", "people", "sitting woman person", 1.3, 420, 600, one(230, **seat, side=-1, coat=red, skin=SKINS[2], hair=HAIRS[4])),
        ("pair", "Pair walking", "people", "two couple walking persons", 1.75, 440, 600, [*one(150, coat="#475569", scarf="#c9a15a"), *one(290, coat="#8a4b3b", skirt=True, skin=SKINS[1], hair=HAIRS[4], tall=530.0)]),
        ("pair-talking", "Pair talking", "people", "two standing persons", 1.75, 460, 600, [*one(140, stride=4, coat=green), *one(310, stride=4, side=-1, coat="#333b47", skin=SKINS[4], hair=HAIRS[4])]),
        ("parent-child", "Parent with a child", "people", "walking kid persons", 1.72, 430, 600, [*one(150, coat="#51606e"), *one(300, coat="#d08c3c", **child, hat=red)]),
        ("child", "Child", "people", "kid walking person", 1.15, 300, 600, one(coat="#c8763a", hat="#3b5b7a", trousers="#39424e", stride=20)),
        ("child-lantern", "Child with a lantern", "people", "kid light person", 1.1, 360, 600, one(210, coat="#4f7a8a", lantern=True, skin=SKINS[1], hair=HAIRS[0], side=-1, stride=10)),
    ]  # fmt: skip


def _animals() -> list[Entry]:
    return [
        ("dog", "Dog", "animals", "pet", 0.7, 460, 320, dog(200, 310, 150, "#8a5a34")),
        ("dog-black", "Black dog", "animals", "pet", 0.6, 460, 320, dog(260, 310, 145, "#33312f", side=-1, tail_up=False)),
        ("gull", "Gull standing", "animals", "bird", 0.4, 300, 220, bird(140, 214, 260, False)),
        ("gull-flying", "Gull flying", "animals", "bird sky", 1.2, 400, 160, bird(200, 110, 380, True)),
    ]  # fmt: skip


def _growth() -> list[Entry]:
    return [
        ("broad-tree", "Broad tree", "growth", "tree leaves summer", 9.0, 560, 680, broad_tree(560, 680, 1, "#5d7f3c")),
        ("broad-tree-tall", "Tall broad tree", "growth", "tree leaves poplar", 13.0, 440, 820, broad_tree(440, 820, 2, "#4a7040", 0.22)),
        ("autumn-tree", "Tree in autumn", "growth", "tree leaves orange", 8.0, 560, 640, broad_tree(560, 640, 3, "#c07a30")),
        ("blossom-tree", "Tree in blossom", "growth", "tree flowers spring", 6.0, 520, 560, broad_tree(520, 560, 4, "#dba6b4")),
        ("conifer", "Conifer", "growth", "tree pine fir", 12.0, 400, 820, conifer(400, 820, 1, "#37563f")),
        ("conifer-slim", "Slim conifer", "growth", "tree spruce pine fir", 14.0, 300, 860, conifer(300, 860, 2, "#2f4f44", 0.8)),
        ("conifer-snow", "Conifer in snow", "growth", "tree winter pine fir", 11.0, 400, 780, conifer(400, 780, 3, "#9fb3b5")),
        ("shrub", "Shrub", "growth", "bush hedge", 1.4, 460, 300, shrub(460, 300, 1, "#56763d")),
        ("shrub-flowers", "Flowering shrub", "growth", "bush roses flowers", 1.3, 460, 300, shrub(460, 300, 2, "#4c6b3d", "#d9657a")),
        ("grasses", "Grasses", "growth", "grass tuft reed", 0.8, 320, 300, grasses(320, 300, 1, ("#6d8a42", "#8aa552", "#4f6d35"))),
        ("grasses-dry", "Dry grasses", "growth", "grass tuft reed ears dune", 1.2, 340, 380, grasses(340, 380, 2, ("#b39a5c", "#94804a", "#cdb77c"), True)),
        ("rock", "Rock", "growth", "stone boulder", 1.0, 420, 260, rock(420, 260, 1, "#8b8880")),
        ("rock-low", "Low rock", "growth", "stone boulder", 0.6, 480, 200, rock(480, 200, 2, "#75726c")),
    ]  # fmt: skip


def _craft() -> list[Entry]:
    return [
        ("rowing-boat", "Rowing boat", "craft", "boat water", 1.2, 620, 220, rowing_boat(620, 220, "#3f6f7c")),
        ("sailing-boat", "Sailing boat", "craft", "boat water sail", 8.0, 480, 640, sailing_boat(480, 640, "#7a3b30", "#e9dfc8")),
        ("fishing-boat", "Fishing boat", "craft", "boat water harbour", 5.0, 640, 420, fishing_boat(640, 420, "#2f5a6e")),
        ("bicycle", "Bicycle", "craft", "bike wheel", 1.1, 560, 360, bicycle(560, 360, "#8c3b30")),
        ("lamp", "Street lamp", "craft", "light lantern post", 4.0, 160, 640, lamp(160, 640, False)),
        ("lamp-lit", "Street lamp, lit", "craft", "light lantern post night", 4.0, 160, 640, lamp(160, 640, True)),
        ("bench", "Bench", "craft", "seat park", 0.9, 520, 240, bench(520, 240, "#8a6a45")),
        ("cart", "Lantern cart", "craft", "stall market wheel", 2.2, 560, 460, cart(560, 460, "#a33b2e")),
    ]  # fmt: skip


def main() -> None:
    """Draw every thing, and list them."""
    listed = []
    for name, title, group, words, metres, width, height, parts in (*_people(), *_animals(), *_growth(), *_craft()):
        (FOLDER / f"{name}.svg").write_text(whole(parts, width, height))
        listed.append({"name": name, "title": title, "group": group, "words": words.split(), "metres": metres, "width": width, "height": height})  # fmt: skip
    (FOLDER / "things.json").write_text(json.dumps(listed, indent=1) + "\n")


if __name__ == "__main__":
    main()
