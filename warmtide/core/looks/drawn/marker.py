"""Marker sketch: parallel strokes of grey markers in five tones, one accent colour, overshooting fineliner.

Sources
-------
1. S. Strothotte et al., "How to render frames and influence people", 1994 (sketch lines that overshoot).
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Mask, f32, summed
from ...maths.blur import quick_blur
from ...maths.colour import to_lab, to_rgb
from ...maths.filters import brought_out, soften
from ...maths.jit import kernel
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ...understanding.faces import face_mask
from ...understanding.palette import CHANNELS, palette
from ..shared.areas import outlines
from ..shared.brush import at
from ..shared.features import features
from ..shared.flatten import flatten
from ..shared.ground import paper, stretch
from ..shared.hatching import value_noise
from ..shared.pen import drawn_lines, pen, smoothed
from ..shared.portrait import square_around

_PAPER = np.array([0.972, 0.968, 0.955], f32)
_INK, _PENCIL = np.array([0.10, 0.10, 0.13], f32), np.array([0.42, 0.42, 0.46], f32)
_WARM, _COOL = np.array([0.80, 0.84, 0.92], f32), np.array([0.92, 0.86, 0.80], f32)
_SLANT = -0.62
# Long side at which the subject and the accent's place are told, and its hue.
_PLANNED, _TOLD = 256, 96
# Long side, px, at which lines are drawn at least, unless that is more times as large as the picture.
_DRAWN, _MOST_LARGER = 1024, 4
# How surely a place is the subject's where the accent begins, and where it is full.
_HINTED = (0.12, 0.65)
# Radians within which hues are one to the accent.
_ONE_HUE = 0.25
# How much of the tone of skin is left out.
_SPARED = 0.6
# Share of a line that was drawn already, and how near beside it that is, in marks.
_AGAIN, _BESIDE = 0.7, 3.0
# Tone below which a grey goes down, its turn, density, nib, and which grey.
_TONES = (
    (0.80, 0.00, 0.16, 15.0, _COOL),
    (0.62, 0.05, 0.24, 13.0, _WARM),
    (0.44, 0.35, 0.36, 11.0, _WARM),
    (0.27, 0.30, 0.62, 8.0, _COOL),
    (0.15, 0.00, 0.90, 6.0, _COOL),
)


@kernel
def _stripes(density, mask, ca, sa, spacing, width, seed, over, least, s):  # type: ignore[no-untyped-def]
    """Parallel strokes over the runs of a mask; ink pools at both ends and darkens at the rims."""
    h, w = density.shape
    reach = int(math.hypot(h, w)) // 2 + 1
    for i in range(int(2 * reach / spacing)):
        offset = (i + 0.5 * (value_noise(i * 7.13, seed) - 0.5)) * spacing - reach
        tilt = (value_noise(i * 3.7 + 11, seed + 1) - 0.5) * 0.025
        cx, cy = w * 0.5 - sa * offset, h * 0.5 + ca * offset
        dx, dy = ca - sa * tilt, sa + ca * tilt
        running, start = False, 0
        for k in range(-reach, reach + 1):
            x, y = cx + dx * k, cy + dy * k
            inside = 0 <= x < w and 0 <= y < h and mask[int(y), int(x)] > 0
            if inside and not running:
                running, start = True, k
            if not running or (inside and k < reach):
                continue
            running = False
            if k - start < least:
                continue
            a = start - over * (value_noise(i * 31.1 + start, seed + 3) * 1.5 - 0.5)
            b = k + over * (value_noise(i * 17.3 + k, seed + 4) * 1.5 - 0.5)
            nib = width * (0.92 + 0.16 * value_noise(i * 5.3, seed + 8))
            x0 = max(int(min(cx + dx * a, cx + dx * b) - nib), 0)
            x1 = min(int(max(cx + dx * a, cx + dx * b) + nib + 2), w)
            y0 = max(int(min(cy + dy * a, cy + dy * b) - nib), 0)
            y1 = min(int(max(cy + dy * a, cy + dy * b) + nib + 2), h)
            for row in range(y0, y1):
                # Only the part of the row that the stroke's band can reach.
                if abs(dy) > 0.05:
                    middle = cx + (row - cy) * dx / dy
                    half = (nib + 2) / abs(dy)
                    from_x, to_x = max(x0, int(middle - half)), min(x1, int(middle + half) + 2)
                else:
                    from_x, to_x = x0, x1
                for column in range(from_x, to_x):
                    u = (column - cx) * dx + (row - cy) * dy
                    v = -(column - cx) * dy + (row - cy) * dx
                    rough = 0.41 * s * (value_noise(u * 0.128 / s, seed + i) - 0.5)
                    c = min(min(nib * 0.5 - abs(v) + 0.5 + rough, min(u - a + 0.35 * v, b - u - 0.35 * v) + 0.5), 1.0)
                    if c <= 0:
                        continue
                    pool = 1 + 0.16 * math.exp(-max(min(u - a, b - u), 0.0) / (nib * 0.35 + 1e-3))
                    rim = 1 + 0.10 * math.exp(-max(nib * 0.5 - abs(v), 0.0) / (1.4 * s))
                    density[row, column] += c * (0.90 + 0.12 * value_noise(v * 1.1 / s + 9, seed + i)) * pool * rim


def _laid(mask: Mask, angle: float, density: float, nib: float, name: str, sitting: Sitting) -> Float:
    """One marker over one mask: a second pass darkens less, edges loose but not wild."""
    s = sitting.scale
    reach = 2 * round(1.1 * s) + 1
    opened = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, np.ones((reach, reach), np.uint8))
    _, ids, stats, _ = cv2.connectedComponentsWithStats(opened)
    opened = ((stats[:, cv2.CC_STAT_AREA] > 120 * s * s)[ids] & (ids > 0)).astype(np.uint8)
    out = np.zeros(mask.shape, f32)
    if opened.any():
        seed = int(sitting.random(name).integers(1, 1 << 20))
        _stripes(out, opened, math.cos(angle), math.sin(angle), nib * s * 0.82, nib * s, seed, 5 * s, 3 * s, s)
        out = np.minimum(out, 1) + f32(0.42) * np.maximum(out - 1, 0)
    return out * smoothstep(0.02, 0.34, quick_blur(opened.astype(f32), 2.6 * s)) * f32(density)


def _flattened(lab: Float, s: float) -> Float:
    return flatten(soften(brought_out(lab, 18 * s), 1, 0.05, 1.8 * s), 4 * s, 0.0007, 3)


def _subject(picture: Float, s: float) -> Float:
    """1 where the picture differs from what lies along its border; all 1 where there is no such subject."""
    height, width = picture.shape[:2]
    border = np.concatenate([picture[:3].reshape(-1, 3), picture[:, :3].reshape(-1, 3), picture[:, -3:].reshape(-1, 3)])
    colours = palette(np.ascontiguousarray(border[None]), 4)
    apart = np.min([np.sqrt(summed(((picture - c) * CHANNELS) ** 2)) for c in colours], axis=0).astype(f32)
    likely = smoothstep(0.05, 0.15, quick_blur(apart, 3 * s))
    ys, xs = np.mgrid[0 : 1 : height * 1j, 0 : 1 : width * 1j]
    centre = np.exp(-(((xs - 0.5) / 0.25) ** 2 + ((ys - 0.5) / 0.28) ** 2))
    sure = float(smoothstep(0.30, 0.55, np.array((likely * centre).sum() / centre.sum(), f32)))
    return (likely * sure + 1 - sure).astype(f32)


def _accent(lab: Float, picture: Float, subject: Float) -> tuple[float, Mask]:
    """The subject's most telling hue, and where it is."""
    zoom = _TOLD / max(lab.shape[:2])
    size = (max(round(lab.shape[1] * zoom), 1), max(round(lab.shape[0] * zoom), 1))
    small = cv2.resize(lab, size, interpolation=cv2.INTER_AREA)
    weight = (small[..., 1] ** 2 + small[..., 2] ** 2) * cv2.resize(subject, size, interpolation=cv2.INTER_AREA)
    told = np.arctan2(small[..., 2], small[..., 1])
    weights, edges = np.histogram(told, 72, (-np.pi, np.pi), weights=weight + 1e-9)
    spread = np.convolve(np.concatenate([weights[-3:], weights, weights[:3]]), np.ones(5), "same")[3:-3]
    # All hues near the commonest: it alone would be a bin or two beside a colour that is in one bin.
    commonest = edges[spread.argmax()] + np.pi / 72
    alike = np.abs(np.angle(np.exp(1j * (told - commonest)))) < _ONE_HUE
    found = float(np.angle((weight * np.exp(1j * told))[alike].sum()))
    chroma = np.hypot(picture[..., 1], picture[..., 2])
    hue = np.arctan2(picture[..., 2], picture[..., 1])
    near = np.abs(np.angle(np.exp(1j * (hue - found)))) < 0.5
    return found, (near & (chroma > 0.055) & (subject > _HINTED[0])).astype(bool)


