"""A character's brows, nose, mouth and glasses, drawn anew in the person's own shapes and colours."""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...understanding.people.features import BROWS, EARS, EYES, LIPS, MOUTH, NOSTRILS
from .canvas import Canvas, curve, fineness, ribbon, swelling
from .form import Proportions, moved
from .portrait import Person


def draw_brows(lab: Float, person: Person, points: Float, back: Float) -> None:
    """Brows by the person's own map of them, made clean."""
    states, wide = person.states, person.head.width
    for upper, lower in BROWS:
        top, low, along = curve(points[list(upper)], 40), curve(points[list(lower)], 40), np.linspace(0, 1, 40)
        middle, half = (top + low) / 2, (top - low) / 2
        ends = np.minimum(0.15 + 1.05 * along**0.75, 1.0) * np.sqrt(np.clip((1 - along) / 0.06, 0, 1)) ** 0.6
        outline = np.concatenate([middle + half * ends[:, None], (middle - half * ends[:, None])[::-1]])
        canvas = Canvas(lab, outline, 0.1 * wide, fineness(wide, 300), back)
        if canvas.empty:
            continue
        strong = float(np.clip(states.browed / 0.20, 0.35, 1))
        mask = canvas.cover(outline, 0.006 * wide)
        own = blur(canvas.from_chart(person.head, states.brow_map), 0.014 * wide * canvas.fine)
        trust = float(smoothstep(0.35, 0.6, float((own * mask).sum()) / max(float(mask.sum()), 1.0)))
        trust *= 1 - (states.glasses.sure if states.glasses else 0.0)
        mask = smoothstep(0.34, 0.62, trust * own + (1 - trust * 0.72) * 0.8 * mask)
        colour = states.brow * np.array([0.88, 1.1, 1.1])
        canvas.lay(states.tone * np.array([0.8, 1, 1]), 0.25 * strong * blur(mask, 0.025 * wide * canvas.fine))
        canvas.lay(colour, 0.92 * strong * mask)
        sheen = canvas.cover(ribbon(middle + half * 0.2, np.hypot(*half.T) * 0.5 * ends), 0.010 * wide)
        canvas.lay(colour + np.array([0.07, 0.004, 0.008]), 0.40 * strong * mask * sheen)
        canvas.done()


def draw_nose(lab: Float, person: Person, points: Float, back: Float) -> None:
    """Nostrils, and the shade under the tip."""
    head, tone = person.head, person.states.tone
    wide = head.width
    canvas = Canvas(lab, points[[98, 327, 2, 1, 4]], 0.16 * wide, fineness(wide, 240), back)
    if canvas.empty:
        return
    for which, (outer, inner) in enumerate(((98, 97), (327, 326))):
        middle = 0.55 * points[outer] + 0.45 * points[inner] - head.down * 0.012 * wide
        size = float(np.hypot(*(points[inner] - points[outer]))) + 1e-6
        way = (points[inner] - points[outer]) / size
        x = (canvas.xs - middle[0]) * way[0] + (canvas.ys - middle[1]) * way[1]
        y = (canvas.ys - middle[1]) * way[0] - (canvas.xs - middle[0]) * way[1]
        hidden = abs(head.turned) * ((head.turned < 0) == (which == 0))
        dark = 1 - smoothstep(0.35, 1.15, np.hypot(x / (0.62 * size + 0.012 * wide), y / (0.020 * wide)))
        canvas.lay(tone * np.array([0.40, 1.0, 0.9]) + np.array([0, 0.03, 0.01]), (0.72 - 0.3 * hidden) * dark)
    base = curve(points[list(NOSTRILS)], 40) + head.down * 0.012 * wide
    shade = canvas.cover(ribbon(base, 0.03 * wide * swelling(40) ** 0.5), 0.014 * wide)
    canvas.lay(tone * np.array([0.66, 1.15, 1]) + np.array([0, 0.02, 0]), 0.40 * shade)
    canvas.done()


