"""The sampler: from a source and a recipe to a take.

Two tracks run through one schedule of noise levels. The *content* track is denoised and held to the source;
the look's painter renders its estimate now and then; the *painted* track is denoised around that rendering,
so that marks of paint are never treated as noise. Bands of the pyramid whose noise still drowns everything
sleep: their state is known in closed form.
"""

from collections.abc import Callable

import numpy as np

from ..looks.shared.portrait import with_faces
from ..maths.arrays import Bands, Byte, Float, f32, pixel_key
from ..maths.bilateral import bilateral
from ..maths.colour import bytes_to_lab, lab_to_bytes, to_lab
from ..maths.pyramid import build, collapse, image_of, planes
from ..model.cache import SharedCache
from ..model.face import Face
from ..model.guides import NO_GUIDES, Guides
from ..model.look import Look
from ..model.recipe import Recipe
from ..model.sitting import Original, Sitting
from ..understanding.faces import find_faces
from ..understanding.ground import flat_ground
from ..understanding.places import find_places
from ..words.effects import Effect, marks_of, places_of, worded
from ..words.prompt import effect_of
from .draft import drafted, octaves_left_out
from .noise import sampler_noise
from .painted import PaintedTrack
from .plan import Ground, Plan, make_ground, make_plan
from .region import laid_in
from .samplers import Update, rule
from .scenery import held_colours, scene_bands, scene_share, weighed
from .shrink import content_estimate, content_step, hold_and_update
from .source import PreparedSource, from_space, prepare, to_space
from .staging import Staged, asked_by, stage
from .variant import Variant, variant_of, varied

Progress = Callable[[int, int], None]

_SMOOTH_ABOVE = 0.25
_GUIDANCE_RATE = 0.07


class ContentTrack:
    """The track that keeps the composition: denoised band by band, held to the source."""

    def __init__(
        self,
        plan: Plan,
        source: PreparedSource,
        ground: Ground,
        noise: Bands,
        colours: float,
        mean: Bands | None = None,
    ) -> None:
        self.plan, self.source, self.ground, self.noise, self.mean = plan, source, ground, noise, mean
        # All of the track is told from the prior's mean; only what `shown` and `standing` give is a whole picture.
        self.kept = source.bands if mean is None else [s - m for s, m in zip(source.bands, mean, strict=True)]
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
        held[1:] += self.chroma[b] * (self.kept[b][1:] - held[1:])
        return np.ascontiguousarray(held, dtype=f32)

    def noisy(self, b: int, sigma: float) -> Float:
        """State of a sleeping band at a noise level, in closed form."""
        start = f32(self.plan.sigmas[0])
        state: Float = self.ground.bands[b] + start * self.noise[b]
        ratio = f32(sigma) / start
        if ratio != 1:
            state = (state - self.estimate[b]) * ratio + self.estimate[b]
        return np.ascontiguousarray(state, dtype=f32)

    def shown(self, b: int) -> Float:
        """The estimate of a band, as a picture."""
        return self.estimate[b] if self.mean is None else self.estimate[b] + self.mean[b]

    def standing(self, b: int, sigma: float) -> Float:
        """A copy of the state of a band, as a picture; of a sleeping one in closed form."""
        state = self.state[b]
        found: Float = state.copy() if state is not None else self.noisy(b, sigma)
        return found if self.mean is None else found + self.mean[b]

    def awake(self, b: int) -> bool:
        return self.state[b] is not None

    def _wake(self, b: int, sigma: float) -> None:
        self.state[b] = self.noisy(b, sigma)
        self.spare[b] = np.empty_like(self.ground.bands[b])

    def gate_above(self, b: int) -> Float:
        return self.gate[b + 1] if b < self.plan.levels - 1 else self.open_gate

    def _finish(self, b: int, step: Float) -> None:
        g = self.ground
        hold_and_update(
            self.estimate[b], self.state[b], self.before[b], g.holds[b], g.bands[b], self.kept[b], self.chroma[b], step
        )

    def step(self, i: int, update: Update) -> None:
        """Denoise, hold and move every band that is awake."""
        plan, g = self.plan, self.ground
        sigma, last = plan.sigmas[i], plan.levels
        smooth, lowest = sigma > _SMOOTH_ABOVE, max(1 - plan.left_out, 0)
        coefficients = np.array([update.keep, update.gain, update.now, update.before], f32)
        for b in range(last, -1, -1):
            if not self.awake(b):
                if sigma > plan.wake_at[b] and i < plan.count - 1:
                    continue
                self._wake(b, sigma)
            top = b == last - 1
            if (smooth and b >= lowest) or b == last:
                self.before[b] = self.estimate[b]
            if b == last:
                self.estimate[b] = self.state[b] * plan.residue_gain(sigma)[:, None, None]  # type: ignore[operator]
                if not smooth:
                    self._finish(b, coefficients)
            elif smooth and b >= lowest:
                self.estimate[b] = np.empty_like(self.estimate[b])
                content_estimate(
                    self.state[b], g.prior[b], self.gate_above(b), self.gate[b], self.estimate[b],
                    plan.noise(sigma, b), plan.floors[b], top,
                )  # fmt: skip
            else:
                # The fused kernel reads the old estimate where it writes the new one.
                content_step(
                    self.state[b], self.spare[b], g.prior[b], self.gate_above(b), self.gate[b], self.estimate[b],
                    g.holds[b], g.bands[b], self.kept[b], self.chroma[b], coefficients, plan.noise(sigma, b),
                    plan.floors[b], top, b == 0,
                )  # fmt: skip
                self.state[b], self.spare[b] = self.spare[b], self.state[b]
        if smooth:
            self._piecewise(sigma)
            for b in range(lowest, last + 1):
                if self.awake(b):
                    self._finish(b, coefficients)

    def _piecewise(self, sigma: float) -> None:
        """Pull the estimate toward piecewise smooth surfaces, at half size or less of the full take."""
        levels, left_out = self.plan.levels, self.plan.left_out
        first = max(1 - left_out, 0)
        while first < levels and not self.awake(first):
            first += 1
        first = max(first, (1 if sigma <= 2 else 2) - left_out)
        if first >= levels - 1:
            return
        amount = f32(min(max((sigma - _SMOOTH_ABOVE) / 0.75, 0.0), 1.0) * 0.85)
        before = collapse(self.estimate, first)
        after = before
        apart = 2 if first + left_out == 1 else 1
        for spread in (0.30, 0.22):
            after = bilateral(after, 2, apart, spread, 1.5 * apart)
        mixed = before + amount * (after - before)
        for b, band in enumerate(build(mixed, levels - first)):
            self.estimate[b + first] = band

    def picture(self) -> Bands:
        """Pyramid of the estimate, as a picture."""
        return [self.shown(b) for b in range(self.plan.levels + 1)]

    def add_noise(self, fresh: Bands, sigma: float) -> None:
        for b, state in enumerate(self.state):
            if state is not None:
                state += f32(sigma) * fresh[b]


