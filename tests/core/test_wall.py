"""Walls on paper."""

import itertools
import json
import unittest
from pathlib import Path

import numpy as np

from warmtide.core.export.pages import as_pdf, as_picture
from warmtide.core.export.wall import Hung, WallWish, rows, wall_pages

CASES = json.loads((Path(__file__).parent.parent / "fixtures" / "rows.json").read_text())


class Rows(unittest.TestCase):
    def test_as_the_browser_lays_them(self) -> None:
        for case in CASES:
            shapes = [(aspect, size) for aspect, size in case["shapes"]]
            found = [p for row in rows(shapes, case["width"], case["usual"], case["gap"], case["below"]) for p in row]
            told = [[p.index, p.x, p.y, p.width, p.height] for p in found]
            np.testing.assert_allclose(
                np.array(told).ravel(), np.array(case["placed"]).ravel(), atol=1e-3, err_msg=case["says"]
            )

    def test_rows_fill_the_width_and_nothing_overlaps(self) -> None:
        rng = np.random.default_rng(3)
        shapes = [(float(rng.uniform(0.4, 2.5)), float(rng.choice([0.5, 1, 1, 1.6, 2.4]))) for _ in range(40)]
        found = rows(shapes, 900, 140, 8)
        self.assertEqual([p.index for row in found for p in row], list(range(40)), "in their order, each once")
        for row in found[:-1]:
            self.assertAlmostEqual(row[-1].x + row[-1].width, 900, 6)
        for row, below in itertools.pairwise(found):
            foot = {round(p.y + p.height, 6) for p in row}
            self.assertEqual(len(foot), 1, "on one line")
            self.assertGreaterEqual(min(p.y for p in below), foot.pop() + 8 - 1e-6)
        for p in (p for row in found for p in row):
            self.assertAlmostEqual(p.width / p.height, shapes[p.index][0], 6)


class Paper(unittest.TestCase):
    def hung(self, count: int, size: float = 1.0) -> list[Hung]:
        return [Hung(np.full((60, 90, 3), 9 * k % 256, np.uint8), size, f"picture {k}") for k in range(count)]

    def test_pages_hold_every_picture_once_within_their_edges(self) -> None:
        pages = wall_pages(self.hung(40), WallWish(title="Kept", paper="a4"))
        self.assertGreater(len(pages), 1)
        self.assertEqual(sum(len(page.spots) for page in pages), 40)
        for page in pages:
            for spot in page.spots:
                self.assertLessEqual(spot.x + spot.width, page.width - 35.9)
                self.assertLessEqual(spot.y + spot.height + 10 * len(spot.entry.lines), page.height - 35.4)
        self.assertTrue(as_pdf(pages).startswith(b"%PDF"))

    def test_one_that_is_higher_than_the_page_is_fitted(self) -> None:
        tall = [Hung(np.zeros((900, 60, 3), np.uint8), 3.0, "")]
        (page,) = wall_pages(tall, WallWish(paper="a5"))
        (spot,) = page.spots
        self.assertLessEqual(spot.y + spot.height, page.height - 35.9)
        self.assertEqual(as_picture(page, 72).shape[:2], (round(page.height), round(page.width)))
