"""Scene words: which place, time, weather and small things a prompt asks for, and what of it cannot be together.

Words are matched whole and in runs, the longest first, so that a sandwich makes no sand and an ice cream no ice.
"""

import re
from dataclasses import dataclass, replace
from functools import cache

from ..model.scene import Asked, SceneReading
from .registry import places

# What each run of words sets: a field of Asked and its value.
_TIMES = {
    "day": ("daylight", "by day", "daytime", "noon", "midday", "sunny day", "bright day", "broad daylight"),
    "morning": ("morning", "early morning", "dawn", "sunrise", "daybreak", "morning light"),
    "golden": ("golden hour", "late afternoon", "low sun", "warm evening light", "golden light"),
    "sunset": ("sunset", "sundown", "setting sun", "evening sun"),
    "dusk": ("dusk", "twilight", "blue hour", "nightfall", "evening"),
    "night": ("night", "midnight", "at night", "night time", "moonlight", "moonlit", "moon", "starry", "starry night", "stars"),
}  # fmt: skip
_SKIES = {
    "clear": ("clear sky", "cloudless", "blue sky", "clear day", "cloudless sky"),
    "overcast": ("overcast", "cloudy", "grey sky", "gray sky", "gloomy", "grey day", "dull weather"),
    "storm": ("storm", "stormy", "thunderstorm", "tempest", "gale", "storm clouds"),
}
_SEASONS = {
    "spring": ("spring", "springtime"),
    "summer": ("summer", "summertime", "midsummer"),
    "autumn": ("autumn", "fall colours", "fall colors", "autumnal", "autumn leaves"),
    "winter": ("winter", "wintry", "snowy", "in snow", "snow", "snow covered", "snowed in"),
}
_WEATHER: dict[str, tuple[str, float, tuple[str, ...]]] = {
    "mist": ("mist", 1.0, ("mist", "misty", "fog", "foggy", "haze", "hazy", "morning mist")),
    "rain": ("rain", 0.8, ("rain", "rainy", "raining", "drizzle", "downpour", "showers", "in the rain")),
    "snowfall": ("snowfall", 0.8, ("snowfall", "snowing", "falling snow", "blizzard", "snowflakes", "flurries")),
}
_SWITCHES = {
    "rays": ("rays", "sun rays", "sunrays", "sunbeams", "light shafts", "shafts of light", "rays of light"),
    "blurred": ("depth of field", "shallow focus", "blurred background", "shallow depth of field", "out of focus"),
    "wet": ("wet", "puddles", "reflections", "with reflection", "reflection"),
    "neon": ("neon", "neon light", "neon lights", "neon signs"),
    "dark": ("dark",),
}
_EXTRAS = {
    "birds": ("birds", "gulls", "seagulls", "flock"),
    "boats": ("boats", "boat", "sailing boats", "sailboats", "sails", "yachts"),
    "people": ("people", "walkers", "passers by", "pedestrians", "people walking", "figures"),
    "flowers": ("flowers", "flower", "flowery", "wild flowers", "wildflowers", "poppies"),
    "planet": ("planets",),
    "bubbles": ("bubbles",),
    "fish": ("fish", "shoal"),
}
_TREES = {
    "conifer": ("pine", "pines", "fir", "firs", "spruce", "spruces", "conifer", "conifers", "pine trees"),
    "broad": ("oak", "oaks", "maple", "maples", "broadleaf", "beeches"),
    "blossom": ("blossom", "blossoms", "cherry blossom", "cherry trees", "in bloom"),
    "birch": ("birch", "birches"),
}
# Words of places that mean nothing of the kind in these runs.
_OTHERWISE = (
    "ice cream", "table lamp", "sea green", "forest green", "ocean blue", "sky blue", "sea foam", "snow white", "night gown",
    "park bench", "street wear", "city hall", "table cloth", "sand paper", "wild flower honey", "studio light",
    "studio lighting", "stage light", "stage coach", "lake trout", "rain coat", "snow globe", "neon look", "dark wood",
)  # fmt: skip
# Places that one picture shows together, and the one that has both.
_TOGETHER = {
    frozenset(pair): both
    for *pair, both in (
        ("mountains", "lake", "lake"), ("alps", "lake", "lake"), ("hills", "lake", "lake"), ("forest", "lake", "lake"),
        ("cliff", "sea", "cliff"), ("beach", "sea", "beach"), ("skyline", "sea", "skyline"), ("skyline", "street", "street"),
        ("mountains", "snow", "alps"), ("alps", "snow", "alps"), ("alps", "mountains", "alps"), ("hills", "meadow", "meadow"),
        ("forest", "clearing", "clearing"), ("forest", "mountains", "mountains"), ("park", "skyline", "park"),
        ("quay", "sea", "quay"), ("quay", "skyline", "quay"), ("garden", "park", "garden"), ("beach", "cliff", "cliff"),
        ("hills", "mountains", "mountains"), ("forest", "snow", "snow"), ("room", "table", "workshop"),
        ("workshop", "table", "workshop"), ("underwater", "sea", "underwater"), ("meadow", "mountains", "mountains"),
        ("hills", "forest", "hills"), ("park", "meadow", "park"), ("dunes", "beach", "beach"),
        ("paper", "table", "table"), ("brick", "street", "street"),
    )
}  # fmt: skip


