"""What words add to a source before it is restyled: a scene behind flat art, things in a region."""

import hashlib
from dataclasses import dataclass

import numpy as np

from ..maths.arrays import Byte, f32, pixel_key
from ..maths.colour import bytes_to_lab
from ..model.cache import SharedCache
from ..model.guides import NO_GUIDES, Guides
from ..model.look import Look
from ..model.recipe import Recipe
from ..model.scene import Asked, Backdrop, SceneReading
from ..scenes.behind import Spot, Subject, backdrop_of, composed, cut_out, moved, with_cover
from ..scenes.scene import draw_scene
from ..scenes.things import bring_in, without_marks
from ..scenes.view import Layout
from ..scenes.wanted import things_in
from ..understanding.ground import flat_ground
from ..words.prompt import scene_of

# A subject stands this share of its height below the horizon.
_BELOW = 0.28
_HORIZON = (0.34, 0.72)


@dataclass(frozen=True)
class Staged:
    """A source as it is restyled.

    Attributes
    ----------
    picture : (h, w, 3) uint8. subject : what of it stands before a scene, and backdrop : that scene, or None.
    """

    picture: Byte
    subject: Subject | None = None
    backdrop: Backdrop | None = None


def _subject(source: Byte, cover: Byte | None) -> Subject | None:
    """What stands before a scene: by its own transparency, or by the flat ground around it."""
    picture = source.astype(f32) / f32(255)
    if cover is not None:
        return with_cover(picture, cover.astype(f32) / f32(255)) if _some((cover > 127).mean()) else None
    ground = flat_ground(bytes_to_lab(source))
    return cut_out(picture, ground) if ground is not None and _some((~ground).mean()) else None


def _some(share: float) -> bool:
    """A picture that is nothing but its ground, or all subject, has nothing to be put before a scene."""
    return 0.02 < share < 0.98


def box_before(source: Byte, cover: Byte | None = None) -> tuple[float, float, float, float] | None:
    """Left, top, right, bottom of what would stand before a scene, 0..1 of a source (h, w, 3); None where nothing would."""
    subject = _subject(source, cover)
    if subject is None:
        return None
    height, width = source.shape[:2]
    left, top, right, bottom = subject.box
    return left / width, top / height, right / width, bottom / height


def _stage(source: Byte, cover: Byte | None, asked: Asked, recipe: Recipe) -> Staged:
    subject = _subject(source, cover)
    if subject is None:
        return Staged(source)
    height, width = source.shape[:2]
    placement = recipe.placement
    stance = placement.stance if placement else "auto"
    if placement is not None:
        subject = moved(subject, Spot(placement.x, placement.y, placement.tall))
    _, top, _, bottom = subject.box
    horizon = (bottom - _BELOW * (bottom - top)) / height
    horizon = min(max(horizon, _HORIZON[0]), _HORIZON[1])
    scene = draw_scene(asked, height, width, recipe.seed, Layout(horizon=horizon))
    picture = (composed(subject, scene, stance) * f32(255) + f32(0.5)).astype("uint8")
    return Staged(picture, subject, backdrop_of(subject, scene, stance))


def _with_things(source: Byte, recipe: Recipe, region: Byte, cache: SharedCache, drawn: bool) -> Byte:
    """A source with the things that words bring into its region, or only cleared for them where they are drawn later."""
    things = things_in(recipe.prompt)
    if not things:
        return source
    key = ("things", pixel_key(source), hashlib.sha256(region.tobytes()).hexdigest(), things, recipe.seed, drawn)
    plain = source.astype(f32) / f32(255)

    def made() -> Byte:
        out = bring_in(plain, region, things, recipe.seed) if drawn else without_marks(plain, region, things)
        return np.asarray(out * 255 + 0.5, np.uint8)

    return cache.get(key, made)


def things_over(take: Byte, source: Byte, recipe: Recipe, look: Look, region: Byte | None) -> Byte:
    """A take (h, w, 3) with what words bring into its region, for a look that makes its picture of the source itself: it
    would make the things of its own stuff."""
    things = things_in(recipe.prompt) if region is not None and recipe.guidance > 1 and _by_itself(look) else ()
    if not things or region is None:
        return take
    marked, onto = source.astype(f32) / f32(255), take.astype(f32) / f32(255)
    return np.asarray(bring_in(marked, region, things, recipe.seed, onto) * 255 + 0.5, np.uint8)


def _by_itself(look: Look) -> bool:
    return look.handling.once or look.handling.whole


def scene_asked(look: Look, prompt: str) -> SceneReading:
    """The scene that a look reads in a prompt; none for a look of one sheet."""
    if look.around is not None:
        return look.around(prompt)
    return scene_of(prompt, look.shapes) if look.placed else SceneReading(None, (), ())


def asked_by(recipe: Recipe, look: Look, region: Byte | None = None) -> Asked | None:
    """The scene that the sampler takes a recipe to: by its prompt, unless guidance leaves words out or the look draws it, or
    a region is there for the things that it names."""
    if recipe.guidance <= 1 or look.around is not None:
        return None
    if region is not None and things_in(recipe.prompt):
        return None
    return scene_asked(look, recipe.prompt).asked


def takes_cover(recipe: Recipe, look: Look) -> bool:
    """Whether a take of a recipe needs to know how solid a cut-out is."""
    return asked_by(recipe, look) is not None or (look.shapes and look.placed)


def stage(source: Byte, recipe: Recipe, look: Look, cache: SharedCache, guides: Guides = NO_GUIDES) -> Staged:
    """The source (h, w, 3) as it is restyled.

    Flat art stands before the scene that the prompt names; in a region stand the things that it names. Otherwise it is the source itself; also at strength 0 and at guidance 1, which leave words out.
    guides : at the size of the source.
    """
    if recipe.strength <= 0 or recipe.guidance <= 1:
        return Staged(source)
    asked = asked_by(recipe, look, guides.region)
    if asked is None:
        return Staged(
            source
            if guides.region is None
            else _with_things(source, recipe, guides.region, cache, not _by_itself(look))
        )
    key = ("staged", pixel_key(source), guides.key, asked, recipe.seed, recipe.placement)
    return cache.get(key, lambda: _stage(source, guides.cover, asked, recipe))
