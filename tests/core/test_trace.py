"""Pictures as curves: areas that meet, corners, holes, lines; drawn again by a program that did not write them."""

import io
import itertools
import re
import subprocess
import unittest
from xml.etree import ElementTree

import cv2
import numpy as np
from PIL import Image

from tests.pictures import disc_on_ground, harbour, lettering
from warmtide.core.finish.trace.areas import lines_of, shapes_of, traced_areas
from warmtide.core.finish.trace.curves import corners_of, smooth_curve
from warmtide.core.finish.trace.drawing import Drawing, svg_of
from warmtide.core.finish.trace.network import AROUND, borders_of
from warmtide.core.finish.trace.trace import as_what, traced
from warmtide.core.maths.arrays import Byte, Int, Mask
from warmtide.core.model.errors import BadInput

NAMESPACE = "{http://www.w3.org/2000/svg}"


def drawn(drawing: Drawing, ground: str = "white", times: int = 1) -> Byte:
    """A drawing as another program draws it."""
    text = svg_of(drawing)
    data = subprocess.run(
        ["rsvg-convert", "-b", ground, "-w", str(drawing.width * times), "-h", str(drawing.height * times)],
        input=text.encode(), capture_output=True, check=True,
    ).stdout  # fmt: skip
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def shared(one: Mask, other: Mask) -> float:
    """Intersection over union."""
    return float((one & other).sum() / (one | other).sum())


def poster(size: int = 240) -> Byte:
    """Flat art with a corner, a curve, a hole, and three areas that meet."""
    picture = np.full((size * 4, size * 4, 3), (240, 232, 214), np.uint8)
    cv2.rectangle(picture, (120, 120), (700, 620), (32, 60, 80), -1)
    cv2.circle(picture, (640, 560), 220, (214, 96, 52), -1)
    cv2.circle(picture, (640, 560), 90, (240, 232, 214), -1)
    cv2.fillPoly(picture, [np.array([[180, 900], [420, 700], [600, 900]])], (90, 140, 90))
    return np.asarray(cv2.resize(picture, (size, size), interpolation=cv2.INTER_AREA), np.uint8)


def _steps(labels: Int) -> dict[int, list[tuple[tuple[int, int], tuple[int, int]]]]:
    """The cracks around every area."""
    found: dict[int, list[tuple[tuple[int, int], tuple[int, int]]]] = {}
    for border in borders_of(labels):
        corners = [(int(x), int(y)) for x, y in border.corners]
        for area in (border.left, border.right):
            if area >= 0:
                found.setdefault(area, []).extend(itertools.pairwise(corners))
    return found


class Network(unittest.TestCase):
    def test_every_line_is_found_once_with_what_lies_beside_it(self) -> None:
        labels = np.array([[0, 0, 1], [0, 2, 1], [0, 2, 1]], np.int32)
        borders = borders_of(labels)
        self.assertEqual(sum(len(b.corners) - 1 for b in borders), 3 * 4 + 6)
        beside = sorted(tuple(sorted((b.left, b.right))) for b in borders)
        self.assertEqual(sorted(set(beside)), [(AROUND, 0), (AROUND, 1), (AROUND, 2), (0, 1), (0, 2), (1, 2)])
        # Walked along, what is at the left has the smaller turn to the left.
        for border in borders:
            (x, y), (to_x, to_y) = border.corners[0], border.corners[1]
            mx, my = (x + to_x) / 2, (y + to_y) / 2
            lx, ly = mx + 0.5 * (to_y - y), my - 0.5 * (to_x - x)
            inside = 0 <= lx < 3 and 0 <= ly < 3
            self.assertEqual(border.left, labels[int(ly), int(lx)] if inside else AROUND)

    def test_areas_of_any_labels_cover_each_pixel_once(self) -> None:
        random = np.random.default_rng(5)
        for size, kinds in ((3, 2), (7, 3), (12, 4)):
            labels = random.integers(0, kinds, (size, size)).astype(np.int32)
            # As steps of pixels, without curves: what is right of every pixel's middle is counted.
            for area, sides in _steps(labels).items():
                inside = np.zeros(labels.shape, bool)
                for y in range(size):
                    for x in range(size):
                        crossed = sum(
                            1
                            for a, b in sides
                            if a[0] == b[0] and a[0] > x + 0.5 and min(a[1], b[1]) < y + 0.5 < max(a[1], b[1])
                        )
                        inside[y, x] = crossed % 2 == 1
                np.testing.assert_array_equal(inside, labels == area)
            for shape in shapes_of(lines_of(labels, 1.0)).values():
                for ring in shape.rings:
                    np.testing.assert_allclose(ring[0].pieces[0, 0], ring[-1].pieces[-1, 3])

    def test_a_chess_board_is_closed(self) -> None:
        labels = np.array([[0, 1], [2, 3]], np.int32)
        shapes = shapes_of(lines_of(labels, 1.0))
        for shape in shapes.values():
            (ring,) = shape.rings
            np.testing.assert_array_equal(ring[0].pieces[0, 0], ring[-1].pieces[-1, 3])