def draw_mouth(lab: Float, person: Person, points: Float, back: Float) -> None:
    """Lips with light on the lower one; between them teeth where the person shows them."""
    head, states = person.head, person.states
    wide, tone = head.width, states.tone
    top, bottom = (curve(points[list(line)]) for line in LIPS)
    inner_top, inner_bottom = (curve(points[list(line)]) for line in MOUTH)
    canvas = Canvas(lab, np.concatenate([top, bottom]), 0.12 * wide, fineness(wide, 300), back)
    if canvas.empty:
        return
    swell, is_open = swelling(), states.gap > 0.07
    lip = np.array([min(states.lip[0], tone[0] * 0.90), max(states.lip[1] + 0.010, tone[1] + 0.038), states.lip[2]])
    if not is_open:
        inner_top = inner_bottom = 0.5 * (inner_top + inner_bottom)
    below = ribbon(bottom + head.down * 0.035 * wide * swell[:, None], 0.04 * wide * swell**2)
    canvas.lay(tone * np.array([0.72, 1.1, 1]), 0.35 * canvas.cover(below, 0.022 * wide))
    upper_lip, lower_lip = np.concatenate([top, inner_top[::-1]]), np.concatenate([bottom, inner_bottom[::-1]])
    canvas.lay(lip * np.array([0.90, 1.05, 1.0]), 0.78 * canvas.cover(upper_lip, 0.010 * wide))
    canvas.lay(lip * np.array([1.03, 1.0, 0.98]), 0.78 * canvas.cover(lower_lip, 0.010 * wide))
    light = ribbon(0.5 * (bottom + inner_bottom)[14:34], 0.022 * wide * swelling(20))
    canvas.lay(lip + np.array([0.17, -0.006, 0]), 0.42 * canvas.cover(light, 0.012 * wide))
    if is_open:
        _inside(canvas, person, points, (inner_top, inner_bottom), lip)
    else:
        line = ribbon(inner_top, 0.018 * wide * (swell**0.4 * 0.7 + 0.3 * (1 - swell) ** 4))
        canvas.lay(lip * np.array([0.48, 0.9, 0.9]), 0.85 * canvas.cover(line, 0.004 * wide))
    for corner in (top[0], top[-1]):
        near = 1 - smoothstep(0, 0.045, canvas.away(corner) / wide)
        canvas.lay(tone * np.array([0.62, 1.15, 1.0]), 0.40 * near)
    canvas.done()


def _inside(canvas: Canvas, person: Person, points: Float, lines: tuple[Float, Float], lip: AnyArray) -> None:
    """An open mouth: dark, tongue or teeth."""
    head, states = person.head, person.states
    (top, bottom), wide, swell = lines, head.width, swelling()
    mask = canvas.cover(np.concatenate([top, bottom[::-1]]))
    canvas.lay((0.12 + 0.16 * float(states.tone[0]), 0.065, 0.03), mask)
    if states.teeth < 0.3:
        tongue = ribbon(bottom - head.down * 0.02 * wide * swell[:, None], 0.05 * wide * swell)
        canvas.lay((0.46, 0.10, 0.05), 0.8 * mask * canvas.cover(tongue, 0.02 * wide))
    if states.teeth > 0.08:
        own = blur(canvas.from_chart(head, states.teeth_map), 0.016 * wide * canvas.fine)
        teeth = smoothstep(0.30, 0.5, own) * mask
        half = 0.5 * float(np.hypot(*(points[LIPS[0][0]] - points[LIPS[0][-1]])))
        far = np.abs((np.dstack([canvas.xs, canvas.ys]) - top[24]) @ head.right.astype(f32)) / half
        under = canvas.cover(ribbon(top, 0.05 * wide), 0.02 * wide)
        light = min(1.0, 0.70 + 0.36 * float(states.tone[0])) - 0.12 * smoothstep(0.35, 0.95, far) - 0.06 * under
        canvas.lay(np.dstack([light, 0.002 + 0 * far, 0.012 + 0 * far]), teeth)
    canvas.lay(
        lip * np.array([0.42, 0.9, 0.8]), 0.8 * canvas.cover(ribbon(top, 0.011 * wide * swell**0.3), 0.003 * wide)
    )
    canvas.lay(
        lip * np.array([0.5, 0.9, 0.8]), 0.5 * canvas.cover(ribbon(bottom, 0.008 * wide * swell**0.3), 0.003 * wide)
    )


