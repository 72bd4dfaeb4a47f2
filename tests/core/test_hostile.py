"""Whatever is wrong with a file, it is a picture or one sentence; and an SVG is searched in one walk."""

import contextlib
import io
import subprocess
import sys
import time
import unittest

import numpy as np
from PIL import Image

from tests.hostile import files
from tests.pictures import as_file, harbour
from tests.stack import ROOT
from warmtide.core.looks.learned.dictionary import read
from warmtide.core.model.errors import BadInput
from warmtide.core.pictures.image import decode
from warmtide.core.pictures.svg import font_files
from warmtide.core.pictures.svg_text import TEXT_LIMIT, checked, fonts_of, size_of, svg_colours, svg_recoloured

_HEAD = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20">'


class Mutated(unittest.TestCase):
    def test_pictures_and_looks_are_read_or_refused(self) -> None:
        outcomes = {"read": 0, "refused": 0}
        # Each SVG is drawn by a process of its own, which takes a while; bench/hostile.py has thousands.
        for number, (name, data) in enumerate(files(1200, 3)):
            if name == "svg" and number % 90:
                continue
            try:
                if name == "look":
                    read(data)
                else:
                    picture = decode(data, 64 if number % 2 else None)
                    self.assertEqual((picture.rgba.dtype, picture.rgba.shape[2]), (np.uint8, 4))
                outcomes["read"] += 1
            except BadInput as error:
                outcomes["refused"] += 1
                self.assertEqual(str(error).count("\n"), 0)
        self.assertGreater(outcomes["read"], 100)
        self.assertGreater(outcomes["refused"], 300)


class Large(unittest.TestCase):
    def test_a_very_large_picture_is_made_smaller_while_it_is_read(self) -> None:
        whole = np.zeros((5000, 6000, 4), np.uint8)
        whole[:, :3000] = (200, 40, 20, 255)
        whole[:, 3000:] = (20, 40, 200, 0)
        data = as_file(whole)
        picture = decode(data, 500)
        self.assertEqual(picture.whole, (5000, 6000))
        self.assertEqual(picture.rgba.shape, (417, 500, 4))
        # Clear colour does not shine into what is solid.
        np.testing.assert_array_equal(picture.rgba[200, 100], (200, 40, 20, 255))
        self.assertEqual(int(picture.rgba[200, 450, 3]), 0)
        self.assertEqual(decode(as_file(harbour()), 16).rgba.shape[:2], (96, 144))

    def test_a_hundred_megapixels_take_half_a_gigabyte_in_every_mode(self) -> None:
        for mode in ("RGB", "RGBA", "LA", "P"):
            with self.subTest(mode=mode):
                self.memory_of(mode)

    def memory_of(self, mode: str) -> None:
        program = (
            "import io, re; from pathlib import Path; from PIL import Image; from warmtide.core.pictures.image import decode\n"
            "out = io.BytesIO(); Image.new('MODE', (16384, 6100)).save(out, 'PNG', compress_level=1)\n"
            "shape = decode(out.getvalue(), 1280).rgba.shape\n"
            # Its own, not what it had of the process that began it.
            "print(*shape, int(re.search(r'VmHWM:\\s+(\\d+)', Path('/proc/self/status').read_text())[1]) // 1000)"
        ).replace("MODE", mode)
        run = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, cwd=ROOT, check=True)
        *shape, megabytes = (int(word) for word in run.stdout.split())
        self.assertGreaterEqual(shape[1], 1280)
        self.assertLess(megabytes, 650)

    def test_a_turn_noted_in_a_picture_of_sixteen_bits_is_made(self) -> None:
        exif = Image.Exif()
        exif[0x0112] = 6
        grey = Image.fromarray(np.repeat(np.linspace(0, 65535, 40, dtype=np.uint16)[None], 20, 0))
        out = io.BytesIO()
        grey.save(out, "PNG", exif=exif)
        picture = decode(out.getvalue())
        self.assertEqual(picture.rgba.shape[:2], (40, 20))
        self.assertLess(int(picture.rgba[0, 0, 0]), int(picture.rgba[-1, 0, 0]))