class Curves(unittest.TestCase):
    def test_a_circle_is_few_curves_and_a_square_four_lines(self) -> None:
        angle = np.linspace(0, 2 * np.pi, 400, endpoint=False)
        circle = np.stack([50 + 30 * np.cos(angle), 50 + 30 * np.sin(angle)], 1)
        found = smooth_curve(circle, True, 0.4)
        self.assertLessEqual(found.nodes, 8)
        middle = (found.pieces[:, 0] + 3 * found.pieces[:, 1] + 3 * found.pieces[:, 2] + found.pieces[:, 3]) / 8
        np.testing.assert_allclose(np.hypot(*(middle - 50).T), 30, atol=0.6)
        side = np.arange(0, 40, 1.0)
        square = np.concatenate([
            np.stack([side, 0 * side], 1), np.stack([0 * side + 40, side], 1), np.stack([40 - side, 0 * side + 40], 1), np.stack([0 * side, 40 - side], 1)
        ])  # fmt: skip
        self.assertEqual(sorted(corners_of(square, True)), [0, 40, 80, 120])
        self.assertEqual(
            (smooth_curve(square, True, 0.4).nodes, bool(smooth_curve(square, True, 0.4).straight.all())), (4, True)
        )


class Areas(unittest.TestCase):
    def test_flat_art_comes_back(self) -> None:
        for name, picture in (("poster", poster()), ("disc", disc_on_ground(160, 160))):
            drawing = traced_areas(picture)
            with self.subTest(name):
                again = drawn(drawing)
                for group in drawing.groups:
                    colour = np.array([int(group.colour[k : k + 2], 16) for k in (1, 3, 5)])
                    one, other = (np.abs(p.astype(int) - colour).sum(2) < 150 for p in (picture, again))
                    self.assertGreater(shared(one, other), 0.985, group.colour)
                self.assertLess(drawing.nodes, 80)

    def test_areas_meet_without_gaps(self) -> None:
        # On black nothing black shows between them.
        again = drawn(traced_areas(poster()), "black", times=4)
        self.assertGreater(int(again.max(2).min()), 70)
        drawing = traced_areas(poster())
        ends = {
            tuple(np.round(p, 6))
            for g in drawing.groups
            for s in g.shapes
            for r in s.rings
            for c in r
            for p in c.pieces[:, 0]
        }
        self.assertIn((0.0, 0.0), ends)

    def test_holes_are_holes_and_colours_are_as_many_as_wished(self) -> None:
        drawing = traced_areas(poster())
        disc = next(g for g in drawing.groups if int(g.colour[1:3], 16) > 190 and int(g.colour[5:7], 16) < 90)
        self.assertEqual([len(shape.rings) for shape in disc.shapes], [2])
        self.assertEqual(len(traced_areas(harbour(96, 144, 1), 4).groups), 4)
        self.assertEqual(len({g.name for g in drawing.groups}), len(drawing.groups))

    def test_colours_can_be_others(self) -> None:
        drawing = traced_areas(disc_on_ground(96, 96))
        text = svg_of(drawing, {drawing.groups[0].colour: "#123456"})
        root = ElementTree.fromstring(text)
        fills = {group.get("id"): group.get("fill") for group in root.iter(f"{NAMESPACE}g")}
        self.assertEqual((fills["colour-1"], fills["joints-1"]), ("#123456", "none"))
        self.assertEqual(root.get("viewBox"), "0 0 96 96")