@dataclass(frozen=True)
class Meaning:
    """What a run of words sets: a field of Asked, its value, and how it is said to the artist."""

    field: str
    value: str | float | bool
    said: str


def split(text: str) -> list[str]:
    """Words in lower case."""
    return re.findall(r"[a-z0-9]+", text.lower())


@cache
def _table() -> dict[tuple[str, ...], Meaning | None]:
    found: dict[tuple[str, ...], Meaning | None] = {}

    def add(words: tuple[str, ...], meaning: Meaning | None) -> None:
        for word in words:
            found[tuple(split(word))] = meaning

    for name, words in _TIMES.items():
        add(words, Meaning("time", name, "golden hour" if name == "golden" else name))
    for name, words in _SKIES.items():
        add(words, Meaning("sky", name, f"{name} sky" if name != "overcast" else name))
    for name, words in _SEASONS.items():
        add(words, Meaning("season", name, name))
    for field, amount, words in _WEATHER.values():
        add(words, Meaning(field, amount, field))
    for name, words in _SWITCHES.items():
        said = {"blurred": "depth of field", "wet": "wet ground", "neon": "neon light"}.get(name, name)
        add(words, Meaning(name, True, said))
    for name, words in _EXTRAS.items():
        add(words, Meaning("extras", name, name))
    for name, words in _TREES.items():
        add(words, Meaning("trees", name, {"conifer": "conifers", "broad": "broad trees"}.get(name, name)))
    # Places last: "pine forest" is a place before it is a kind of tree.
    for place in places().values():
        add(place.words, Meaning("place", place.name, place.title))
    add(_OTHERWISE, None)
    return found


@cache
def _longest() -> int:
    return max(len(words) for words in _table())


def runs(words: list[str]) -> list[tuple[int, int, Meaning]]:
    """Known runs of words from left to right: where each begins and ends, and what it means."""
    found, i = [], 0
    while i < len(words):
        for length in range(min(_longest(), len(words) - i), 0, -1):
            key = tuple(words[i : i + length])
            if key in _table():
                meaning = _table()[key]
                if meaning is not None:
                    found.append((i, i + length, meaning))
                i += length
                break
        else:
            i += 1
    return found


@cache
def scene_phrases() -> frozenset[str]:
    """Every run of words that asks for a place."""
    return frozenset(" ".join(words) for words, meaning in _table().items() if meaning and meaning.field == "place")


def _place_of(named: list[str], conflicts: list[str]) -> str:
    place = named[0]
    for other in named[1:]:
        if other == place:
            continue
        both = _TOGETHER.get(frozenset((place, other)))
        if both is None:
            titles = places()[place].title, places()[other].title
            conflicts.append(f"One picture shows one place: {titles[0]} is drawn, {titles[1]} is not.")
        else:
            place = both
    return place


def _one(field: str, meanings: list[Meaning], conflicts: list[str]) -> str | None:
    values = list(dict.fromkeys((str(m.value), m.said) for m in meanings if m.field == field))
    if field == "time" and len(values) > 1 and ("day", "day") in values:
        # "Sunny day at sunset" says one thing.
        values.remove(("day", "day"))
    for _, said in values[1:]:
        conflicts.append(f"{values[0][1].capitalize()} and {said} cannot be together: it is {values[0][1]}.")
    return values[0][0] if values else None


