"""Product: an untextured product in its finishes, lit in a studio, on paper or boards.

The render's own light stays as what is dull; what is polished mirrors a studio on the bulge of each part.
"""

import math
from dataclasses import replace

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.light import linear_of
from ...maths.steps import smoothstep
from ...model.cache import SharedCache
from ...model.look import shape_keeping
from ...model.sitting import Original, Sitting
from ...understanding.building.planes import built_of
from ..shared.environment import room
from ..shared.grounds import GROUNDS, board
from ..shared.relight import developed, glow_of, worded_as
from ..shared.shading import Lamp, Surface, shade
from ..shared.texture import over
from ..shared.wishes import said
from .finishes import FINISHES, Finish
from .goods import Goods, take_goods_apart
from .wishes import wishes

# What goes together: body, top, side, base, detail.
_SETS = (
    ("enamel", "enamel", "wood", "steel", "steel"),
    ("ceramic", "ceramic", "ceramic", "wood", "brass"),
    ("matt", "brass", "brass", "matt", "brass"),
    ("copper", "copper", "wood", "copper", "brass"),
    ("steel", "steel", "rubber", "steel", "rubber"),
    ("plastic", "plastic", "rubber", "rubber", "steel"),
)
# Share of the outline that must be seen, or the look says that it isn't.
_CLEAR = 0.9
# Share of the picture's upper edge and sides that a thing reaches when it runs out of the picture.
_LEAVES = 0.03
_PARTS = ("body", "top", "side", "base", "detail")
# Colours of bodies, OKLab.
_COLOURS = ((0.55, 0.16, 0.09), (0.45, -0.03, -0.09), (0.60, -0.07, 0.03), (0.82, 0.01, 0.10), (0.90, 0.0, 0.02), (0.40, -0.05, 0.01), (0.68, 0.09, 0.02))  # fmt: skip
_PAPERS = ((0.44, 0.46, 0.45), (0.62, 0.58, 0.52), (0.30, 0.36, 0.40), (0.66, 0.52, 0.44), (0.50, 0.55, 0.48))


def goods_of(original: Original, cache: SharedCache) -> Goods | None:
    """The product taken apart, once a source."""

    def known() -> Goods | None:
        goods = take_goods_apart(np.ascontiguousarray(original.lab[..., 0]))
        return None if goods is not None and _is_building(goods, original, cache) else goods

    return known() if original.key is None else cache.get(("goods", original.key), known)


def _is_building(goods: Goods, original: Original, cache: SharedCache) -> bool:
    """Whether what was found runs out of the picture and is a building: no thing that stands in a studio."""
    thing = goods.thing
    leaves = float(np.concatenate([thing[0], thing[:, 0], thing[:, -1]]).mean()) > _LEAVES
    return leaves and built_of(original, cache).sure


def _remarks(original: Original, cache: SharedCache) -> list[str]:
    goods = goods_of(original, cache)
    return ["thing"] if goods is None else [] if goods.clear > _CLEAR else ["outline"]


def _chosen(goods: Goods, sitting: Sitting) -> list[tuple[Finish, AnyArray]]:
    """Finish and linear colour of every part."""
    random = sitting.random("finishes")
    own = dict(zip(_PARTS, _SETS[int(random.integers(len(_SETS)))], strict=True))
    painted = np.array(_COLOURS[int(random.integers(len(_COLOURS)))], f32)
    asked = wishes(sitting.prompt)
    body = asked.get("body")
    if body is not None and body.colour is not None:
        painted = body.colour
    found = []
    for role in goods.roles:
        wish = asked.get(role)
        # A lid is of the body's finish unless words or the set say otherwise.
        kind = (
            wish.finish
            if wish and wish.finish
            else body.finish
            if body and body.finish and own[role] == own["body"]
            else own[role]
        )
        finish = FINISHES[kind or own["body"]]
        lab = wish.colour if wish and wish.colour is not None else painted if finish.colour is None else None
        colour = linear_of(lab[None])[0] if lab is not None else np.array(finish.colour, f32)
        found.append((finish, np.clip(colour, 0.01, 0.9)))
    return found


def _surface(goods: Goods, sitting: Sitting, fine: float) -> tuple[Surface, Float]:
    """Surface of all parts, and their metal (h, w)."""
    shape = goods.parts.shape
    albedo = np.full((*shape, 3), 0.4, f32)
    planes = {name: np.zeros(shape, f32) for name in ("rough", "metal", "coat")}
    for k, (finish, colour) in enumerate(_chosen(goods, sitting)):
        mask = goods.parts == k
        albedo[mask] = colour
        if finish.wood:
            late = (colour * 0.42).astype(f32)
            turned = math.radians(50) if goods.roles[k] == "side" else 0.0
            grained, _ = board(
                shape[0], shape[1], sitting.random(f"wood{k}"), colour * 1.25, late, 0.5 * goods.unit, turned
            )
            albedo[mask] = grained[mask]
        for name, value in (("rough", finish.rough), ("metal", finish.metal), ("coat", finish.coat)):
            planes[name][mask] = value
    rough = np.clip(planes["rough"] * np.exp(-0.9 * sitting.words.get("polish", 0.0)) * (1.25 - 0.25 * fine), 0.05, 1)
    height = np.zeros(shape, f32)
    surface = Surface(
        height, albedo, rough.astype(f32), planes["metal"], 0.04, planes["coat"] * f32(min(fine, 1.0)), goods.normal
    )
    return surface, planes["metal"]


