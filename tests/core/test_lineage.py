"""How a picture came about: what changed, the tree, the way, the strip."""

import unittest

import numpy as np

from warmtide.core.export.pages import as_pdf, as_picture
from warmtide.core.export.strip import Shown, strip_page
from warmtide.core.lineage.changes import changes, span_said, values_said
from warmtide.core.lineage.tree import Node, known_parents, strip, told, way_to
from warmtide.core.model.recipe import Recipe

TITLES = {"oil": "Oil", "watercolour": "Watercolour"}


def recipe(**given: object) -> dict[str, object]:
    return Recipe().changed(**given).model_dump()


class Changes(unittest.TestCase):
    def test_every_kind_of_change_is_said_and_nothing_else(self) -> None:
        before = recipe(strength=0.45, prompt="mist, lanterns^1.2, boats", lines=0.7)
        after = recipe(
            strength=0.62, prompt="lanterns^1.5, boats, snow", lines=0.35, look="oil", second_look="watercolour"
        )
        self.assertEqual(
            changes(before, after, TITLES),
            (
                "Oil instead of Watercolour", "with Watercolour", "strength 0.45 to 0.62", "hold lines 0.70 to 0.35",
                "+ snow", "\u2212 mist", "lanterns 1.2 to 1.5",
            ),
        )  # fmt: skip
        self.assertEqual(changes(before, before, TITLES), ())

    def test_an_older_recipe_that_lacks_a_field_is_as_it_began(self) -> None:
        older = recipe(strength=0.5)
        del older["second_share"]
        older["holds"] = {"lines": 0.7, "shapes": 0.7, "colours": 0.3, "faces": 0.85}
        self.assertEqual(changes(older, recipe(strength=0.5), TITLES), ())

    def test_a_prompt_that_cannot_be_read_is_one_phrase(self) -> None:
        self.assertEqual(changes({"prompt": "mist^9"}, {"prompt": ""}, TITLES), ("\u2212 mist^9",))

    def test_spans_and_values(self) -> None:
        self.assertEqual(span_said("strength", [0.2, 0.4, 0.6, 0.8], TITLES), "strength 0.20 to 0.80 (4)")
        self.assertEqual(span_said("seed", [1, 7], TITLES), "seed 1, 7")
        self.assertEqual(span_said("look", ["oil", "watercolour"], TITLES), "Oil, Watercolour")
        self.assertEqual(span_said("prompt", ["a", "b"], TITLES), "2 versions of the prompt")
        self.assertEqual(
            values_said(recipe(seed=3), ["seed", "lines", "prompt"], TITLES),
            ("seed 3", "hold lines 0.70", "“no words”"),
        )


def study() -> list[Node]:
    """A photo, two sweeps, a carried-on take, a mix of two takes."""
    return [
        Node("source:m", "mixed", "Mixed", ("60 : 40",), "source:m", ("take:a", "take:b")),
        Node("take:b", "take", "Oil", ("strength 0.60",), "take:b", ("sweep:2",), recipe=recipe(strength=0.6, look="oil")),
        Node("sweep:2", "sweep", "Oil", (), None, ("take:a",), count=3, led=("in a region",)),
        Node("take:a", "take", "Watercolour", ("strength 0.40",), "take:a", ("sweep:1",), ("source:c",), recipe=recipe(strength=0.4)),
        Node("sweep:1", "sweep", "Watercolour", (), None, ("source:s",), count=5),
        Node("source:s", "source", "quay", (), "source:s"),
        Node("sweep:9", "sweep", "Gouache", (), None, ("source:s",)),
    ]  # fmt: skip


