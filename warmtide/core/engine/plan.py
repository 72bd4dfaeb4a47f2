"""What is fixed for a take before its first step: its schedule, and the source as seed and holds see it."""

import math
from dataclasses import dataclass, field

import cv2
import numpy as np

from ..maths.arrays import Bands, Byte, Float, f32
from ..maths.colour import bytes_to_lab
from ..maths.octaves import CHANNEL_NOISE, PRIOR_LIGHT, at_octave, noise_at, octave_of
from ..maths.pyramid import build, planes
from ..model.errors import BadInput
from ..model.guides import NO_GUIDES, Guides
from ..model.recipe import Recipe
from ..model.sampling import steps_run
from ..understanding.faces import face_holds, face_mask
from ..understanding.flat.depth import inflated_depth
from ..understanding.ground import flat_ground
from ..understanding.palette import colour_labels, palette
from .holds import hold_weights, mixed_hold
from .noise import bend_fields
from .prior import RESIDUE, floor_variance, left_open, local_prior
from .region import seam_width
from .schedule import fewer
from .schedule import sigmas as schedule
from .source import PreparedSource

# The painter runs once the picture stands; a second run nearer the end changes nothing that an eye sees.
_PAINT_BELOW = 0.32
_PAINT_AGAIN = 0.2
_PAINT_LEAST = 0.07
_WAKE = 0.10
# Displacement by the seed at noise level 1, as a share of the short side, and how it grows.
_BEND, _BEND_POWER = 0.020, 0.6


@dataclass
class Plan:
    """What is fixed for one take before its first step; `left_out`: how many of its finest octaves a draft lacks."""

    sigmas: list[float]
    levels: int
    shape: tuple[int, int]
    octaves: list[float]
    noise_std: list[float]
    wake_at: list[float]
    floors: list[Float]
    paints: list[int]
    left_out: int = 0
    residue: Float = field(default_factory=lambda: RESIDUE)

    @property
    def count(self) -> int:
        return len(self.sigmas) - 1

    def noise(self, sigma: float, band: int) -> Float:
        """Noise variance of a band at a level, by channel."""
        variance: Float = ((f32(sigma * self.noise_std[band]) * CHANNEL_NOISE) ** 2).astype(f32)
        return variance

    def residue_gain(self, sigma: float) -> Float:
        gain: Float = (self.residue / (self.residue + self.noise(sigma, self.levels))).astype(f32)
        return gain


@dataclass
class Ground:
    """The source as this seed, strength and holds see it, less the prior's mean; shared between takes."""

    bands: Bands
    holds: list[Float]
    prior: Bands


def _paintings(steps: list[float]) -> list[int]:
    """The steps at which the painter runs."""
    paints: list[int] = []
    for i, sigma in enumerate(steps[:-1]):
        due = not paints or (sigma < _PAINT_AGAIN * steps[paints[-1]] and sigma > _PAINT_LEAST)
        if sigma <= _PAINT_BELOW and due:
            paints.append(i)
    return paints or [len(steps) - 2]


def make_plan(recipe: Recipe, source: PreparedSource, known: float = 0.0, left_out: int = 0) -> Plan:
    """Schedule, wake-up levels and the steps at which the painter runs.

    known : share of a scene in the prior's mean. left_out : octaves that a draft lacks.
    """
    height, width = source.shape
    levels = source.levels
    steps = schedule(recipe.strength, recipe.steps)
    if recipe.quality != "full":
        # A draft takes fewer of the full take's own steps, and paints at the same one.
        steps = fewer(steps, _paintings(steps)[0], steps_run(recipe.strength, recipe.steps_asked))
    octaves = [octave_of(b, height, width) for b in range(levels + 1)]
    stds = [noise_at(o) for o in octaves]
    wake = [math.sqrt(25 * at_octave(PRIOR_LIGHT, o) ** 2 / _WAKE) / k for o, k in zip(octaves, stds, strict=True)]
    wake[levels] = math.inf
    paints = _paintings(steps)
    floors = [floor_variance(b, height, width) for b in range(levels + 1)]
    residue = (RESIDUE * f32(left_open(known))).astype(f32)
    return Plan(steps, levels, source.shape, octaves, stds, wake, floors, paints, left_out, residue)


