"""The look that a recipe asks for: the one chosen, with a second one mixed in by hand or by its words."""

from dataclasses import dataclass

from ..engine.staging import takes_cover
from ..looks.mixed import look_for
from ..looks.registry import is_known, look_named
from ..model.errors import BadInput
from ..model.lexicon import concepts
from ..model.look import Look
from ..model.recipe import BUILT_IN, Recipe
from ..words.prompt import Phrase, understand, words_scale

# Share of the second look that a phrase of weight 1 asks for at guidance 7, and the most that words can ask for.
_SHARE, _MOST = 0.5, 0.85


def _named(phrase: Phrase) -> str | None:
    """The look that a phrase names."""
    return next((look for title in phrase.concepts if (look := concepts()[title].look)), None)


def _mixes(recipe: Recipe) -> bool:
    """Whether words can mix a look into a recipe's own: not into a thing made of its shapes, nor into two looks."""
    return recipe.second_look is None and not (is_known(recipe.look) and look_named(recipe.look).handling.once)


def _asking(recipe: Recipe) -> Phrase | None:
    """The phrase whose look is mixed in: the heaviest, of equals the first."""
    if recipe.guidance <= 1 or not _mixes(recipe):
        return None
    others = [phrase for phrase in understand(recipe.prompt) if _named(phrase) not in (None, recipe.look)]
    return max(others, key=lambda phrase: phrase.weight, default=None)


def _share(phrase: Phrase, guidance: float) -> float:
    return min(_SHARE * phrase.weight * words_scale(guidance), _MOST)


def look_of(recipe: Recipe) -> Look:
    """The look of a recipe of the built-in engine. Raises `BadInput` for a name that isn't known, and for a recipe of another engine."""
    if recipe.engine != BUILT_IN:
        raise BadInput(
            f"A take by the engine {recipe.engine} can't be painted again here; use detail, edges or a plain way."
        )
    phrase = _asking(recipe)
    if phrase is None:
        return look_for(recipe.look, recipe.second_look, recipe.second_share)
    return look_for(recipe.look, _named(phrase), round(_share(phrase, recipe.guidance), 3))


def covers(recipe: Recipe) -> bool:
    """Whether a cut-out's cover leads a take of this recipe."""
    return recipe.engine == BUILT_IN and takes_cover(recipe, look_of(recipe))


@dataclass(frozen=True)
class LookSaid:
    """What a phrase does to the look, or why it does nothing."""

    acts: bool
    words: str


def look_said(recipe: Recipe, phrase: Phrase) -> LookSaid | None:
    """What a phrase of the prompt that names a look does to the recipe's; None where it names none."""
    name = _named(phrase)
    if name is None:
        return None
    if name == recipe.look:
        return LookSaid(True, "the look itself")
    if recipe.second_look is not None:
        return LookSaid(False, "a second look is chosen already")
    asking = _asking(recipe)
    if asking is None:
        why = "guidance 1 leaves words out" if recipe.guidance <= 1 else "no paint is mixed into this look"
        return LookSaid(False, why)
    mixed = str(_named(asking))
    if mixed != name:
        return LookSaid(False, f"{look_named(mixed).title.lower()} is mixed in already")
    return LookSaid(
        True, f"{look_named(name).title.lower()}, {100 * _share(asking, recipe.guidance):.0f} % of the look"
    )


def without_looks(phrase: Phrase) -> tuple[str, ...]:
    """What a phrase means apart from the look that it names."""
    return tuple(title for title in phrase.concepts if concepts()[title].look is None)
