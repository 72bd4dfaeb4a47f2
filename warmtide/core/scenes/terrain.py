"""The lie of a land: heights far and near, and what covers them.

The far map covers kilometres in cells of metres; the near patch adds what lies before one's feet in cells of 25 cm.
"""

from dataclasses import dataclass, field

import cv2
import numpy as np

from ..maths.arrays import Float, f32
from ..maths.noise import fractal
from ..maths.steps import smoothstep

CELLS = 448
_WIDER = 1.35
NEAR_DEPTH, NEAR_CELL = 60.0, 0.25
_NEAR_ROWS, _NEAR_COLUMNS = 240, 400
NO_WATER = -1e6


@dataclass
class Grid:
    """Where the cells of a far map lie: x and z in metres, (n, m) each."""

    depth: float
    cell: float = field(init=False)
    left: float = field(init=False)
    x: Float = field(init=False)
    z: Float = field(init=False)

    def __post_init__(self) -> None:
        columns = int(CELLS * _WIDER)
        self.cell = self.depth / CELLS
        self.left = -columns / 2 * self.cell
        xs = (np.arange(columns) * self.cell + self.left).astype(f32)
        zs = (np.arange(CELLS) * self.cell).astype(f32)
        self.x, self.z = np.meshgrid(xs, zs)

    def noise(self, scale: float, random: np.random.Generator, octaves: int = 5, gain: float = 0.5) -> Float:
        """Fractal noise whose coarsest features are `scale` metres."""
        return fractal(self.x.shape[0], self.x.shape[1], max(scale / self.cell, 2), random, octaves, gain)


@dataclass(frozen=True)
class Surface:
    """What covers a land.

    Attributes
    ----------
    palette : name in PALETTES. snowline : m. rock_slope : rise over run from which rock shows. sand : m up to which
    sand lies. bare : 0..1 of the ground without grass. strata : layers of rock per metre. ripple : depth of sand
    ripples, their direction (x, z). snow : 0..1 everywhere.
    """

    palette: str = "summer"
    snowline: float = 1e6
    rock_slope: float = 0.75
    sand: float = 0.0
    bare: float = 0.0
    strata: float = 0.0
    ripple: float = 0.0
    ripple_way: tuple[float, float] = (0.0, 1.0)
    snow: float = 0.0


@dataclass(frozen=True)
class Forest:
    """Where trees grow: heights of the ground, steepest slope, how many, how tall, how far, how much in clumps."""

    kind: str
    tall: tuple[float, float]
    count: int
    far: tuple[float, float]
    density: float = 1.0
    clump: float = 0.0
    low: float = -1e3
    high: float = 1e4
    slope: float = 1.0
    edge: float | None = None
    bushes: bool = False


@dataclass
class LandPlan:
    """A land to be drawn.

    Attributes
    ----------
    grid, far : heights in metres. near : what the near patch adds, (240, 400). surface, forest : what covers it.
    water : level of the water. eye : metres above the ground. haze : per metre. horizon : range it may lie in, 0..1 of
    the height. grass : 0..1; blade : its height in m; flowers : share of blades, and how far they reach out of
    their patches. behind : a second wood. waves : slope of the water, None
    for calm; wave_size : metres of its largest; deep : colour of deep water. framing : chance of near trees at the side.
    shape_from, shape_to : metres between which a drawn skyline may lift the land. side : -1 or 1. stand : height of
    the ground that is stood on when it is not the map's.
    """

    grid: Grid
    far: Float
    near: Float
    surface: Surface
    side: int
    eye: float
    haze: float
    horizon: tuple[float, float]
    water: float = NO_WATER
    forest: Forest | None = None
    grass: float = 0.0
    blade: float = 0.3
    flowers: float = 0.015
    flower_spread: float = -0.15
    waves: float | None = None
    wave_size: float = 30.0
    deep: str = "0d3a52"
    framing: float = 0.0
    frame_kind: str = "mixed"
    shape_from: float = 300.0
    shape_to: float = 2500.0
    stand: float | None = None
    mist: float = 2e-3
    mist_height: float = 60.0
    sun_side: tuple[float, float] | None = None
    sun_height: float | None = None
    exposure: float | None = None
    behind: Forest | None = None

    @property
    def near_left(self) -> float:
        return -self.near.shape[1] / 2 * NEAR_CELL

    def ground(self, x: float, z: float) -> float:
        """Height of the far map at a point."""
        g = self.grid
        at = cv2.remap(
            self.far, np.array([[(x - g.left) / g.cell]], f32), np.array([[z / g.cell]], f32), cv2.INTER_LINEAR
        )
        return float(at[0, 0])


def near_patch(random: np.random.Generator, roughness: float) -> Float:
    """Bumps of the ground before one's feet, `roughness` metres."""
    return fractal(_NEAR_ROWS, _NEAR_COLUMNS, 3.0 / NEAR_CELL, random, 4, 0.45) * f32(roughness)


def near_grid() -> tuple[Float, Float]:
    """x and z in metres of the cells of a near patch."""
    xs = (np.arange(_NEAR_COLUMNS) * NEAR_CELL - _NEAR_COLUMNS / 2 * NEAR_CELL).astype(f32)
    zs = (np.arange(_NEAR_ROWS) * NEAR_CELL).astype(f32)
    x, z = np.meshgrid(xs, zs)
    return x, z


def slopes(heights: Float, cell: float) -> tuple[Float, Float]:
    """Rise over run along x and z."""
    return (np.gradient(heights, axis=1) / cell).astype(f32), (np.gradient(heights, axis=0) / cell).astype(f32)


def hollows(heights: Float, cell: float) -> Float:
    """How open the sky is over a point, .35..1: less in hollows than on crests."""
    wide = cv2.GaussianBlur(heights, (0, 0), 6, borderType=cv2.BORDER_REFLECT) - heights
    narrow = cv2.GaussianBlur(heights, (0, 0), 2, borderType=cv2.BORDER_REFLECT) - heights
    shut = np.clip(wide, 0, None) / (cell * 5) + np.clip(narrow, 0, None) / (cell * 2.5)
    return np.clip(1 - shut, 0.35, 1).astype(f32)


def rise(low: float, high: float, x: Float) -> Float:
    """Smooth step, also falling when `low` lies above `high`."""
    return smoothstep(low, high, x) if low < high else 1 - smoothstep(high, low, x)
