"""Takes by an engine at an address: made, read, followed, given up; and everything that an engine can answer wrongly."""

import tempfile
import time
import unittest
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np

from tests.engines.served import served, stand_in
from tests.pictures import harbour
from warmtide.core.job.engine import Work, add_engine, forget_engine
from warmtide.core.job.take import render
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import BadInput, Cancelled
from warmtide.core.model.guides import NO_GUIDES, Guides
from warmtide.core.model.recipe import Recipe
from warmtide.engines import line
from warmtide.engines.client import RemoteEngine, asked_about
from warmtide.engines.known import Entry, Known, checked_url, entries, keep
from warmtide.engines.line import Address
from warmtide.engines.stand_in import app as stand_in_app
from warmtide.launch.postgres import free_port

SOURCE = harbour(96, 144)
RECIPE = Recipe(engine="studio-a", look="day-bands", size=144, steps=8, strength=0.6)


def work(key: str = "1" * 64, guides: Guides = NO_GUIDES, **changes: Any) -> Work:
    return Work(SOURCE, RECIPE.changed(**changes), guides, key)


def silent(_: int, __: int) -> None:
    """Nobody watches."""


def engine_at(address: Address) -> RemoteEngine:
    return RemoteEngine(address, asked_about(address))


class Made(unittest.TestCase):
    def test_a_take_is_made_and_read_as_any_other(self) -> None:
        with stand_in() as address:
            engine = engine_at(address)
            add_engine(engine)
            self.addCleanup(forget_engine, "studio-a")
            told: list[tuple[int, int]] = []
            rendered = render(SOURCE, RECIPE, lambda done, of: told.append((done, of)))
            self.assertEqual(rendered.picture.shape, SOURCE.shape)
            self.assertIn((5, 5), told, "strength .6 of 8 steps are 5")
            figures = rendered.reading.figures
            self.assertTrue(0 < figures["composition"] <= 100)
            self.assertTrue(0 < figures["look"] < 100, "read against its own full rendering")
            full = render(SOURCE, RECIPE.changed(strength=1.0, lines=0.0)).reading.figures
            self.assertGreater(full["look"], figures["look"])

    def test_what_a_look_makes_wholly_is_asked_for_once_a_source(self) -> None:
        app = stand_in_app.create(stand_in_app.Manner(delay=0.02))
        with served(app) as url:
            add_engine(engine_at(Address(url)))
            self.addCleanup(forget_engine, "studio-a")
            cache = SharedCache()
            for seed, guidance, strength in ((1, 4.0, 0.3), (2, 7.0, 0.6), (3, 5.0, 1.0)):
                reading = render(
                    SOURCE, RECIPE.changed(seed=seed, guidance=guidance, strength=strength), cache=cache
                ).reading
                self.assertIsNotNone(reading.figures["look"])
            self.assertEqual(app.state.renders.begun, 3 + 1, "three takes, and once the whole")

    def test_equal_keys_are_one_render_and_others_are_others(self) -> None:
        with stand_in() as address:
            engine = engine_at(address)
            first, again = engine.render(work(), silent), engine.render(work(), silent)
            self.assertTrue(np.array_equal(first, again))
            other = engine.render(work("2" * 64, seed=8), silent)
            self.assertFalse(np.array_equal(first, other))

    def test_outside_a_region_not_one_bit_changes_whatever_the_engine_does(self) -> None:
        region: Byte = np.zeros((96, 144), np.uint8)
        region[:, :70] = 255
        for variant in ("a", "b"):
            with self.subTest(variant), stand_in(variant=variant) as address:
                engine = engine_at(address)
                look = engine.about.looks[0].name
                own = Work(SOURCE, RECIPE.changed(engine=engine.name, look=look), Guides(region=region), "3" * 64)
                picture = engine.render(own, silent)
                self.assertTrue(np.array_equal(picture[:, 70:], SOURCE[:, 70:]))
                self.assertFalse(np.array_equal(picture[:, :60], SOURCE[:, :60]))

    def test_a_draft_is_small_and_strength_nothing_is_the_source(self) -> None:
        with stand_in() as address:
            engine, big = engine_at(address), harbour(400, 600)
            draft = engine.render(Work(big, RECIPE.changed(size=600, quality="draft"), NO_GUIDES, "4" * 64), silent)
            self.assertLessEqual(max(draft.shape), 256)
            self.assertTrue(np.array_equal(engine.render(work("5" * 64, strength=0.0), silent), SOURCE))
            with self.assertRaisesRegex(BadInput, "a draft of this has 18"):
                engine.check(RECIPE.changed(size=64, quality="draft"), np.zeros((10, 18, 3), np.uint8), NO_GUIDES)

    def test_a_take_that_is_stopped_is_given_up_there_too(self) -> None:
        with stand_in(delay=20.0) as address:
            engine = engine_at(address)

            def stop(_: int, __: int) -> None:
                raise Cancelled

            began = time.monotonic()
            with self.assertRaises(Cancelled):
                engine.render(work(), stop)
            self.assertLess(time.monotonic() - began, 3)
            with self.assertRaises(line.Unknown):
                engine._line.asked("GET", "/renders/" + "1" * 64 + "/picture")

    def test_a_stop_is_heard_while_the_engine_says_nothing(self) -> None:
        with patch.object(stand_in_app, "_SILENCE", 3.0), stand_in(wrong="silent") as address:
            asked = [0]

            def stop(_: int, __: int) -> None:
                asked[0] += 1
                if asked[0] > 3:
                    raise Cancelled

            began = time.monotonic()
            with self.assertRaises(Cancelled):
                engine_at(address).render(work(), stop)
            self.assertLess(time.monotonic() - began, 3)

    def test_how_far_it_is_never_goes_back(self) -> None:
        with stand_in(delay=1.0) as address:
            told: list[int] = []
            engine_at(address).render(work(steps=30), lambda done, _: told.append(done))
            self.assertEqual(told, sorted(told), "previews and silence do not set it back")
            self.assertEqual(told[-1], 18, "strength .6 of 30 steps")