def _planned(lab: Float, picture: Float, sitting: Sitting) -> tuple[Float, float, Mask]:
    """What is subject (0..1), the accent's hue, and where the accent goes; `picture` is the flattened one.

    All of it is told at one size whatever the take's: a table that just counts as coloured in a draft must not stay
    grey in its take.
    """
    height, width = lab.shape[:2]
    zoom = _PLANNED / max(height, width)
    size = (max(round(width * zoom), 8), max(round(height * zoom), 8))
    s = min(size) / 400 * sitting.marks
    if size != (width, height):
        lab = cv2.resize(lab, size, interpolation=cv2.INTER_AREA if zoom < 1 else cv2.INTER_CUBIC)
        picture = _flattened(lab, s)
    subject = _subject(picture, s)
    hue, accent = _accent(lab, picture, subject)
    whole = (width, height)
    placed = cv2.resize(accent.astype(f32), whole, interpolation=cv2.INTER_LINEAR) > 0.5
    return cv2.resize(subject, whole, interpolation=cv2.INTER_LINEAR), hue, placed


@dataclass(frozen=True)
class _Cover:
    """Ink on a sheet `zoom` times as large as the picture, so that a line is as sharp in a small picture as in a large one."""

    plane: Float
    zoom: int

    @classmethod
    def of(cls, height: int, width: int) -> "_Cover":
        zoom = min(max(math.ceil(_DRAWN / max(height, width)), 1), _MOST_LARGER)
        return cls(np.zeros((height * zoom, width * zoom), f32), zoom)

    def reduced(self) -> Float:
        """At the picture's size."""
        height, width = (n // self.zoom for n in self.plane.shape)
        return cv2.resize(self.plane, (width, height), interpolation=cv2.INTER_AREA)


def _sketched(line: AnyArray, radius: float, ink: float, over: float, wobble: float, cover: _Cover, s: float, random: np.random.Generator) -> None:  # fmt: skip
    """One hand-drawn line that overshoots both ends and wavers, on a cover as large as the picture or larger."""
    count = len(line)
    if count < 4:
        return
    k = max(min(int(5 * s), count // 3), 1)
    tail, head = line[0] - line[k], line[-1] - line[-1 - k]
    tail, head = tail / (np.hypot(*tail) + 1e-6), head / (np.hypot(*head) + 1e-6)
    beyond = np.arange(max(int(over), 1), 0, -1)[:, None]
    line = np.concatenate([line[0] + tail * beyond, line, line[-1] + head * beyond[::-1]])
    count = len(line)
    knots = max(count // max(int(18 * s), 1) + 3, 4)
    along = np.arange(count)
    shake = np.stack(
        [np.interp(along, np.linspace(0, count, knots), random.normal(0, wobble * s, knots)) for _ in range(2)], 1
    )
    press = np.clip(np.minimum(along, count - 1 - along) / (16 * s), 0, 1) ** 0.7
    zoom = cover.zoom
    drawn = ((line + shake) * zoom + (zoom - 1) / 2).astype(f32)
    pen(cover.plane, drawn, radius * s * zoom * (0.35 + 0.65 * press), ink * (0.25 + 0.75 * press))


def _lines(
    lab: Float, sitting: Sitting, skin: Float, fade: Float, random: np.random.Generator
) -> tuple[_Cover, _Cover]:
    """Ink and pencil: what is drawn of the picture and of its areas, ruled where it is straight, with construction lines.

    skin : (h, w) 0..1, left to the paper. fade : (h, w) 0..1, how much is drawn there at all.
    """
    s, height, width = sitting.scale, sitting.height, sitting.width
    ink, pencil = _Cover.of(height, width), _Cover.of(height, width)
    done = np.zeros((height, width), np.uint8)
    straight = []
    areas = [] if sitting.inset else outlines(lab, sitting, 260, 0.09, 16)[0]
    calm = flatten(soften(lab, 1, 0.05, 1.6 * s), 3 * s, 0.0003, 3)
    for chain in drawn_lines(calm, s, 1.0, 0.0, 9) + areas:
        # What an earlier line has drawn isn't drawn again from the outline of an area.
        rows, columns = np.rint(chain[:, 1]).astype(int), np.rint(chain[:, 0]).astype(int)
        if done[rows.clip(0, height - 1), columns.clip(0, width - 1)].mean() > _AGAIN:
            continue
        if at(skin, chain[:, 0], chain[:, 1]).mean() > 0.3:
            continue
        if len(chain) < 11 * s or at(fade, chain[:, 0], chain[:, 1]).mean() < 0.3:
            continue
        line, _ = smoothed(chain, 3.2 * s)
        cv2.polylines(done, [np.rint(line).astype(np.int32)], False, 1, max(round(_BESIDE * s), 1))
        across = line[-1] - line[0]
        length = float(np.hypot(*across))
        normal = np.array([-across[1], across[0]]) / (length + 1e-6)
        if length > 20 * s and np.abs((line - line[0]) @ normal).max() < 1.6 * s + 0.02 * length:
            ruled = line[0] + across * np.linspace(0, 1, max(int(length), 4))[:, None]
            straight.append((length, line[0], line[-1]))
            _sketched(ruled, 0.85, 0.92, 0.10 * length + 7 * s, 0.3, ink, s, random)
            _sketched(ruled + random.normal(0, 1.3 * s, 2), 0.5, 0.65, 0.20 * length + 9 * s, 0.6, ink, s, random)
        else:
            _sketched(line, 0.85, 0.92, 5 * s, 0.3, ink, s, random)
            if len(line) > 20 * s:
                again = smoothed(chain, 9 * s)[0] + random.normal(0, 1.3 * s, 2)
                _sketched(again, 0.5, 0.65, 13 * s, 0.8, ink, s, random)
    # The longest straight lines are carried on as construction lines.
    for length, begin, end in sorted(straight, key=lambda found: -found[0])[:9]:
        way, more = (end - begin) / length, min(0.35 * length + 30 * s, 90 * s)
        run = np.linspace(-more, length + more, int(length + 2 * more))[:, None]
        _sketched(begin + way * run, 0.40, 0.62, 2, 0.2, pencil, s, random)
    return ink, pencil


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a marker sketch. About .3 s at 512 px."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    random = sitting.random("lines")
    picture = _flattened(lab, s)
    light = stretch(np.ascontiguousarray(picture[..., 0]), sitting, (1, 98), (0.0, 1.0), 0.9)
    light = np.clip(light + 0.35 * (light - quick_blur(light, 30 * s)), 0, 1).astype(f32)
    light = (0.35 * light + 0.65 * quick_blur(light, 2.5 * s)).astype(f32)
    # The accent is the whole picture's; a face on its own would find another.
    subject, hue, accent = (
        (np.ones_like(light), 0.0, np.zeros(light.shape, bool)) if sitting.inset else _planned(lab, picture, sitting)
    )
    # A sketch fades out towards its border, and what is behind the subject is only hinted at.
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    rim = np.minimum(np.minimum(xs, width - 1 - xs), np.minimum(ys, height - 1 - ys)) / min(height, width)
    fade = smoothstep(0, 0.144, (rim + 0.05 * sitting.field("fade", 46 * s) - 0.022).astype(f32))
    if sitting.inset:
        fade[:] = 1
    face = features(lab, sitting.faces[0], _Cover.of(height, width).plane.shape[::-1]) if sitting.inset else None
    skin = cv2.resize(face.core, (width, height), interpolation=cv2.INTER_AREA) if face else np.zeros_like(light)
    # Skin is left to the paper but for its deepest shade.
    tone = 1 - (1 - light) * fade * (0.35 + 0.65 * subject) * (1 - f32(_SPARED) * skin)
    if not sitting.inset:
        # A face that is drawn again isn't coloured in: the strokes would end at its rim.
        drawn_again = tuple(f for f in sitting.faces if square_around(f, height, width))
        accent &= face_mask(drawn_again, height, width, 1.25) < 0.1
    accent = quick_blur((accent & (fade > 0.3)).astype(f32), 3 * s) > 0.5
    slant = _SLANT + float(sitting.random("slant").normal(0, 0.10))
    density = np.zeros((height, width, 3), f32)
    for k, (below, turn, dense, nib, grey) in enumerate(_TONES):
        density += _laid(tone < below, slant + turn, dense, nib, f"tone{k}", sitting)[..., None] * grey
    colour = to_rgb(np.array([[[0.70, 0.17 * np.cos(hue), 0.17 * np.sin(hue)]]], f32))[0, 0]
    absorbed = -np.log(np.clip(colour, 0.03, 0.97))
    # The less sure a place is the subject's, the paler it is coloured.
    coloured = smoothstep(*_HINTED, subject)
    density *= (1 - 0.45 * accent * coloured)[..., None]
    inked = _laid(accent, slant, 0.85, 12, "accent", sitting)
    inked += _laid(accent & (tone < 0.55), slant + 0.2, 0.5, 10, "accent dark", sitting)
    density += (inked * coloured)[..., None] * absorbed
    relief = paper(sitting, 0.7)
    sheet = _PAPER * (1 + f32(0.006) * relief)[..., None] * np.exp(-quick_blur(density, 0.5))

    ink, pencil = _lines(lab, sitting, skin, fade, random)
    if face:
        np.maximum(ink.plane, face.ink, out=ink.plane)
    tooth = np.clip(1 - 0.16 * relief, 0.4, 1.2)
    for cover, colour, amount in ((pencil, _PENCIL, 0.75), (ink, _INK, 0.92)):
        share = np.clip(cover.reduced() * tooth, 0, 1)[..., None] * f32(amount)
        sheet = sheet * (1 - share) + share * colour
    lights = (
        smoothstep(0.04, 0.12, light - quick_blur(light, 7 * s))
        * smoothstep(0.80, 0.95, light)
        * (quick_blur(1 - light, 12 * s) > 0.25)
    )
    white = 0.85 * quick_blur(lights.astype(f32), 0.6 * s)[..., None]
    return to_lab(np.clip(sheet * (1 - white) + white * 0.985, 0, 1).astype(f32))


LOOK = Look(
    name="marker",
    title="Marker sketch",
    category="drawn",
    kinds=("render", "photo", "flat art"),
    description="Grey markers in parallel strokes, one accent colour, fineliner that overshoots: a concept sketch.",
    strengths=(0.4, 0.85),
    paint=paint,
    seconds=0.30,
    handling=Handling(owns_colour=True, deep_trust=0.65, deep_push=0.5, least_scale=0.12),
)
