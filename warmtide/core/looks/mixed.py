"""Two looks mixed: both painters paint the same picture, and their paintings are joined band by band.

Sources
-------
1. P. Burt, E. Adelson, "A multiresolution spline with application to image mosaics", 1983 (joining by band).
"""

import math
from dataclasses import replace

import numpy as np

from ..maths.arrays import Float, f32
from ..maths.pyramid import build, collapse, image_of, levels_for, planes
from ..model.look import Handling, Look
from ..model.sitting import Sitting
from .registry import look_named

# Bands up to this picture octave carry marks; coarser ones tone and colour.
_MARKS = 3
_JOIN_SECONDS = 0.015
# Amounts in how a look is sampled; the size of marks is each painter's own.
_AMOUNTS = ("portrait_tone", "push", "deep_trust", "deep_push", "bare_push")


def _own(sitting: Sitting, look: Look) -> Sitting:
    """The sitting as one of two painters has it: its own random streams and its own decisions."""
    decisions: dict[str, object] = sitting.decided(look.name, dict)
    return replace(sitting, look=look.name, decisions=decisions, least_scale=look.handling.least_scale)


def joined(first: Float, second: Float, share: float) -> Float:
    """Two paintings (h, w, 3) of one picture in OKLab; `share` 0..1 is the second one's.

    Tone and colour are averaged. Marks are laid over each other with the energy that either has alone, or both
    would go faint.
    """
    levels = levels_for(*first.shape[:2])
    a, b = build(planes(first), levels), build(planes(second), levels)
    loud = 1 / math.hypot(share, 1 - share)
    out = []
    for k in range(levels + 1):
        band = f32(1 - share) * a[k] + f32(share) * b[k]
        if k < _MARKS:
            band[0] *= f32(loud)
        out.append(np.ascontiguousarray(band))
    return image_of(collapse(out))


def mixed_look(first: Look, second: Look, share: float) -> Look:
    """A look whose painter is `first` with a share 0..1 of `second`. Costs both painters and 15 ms at 512 px."""

    def paint(lab: Float, sitting: Sitting) -> Float:
        def by(look: Look, picture: Float) -> Float:
            return look.paint(picture, _own(sitting, look))

        whole = [look for look in (first, second) if look.handling.whole]
        if len(whole) != 1:
            return joined(by(first, lab), by(second, lab), share)
        # A look of another form is the picture that the other one paints.
        made = by(whole[0], lab)
        one, two = (made if look is whole[0] else by(look, made) for look in (first, second))
        return joined(one, two, share)

    heavier = second if share > 0.5 else first
    # What it hears of places and parts is the first one's: that look was chosen. What gives the picture its form is heard too.
    return replace(
        first,
        name=f"{first.name} {1 - share:.3f} {second.name} {share:.3f}",
        title=f"{first.title} with {second.title.lower()}",
        category=heavier.category,
        kinds=heavier.kinds,
        description=f"{first.title} with a share of {second.title.lower()}.",
        strengths=heavier.strengths,
        paint=paint,
        hears=first.hears or (second.hears if second.handling.whole else None),
        seconds=first.seconds + second.seconds + _JOIN_SECONDS,
        handling=_between(first.handling, second.handling, share),
    )


def _between(first: Handling, second: Handling, share: float) -> Handling:
    """How two paints are sampled together: amounts by their shares, what is yes or no as the heavier has it."""
    amounts = {name: getattr(first, name) + (getattr(second, name) - getattr(first, name)) * share for name in _AMOUNTS}
    return Handling(
        portrait=first.portrait or second.portrait,
        owns_colour=(second if share > 0.5 else first).owns_colour,
        finer=first.finer or second.finer,
        once=first.once and second.once,
        whole=first.whole or second.whole,
        **amounts,
    )


def look_for(name: str, second: str | None = None, share: float = 0.0) -> Look:
    """The look that a recipe asks for: one, or two mixed. Raises `BadInput` for a name that isn't known."""
    first = look_named(name)
    if second is None:
        return first
    other = look_named(second)
    if share <= 0 or other is first:
        return first
    return other if share >= 1 else mixed_look(first, other, share)