def _settled(asked: Asked, explicit: set[str], conflicts: list[str]) -> Asked:
    """Weather that follows from what was asked, and weather that cannot be."""
    place = places()[asked.place]
    if not place.outdoors:
        for weather in ("rain", "snowfall", "rays"):
            if getattr(asked, weather):
                conflicts.append(f"{place.title.capitalize()} has no {weather}: it is left out.")
        return replace(asked, rain=0.0, snowfall=0.0, rays=False, sky="fair")
    if asked.rain > 0 and asked.sky == "clear":
        conflicts.append("Rain falls from clouds: the sky is overcast, not clear.")
        asked = replace(asked, sky="overcast")
    if asked.snowfall > 0 and asked.season == "summer":
        conflicts.append("Snow does not fall in summer: it is winter.")
    if asked.snowfall > 0:
        asked = replace(asked, season="winter", sky=asked.sky if "sky" in explicit else "overcast")
    if asked.rain > 0 and asked.sky == "fair" and asked.time != "night":
        asked = replace(asked, sky="overcast")
    if asked.rain > 0:
        asked = replace(asked, wet=True)
    if asked.sky in ("overcast", "storm") and asked.rays:
        conflicts.append("Rays need a sun: under this sky there are none.")
        asked = replace(asked, rays=False)
    if asked.sky in ("overcast", "storm") and asked.time in ("golden", "sunset") and "sky" in explicit:
        conflicts.append(
            f"Under a closed sky there is no {'golden hour' if asked.time == 'golden' else 'sunset'}: it is day."
        )
        asked = replace(asked, time="day")
    return asked


def _said(heard: list[tuple[str, list[Meaning]]], place: str | None) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What every phrase means; places that one picture shows together are called by the one that has both."""

    def said(meaning: Meaning) -> str:
        if place is None or meaning.field != "place":
            return meaning.said
        both = _TOGETHER.get(frozenset((str(meaning.value), place)))
        return places()[place].title if place in (meaning.value, both) else meaning.said

    return tuple((phrase, tuple(dict.fromkeys(said(meaning) for meaning in found))) for phrase, found in heard)


def read_scene(prompt: str) -> SceneReading:
    """Which scene a prompt asks for. Phrases are separated by commas; weights are not looked at."""
    heard: list[tuple[str, list[Meaning]]] = []
    for phrase in re.split(r"[,;\n]", prompt):
        text = phrase.partition("^")[0].strip()
        found = [meaning for _, _, meaning in runs(split(text))]
        if found:
            heard.append((text, found))
    meanings = [meaning for _, found in heard for meaning in found]
    named = [str(m.value) for m in meanings if m.field == "place"]
    if not named:
        return SceneReading(None, _said(heard, None), ())
    conflicts: list[str] = []
    place = _place_of(named, conflicts)
    chosen = {field: _one(field, meanings, conflicts) for field in ("time", "sky", "season", "trees")}
    amounts = {m.field: float(m.value) for m in meanings if m.field in ("mist", "rain", "snowfall")}
    switches = {m.field: True for m in meanings if m.field in _SWITCHES}
    asked = Asked(
        place, chosen["time"] or places()[place].presumed, chosen["sky"] or "fair", chosen["season"],
        extras=frozenset(str(m.value) for m in meanings if m.field == "extras"), trees=chosen["trees"],
        mist=amounts.get("mist", 0.0), rain=amounts.get("rain", 0.0), snowfall=amounts.get("snowfall", 0.0),
        rays=switches.get("rays", False), blurred=switches.get("blurred", False), wet=switches.get("wet", False),
        neon=switches.get("neon", False), dark=switches.get("dark", False),
    )  # fmt: skip
    if asked.neon and asked.place == "street" and chosen["time"] is None:
        asked = replace(asked, time="night")
    explicit = {field for field, value in chosen.items() if value is not None}
    return SceneReading(_settled(asked, explicit, conflicts), _said(heard, place), tuple(conflicts))