class Wrong(unittest.TestCase):
    def test_whatever_it_answers_wrongly_is_one_sentence(self) -> None:
        told = {
            "size": "72 x 48 px; 144 x 96 were asked for", "type": "no PNG", "cut": "damaged or cut short", "large": "more than the",
            "garbled": "a queued event that can't be read", "forgets": "forgets what it was asked for", "trace": "refused with status 500",
        }  # fmt: skip
        for wrong, words in told.items():
            with self.subTest(wrong), stand_in(wrong=wrong) as address:
                engine = engine_at(address)
                asked = work(look="no-such-look") if wrong == "trace" else work()
                with self.assertRaisesRegex(BadInput, words) as caught:
                    engine.render(asked, silent)
                self.assertTrue(str(caught.exception).startswith("Studio A"))
                self.assertNotIn("127.0.0.1", str(caught.exception), "addresses are the owner's alone")

    def test_a_stream_without_end_or_without_a_word_is_given_up(self) -> None:
        for wrong, words in (("flood", "MB of events"), ("silent", "does not answer"), ("undone", "does not answer")):
            with (
                self.subTest(wrong), stand_in(wrong=wrong) as address, patch.object(line, "SILENCE", 0.5), patch.object(stand_in_app, "_SILENCE", 1.0),
                patch.object(line, "STREAM_BYTES", 1_000_000), patch("warmtide.engines.client.GIVE_UP", 1.0), self.assertRaisesRegex(BadInput, words),
            ):  # fmt: skip
                engine_at(address).render(work(), silent)

    def test_it_is_not_taken_for_an_engine_if_it_is_none(self) -> None:
        for wrong, words in (
            ("about", "sizes: "),
            ("protocol", "version 99"),
            ("redirect", "points to another address"),
        ):
            with self.subTest(wrong), stand_in(wrong=wrong) as address, self.assertRaisesRegex(BadInput, words):
                asked_about(address)

    def test_a_failure_keeps_its_sentence(self) -> None:
        with (
            stand_in(fail=1.0) as address,
            self.assertRaisesRegex(BadInput, "^Studio A: The kiln went out; ask again.$"),
        ):
            engine_at(address).render(work(), silent)