_NO_DEPTH = "Depth is held from a grey guide (white near), or on flat art; give a guide or set the hold on depth to 0."


def check_depth(recipe: Recipe, rgb: Byte, guides: Guides) -> None:
    """Refuse a hold on depth where nothing says what is near and what is far.

    Raises
    ------
    BadInput : the recipe holds depth, there is no guide, and the source (h, w, 3) is no flat art.
    """
    if recipe.holds.depth > 0 and guides.depth is None and flat_ground(bytes_to_lab(rgb)) is None:
        raise BadInput(_NO_DEPTH)


def depth_of(source: PreparedSource, guides: Guides) -> Float:
    """Depth of a source 0..1, as given or as estimated for flat art."""
    if guides.depth is not None:
        return guides.depth.astype(f32) / f32(255)
    if source.ground is None:
        raise BadInput(_NO_DEPTH)
    colours = palette(source.lab, 8)
    return inflated_depth(colour_labels(source.lab, colours, 1.5, rounds=3), source.ground)


def make_ground(
    recipe: Recipe,
    source: PreparedSource,
    plan: Plan,
    guides: Guides = NO_GUIDES,
    mean: Bands | None = None,
    known: float = 0.0,
) -> Ground:
    """Bend the source by the seed, and weigh holds and prior on the bent picture.

    mean : the prior's mean where a scene is asked for; bands and prior are then told from it. known : its share.
    """
    holds = recipe.holds
    height, width = source.shape
    amplitude = (1 - holds.shapes) * _BEND * min(height, width) * min(plan.sigmas[0], 8.0) ** _BEND_POWER
    image, bands = source.image, source.bands
    faces = face_holds(source.faces, height, width) * f32(holds.faces) if source.faces and holds.faces else None
    subject = None
    if source.subject is not None and holds.subject > 0 and float(source.subject.max()) > 0:
        subject = source.subject * f32(holds.subject)
    depth = depth_of(source, guides) * f32(holds.depth) if holds.depth > 0 else None
    untouched = None
    if guides.region is not None:
        # The seam belongs to what is kept, so that the change grows out of what surrounds it.
        closed = (guides.region == 0).astype(f32)
        untouched = cv2.GaussianBlur(closed, (0, 0), 0.5 * seam_width(height, width), borderType=cv2.BORDER_REFLECT)
    if amplitude > 0.02:
        dx, dy = bend_fields(recipe.seed, height, width)
        if untouched is not None:
            free = 1 - np.clip(2 * untouched, 0, 1)
            dx, dy = dx * free, dy * free
        if depth is not None:
            dx, dy = dx * f32(1 - 0.7 * holds.depth), dy * f32(1 - 0.7 * holds.depth)
        if faces is not None:
            # A face moves as a whole if at all: the bend dies away around it.
            calm = 1 - cv2.GaussianBlur(face_mask(source.faces, height, width, 1.4), (0, 0), 0.03 * min(height, width))
            dx, dy = dx * (1 - (1 - calm) * f32(holds.faces)), dy * (1 - (1 - calm) * f32(holds.faces))
        if subject is not None:
            # Like a face, the subject moves as a whole if at all.
            calm = 1 - cv2.GaussianBlur(subject, (0, 0), 0.03 * min(height, width))
            dx, dy = dx * calm, dy * calm
        xs, ys = np.meshgrid(np.arange(width, dtype=f32), np.arange(height, dtype=f32))
        moved = (xs + f32(amplitude) * dx, ys + f32(amplitude) * dy)
        image = cv2.remap(source.image, *moved, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
        bands = build(planes(image), source.levels)
    weights = hold_weights(
        bands, image, source.ground, holds.lines, holds.shapes, plan.sigmas[0], faces, subject, depth, untouched
    )
    if mean is not None:
        bands = [np.ascontiguousarray(band - own) for band, own in zip(bands, mean, strict=True)]
    prior = local_prior(bands, recipe.strength, mixed_hold(holds.lines, holds.shapes, 2.0), known)
    return Ground(bands, weights, prior)