def draw_glasses(
    lab: Float, people: tuple[Person, ...], person: Person, form: Proportions, side: float, back: Float
) -> None:
    """Two rounded boxes as fitted in the source, a bridge and arms: drawn anew, since tracing breaks frames."""
    glasses, head = person.states.glasses, person.head
    if glasses is None:
        return
    wide = head.width
    rings, arms, bridge = _frame_lines(people, person, form)
    canvas = Canvas(lab, np.concatenate(rings + arms), 0.08 * wide, fineness(wide, 300), back)
    if canvas.empty:
        return
    lines = [curve(np.concatenate([ring, ring[1:3]]), 160) for ring in rings] + [curve(bridge, 30), *arms]
    mask = np.max([canvas.cover(ribbon(line, 0.021 * wide)) for line in lines], 0)

    def shifted(x: float, y: float) -> Float:
        by = np.array([[1, 0, x * wide * canvas.fine], [0, 1, y * wide * canvas.fine]], f32)
        return cv2.warpAffine(mask, by, mask.shape[::-1])

    canvas.image[..., 0] *= 1 - 0.28 * blur(shifted(-0.02 * side, 0.035), 0.014 * wide * canvas.fine)
    for ring in rings:
        # A breath of sky on the glass.
        across = (
            (np.dstack([canvas.xs, canvas.ys]) - ring.mean(0)) @ (head.right + 0.6 * head.down).astype(f32)
        ) / f32(wide)
        streaks = 0.13 * np.exp(-(((across + 0.07) / 0.03) ** 2)) + 0.09 * np.exp(-(((across - 0.015) / 0.012) ** 2))
        canvas.lay((0.97, -0.005, -0.01), canvas.cover(ring) * (0.05 + streaks))
    canvas.lay(glasses.colour, mask)
    bright = glasses.colour * np.array([1, 0.6, 0.6]) + np.array([0.26, 0, 0])
    canvas.lay(bright, 0.6 * blur(np.clip(mask - shifted(0, 0.009), 0, 1), 0.5))
    canvas.done(glasses.sure)


def _frame_lines(
    people: tuple[Person, ...], person: Person, form: Proportions
) -> tuple[list[Float], list[Float], Float]:
    """Both boxes, both arms and the bridge as they lie in the character."""
    glasses, head = person.states.glasses, person.head
    assert glasses is not None
    top, bottom, outer, inner = glasses.frames
    turn = np.linspace(0, 2 * np.pi, 80)
    sx, sy = (np.sign(t) * np.abs(t) ** (2 / 3.4) for t in (np.cos(turn), np.sin(turn)))
    rings, arms, ends = [], [], []
    for way, lids, ear in zip((-1, 1), EYES, EARS, strict=True):
        middle = head.xy[list(lids[0] + lids[1])].mean(0)

        def at(u: AnyArray | float, v: AnyArray | float, way: int = way, middle: AnyArray = middle) -> AnyArray:
            own = np.stack(np.broadcast_arrays(way * np.asarray(u, f32), np.asarray(v, f32)), -1)
            return np.asarray(middle + own @ head.axes.T * head.width)

        ring = at((outer - inner) / 2 + sx * (outer + inner) / 2, (top + bottom) / 2 + sy * (bottom - top) / 2)
        rings.append(moved(ring, people, form))
        arms.append(
            moved(np.array([at(outer, top * 0.55), head.xy[ear] - head.down * 0.06 * head.width]), people, form)
        )
        ends.append(at(-inner, top * 0.35))
    between = 0.5 * (ends[0] + ends[1]) - head.down * 0.025 * head.width
    return rings, arms, moved(np.array([ends[0], between, ends[1]]), people, form)