class Tree(unittest.TestCase):
    def test_each_step_stands_behind_what_it_came_from(self) -> None:
        ordered = [node.id for node in known_parents(study())]
        self.assertEqual(set(ordered), {node.id for node in study()})
        for node in study():
            for parent in node.parents:
                self.assertLess(ordered.index(parent), ordered.index(node.id))

    def test_the_way_holds_what_led_there_and_no_more(self) -> None:
        self.assertEqual(
            [n.id for n in way_to(study(), "take:b")], ["source:s", "sweep:1", "take:a", "sweep:2", "take:b"]
        )
        self.assertEqual(way_to(study(), "source:c")[-1].id, "take:a", "a carried-on take by its other name")
        self.assertEqual(len(way_to(study(), "source:m")), 6)
        self.assertEqual(way_to(study(), "take:gone"), ())

    def test_branches_stand_together_on_the_way(self) -> None:
        nodes = [
            Node("source:s", "source", "s", (), "source:s"),
            Node("take:x", "take", "x", (), "take:x", ("source:s",)),
            Node("take:a", "take", "a", (), "take:a", ("source:s",)),
            Node("take:b", "take", "b", (), "take:b", ("take:a",)),
            Node("source:m", "mixed", "m", (), "source:m", ("take:b", "take:x")),
        ]
        self.assertEqual(
            [n.id for n in way_to(nodes, "source:m")], ["source:s", "take:a", "take:b", "take:x", "source:m"]
        )

    def test_records_that_were_tampered_with_end_all_the_same(self) -> None:
        ring = [
            Node("source:a", "mixed", "a", (), None, ("source:b",)),
            Node("source:b", "mixed", "b", (), None, ("source:a",)),
        ]
        self.assertEqual({n.id: n.parents for n in known_parents(ring)}, {"source:a": (), "source:b": ("source:a",)})
        self.assertEqual(known_parents([Node("take:x", "take", "x", parents=("sweep:gone",))])[0].parents, ())

    def test_a_strip_leaves_sweeps_out_and_says_what_changed_between_takes(self) -> None:
        steps = strip(study(), "source:m", TITLES)
        self.assertEqual([step.id for step in steps], ["source:s", "take:a", "take:b", "source:m"])
        self.assertEqual([step.parents for step in steps], [(), ("source:s",), ("take:a",), ("take:a", "take:b")])
        self.assertEqual(steps[1].says, ("strength 0.40", "guidance 5.0", "seed 7"))
        self.assertEqual(steps[2].says, ("Oil instead of Watercolour", "strength 0.40 to 0.60", "in a region"))
        self.assertIn("3. Oil: Oil instead of Watercolour, strength 0.40 to 0.60", told(steps))


class Paper(unittest.TestCase):
    def shown(self, count: int, says: tuple[str, ...] = ("strength 0.45 to 0.62",)) -> list[Shown]:
        tall = [np.full((90, 60, 3), 40 * k % 256, np.uint8) for k in range(count)]
        return [Shown(picture, f"step {k}", says) for k, picture in enumerate(tall)]

    def test_steps_stand_in_rows_with_arrows_between_and_none_after_the_last(self) -> None:
        page = strip_page(self.shown(8), "quay")
        self.assertEqual((len(page.spots), len(page.arrows)), (8, 7))
        self.assertEqual(len({round(spot.y) for spot in page.spots}), 2)
        for spot in page.spots:
            self.assertLessEqual(spot.x + spot.width, page.width)
            self.assertLessEqual(spot.y + spot.height, page.height)
        self.assertAlmostEqual(page.spots[0].height / page.spots[0].width, 1.5, 3)

    def test_long_words_are_wrapped_and_what_has_no_room_is_counted(self) -> None:
        says = tuple(f"+ a phrase that goes on for rather long, the {k}th of them" for k in range(12))
        (spot,) = strip_page(self.shown(1, says), "").spots
        self.assertEqual(len(spot.entry.lines), 9)
        self.assertRegex(spot.entry.lines[-1], r"^and \d+ lines more$")

    def test_it_is_drawn_as_picture_and_as_pdf(self) -> None:
        page = strip_page(self.shown(3), "quay")
        picture = as_picture(page, 72)
        self.assertEqual(picture.shape[:2], (round(page.height), round(page.width)))
        x, y, length = page.arrows[0]
        self.assertLess(int(picture[round(y), round(x + length / 2)].min()), 128, "an arrow")
        self.assertTrue(as_pdf([page]).startswith(b"%PDF"))
