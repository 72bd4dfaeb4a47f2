"""Where trees stand in a land, what shadow they throw, and drawing them far to near."""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.blur import blur
from ..maths.noise import fractal, part, soft_texture
from ..maths.sampling import bounded
from .atmosphere import RAYLEIGH
from .foliage import BARK, LEAVES, stamp, tree
from .surface import Ground
from .terrain import NEAR_CELL, NEAR_DEPTH, Forest, LandPlan
from .view import Camera, paint

_FORMS = 3
# Share of the height by which a tree may break a drawn skyline.
_OVER = 0.006
_TALLEST = 460


@dataclass(frozen=True)
class Tree:
    """One tree: where it stands (m), its foot's height, how tall, what kind, which form, flipped, how light.

    `row` is the row of its foot, px, when a layout put it there.
    """

    z: float
    x: float
    foot: float
    tall: float
    kind: str
    form: int
    tone: float
    row: float | None = None


def _kind(drawn: str, wanted: str | None, winter: bool, season: str | None, random: np.random.Generator) -> str:
    kind = wanted if wanted and drawn in ("mixed", "conifer", "broad") else drawn
    if kind == "mixed":
        kind = "conifer" if random.random() < 0.3 else "broad"
    if season == "autumn" and kind in ("broad", "birch"):
        return "autumn" if random.random() < 0.8 else "birch"
    if winter and kind == "conifer":
        return "snowy"
    if winter and kind in ("broad", "birch", "bush"):
        return "bare"
    return kind


def _sampled(field: Float, plan: LandPlan, x: AnyArray, z: AnyArray) -> AnyArray:
    g = plan.grid
    at = ((x - g.left) / g.cell).astype(f32)[None], (z / g.cell).astype(f32)[None]
    return np.asarray(cv2.remap(field, *at, cv2.INTER_LINEAR)[0])


def _stand(
    forest: Forest, plan: LandPlan, camera: Camera, ground: Ground, random: np.random.Generator
) -> list[tuple[float, float, float, float, str, float | None]]:
    """Where the trees of a wood stand: z, x, foot, height, kind; no row."""
    spots: list[tuple[float, float, float, float, str, float | None]] = []
    n = forest.count
    near, far = forest.far
    z = near * (far / near) ** (random.random(n) ** (0.62 if far > 4000 else 0.8))
    x = (random.uniform(-0.08, 1.08, n) * camera.width - camera.middle) / camera.focal * z
    height = _sampled(plan.far, plan, x, z)
    slope = np.hypot(_sampled(ground.slope_x, plan, x, z), _sampled(ground.slope_z, plan, x, z))
    scale = far / 160
    clump = soft_texture()[(z / scale).astype(int) % 512, (x / scale).astype(int) % 512]
    stands = (height > max(forest.low, plan.water + 1.5)) & (height < forest.high * (1 + 0.2 * clump))
    stands &= slope < forest.slope + 0.1 * clump
    stands &= clump > forest.clump - 0.55 * forest.density - 0.3 * random.random(n)
    if forest.edge is not None:
        edge = forest.edge * (1 + 0.25 * np.sin(x / 17) + 0.2 * clump)
        stands &= z > edge * (1 - 0.22 * np.clip(np.abs(x) / 25 - 0.5, 0, 1))
    tall = random.uniform(*forest.tall, n) * (1 + 0.15 * clump)
    for q in np.nonzero(stands)[0]:
        spots.append((z[q], x[q], height[q], tall[q], forest.kind, None))
        if forest.bushes and random.random() < 0.55:
            nearer = z[q] - random.uniform(0.5, 3)
            spots.append((nearer, x[q] + random.normal(0, 3), height[q], random.uniform(2, 5), "bush", None))
    return spots


def grown(
    plan: LandPlan, camera: Camera, ground: Ground, random: np.random.Generator, wanted: str | None, winter: bool,
    season: str | None, plants: tuple[tuple[float, float, float], ...], seen: Float,
) -> list[Tree]:  # fmt: skip
    """Every tree of a land, farthest first."""
    spots: list[tuple[float, float, float, float, str, float | None]] = []
    for forest in (plan.forest, plan.behind):
        if forest is not None:
            spots += _stand(forest, plan, camera, ground, random)
    if random.random() < plan.framing and not plants:
        for _ in range(int(random.integers(1, 4))):
            near_z = random.uniform(9, 28)
            aside = plan.side * random.uniform(0.26, 0.52) * near_z * camera.width / camera.focal + random.normal(
                0, 0.6
            )
            foot = plan.ground(aside, near_z)
            if foot > plan.water + 0.1:
                spots.append((near_z, aside, foot, random.uniform(5, 11), plan.frame_kind, None))
    for x0, base, tall0 in plants:
        row = base * camera.height
        at = int(np.clip(row - 1, 0, camera.height - 1)), int(np.clip(x0 * camera.width, 0, camera.width - 1))
        depth = float(seen[at]) * 0.97
        if depth > 1e8:
            depth = camera.focal * plan.eye / max(row - camera.horizon, 3)
        aside = (x0 * camera.width - camera.middle) / camera.focal * depth
        spots.append((depth, aside, 0.0, tall0 * camera.height * depth / camera.focal, forest_kind(plan), row))
    spots.sort(key=lambda spot: -spot[0])
    return [
        Tree(
            z, x, foot, tall, _kind(kind, wanted, winter, season, random), int(random.integers(_FORMS)),
            float(random.random()), row,
        )
        for z, x, foot, tall, kind, row in spots
    ]  # fmt: skip


