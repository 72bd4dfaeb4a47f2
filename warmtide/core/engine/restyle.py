"""The sampler: from a source and a recipe to a take.

Two tracks run through one schedule of noise levels. The *content* track is denoised and held to the source;
the look's painter renders its estimate now and then; the *painted* track is denoised around that rendering,
so that marks of paint are never treated as noise. Bands of the pyramid whose noise still drowns everything
sleep: their state is known in closed form.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from ..arrays import Bands, Byte, Float, f32
from ..colour import lab_to_bytes
from ..looks.base import Look, Sitting
from ..looks.painting.portrait import with_faces
from ..looks.registry import look_named
from ..recipe import Recipe
from ..words.effects import Effect, marks_of, worded
from ..words.understanding import effect_of
from .cache import SharedCache
from .faces import face_mask
from .holds import hold_weights, mixed_hold
from .noise import bend_fields, sampler_noise
from .octaves import CHANNEL_NOISE, PRIOR_LIGHT, at_octave, noise_at, octave_of
from .painted import PaintedTrack
from .prior import RESIDUE, floor_variance, local_prior
from .pyramid import build, collapse, image_of, planes
from .samplers import Update, rule
from .schedule import sigmas as schedule
from .shrink import content_estimate, content_step, hold_and_update
from .smooth import bilateral
from .source import PreparedSource, from_space, pixel_key, prepare, to_space
from .variant import Variant, variant_of, varied

Progress = Callable[[int, int], None]

# The painter runs once the picture stands; a second run nearer the end changes nothing that an eye sees.
_PAINT_BELOW = 0.32
_PAINT_AGAIN = 0.2
_PAINT_LEAST = 0.07
_SMOOTH_ABOVE = 0.25
_WAKE = 0.10
_GUIDANCE_RATE = 0.07
# Displacement by the seed at noise level 1, as a share of the short side, and how it grows.
_BEND, _BEND_POWER = 0.020, 0.6


@dataclass
class Plan:
    """What is fixed for one take before its first step."""

    sigmas: list[float]
    levels: int
    shape: tuple[int, int]
    octaves: list[float]
    noise_std: list[float]
    wake_at: list[float]
    floors: list[Float]
    paints: list[int]

    @property
    def count(self) -> int:
        return len(self.sigmas) - 1

    def noise(self, sigma: float, band: int) -> Float:
        """Noise variance of a band at a level, by channel."""
        variance: Float = ((f32(sigma * self.noise_std[band]) * CHANNEL_NOISE) ** 2).astype(f32)
        return variance

    def residue_gain(self, sigma: float) -> Float:
        gain: Float = (RESIDUE / (RESIDUE + self.noise(sigma, self.levels))).astype(f32)
        return gain


@dataclass
class Ground:
    """The source as this seed, strength and holds see it; shared between takes."""

    bands: Bands
    holds: list[Float]
    prior: Bands


def make_plan(recipe: Recipe, source: PreparedSource) -> Plan:
    """Schedule, wake-up levels and the steps at which the painter runs."""
    height, width = source.shape
    levels = source.levels
    steps = schedule(recipe.strength, recipe.steps)
    octaves = [octave_of(b, height, width) for b in range(levels + 1)]
    stds = [noise_at(o) for o in octaves]
    wake = [math.sqrt(25 * at_octave(PRIOR_LIGHT, o) ** 2 / _WAKE) / k for o, k in zip(octaves, stds, strict=True)]
    wake[levels] = math.inf
    paints: list[int] = []
    for i, sigma in enumerate(steps[:-1]):
        due = not paints or (sigma < _PAINT_AGAIN * steps[paints[-1]] and sigma > _PAINT_LEAST)
        if sigma <= _PAINT_BELOW and due:
            paints.append(i)
    if not paints:
        paints = [len(steps) - 2]
    floors = [floor_variance(b, height, width) for b in range(levels + 1)]
    return Plan(steps, levels, source.shape, octaves, stds, wake, floors, paints)


def make_ground(recipe: Recipe, source: PreparedSource, plan: Plan) -> Ground:
    """Bend the source by the seed, and weigh holds and prior on the bent picture."""
    holds = recipe.holds
    height, width = source.shape
    amplitude = (1 - holds.shapes) * _BEND * min(height, width) * min(plan.sigmas[0], 8.0) ** _BEND_POWER
    image, bands = source.image, source.bands
    faces = face_mask(source.faces, height, width) * f32(holds.faces) if source.faces and holds.faces else None
    if amplitude > 0.02:
        dx, dy = bend_fields(recipe.seed, height, width)
        if faces is not None:
            # A face moves as a whole if at all: the bend dies away around it.
            calm = 1 - cv2.GaussianBlur(face_mask(source.faces, height, width, 1.4), (0, 0), 0.03 * min(height, width))
            dx, dy = dx * (1 - (1 - calm) * f32(holds.faces)), dy * (1 - (1 - calm) * f32(holds.faces))
        xs, ys = np.meshgrid(np.arange(width, dtype=f32), np.arange(height, dtype=f32))
        moved = (xs + f32(amplitude) * dx, ys + f32(amplitude) * dy)
        image = cv2.remap(source.image, *moved, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
        bands = build(planes(image), source.levels)
    weights = hold_weights(bands, image, source.ground, holds.lines, holds.shapes, plan.sigmas[0], faces)
    prior = local_prior(bands, recipe.strength, mixed_hold(holds.lines, holds.shapes, 2.0))
    return Ground(bands, weights, prior)


class ContentTrack:
    """The track that keeps the composition: denoised band by band, held to the source."""

    def __init__(self, plan: Plan, source: PreparedSource, ground: Ground, noise: Bands, colours: float) -> None:
        self.plan, self.source, self.ground, self.noise = plan, source, ground, noise
        count = plan.levels + 1
        # The colour hold leaves fine chroma to the painter.
        self.chroma = [f32(colours if plan.octaves[b] > 1.5 else 0) for b in range(count)]
        self.state: list[Float | None] = [None] * count
        self.spare: list[Float | None] = [None] * count
        self.before: list[Float | None] = [None] * count
        self.gate = [np.empty_like(b) for b in ground.bands]
        self.open_gate = np.ones((3, 1, 1), f32)
        self.estimate = [self._asleep_estimate(b) for b in range(count)]

    def _asleep_estimate(self, b: int) -> Float:
        """While noise drowns a band, all that is known of it is what the holds give."""
        hold = self.ground.holds[b][None] * np.array([1, 0.6, 0.6], f32)[:, None, None]
        held = hold * self.ground.bands[b]
        held[1:] += self.chroma[b] * (self.source.bands[b][1:] - held[1:])
        return np.ascontiguousarray(held, dtype=f32)

    def noisy(self, b: int, sigma: float) -> Float:
        """State of a sleeping band at a noise level, in closed form."""
        start = f32(self.plan.sigmas[0])
        state: Float = self.ground.bands[b] + start * self.noise[b]
        ratio = f32(sigma) / start
        if ratio != 1:
            state = (state - self.estimate[b]) * ratio + self.estimate[b]
        return np.ascontiguousarray(state, dtype=f32)

    def awake(self, b: int) -> bool:
        return self.state[b] is not None

    def _wake(self, b: int, sigma: float) -> None:
        self.state[b] = self.noisy(b, sigma)
        self.spare[b] = np.empty_like(self.ground.bands[b])

    def gate_above(self, b: int) -> Float:
        return self.gate[b + 1] if b < self.plan.levels - 1 else self.open_gate

    def _finish(self, b: int, step: Float) -> None:
        g, s = self.ground, self.source
        hold_and_update(
            self.estimate[b], self.state[b], self.before[b], g.holds[b], g.bands[b], s.bands[b], self.chroma[b], step
        )

    def step(self, i: int, update: Update) -> None:
        """Denoise, hold and move every band that is awake."""
        plan, g, s = self.plan, self.ground, self.source
        sigma, last = plan.sigmas[i], plan.levels
        smooth = sigma > _SMOOTH_ABOVE
        coefficients = np.array([update.keep, update.gain, update.now, update.before], f32)
        for b in range(last, -1, -1):
            if not self.awake(b):
                if sigma > plan.wake_at[b] and i < plan.count - 1:
                    continue
                self._wake(b, sigma)
            top = b == last - 1
            if (smooth and b > 0) or b == last:
                self.before[b] = self.estimate[b]
            if b == last:
                self.estimate[b] = self.state[b] * plan.residue_gain(sigma)[:, None, None]  # type: ignore[operator]
                if not smooth:
                    self._finish(b, coefficients)
            elif smooth and b > 0:
                self.estimate[b] = np.empty_like(self.estimate[b])
                content_estimate(
                    self.state[b], g.prior[b], self.gate_above(b), self.gate[b], self.estimate[b],
                    plan.noise(sigma, b), plan.floors[b], top,
                )  # fmt: skip
            else:
                # The fused kernel reads the old estimate where it writes the new one.
                content_step(
                    self.state[b], self.spare[b], g.prior[b], self.gate_above(b), self.gate[b], self.estimate[b],
                    g.holds[b], g.bands[b], s.bands[b], self.chroma[b], coefficients, plan.noise(sigma, b),
                    plan.floors[b], top, b == 0,
                )  # fmt: skip
                self.state[b], self.spare[b] = self.spare[b], self.state[b]
        if smooth:
            self._piecewise(sigma)
            for b in range(1, last + 1):
                if self.awake(b):
                    self._finish(b, coefficients)

    def _piecewise(self, sigma: float) -> None:
        """Pull the estimate toward piecewise smooth surfaces, at half size or less."""
        levels = self.plan.levels
        first = 1
        while first < levels and not self.awake(first):
            first += 1
        first = max(first, 1 if sigma <= 2 else 2)
        if first >= levels - 1:
            return
        amount = f32(min(max((sigma - _SMOOTH_ABOVE) / 0.75, 0.0), 1.0) * 0.85)
        before = collapse(self.estimate, first)
        after = before
        for spread in (0.30, 0.22):
            after = bilateral(after, 2, 2 if first == 1 else 1, spread, 3.0 if first == 1 else 1.5)
        mixed = before + amount * (after - before)
        for b, band in enumerate(build(mixed, levels - first)):
            self.estimate[b + first] = band

    def add_noise(self, fresh: Bands, sigma: float) -> None:
        for b, state in enumerate(self.state):
            if state is not None:
                state += f32(sigma) * fresh[b]


def _render(look: Look, sitting: Sitting, variant: Variant, effect: Effect, content: Bands, weight: float) -> Float:
    """The painter's picture of the content estimate, in the sampler's space, planar."""
    lab = worded(varied(from_space(image_of(collapse(content))), variant), effect, sitting.seed)
    painting = with_faces(look.paint, lab, sitting, look.portrait_tone) if sitting.faces else look.paint(lab, sitting)
    painted = np.clip(painting, -0.5, 1.05)
    if weight != 1:
        painted = lab + f32(weight) * (painted - lab)
        painted[..., 0] = np.clip(painted[..., 0], 0, 1.02)
    return planes(to_space(painted.astype(f32)))


def restyle(source: Byte, recipe: Recipe, progress: Progress | None = None, cache: SharedCache | None = None) -> Byte:
    """Restyle a framed source.

    Parameters
    ----------
    source : (h, w, 3) uint8 sRGB at the size of the take.
    recipe : its `size` is not used here; the source has that size already.
    progress : called as progress(done, steps) before the first and after every step; what it raises stops
        the rendering (`Cancelled` by custom).
    cache : shared by takes of one sweep; None for a cache of its own.

    Returns
    -------
    (h, w, 3) uint8 sRGB. Strength 0 returns the source's own pixels. The same arguments give the same pixels
    in every process. About .5 s at 512 px with strength 1 and 20 steps on one core.

    Sources
    -------
    1. T. Karras et al., 2022; C. Lu et al., 2022 (see `schedule`, `samplers`).
    2. J. Ho, T. Salimans, "Classifier-free diffusion guidance", 2022 (the form of the guided push).
    """
    look, sampler = look_named(recipe.look), rule(recipe.sampler)
    if recipe.strength <= 0:
        return source.copy()
    cache = cache if cache is not None else SharedCache()
    prepared = cache.get(("source", pixel_key(source)), lambda: prepare(source))
    plan = make_plan(recipe, prepared)
    holds = recipe.holds
    place = ("ground", prepared.key, recipe.seed, recipe.strength, holds.lines, holds.shapes, holds.faces)
    ground = cache.get(place, lambda: make_ground(recipe, prepared, plan))
    height, width = prepared.shape
    noise_key = ("noise", recipe.seed, height, width)
    noise = cache.get(noise_key, lambda: sampler_noise(recipe.seed, height, width, plan.levels))
    content = ContentTrack(plan, prepared, ground, noise, holds.colours)
    gamma = 1 + _GUIDANCE_RATE * (recipe.guidance - 1)
    painted = PaintedTrack(content, look, recipe.strength, gamma, recipe.guidance, holds.colours)
    faces = prepared.faces if look.portrait else ()
    effect = effect_of(recipe.prompt, recipe.avoid, recipe.guidance)
    if effect:
        # The colour hold keeps the source's colours as the words see them, or it would take their colour back.
        words = ("words", prepared.key, recipe.seed, tuple(sorted(effect.items())))
        painted.held = cache.get(
            words, lambda: build(planes(to_space(worded(prepared.lab, effect, recipe.seed))), plan.levels)
        )
    flat = prepared.ground is not None
    variant = variant_of(recipe.seed, recipe.strength, holds.shapes, holds.colours, flat)
    sitting = Sitting(
        look.name, recipe.seed, height, width, prepared.ground, cache, faces, marks=variant.marks * marks_of(effect)
    )
    if progress:
        progress(0, plan.count)
    for i in range(plan.count):
        update = sampler(plan.sigmas, i)
        if i == plan.paints[0]:
            painted.begin(i)
        # After the last rendering nothing reads the content track any more.
        if i <= plan.paints[-1]:
            content.step(i, update)
        if i in plan.paints:
            painted.show(_render(look, sitting, variant, effect, content.estimate, recipe.look_weight), i)
        if i >= plan.paints[0]:
            painted.step(i, update)
        if update.fresh > 0:
            fresh = sampler_noise(recipe.seed, height, width, plan.levels, step=i + 1)
            content.add_noise(fresh, update.fresh)
            painted.add_noise(fresh, update.fresh)
        if progress:
            progress(i + 1, plan.count)
    return lab_to_bytes(from_space(image_of(painted.picture())))