class Lines(unittest.TestCase):
    def setUp(self) -> None:
        self.picture = np.full((200, 300, 3), 255, np.uint8)
        cv2.line(self.picture, (30, 30), (270, 30), (20, 20, 20), 6, cv2.LINE_AA)
        cv2.circle(self.picture, (90, 120), 50, (20, 20, 20), 3, cv2.LINE_AA)
        cv2.line(self.picture, (180, 80), (270, 170), (20, 20, 20), 3, cv2.LINE_AA)

    def test_a_line_is_a_stroke_by_its_middle_as_wide_as_it_is(self) -> None:
        drawing = traced(self.picture, "lines")
        widths = sorted(shape.width for group in drawing.groups for shape in group.shapes if shape.width is not None)
        self.assertEqual(len(widths), 3)
        # As wide as the darkness of a row or a column across it.
        across = [
            (255 - p.astype(float)).sum() / 235 for p in (self.picture[120, 100:160, 0], self.picture[20:40, 100, 0])
        ]
        np.testing.assert_allclose(widths, (across[0], across[0], across[1]), atol=0.5)
        middle = min((s for g in drawing.groups for s in g.shapes), key=lambda s: -(s.width or 0))
        np.testing.assert_allclose(middle.rings[0][0].pieces[..., 1], 30.5, atol=0.8)
        dark = [p.mean(2) < 128 for p in (self.picture, drawn(drawing))]
        self.assertGreater(shared(*dark), 0.85)

    def test_outlines_are_nearer_still_and_letters_keep_their_holes(self) -> None:
        for picture in (self.picture, lettering()):
            drawing = traced(picture, "outlines")
            dark = [cv2.resize(p, None, fx=4, fy=4, interpolation=cv2.INTER_CUBIC).mean(2) < 128 for p in (picture,)]
            dark.append(drawn(drawing, times=4).mean(2) < 128)
            self.assertGreater(shared(*dark), 0.93)
        circles = [s for s in traced(self.picture, "outlines").groups[-1].shapes if len(s.rings) == 2]
        self.assertEqual(len(circles), 1)

    def test_areas_between_lines_are_closed_and_can_be_coloured_without_leaks(self) -> None:
        # A circle with a gap is an area of its own, and its colour reaches its line all around.
        cv2.line(self.picture, (90, 64), (90, 76), (255, 255, 255), 2)
        drawing = traced(self.picture, "outlines")
        areas = drawing.groups[0]
        self.assertEqual((areas.name, len(areas.shapes)), ("areas", 2))
        disc = min(areas.shapes, key=lambda s: float(np.ptp(s.rings[0][0].pieces[..., 0])))
        points = np.concatenate([curve.pieces.reshape(-1, 2) for curve in disc.rings[0]])
        apart = np.hypot(*(points - (90.5, 120.5)).T)
        self.assertGreater(float(np.percentile(apart, 10)), 47)
        self.assertLess(float(np.median(apart)), 53)

    def test_what_is_filled_in_stays_filled(self) -> None:
        cv2.circle(self.picture, (90, 120), 30, (20, 20, 20), -1, cv2.LINE_AA)
        drawing = traced(self.picture, "lines")
        self.assertEqual([group.name for group in drawing.groups], ["areas", "filled", "lines"])


class Asked(unittest.TestCase):
    def test_by_its_kind_or_as_told(self) -> None:
        self.assertEqual(as_what(poster()), "areas")
        self.assertEqual(len(traced(np.full((40, 40, 3), 200, np.uint8), "areas").groups), 1)
        self.assertEqual(traced(np.full((40, 40, 3), 255, np.uint8), "lines").groups, ())
        for how, colours, says in (
            ("pixels", None, "areas, lines, outlines"),
            ("areas", 1, "2 to 32"),
            ("areas", 99, "2 to 32"),
        ):
            with self.assertRaisesRegex(BadInput, says):
                traced(poster(), how, colours)
        with self.assertRaisesRegex(BadInput, "4096"):
            traced(np.zeros((10, 5000, 3), np.uint8))

    def test_a_long_line_that_swells_and_thins_is_parted_without_end_to_the_stack(self) -> None:
        picture = np.full((60, 3000, 3), 255, np.uint8)
        for x in range(0, 3000, 6):
            cv2.line(picture, (x, 30), (x + 6, 30), (0, 0, 0), 3 + 10 * (x // 60 % 2), cv2.LINE_AA)
        widths = [s.width for g in traced(picture, "lines").groups for s in g.shapes if s.width is not None]
        self.assertGreater(len(widths), 40)

    def test_titles_are_text(self) -> None:
        text = svg_of(traced(poster(), title="<script>&"))
        self.assertIsNone(re.search("<script", text))
        ElementTree.fromstring(text)