def below_line(tree: Tree, plan: LandPlan, camera: Camera, eye: float, skyline: Float) -> bool:
    """Whether a tree stays under a drawn skyline (w,), 0..1; trees that were drawn themselves always do."""
    if tree.row is not None:
        return True
    x = camera.middle + camera.focal * tree.x / tree.z
    top = camera.horizon - camera.focal * (tree.foot + tree.tall - eye) / tree.z
    at = int(np.clip(x / camera.width * len(skyline), 0, len(skyline) - 1))
    return bool(top > skyline[at] * camera.height - _OVER * camera.height)


def forest_kind(plan: LandPlan) -> str:
    """What grows where a layout asks for a tree."""
    return plan.forest.kind if plan.forest is not None and plan.forest.kind != "snowy" else "broad"


class Wood:
    """The trees of one scene with their sprites, ready to be drawn from the eye and from the water's mirror."""

    def __init__(self, trees: list[Tree], camera: Camera, sun: AnyArray, random: np.random.Generator) -> None:
        self.trees = trees
        self.sprites: dict[tuple[str, int], list[Float]] = {}
        for kind, form in sorted({(t.kind, t.form) for t in trees}):
            largest = max(camera.focal * t.tall / t.z for t in trees if (t.kind, t.form) == (kind, form))
            height = int(np.clip(largest, 48, _TALLEST))
            self.sprites[kind, form] = tree(kind, part(random), sun, height)

    def shadows(self, plan: LandPlan, sun: AnyArray, random: np.random.Generator, shade: Float) -> Float:
        """Shadows on the ground before one's feet, 0..1."""
        level = math.hypot(float(sun[0]), float(sun[2])) + 1e-6
        for t in self.trees:
            if t.z >= 55:
                continue
            length = min(t.tall * level / max(float(sun[1]), 0.15), 35.0)
            for k in range(8):
                u = k / 7
                column = (t.x - sun[0] / level * length * u - plan.near_left) / NEAR_CELL
                row = (t.z - sun[2] / level * length * u) / NEAR_CELL
                radius = t.tall * (0.06 + 0.20 * math.sin(min(u * 1.3 + 0.15, 1) * 3.0)) / NEAR_CELL
                at = int(np.clip(column, -999, 1999)), int(np.clip(row, -999, 1999))
                cv2.circle(shade, at, max(int(radius), 1), 0.8, -1, cv2.LINE_AA)
        dappled = blur(shade, 2.2) * (1 + 0.45 * fractal(shade.shape[0], shade.shape[1], 6, random, 3))
        return np.clip(dappled, 0, 0.92).astype(f32)

    def draw(
        self, plan: LandPlan, camera: Camera, eye: float, ground: Ground, colour: AnyArray, ambient: AnyArray,
        air: Float, picture: Float, seen: Float, labels: Byte, mirrored: bool = False,
    ) -> None:  # fmt: skip
        """Draw every tree a camera sees, far to near; `eye` is the camera's height on the map."""
        g, focal = plan.grid, camera.focal
        bark = paint(BARK).astype(np.float64)
        for t in self.trees:
            high = t.tall * focal / t.z
            if high < (3.5 if mirrored else 1.2) or (mirrored and t.row is not None):
                continue
            px = camera.middle + focal * t.x / t.z
            foot = t.foot
            if t.z < NEAR_DEPTH:
                share = min(1.0, (NEAR_DEPTH - t.z) / (NEAR_DEPTH * 0.3))
                foot += share * float(bounded(plan.near, (t.x - plan.near_left) / NEAR_CELL, t.z / NEAR_CELL))
            level = foot - eye if not mirrored else foot - 2 * plan.water + eye
            py = camera.horizon - focal * level / t.z if t.row is None else t.row
            if px < -high or px > camera.width + high or py - high > camera.height:
                continue
            sizes = self.sprites[t.kind, t.form]
            k = 0
            while k < len(sizes) - 1 and sizes[k + 1].shape[0] >= high:
                k += 1
            tone = 0.8 + 0.5 * t.tone
            shaded, bright = (paint(code).astype(np.float64) * tone for code in LEAVES[t.kind])
            at = (
                int(np.clip(t.z / g.cell, 0, g.x.shape[0] - 1)),
                int(np.clip((t.x - g.left) / g.cell, 0, g.x.shape[1] - 1)),
            )
            sun_share = float(ground.sun_share[at])
            thick = ground.haze * math.exp(-max(foot, 0) / ground.haze_height)
            through = np.exp(-t.z * (RAYLEIGH * 1.6 + thick))
            stamp(
                picture, seen, labels, sizes[k], px, py + 0.8, high / sizes[k].shape[0], t.z, t.tone > 0.5, shaded,
                bright, bark, colour * sun_share * 0.85, ambient, through, air, t.kind == "snowy",
            )  # fmt: skip