class Svg(unittest.TestCase):
    def test_every_unit_of_length(self) -> None:
        for size in ('width="40mm" height="20mm"', 'width="4cm" height="2cm"', 'width="2in" height="1in"',
                     'width="144pt" height="72pt"', 'width="12pc" height="6pc"', 'width="80" height="40px"',
                     'width="100%" height="100%" viewBox="0,0 1e2 50"', 'viewBox="-3 -3 .4e1 +2"'):  # fmt: skip
            with self.subTest(size=size):
                self.assertEqual(size_of(f"<svg {size}>"), (2048, 1024))
        self.assertEqual(size_of("<svg>"), (2048, 2048))
        for size in ('viewBox="0 0 0 0"', 'viewBox="0 0 -4 2"', 'width="0" height="0" viewBox="0 0 1e999 1"'):
            with self.assertRaisesRegex(BadInput, "viewBox"):
                size_of(f"<svg {size}>")

    def test_a_drawing_in_millimetres_is_drawn(self) -> None:
        data = b'<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="20mm"><rect width="50%" height="100%" fill="#c02010"/></svg>'
        picture = decode(data, 400)
        self.assertEqual(picture.rgba.shape, (200, 400, 4))
        self.assertEqual(tuple(picture.rgba[100, 100]), (192, 32, 16, 255))
        self.assertEqual(int(picture.rgba[100, 300, 3]), 0)

    def test_words_are_drawn_with_fonts_that_ship_and_others_are_named(self) -> None:
        self.assertEqual(len(font_files()), 8)
        for family, noted in (("Helvetica Neue, Arial", True), ("Source Sans Pro", False), ("serif", False)):
            data = f'{_HEAD}<text x="2" y="16" font-size="16" font-family="{family}">Tide</text></svg>'.encode()
            picture = decode(data, 400)
            self.assertGreater(int((picture.rgba[..., 3] > 128).sum()), 2000, family)
            said = [note for note in picture.notes if "Words in" in note]
            self.assertEqual(bool(said), noted, family)
            if noted:
                self.assertIn("Helvetica Neue are drawn in Source Sans Pro", said[0])
        self.assertEqual(fonts_of("<svg font-family='Lamp'><rect/></svg>"), [])

    def test_searches_take_one_walk(self) -> None:
        def seconds(times: int, piece: str, before: str = _HEAD) -> float:
            text = before + piece * times
            began = time.process_time()
            with contextlib.suppress(BadInput):
                size_of(checked(text.encode()))
            fonts_of(text + "<text")
            svg_colours(text.encode())
            svg_recoloured(text.encode(), {"#000000": "#ffffff"})
            return time.process_time() - began

        pieces = (
            "<!DOCTYPE",
            "<style>",
            "<!--",
            "<svg ",
            "fill:rgb(",
            "fill   ",
            'font-family:"',
            "href='",
            "viewBox='",
            "<",
            "stroke=",
            " width='",
        )
        for piece in pieces:
            for before in (_HEAD, "<svg ", _HEAD + "<!--"):
                with self.subTest(piece=piece, before=before):
                    self.assertLess(seconds(40_000, piece, before), 1.5)

    def test_what_is_too_long_is_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "at most 16"):
            checked(b" " * (TEXT_LIMIT + 1))

    def test_paint_in_comments_is_left_alone(self) -> None:
        text = f'{_HEAD}<!-- fill="#111111" --><rect fill="#222222"/><style>.a{{stroke:#333333}}</style>fill: #444444</svg>'.encode()
        self.assertEqual(svg_colours(text), ["#222222", "#333333"])
        changed = svg_recoloured(text, {"#222222": "#aaaaaa", "#111111": "#bbbbbb"})
        self.assertIn(b'<!-- fill="#111111" --><rect fill="#aaaaaa"/>', changed)

    def test_what_takes_too_much_memory_or_time_to_draw_is_refused(self) -> None:
        nested = _HEAD
        for k in range(9):
            inner = "".join(f'<use href="#g{k}"/>' for _ in range(12)) if k else "<rect width='1' height='1'/>" * 12
            nested += f'<g id="g{k + 1}">{inner}</g>'
        nested += '<use href="#g9"/></svg>'
        began = time.monotonic()
        with self.assertRaises(BadInput):
            decode(nested.encode(), 512)
        self.assertLess(time.monotonic() - began, 30)


if __name__ == "__main__":
    unittest.main()
