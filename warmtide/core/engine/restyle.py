"""The sampler: from a source and a recipe to a take.

Two tracks run through one schedule of noise levels. The *content* track is denoised and held to the source;
the look's painter renders its estimate now and then; the *painted* track is denoised around that rendering,
so that marks of paint are never treated as noise. Bands of the pyramid whose noise still drowns everything
sleep: their state is known in closed form.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..looks.shared.portrait import painted_by_parts
from ..maths.arrays import Bands, Byte, Float, f32, pixel_key
from ..maths.colour import bytes_to_lab, lab_to_bytes, to_lab
from ..maths.pyramid import collapse, image_of, planes
from ..maths.steps import smoothstep
from ..model.cache import SharedCache
from ..model.guides import NO_GUIDES, Guides
from ..model.look import Look
from ..model.recipe import Recipe
from ..model.sitting import Original, Sitting
from ..understanding.faces import find_faces
from ..understanding.ground import flat_ground
from ..words.effects import Effect, marks_of, worded
from ..words.heard import left_of
from ..words.prompt import effect_of
from .content import ContentTrack
from .draft import drafted, octaves_left_out
from .noise import sampler_noise
from .painted import PaintedTrack
from .plan import make_plan
from .region import laid_in
from .samplers import rule
from .scenery import held_colours, scene_share
from .seen import Seen, seen_of
from .source import PreparedSource, from_space, to_space
from .stages import Order, SourceKey, ground_of, masks_of, mean_of, noise_of, prepared_source, worded_bands
from .staging import Staged, asked_by, stage, things_over
from .variant import Variant, variant_of, varied

Progress = Callable[[int, int], None]

_GUIDANCE_RATE = 0.07


@dataclass(frozen=True)
class Brushwork:
    """The painter at one take: its look, its sitting, the seed's proposal, what words do and where."""

    look: Look
    sitting: Sitting
    variant: Variant
    effect: Effect
    masks: dict[str, Float]
    weight: float

    def paint(self, content: Bands) -> Float:
        """The painter's picture of the content estimate, in the sampler's space, planar."""
        look, sitting = self.look, self.sitting
        lab = varied(from_space(image_of(collapse(content))), self.variant)
        lab = worded(lab, self.effect, sitting.seed, self.masks)
        tone = look.handling.portrait_tone
        painting = painted_by_parts(look.paint, lab, sitting, tone)
        painted = np.clip(painting, -0.5, 1.05)
        if self.weight != 1:
            painted = lab + f32(self.weight) * (painted - lab)
            painted[..., 0] = np.clip(painted[..., 0], 0, 1.02)
        return planes(to_space(painted.astype(f32)))


def subject_in(set_up: Staged, seen: Seen) -> Float:
    """What the picture that is restyled is about, (h, w) 0..1: a cut-out before its scene, else what is seen."""
    height, width = set_up.picture.shape[:2]
    return seen.subject_at(height, width).plane if set_up.subject is None else set_up.subject.cover


def painted_whole(source: Byte, look: Look, prompt: str = "", seed: int = 1, cache: SharedCache | None = None) -> Byte:
    """A look's own full rendering of a source (h, w, 3) uint8: the painter alone, without the sampler.

    prompt, seed : for looks that draw what words ask of their thing. cache : keeps what they know of the source.
    """
    lab = bytes_to_lab(source)
    height, width = source.shape[:2]
    itself = look.handling.once or look.handling.whole
    sitting = Sitting(
        look.name, seed, height, width, flat_ground(lab), cache or SharedCache(), prompt=prompt,
        faces=find_faces(source) if look.handling.whole else (),
        original=Original(lab, ("whole", pixel_key(source))) if itself else None,
        least_scale=look.handling.least_scale,
    )  # fmt: skip
    painted = look.paint(lab, sitting)
    return lab_to_bytes(np.clip(painted, -0.5, 1.05).astype(f32))


