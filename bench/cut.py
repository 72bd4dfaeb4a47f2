"""How well things are cut out: `python -m bench.cut`.

Ten drawings of the library over the demo's photographs, whose alpha is known: intersection over union in one go, and after up to three
strokes, the first along the middle of the thing, the others along that of the largest mistake. Exits 1 where fewer than eight reach .93.
"""

import sys
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from warmtide.core.maths.arrays import AnyArray, Byte, Float, Mask
from warmtide.core.pictures.svg import drawn_svg
from warmtide.core.understanding.cut.cut_out import cut_out

ROOT = Path(__file__).resolve().parent.parent / "demo"
THINGS = (
    "rowing-boat",
    "sailing-boat",
    "fishing-boat",
    "broad-tree",
    "conifer",
    "shrub",
    "rock",
    "dog",
    "gull",
    "cart",
)
GROUNDS = ("quay.jpg", "fisher.jpg", "keeper.jpg")
OTHERS = (
    "autumn-tree",
    "blossom-tree",
    "conifer-slim",
    "rock-low",
    "dog-black",
    "walker",
    "sitter",
    "grasses",
    "lantern-bearer",
    "bench",
)
OTHER_GROUNDS = ("boathouse.png", "quay.jpg", "massing.png", "fisher.jpg")
SIDE, SHARE, STROKES = 512, 0.62, 3
WANTED, OF_TEN = 0.93, 8


def overlap(found: Float, truth: Float) -> float:
    return float(np.minimum(found, truth).sum() / np.maximum(found, truth).sum())


def composed(thing: str, ground: str) -> tuple[Byte, Float]:
    """A thing in the middle of a photograph, and how solid it is."""
    picture = Image.open(ROOT / "pictures" / ground).convert("RGB")
    picture.thumbnail((SIDE, SIDE))
    under = np.array(picture)
    height, width = under.shape[:2]
    rgba = drawn_svg((ROOT / "library" / f"{thing}.svg").read_bytes(), SIDE)[0]
    scale = min(SHARE * height / rgba.shape[0], SHARE * width / rgba.shape[1])
    size = (round(rgba.shape[1] * scale), round(rgba.shape[0] * scale))
    rgba = cv2.resize(rgba, size, interpolation=cv2.INTER_AREA)
    cover = np.zeros((height, width), np.float32)
    colours = np.zeros_like(under)
    top, left = (height - size[1]) // 2, (width - size[0]) // 2
    cover[top : top + size[1], left : left + size[0]] = rgba[..., 3] / 255
    colours[top : top + size[1], left : left + size[0]] = rgba[..., :3]
    return (under * (1 - cover[..., None]) + colours * cover[..., None]).astype(np.uint8), cover


def stroke(mask: Mask, truth: Mask) -> AnyArray:
    """Along the middle of the largest mistake: where it is at least half as deep as anywhere."""
    wrong = (mask != truth).astype(np.uint8)
    count, parts, sizes, _ = cv2.connectedComponentsWithStats(wrong)
    said = np.zeros(mask.shape, np.int8)
    if count < 2:
        return said
    depth = cv2.distanceTransform((parts == 1 + int(np.argmax(sizes[1:, 4]))).astype(np.uint8), cv2.DIST_L2, 3)
    middle = depth >= 0.5 * depth.max()
    said[middle] = np.where(truth[middle], 1, -1)
    return said


def main() -> int:
    """Print every thing's figures: those that thresholds were set on, and others."""
    return max(_measured("set on", THINGS, GROUNDS), _measured("not set on", OTHERS, OTHER_GROUNDS))


def _measured(name: str, things: tuple[str, ...], grounds: tuple[str, ...]) -> int:
    reached = 0
    for number, thing in enumerate(things):
        picture, cover = composed(thing, grounds[number % len(grounds)])
        cut = cut_out(picture)
        first = best = overlap(cut.alpha, cover)
        said, used = np.zeros(cut.mask.shape, np.int8), 0
        truth = cv2.resize(cover, cut.mask.shape[::-1], interpolation=cv2.INTER_AREA) > 0.5
        while best < WANTED and used < STROKES:
            new = stroke(cut.mask if used else np.zeros_like(truth), truth)
            said, used = np.where(new != 0, new, said), used + 1
            cut = cut_out(picture, strokes=said)
            best = overlap(cut.alpha, cover)
        reached += best >= WANTED
        print(f"{thing:14} {cut.kind:8} in one go {first:.3f}, after {used} strokes {best:.3f}")
    print(f"{name}: {reached} of {len(things)} reach {WANTED} ({OF_TEN} wanted)")
    return int(reached < OF_TEN)


if __name__ == "__main__":
    sys.exit(main())
