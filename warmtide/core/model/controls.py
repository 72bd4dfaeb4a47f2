"""The controls of a recipe as people meet them: what they are called, from where to where a hand moves them, what they do."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Stretch:
    """The span that a control becomes when it is stretched."""

    from_: float
    to: float
    count: int


@dataclass(frozen=True)
class Control:
    """One control.

    Attributes
    ----------
    name : of the recipe's field, or of the hold. low, high, step : what a hand reaches; a typed number may go further,
    as the recipe allows. digits : behind the point. ends : what it does at either end. stretched : its span at first.
    says : one sentence on what it does; samples : values that show it.
    """

    name: str
    label: str
    low: float
    high: float
    step: float
    digits: int
    ends: tuple[str, str] | None = None
    stretched: Stretch | None = None
    says: str = ""
    samples: tuple[float | str, ...] = ()


def _hold(name: str, says: str, stretched: Stretch, samples: tuple[float, ...] = ()) -> Control:
    return Control(name, f"Hold {name}", 0, 1, 0.05, 2, ("free", "kept"), stretched, says, samples)


_SOME, _ALL = Stretch(0.2, 0.8, 3), Stretch(0, 1, 3)

# In the order of the band, whose keys are 1 to 9 and 0.
CONTROLS = (
    Control(
        "strength", "Strength", 0, 1, 0.01, 2, ("source", "look"), Stretch(0.2, 1, 5),
        "How far the take goes from the source: 0 is the source itself, 1 lets go of it. Where others count how much is kept, keep 70 % is .30 here.",
        (0.15, 0.35, 0.55, 0.75, 0.95),
    ),
    Control(
        "guidance", "Guidance", 1, 20, 0.5, 1, ("plain", "loud"), Stretch(3, 9, 3),
        "How hard look and words pull: 1 leaves words out, 5 to 9 is rich, above 15 it gets loud.", (1, 4, 7, 12, 20),
    ),
    Control(
        "seed", "Seed", 1, 60, 1, 0, None, None,
        "Which noise it begins with: another seed is another variant, the more so the higher the strength.", (1, 2, 3, 4, 5),
    ),
    Control(
        "steps", "Steps", 4, 60, 1, 0, ("quick", "fine"), Stretch(10, 30, 3),
        "How finely it is worked out: more steps refine and cost time; the subject stays.", (4, 8, 16, 30),
    ),
    _hold("lines", "Keeps edges where they are: contours, features, writing. Free, the look redraws them.", _SOME, (0, 0.35, 0.7, 1)),
    _hold("shapes", "Keeps the coarse masses of light and dark, and silhouettes. Free, the composition itself may go.", _SOME, (0, 0.35, 0.7, 1)),
    _hold("colours", "Keeps the broad colours. Free, look and words choose the palette.", _ALL, (0, 0.3, 0.6, 1)),
    _hold("faces", "Keeps eyes, brows, nose and mouth of found faces, and their outline. Without faces it does nothing.", _SOME, (0, 0.5, 0.85, 1)),
    Control(
        "look_weight", "Look weight", 0, 1.5, 0.05, 2, ("little paint", "much"), Stretch(0.5, 1.5, 3),
        "How far the painter goes: little paint shows the picture beneath, much exaggerates the marks.", (0, 0.5, 1, 1.5),
    ),
    _hold("depth", "", _ALL),
    _hold("subject", "Keeps outline and inner structure of what the picture is about: a person, an animal, a thing; the ground stays free. A landscape has none.", _ALL, (0, 0.4, 0.7, 1)),
    Control("second_share", "Share of the second look", 0, 1, 0.05, 2, ("first look", "second"), Stretch(0.2, 0.8, 4)),
)  # fmt: skip

# Choices that are no amounts, but are explained as amounts are.
EXPLAINED_TOO = {
    "sampler": (
        "How the steps are taken: DPM++ 2M is smooth with few steps, Euler plainer, Euler ancestral stirs new noise in and roams.",
        ("dpm++2m", "euler", "euler-ancestral"),
    )
}  # fmt: skip