def original_of(set_up: Staged, guides: Guides) -> Original:
    """The source itself, cut out where it stands before a scene, without what was cleared away for things that come later."""
    if set_up.subject is None or set_up.backdrop is None:
        cover = None if guides.cover is None else guides.cover.astype(f32) / f32(255)
        return Original(bytes_to_lab(set_up.picture), (pixel_key(set_up.picture), guides.key), cover)
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
    marks: float = 1.0,
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
    marks : size of the look's marks beside its usual one: below 1 for a large picture painted with the brush of a small one.

    Returns
    -------
    (h, w, 3) uint8 sRGB, smaller for a draft. Strength 0 returns the source's own pixels. The same arguments give
    the same pixels in every process. About .5 s at 512 px with strength 1 and 20 steps on one core.

    Sources
    -------
    1. T. Karras et al., 2022; C. Lu et al., 2022 (see `schedule`, `samplers`).
    2. J. Ho, T. Salimans, "Classifier-free diffusion guidance", 2022 (the form of the guided push).
    """
    small, levels = drafted(source, recipe.quality)
    if recipe.strength <= 0:
        return small.copy()
    order = Order(recipe, look, guides.at(*small.shape[:2]), cache if cache is not None else SharedCache(), marks)
    set_up = stage(small, recipe, look, order.cache, order.guides)
    # What is drawn behind it or into it belongs to the picture that is restyled.
    staged = set_up.picture is not small
    seen = seen_of(source, guides, order.cache)
    key = SourceKey(pixel_key(set_up.picture), levels, seen.faces, seen.key)
    prepared = prepared_source(order, key, set_up.picture, subject_in(set_up, seen))
    if look.handling.whole:
        whole = _made_whole(order, key, prepared, original_of(set_up, order.guides), progress or _silent)
        return _in_place(order, small, whole)
    left_out = octaves_left_out(source.shape[0], source.shape[1], recipe.quality)
    content, share = _content(order, key, prepared, staged, left_out)
    effect = effect_of(recipe.prompt, recipe.avoid, recipe.guidance, 1.0 if staged else share)
    painted = PaintedTrack(content, look, recipe.strength, _gamma(recipe.guidance), recipe.guidance, content.colours)
    masks = masks_of(order, key, prepared, effect) if effect else {}
    if effect:
        painted.held = worded_bands(order, key, prepared, effect, masks, content.plan.levels)
    brushwork = _brushwork(
        order, prepared, effect, masks, original_of(set_up, order.guides) if look.handling.once else None
    )
    _run(content, painted, brushwork, recipe, progress or _silent)
    take = lab_to_bytes(from_space(image_of(painted.picture())))
    return _in_place(order, small, take)


def _in_place(order: Order, source: Byte, take: Byte) -> Byte:
    """A take of the whole as it is laid into its region, with the things that words bring there."""
    region = order.guides.region
    if region is None:
        return take
    return laid_in(source, things_over(take, source, order.recipe, order.look, region), region)


# Strength from which words act wholly on a take that a look makes by itself.
_WORDED = 0.8


def _made_whole(order: Order, key: SourceKey, source: PreparedSource, original: Original, progress: Progress) -> Byte:
    """The take of a look that makes it by itself; words that it does not hear act on it as on any picture."""
    recipe, look = order.recipe, order.look
    sitting = Sitting(
        look.name, recipe.seed, *source.shape, source.ground, order.cache, source.faces, original=original,
        guidance=recipe.guidance, strength=recipe.strength, prompt=recipe.prompt if recipe.guidance > 1 else "",
        subject=source.subject, holds=recipe.holds, weight=recipe.look_weight, marks=order.marks,
    )  # fmt: skip
    progress(0, recipe.steps_run)
    made = look.paint(original.lab, sitting)
    effect = effect_of(left_of(recipe.prompt, look), recipe.avoid, recipe.guidance)
    if effect:
        seen = worded(made, effect, recipe.seed, masks_of(order, key, source, effect))
        made = made + f32(min(recipe.strength / _WORDED, 1.0)) * (seen - made)
    progress(recipe.steps_run, recipe.steps_run)
    return lab_to_bytes(np.clip(made, -0.5, 1.05).astype(f32))


def _gamma(guidance: float) -> float:
    """How far the guided push goes."""
    return 1 + _GUIDANCE_RATE * (guidance - 1)


def _silent(_: int, __: int) -> None:
    """Progress that nobody asks for."""


def _content(
    order: Order, key: SourceKey, source: PreparedSource, staged: bool, left_out: int
) -> tuple[ContentTrack, float]:
    """The content track before its first step, and how much of the prior's mean is a scene.

    staged : the scene stands behind the source already. left_out : octaves that a draft lacks.
    """
    recipe = order.recipe
    asked = asked_by(recipe, order.look, order.guides.region)
    share = scene_share(recipe.strength) if asked is not None else 0.0
    colours, mean = recipe.holds.colours, None
    if asked is not None and share > 0:
        mean = mean_of(order, key, source, asked, share, staged)
        if not staged:
            colours = held_colours(colours, asked, share)
    plan = make_plan(recipe, source, share, left_out)
    ground = ground_of(order, key, source, plan, asked, mean, share)
    return ContentTrack(plan, source, ground, noise_of(order, plan), colours, mean), share


def _brushwork(
    order: Order, source: PreparedSource, effect: Effect, masks: dict[str, Float], original: Original | None
) -> Brushwork:
    """The painter, its sitting made ready."""
    recipe, look = order.recipe, order.look
    holds, (height, width) = recipe.holds, source.shape
    variant = variant_of(recipe.seed, recipe.strength, holds.shapes, holds.colours, source.ground is not None)
    sitting = Sitting(
        look.name, recipe.seed, height, width, source.ground, order.cache,
        source.faces if look.handling.portrait else (), marks=order.marks * variant.marks * marks_of(effect), original=original,
        guidance=recipe.guidance, strength=recipe.strength, words=effect,
        prompt=recipe.prompt if recipe.guidance > 1 else "", least_scale=look.handling.least_scale,
        subject=_finer_where(source, recipe) if look.handling.portrait or look.handling.finer else None,
    )  # fmt: skip
    return Brushwork(look, sitting, variant, effect, masks, recipe.look_weight)


# From this strength on an unheld subject goes, and with it what is painted finer: its outline would show else.
_LET_GO = 0.7


def _finer_where(source: PreparedSource, recipe: Recipe) -> Float | None:
    """What the picture is about, as far as this take still shows it."""
    held = max(recipe.holds.subject, recipe.holds.shapes)
    there = max(min(2 * held, 1.0), 1 - float(smoothstep(_LET_GO, 1.0, recipe.strength)))
    return None if source.subject is None or there <= 0 else source.subject * f32(there)


def _run(
    content: ContentTrack, painted: PaintedTrack, brushwork: Brushwork, recipe: Recipe, progress: Progress
) -> None:
    """Both tracks through the schedule."""
    plan, sampler = content.plan, rule(recipe.sampler)
    paints = plan.paints[:1] if brushwork.look.handling.once else plan.paints
    progress(0, plan.count)
    for i in range(plan.count):
        update = sampler(plan.sigmas, i)
        if i == paints[0]:
            painted.begin(i)
        # After the last rendering nothing reads the content track any more.
        if i <= paints[-1]:
            content.step(i, update)
        if i in paints:
            painted.show(brushwork.paint(content.picture()), i)
        if i >= paints[0]:
            painted.step(i, update)
        if update.fresh > 0:
            fresh = sampler_noise(recipe.seed, *plan.shape, plan.levels, step=i + 1)
            content.add_noise(fresh, update.fresh)
            painted.add_noise(fresh, update.fresh)
        progress(i + 1, plan.count)
