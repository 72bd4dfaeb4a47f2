"""The engine that comes with the program, behind the interface that all engines have."""

from functools import cached_property

from ..engine.draft import drafted
from ..engine.plan import check_depth
from ..engine.restyle import original_of, painted_whole, restyled, subject_in
from ..engine.seen import seen_of
from ..engine.staging import scene_asked, stage
from ..looks.registry import look_named, looks
from ..maths.arrays import Byte, pixel_key
from ..maths.colour import bytes_to_lab, lab_to_bytes
from ..model.cache import SharedCache
from ..model.engine import About, ControlTold, Fit, LookTold, SamplerTold
from ..model.guides import Guides
from ..model.look import Look
from ..model.recipe import BUILT_IN, ENGINE_VERSION, HOLDS, SIZES, Recipe
from ..model.sampling import TITLES
from ..readings.look import at_reading_size
from ..readings.pair import FullRendering, SourceReading, full_rendering
from ..words.effects import Effect, worded
from ..words.heard import left_of
from ..words.prompt import effect_of
from .costs import expected_seconds
from .engine import Against, Progress, Work
from .looking import look_of

_RANGES = {
    "strength": (0, 1), "guidance": (1, 30), "seed": (0, 4294967295), "steps": (1, 150), "look_weight": (0, 1.5), "second_share": (0, 1),
}  # fmt: skip


class BuiltIn:
    """Warm Tide's own engine. Its name and version are there without any look being loaded."""

    name, tag = BUILT_IN, ENGINE_VERSION

    @cached_property
    def about(self) -> About:
        return About(
            protocol=1, name=BUILT_IN, title="Built-in", version=ENGINE_VERSION, sizes=SIZES, holds=HOLDS, regions=True, words=True,
            looks=tuple(LookTold(name=look.name, title=look.title, description=look.description) for look in looks().values()),
            samplers=tuple(SamplerTold(name=name, title=title) for name, title in TITLES.items()),
            controls=tuple(ControlTold.model_validate({"name": n, "low": low, "high": high}) for n, (low, high) in _RANGES.items()),
        )  # fmt: skip

    def check(self, recipe: Recipe, source: Byte, guides: Guides) -> Fit:
        for name in recipe.looks:
            look_named(name)
        check_depth(recipe, source, guides)
        return Fit(recipe)

    def render(self, work: Work, progress: Progress) -> Byte:
        return restyled(work.source, work.recipe, look_of(work.recipe), progress, work.cache, work.guides)

    def against(self, work: Work) -> Against:
        recipe, cache, guides = work.recipe, work.cache, work.guides
        seen, _ = drafted(work.source, recipe.quality)
        # With a scene behind it or things brought in, it is that whole picture that must stay.
        led = guides.at(*seen.shape[:2])
        look = look_of(recipe)
        set_up = stage(seen, recipe, look, cache, led)
        picture = set_up.picture
        about = seen_of(work.source, guides, cache)
        known = cache.get(
            ("reading", pixel_key(picture), about.faces, about.key),
            lambda: SourceReading(picture, about.faces, subject_in(set_up, about)),
        )
        quiet = set()
        if scene_asked(look, recipe.prompt).asked is not None and recipe.guidance > 1:
            # A sunset that was asked for is as loud as it is.
            quiet.add("saturation")
        if look.handling.whole:
            # Features were given another size on purpose.
            quiet.add("face")
        remarks = (
            look.remarks(original_of(set_up, led), cache) if look.remarks is not None and recipe.strength > 0 else ()
        )
        return Against(
            known, _full(picture, look, recipe, cache), _asked(picture, recipe), frozenset(quiet), tuple(remarks)
        )

    def estimate(self, recipe: Recipe, height: int, width: int, people: bool = False) -> float:
        return expected_seconds(recipe, height, width, people)


def _full(source: Byte, look: Look, recipe: Recipe, cache: SharedCache) -> FullRendering:
    small = at_reading_size(source)
    # Walls of brick by a lake are what was asked for, where the look draws them itself.
    own = (recipe.prompt, recipe.seed) if look.hears is not None and recipe.guidance > 1 else ("", 1)
    # Words that a look does not hear change the whole take that it makes, and so what it makes wholly.
    effect = effect_of(left_of(recipe.prompt, look), recipe.avoid, recipe.guidance) if look.handling.whole else {}
    return cache.get(
        ("full", pixel_key(small), look.name, own, tuple(sorted(effect.items()))),
        lambda: full_rendering(_worded(painted_whole(small, look, *own, cache), effect, recipe.seed)),
    )


def _worded(rgb: Byte, effect: Effect, seed: int) -> Byte:
    """A picture as words see it all over, wherever they belong."""
    if not effect:
        return rgb
    everywhere = {name.rpartition("/")[2]: amount for name, amount in effect.items()}
    return lab_to_bytes(worded(bytes_to_lab(rgb), everywhere, seed))


def _asked(source: Byte, recipe: Recipe) -> tuple[Byte, ...]:
    """The source as the words of a recipe see it all over, small; none without words."""
    effect = effect_of(recipe.prompt, recipe.avoid, recipe.guidance)
    return (_worded(at_reading_size(source), effect, recipe.seed),) if effect else ()