class Away(unittest.TestCase):
    def test_one_that_is_away_says_so_in_five_seconds_and_then_at_once(self) -> None:
        with stand_in() as address:
            engine = engine_at(address)
        began = time.monotonic()
        with self.assertRaisesRegex(BadInput, "Studio A does not answer"):
            engine.render(work(), silent)
        self.assertLess(time.monotonic() - began, 5)
        began = time.monotonic()
        with self.assertRaisesRegex(BadInput, "does not answer"):
            engine.render(work(), silent)
        self.assertLess(time.monotonic() - began, 0.2)

    def test_one_that_comes_back_goes_on_with_what_it_was_asked(self) -> None:
        port = free_port()
        with stand_in(delay=8.0, port=port) as address:
            engine = engine_at(address)
            steps: list[int] = []

            def leave(done: int, _: int) -> None:
                steps.append(done)
                if done == 2:
                    raise InterruptedError

            with self.assertRaises(InterruptedError):
                engine.render(work(), leave)
        with stand_in(port=port):
            picture = engine.render(work(), silent)
        self.assertEqual(picture.shape, SOURCE.shape)

    def test_another_version_makes_no_take_that_was_planned_for_this_one(self) -> None:
        port = free_port()
        with stand_in(port=port, version="1") as address:
            engine = engine_at(address)
        with stand_in(port=port, version="2"), patch("warmtide.engines.client._SURE", 0.0):
            with self.assertRaisesRegex(BadInput, "is version 2 by now, and this take was planned for 1"):
                engine.render(work(), silent)
            self.assertEqual(engine.tag, "studio-a 2")


class Token(unittest.TestCase):
    def test_the_token_is_asked_for_read_from_its_file_and_never_told(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            token = Path(folder) / "token"
            token.write_text("s3cret-of-the-quay\n")
            with stand_in(token) as address:
                self.assertEqual(engine_at(address).render(work(), silent).shape, SOURCE.shape)
                with self.assertRaisesRegex(BadInput, "does not take the token"):
                    asked_about(Address(address.url))
                token.write_text("another")
                with self.assertRaisesRegex(BadInput, "does not take the token") as caught:
                    asked_about(address)
                self.assertNotIn("another", str(caught.exception).replace("another address", ""))
            for bad in ("", "two\nlines"):
                token.write_text(bad)
                with self.assertRaisesRegex(BadInput, "holds no token"):
                    address.token()

    def test_addresses_are_checked(self) -> None:
        for good in ("http://127.0.0.1:8900/", "https://studio.example", "http://localhost:1"):
            self.assertEqual(checked_url(good, True), good.rstrip("/"))
        self.assertEqual(checked_url("http://studio.example", False), "http://studio.example")
        for bad in ("ftp://a", "studio", "http://u:p@a", "http://a?x=1", "file:///etc/passwd", ""):
            with self.subTest(bad), self.assertRaisesRegex(BadInput, "is not an engine"):
                checked_url(bad, False)
        with self.assertRaisesRegex(BadInput, "in the clear"):
            checked_url("http://studio.example", True)


class KnownEngines(unittest.TestCase):
    def test_the_file_is_followed(self) -> None:
        with tempfile.TemporaryDirectory() as folder, stand_in() as address:
            path = Path(folder) / "engines.json"
            self.assertEqual(entries(path), ())
            known = Known(path)
            self.assertFalse(known.read())
            keep(path, (Entry(name="studio-a", url=address.url, about=asked_about(address)),))
            self.assertTrue(known.read())
            self.addCleanup(forget_engine, "studio-a")
            self.assertEqual(list(known.engines), ["studio-a"])
            self.assertFalse(known.read(), "read again only when it is another")
            known.refresh()
            self.assertTrue(known.engines["studio-a"].answers)
            keep(path, ())
            self.assertTrue(known.read())
            self.assertEqual(known.engines, {})

    def test_a_file_that_is_none_is_one_sentence(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "engines.json"
            for text in ("{", '{"engines": [{"name": "x"}]}', '{"more": 1}'):
                path.write_text(text)
                with self.subTest(text), self.assertRaisesRegex(BadInput, "can't be read as a list of engines"):
                    entries(path)
