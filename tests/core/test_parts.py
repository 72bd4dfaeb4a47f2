"""What was made by hand on the way to a picture, carried in every format that a file has."""

import hashlib
import unittest
from typing import Any

import numpy as np

from tests.pictures import harbour
from warmtide.core.export.files.kind import Wish
from warmtide.core.export.files.registry import format_named
from warmtide.core.export.write import written
from warmtide.core.job.parts import carried_parts, named, with_parts
from warmtide.core.model.errors import BadInput
from warmtide.core.pictures.inside import recipe_inside

PARTS = {
    hashlib.sha256(data).hexdigest(): data for data in (b"region", b"mask" * 9, np.random.default_rng(1).bytes(3 << 20))
}
REGION, MASK, STROKE = PARTS


def way() -> dict[str, Any]:
    """A take in a region, of a picture touched by hand."""
    layer = {"picture": STROKE, "mask": MASK}
    made = {"picture": "0" * 64, "mask": None}
    stacked = {"stacked": {"layers": [layer, made]}, "ways": {"0" * 64: {"recipe": {}}}}
    return {"recipe": {}, "guides": {"region": REGION, "depth": None}, "from": stacked}


class Parts(unittest.TestCase):
    def test_all_that_can_not_be_made_again_is_named_and_nothing_else(self) -> None:
        self.assertEqual(set(named(way())), set(PARTS))
        self.assertEqual(next(named({"cut": {"subject": REGION}, "of": {"from": way()}})), REGION)
        self.assertEqual(list(named({"mixed": [{"of": way()}, {"of": {"original": "x"}}]})), list(named(way())))

    def test_the_smallest_go_first_and_what_is_gone_is_left_out(self) -> None:
        room = with_parts(way(), PARTS.__getitem__, most=1000)
        self.assertEqual(set(carried_parts(room)), {REGION, MASK})
        some = with_parts(way(), {REGION: PARTS[REGION]}.__getitem__)
        self.assertEqual(carried_parts(some), {REGION: PARTS[REGION]})
        self.assertEqual(with_parts({"recipe": {}}, PARTS.__getitem__), {"recipe": {}})

    def test_every_format_carries_megabytes_of_them_but_jpeg(self) -> None:
        inside = with_parts(way(), PARTS.__getitem__)
        picture = harbour(64, 96, 1)
        for name in ("png", "tiff", "webp", "avif"):
            for depth in (8, 16) if format_named(name).deep else (8,):
                found = recipe_inside(written(picture, format_named(name), Wish(depth=depth), inside))
                self.assertEqual(carried_parts(found or {}), PARTS, (name, depth))
        found = recipe_inside(written(picture, format_named("jpeg"), Wish(), inside)) or {}
        self.assertEqual((found["from"], "parts" in found), (inside["from"], False))
        small = {**inside, "parts": {REGION: inside["parts"][REGION]}}
        found = recipe_inside(written(picture, format_named("jpeg"), Wish(), small)) or {}
        self.assertEqual(set(carried_parts(found)), {REGION})

    def test_a_part_that_is_not_what_it_says_is_refused(self) -> None:
        for text in ("QUJD", "no base64", 7):
            with self.assertRaisesRegex(BadInput, "damaged"):
                carried_parts({"parts": {REGION: text}})
