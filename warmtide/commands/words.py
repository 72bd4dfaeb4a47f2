"""What is said of the words of a prompt."""

import sys

from ..core.engine.staging import scene_asked
from ..core.job.looking import look_of, look_said, without_looks
from ..core.maths.arrays import Byte
from ..core.model.guides import NO_GUIDES, Guides
from ..core.model.recipe import Recipe
from ..core.scenes.wanted import things_in, words_of_things
from ..core.understanding.places import places_in, said
from ..core.words.heard import as_heard
from ..core.words.prompt import understand


def note_words(recipe: Recipe, source: Byte, guides: Guides = NO_GUIDES) -> None:
    """Say of every phrase what it was understood as, and where."""
    own = look_of(recipe)
    reading = scene_asked(own, recipe.prompt)
    phrases = understand(recipe.prompt, reading) + understand(recipe.avoid)
    there = places_in(source, tuple(phrase.place for phrase in phrases if phrase.place))
    for name, text in (("prompt", recipe.prompt), ("avoid", recipe.avoid)):
        for phrase in understand(text, reading if name == "prompt" else None):
            here = guides.region is not None and name == "prompt"
            brought = tuple(thing.title for thing in things_in(phrase.text)) if here else ()
            phrase, parts = as_heard(phrase, own) if name == "prompt" else (phrase, ())
            look = look_said(recipe, phrase) if name == "prompt" else None
            said_all = (
                *((look.words,) if look and look.acts else ()),
                *((*parts, *phrase.scene, *brought) or without_looks(phrase)),
            )
            means = ", ".join(said_all) or "nothing: without effect"
            if brought:
                means += " in the region"
            unknown = [w for w in phrase.unknown if not brought or w not in words_of_things(phrase.text)]
            missed = f" (not understood: {' '.join(unknown)})" if (phrase.concepts or brought) and unknown else ""
            if look and not look.acts:
                missed += f" ({look.words})"
            where = f" {said(phrase.place)}" if phrase.place else ""
            if phrase.place and phrase.place not in there:
                where += ", which this picture has not: without effect"
            print(f"{name}: {phrase.text} = {means}{where}{missed}", file=sys.stderr)
    for conflict in reading.conflicts:
        print(conflict, file=sys.stderr)