def _render(
    look: Look,
    sitting: Sitting,
    variant: Variant,
    effect: Effect,
    masks: dict[str, Float],
    content: Bands,
    weight: float,
) -> Float:
    """The painter's picture of the content estimate, in the sampler's space, planar."""
    lab = worded(varied(from_space(image_of(collapse(content))), variant), effect, sitting.seed, masks)
    painting = (
        with_faces(look.paint, lab, sitting, look.handling.portrait_tone) if sitting.faces else look.paint(lab, sitting)
    )
    painted = np.clip(painting, -0.5, 1.05)
    if weight != 1:
        painted = lab + f32(weight) * (painted - lab)
        painted[..., 0] = np.clip(painted[..., 0], 0, 1.02)
    return planes(to_space(painted.astype(f32)))


def faces_of(source: Byte, guides: Guides, cache: SharedCache) -> tuple[Face, ...]:
    """Faces as the artist marked them, or as found: once for a source, whatever quality it is rendered at."""
    if guides.faces is not None:
        return guides.faces
    return cache.get(("faces", pixel_key(source)), lambda: find_faces(source))


def painted_whole(source: Byte, look: Look, prompt: str = "", seed: int = 1, cache: SharedCache | None = None) -> Byte:
    """A look's own full rendering of a source (h, w, 3) uint8: the painter alone, without the sampler.

    prompt, seed : for looks that draw what words ask of their thing. cache : keeps what they know of the source.
    """
    lab = bytes_to_lab(source)
    height, width = source.shape[:2]
    sitting = Sitting(
        look.name, seed, height, width, flat_ground(lab), cache or SharedCache(), prompt=prompt,
        original=Original(lab, ("whole", pixel_key(source))) if look.handling.once else None,
        least_scale=look.handling.least_scale,
    )  # fmt: skip
    painted = look.paint(lab, sitting)
    return lab_to_bytes(np.clip(painted, -0.5, 1.05).astype(f32))


def original_of(framed: Byte, set_up: Staged, guides: Guides) -> Original:
    """The source itself, cut out where it stands before a scene."""
    if set_up.subject is None or set_up.backdrop is None:
        cover = None if guides.cover is None else guides.cover.astype(f32) / f32(255)
        return Original(bytes_to_lab(framed), (pixel_key(framed), guides.key), cover)
    subject = set_up.subject
    where = (pixel_key(set_up.picture), guides.key)
    return Original(to_lab(subject.picture), where, subject.cover, set_up.backdrop)


