"""What changed from one recipe to the next, in words."""

from collections.abc import Mapping
from typing import Any

from ..model.controls import CONTROLS
from ..model.errors import BadInput
from ..model.phrases import phrases
from ..model.recipe import HOLDS, whole_recipe

_DIGITS = {control.name: control.digits for control in CONTROLS}
# In the order in which an artist reads a recipe; what is not among them comes behind.
_ORDER = (
    "engine",
    "strength",
    "guidance",
    "seed",
    "steps",
    "sampler",
    "look_weight",
    "second_share",
    *HOLDS,
    "size",
    "quality",
)
_LOOKS, _WORDS = ("look", "second_look"), ("prompt", "avoid")


def _flat(recipe: Mapping[str, Any]) -> dict[str, Any]:
    """A recipe as one record, its holds among the rest; what an older one lacks is at its beginning."""
    whole = whole_recipe(recipe)
    return {**{name: value for name, value in whole.items() if name != "holds"}, **whole["holds"]}


def spoken(name: str) -> str:
    """A control as it is named in a sentence: `look_weight` is "look weight", the hold `lines` "hold lines"."""
    return f"hold {name}" if name in HOLDS else name.replace("_", " ")


def value_said(name: str, value: Any) -> str:
    """A value of a control as it is written, with as many digits as its gauge has."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return str(value)
    digits = _DIGITS.get(name, 0 if float(value).is_integer() else 2)
    return f"{value:.{digits}f}"


def _weights(text: str) -> dict[str, float]:
    """Phrases of a prompt and their weights; one that can't be read stands as a whole."""
    try:
        return dict(phrases(text))
    except BadInput:
        return {text: 1.0}


def _weighed(phrase: str, weight: float) -> str:
    """A phrase as it is written, with its weight where that is not 1."""
    return phrase if weight == 1 else f"{phrase}^{weight:g}"


def _words(before: str, after: str, avoided: bool) -> list[str]:
    was, now = _weights(before), _weights(after)
    kind = "avoid " if avoided else ""
    said = [f"+ {kind}{_weighed(phrase, now[phrase])}" for phrase in now if phrase not in was]
    said += [f"\u2212 {kind}{phrase}" for phrase in was if phrase not in now]
    return said + [
        f"{kind}{phrase} {was[phrase]:g} to {now[phrase]:g}"
        for phrase in now
        if was.get(phrase, now[phrase]) != now[phrase]
    ]


def changes(before: Mapping[str, Any], after: Mapping[str, Any], titles: Mapping[str, str]) -> tuple[str, ...]:
    """What makes `after` another recipe than `before`.

    Parameters
    ----------
    before, after : recipes as plain values. titles : of looks by their names; a name that is not among them is said as it is.

    Returns
    -------
    tuple of str : a sentence's part each, such as "strength 0.45 to 0.62" or "+ mist"; empty where they are alike.
    """
    was, now = _flat(before), _flat(after)
    said = []
    if was["look"] != now["look"]:
        said.append(f"{titles.get(now['look'], now['look'])} instead of {titles.get(was['look'], was['look'])}")
    if was["second_look"] != now["second_look"]:
        second, first = now["second_look"], was["second_look"]
        said.append(f"with {titles.get(second, second)}" if second else f"without {titles.get(first, first)}")
    said += [
        f"{spoken(name)} {value_said(name, was[name])} to {value_said(name, now[name])}"
        for name in _ORDER
        if was[name] != now[name]
    ]
    for name in _WORDS:
        said += _words(was[name], now[name], name == "avoid")
    if was["placement"] != now["placement"]:
        said.append("placed elsewhere" if now["placement"] else "placed where it is")
    return tuple(said)


def span_said(name: str, values: list[Any], titles: Mapping[str, str]) -> str:
    """A stretched control: "strength 0.20 to 0.80 (5)", "seed 1, 2, 3"."""
    several = f" ({len(values)})"
    if name in _LOOKS:
        return f"{len(values)} looks" if len(values) > 3 else ", ".join(titles.get(str(v), str(v)) for v in values)
    if name in _WORDS:
        return f"{len(values)} versions of the {'prompt' if name == 'prompt' else 'avoid list'}"
    said = [value_said(name, value) for value in values]
    if len(values) > 3 and all(isinstance(value, int | float) for value in values):
        return f"{spoken(name)} {said[0]} to {said[-1]}{several}"
    return f"{spoken(name)} {', '.join(said)}"


def values_said(recipe: Mapping[str, Any], names: list[str], titles: Mapping[str, str]) -> tuple[str, ...]:
    """What a take says of the controls that its sweep stretched."""
    flat = _flat(recipe)
    return tuple(
        titles.get(str(flat[name]), str(flat[name]))
        if name in _LOOKS
        else f"\u201c{flat[name] or 'no words'}\u201d"
        if name in _WORDS
        else f"{spoken(name)} {value_said(name, flat[name])}"
        for name in names
        if name in flat
    )