def _ground(goods: Goods, sitting: Sitting, light: Float) -> Float:
    """Paper behind and below, with the render's own light on it; boards or stone below where words ask for them."""
    random = sitting.random("ground")
    paper = np.array(_PAPERS[int(random.integers(len(_PAPERS)))], f32)
    height, width = light.shape
    level = np.maximum(goods.backdrop, 0.05) ** 3
    level = level / max(float(np.percentile(level, 90)), 0.05)
    out = paper * np.clip(level, 0.15, 1.3)[..., None]
    asked = {name: amount for name, amount in sitting.words.items() if name in GROUNDS and amount > 0}
    if asked:
        kind = max(asked, key=lambda name: asked[name])
        ys, xs = np.mgrid[0:height, 0:width].astype(f32)
        things = np.flatnonzero(goods.thing.any(1))
        edge = min(goods.foot - 0.35 * np.ptp(things), 0.7 * height)
        far = 1 / (np.clip((ys - edge) / max(height - edge, 1), 0, 1) + 0.28)
        table = GROUNDS[kind](height * 2, width * 2, random, 1.5 * goods.unit, None).albedo
        seen = cv2.remap(
            table.astype(f32),
            ((xs - width / 2) * far * 0.55 + width).astype(f32),
            np.clip(far * height * 0.42, 0, 2 * height - 1).astype(f32),
            cv2.INTER_AREA,
            borderMode=cv2.BORDER_REFLECT,
        )
        on = smoothstep(edge - 1.5 * goods.unit, edge + 1.5 * goods.unit, ys)[..., None]
        out = out * (1 - on) + seen.reshape(out.shape) * 1.15 * on
    return (out * (0.18 + 0.82 * goods.shade)[..., None]).astype(f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an untextured product (h, w, 3) OKLab in its finishes. About .3 s at 512 px, as long once for its parts."""
    original = sitting.original or Original(lab, None)
    goods = goods_of(original, sitting.cache)
    light = np.ascontiguousarray(original.lab[..., 0])
    linear = (light**3).astype(f32)
    if goods is None:
        # Nothing stands out of the picture: it stays as it is, in the light of the studio.
        return developed(np.array((0.60, 0.585, 0.56), f32) * linear[..., None])
    fine = min(sitting.guidance / 7, 1.6) * (0.5 + 0.5 * sitting.strength)
    surface, metal = _surface(goods, sitting, fine)
    own = linear / max(float(np.percentile(linear[goods.thing], 95)), 0.05)
    kind = ("studio", "window", "metal", "horizon")[int(sitting.random("room").integers(4))]
    lamp = Lamp(np.array((-0.5, -0.6, 0.62), f32), (0.0, 0.0, 0.0), room(kind), ambient=0.0)
    ones = np.ones(light.shape, f32)
    mirrored = shade(surface, lamp, goods.unit, lit=ones, seen=np.clip(own, 0.35, 1).astype(f32))
    dull = surface.albedo * ((1 - metal) * np.clip(own, 0, 1.15))[..., None] * 0.95
    thing = dull + mirrored * np.clip(0.35 + 0.75 * own, 0.35, 1.1)[..., None]
    ground = _ground(goods, sitting, light)
    cover = blur(goods.thing.astype(f32), 0.7 * goods.unit)[..., None]
    rows = np.arange(light.shape[0])
    flipped = np.clip(2 * goods.foot - rows, 0, light.shape[0] - 1)
    mirror = blur((thing * cover)[flipped], 2.5 * goods.unit) * (rows > goods.foot - 8 * goods.unit)[:, None, None]
    near = smoothstep(goods.foot + 90 * goods.unit, goods.foot, rows.astype(f32))[:, None, None]
    out = over(ground + 0.14 * mirror * near, thing, cover[..., 0])
    out = out + glow_of(out, goods.unit)
    return (developed(out * 0.9) + worded_as(lab, original.lab, 0.3, 0.0)).astype(f32)


LOOK = replace(
    shape_keeping(
        "product",
        "Product",
        "product",
        "render",
        "An untextured product in its finishes, lit in a studio: enamel, ceramic, steel, brass, copper, wood, rubber. Say them by "
        "part: red enamel body, brass lid, walnut handle, on wood.",
        paint,
        0.4,
        _remarks,
    ),
    hears=lambda phrase: said(wishes(phrase)),
)