def restyled(
    source: Byte,
    recipe: Recipe,
    look: Look,
    progress: Progress | None = None,
    cache: SharedCache | None = None,
    guides: Guides = NO_GUIDES,
) -> Byte:
    """Restyle a framed source.

    Parameters
    ----------
    source : (h, w, 3) uint8 sRGB at the size of the take.
    recipe : its `size` is not used here; the source has that size already. look : the look of that recipe.
    progress : called as progress(done, steps) before the first and after every step; what it raises stops
        the rendering (`Cancelled` by custom).
    cache : shared by takes of one sweep; None for a cache of its own.
    guides : a region that may change, a depth guide, faces marked by the artist, at any size.

    Returns
    -------
    (h, w, 3) uint8 sRGB, smaller for a draft. Strength 0 returns the source's own pixels. The same arguments give
    the same pixels in every process. About .5 s at 512 px with strength 1 and 20 steps on one core.

    Sources
    -------
    1. T. Karras et al., 2022; C. Lu et al., 2022 (see `schedule`, `samplers`).
    2. J. Ho, T. Salimans, "Classifier-free diffusion guidance", 2022 (the form of the guided push).
    """
    sampler = rule(recipe.sampler)
    whole = source
    source, levels = drafted(source, recipe.quality)
    if recipe.strength <= 0:
        return source.copy()
    cache = cache if cache is not None else SharedCache()
    guides = guides.at(*source.shape[:2])
    framed, set_up = source, stage(source, recipe, look, cache, guides)
    source = set_up.picture
    before_scene = source is not framed
    faces = faces_of(whole, guides, cache)
    known = ("source", pixel_key(source), levels, faces)
    prepared = cache.get(known, lambda: prepare(source, levels, faces))
    holds = recipe.holds
    colours = holds.colours
    asked = asked_by(recipe, look)
    share = scene_share(recipe.strength) if asked is not None else 0.0
    plan = make_plan(recipe, prepared, share, octaves_left_out(whole.shape[0], whole.shape[1], recipe.quality))
    mean: Bands | None = None
    if asked is not None and share > 0:
        drawn = ("scene", *known, asked, recipe.seed, holds.shapes, holds.colours)
        own = prepared.bands if before_scene else cache.get(drawn, lambda: scene_bands(asked, recipe, prepared))
        mean = weighed(own, share)
        if not before_scene:
            colours = held_colours(holds.colours, asked, share)
    place = ("ground", *known, recipe.seed, recipe.strength, holds, guides.key, asked if mean else None)
    ground = cache.get(place, lambda: make_ground(recipe, prepared, plan, guides, mean, share))
    height, width = prepared.shape
    noise_key = ("noise", recipe.seed, height, width, plan.levels)
    noise = cache.get(noise_key, lambda: sampler_noise(recipe.seed, height, width, plan.levels))
    content = ContentTrack(plan, prepared, ground, noise, colours, mean)
    gamma = 1 + _GUIDANCE_RATE * (recipe.guidance - 1)
    painted = PaintedTrack(content, look, recipe.strength, gamma, recipe.guidance, colours)
    effect = effect_of(recipe.prompt, recipe.avoid, recipe.guidance, 1.0 if before_scene else share)
    masks: dict[str, Float] = {}
    if effect:
        if names := places_of(effect):
            spots = ("places", *known, names)
            masks = cache.get(spots, lambda: find_places(prepared.lab, names, prepared.faces, prepared.ground))
        # The colour hold keeps the source's colours as the words see them, or it would take their colour back.
        words = ("words", *known, recipe.seed, tuple(sorted(effect.items())))
        painted.held = cache.get(
            words, lambda: build(planes(to_space(worded(prepared.lab, effect, recipe.seed, masks))), plan.levels)
        )
    flat = prepared.ground is not None
    variant = variant_of(recipe.seed, recipe.strength, holds.shapes, holds.colours, flat)
    sitting = Sitting(
        look.name,
        recipe.seed,
        height,
        width,
        prepared.ground,
        cache,
        faces if look.handling.portrait else (),
        marks=variant.marks * marks_of(effect),
        original=original_of(framed, set_up, guides) if look.handling.once else None,
        guidance=recipe.guidance,
        strength=recipe.strength,
        words=effect,
        prompt=recipe.prompt if recipe.guidance > 1 else "",
        least_scale=look.handling.least_scale,
    )
    paints = plan.paints[:1] if look.handling.once else plan.paints
    if progress:
        progress(0, plan.count)
    for i in range(plan.count):
        update = sampler(plan.sigmas, i)
        if i == paints[0]:
            painted.begin(i)
        # After the last rendering nothing reads the content track any more.
        if i <= paints[-1]:
            content.step(i, update)
        if i in paints:
            painted.show(_render(look, sitting, variant, effect, masks, content.picture(), recipe.look_weight), i)
        if i >= paints[0]:
            painted.step(i, update)
        if update.fresh > 0:
            fresh = sampler_noise(recipe.seed, height, width, plan.levels, step=i + 1)
            content.add_noise(fresh, update.fresh)
            painted.add_noise(fresh, update.fresh)
        if progress:
            progress(i + 1, plan.count)
    take = lab_to_bytes(from_space(image_of(painted.picture())))
    return take if guides.region is None else laid_in(framed, take, guides.region)
