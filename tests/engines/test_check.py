"""The conformance run: engines that keep to the protocol pass it, and each way of being wrong fails where it should."""

import importlib.util
import tempfile
import unittest
from pathlib import Path
from types import ModuleType
from unittest.mock import patch

import numpy as np

from tests.engines.served import served, stand_in
from warmtide.core.maths.arrays import Byte
from warmtide.engines.check import bench
from warmtide.engines.check.questions import QUESTIONS
from warmtide.engines.check.run import Outcome, run
from warmtide.engines.line import Address
from warmtide.engines.stand_in import app as stand_in_app
from warmtide.engines.stand_in.wrong import WRONG

ROOT = Path(__file__).resolve().parent.parent.parent
# Of each way to be wrong the first question that notices it.
NOTICED = {
    "about": "can be read, all of it", "protocol": "can be read, all of it", "size": "done says the size", "type": "done says the size",
    "cut": "done says the size", "large": "done says the size", "silent": "its events can be read", "flood": "its events can be read",
    "garbled": "its events can be read", "undone": "its events can be read", "forgets": "its events can be read", "redirect": "answers with JSON",
    "open": "without its token", "twice": "the same key twice", "changing": "equal requests", "source": "comes back at strength 0",
    "trace": "a key that nobody asked for", "lenient": "a look that it does not have",
}  # fmt: skip


def faults(outcomes: list[Outcome]) -> list[str]:
    return [outcome.line() for outcome in outcomes if outcome.fault and not outcome.skipped]


class _Enough(Exception):
    """The first fault is told; no more needs to be asked."""


def first_fault(address: Address) -> str:
    """The first fault of an engine, or an empty text."""

    def told(outcome: Outcome) -> None:
        if outcome.fault:
            raise _Enough(outcome.line())

    try:
        run(address, told)
    except _Enough as found:
        return str(found)
    return ""


class Conforming(unittest.TestCase):
    def test_there_are_thirty_questions_each_with_words_of_its_own(self) -> None:
        self.assertGreaterEqual(len(QUESTIONS), 30)
        self.assertEqual(len({question.says for question in QUESTIONS}), len(QUESTIONS))

    def test_both_simulated_engines_pass_with_a_token_and_without(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            token = Path(folder) / "token"
            token.write_text("of-the-quay")
            for variant, file in (("a", token), ("b", None)):
                with self.subTest(variant), stand_in(file, variant=variant) as address:
                    outcomes = run(address)
                    self.assertEqual(faults(outcomes), [])
                    self.assertGreaterEqual(sum(not o.skipped for o in outcomes), 28)

    def test_every_way_of_being_wrong_is_noticed_where_it_should_be(self) -> None:
        self.assertEqual(set(NOTICED), set(WRONG))
        with tempfile.TemporaryDirectory() as folder:
            token = Path(folder) / "token"
            token.write_text("of-the-quay")
            for wrong, where in NOTICED.items():
                with (
                    self.subTest(wrong), stand_in(token if wrong == "open" else None, wrong=wrong) as address,
                    patch.object(bench, "WORD", 0.6), patch.object(stand_in_app, "_SILENCE", 1.0), patch.object(bench, "RENDER", 2.0), patch.object(bench, "STREAM_BYTES", 200_000),
                ):  # fmt: skip
                    found = first_fault(address)
                    self.assertTrue(found, f"nothing notices that it {WRONG[wrong]}")
                    self.assertIn(where, found)

    def test_nobody_at_the_address_fails_and_does_not_raise(self) -> None:
        found = faults(run(Address("http://127.0.0.1:9")))
        self.assertIn("was not answered", found[0])


def _template() -> ModuleType:
    spec = importlib.util.spec_from_file_location("engine_template", ROOT / "examples" / "engine_template.py")
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


class Template(unittest.TestCase):
    def test_it_is_short_and_passes_as_it_is(self) -> None:
        text = (ROOT / "examples" / "engine_template.py").read_text()
        self.assertLess(text.count("\n"), 150)
        self.assertNotIn("import warmtide", text, "an engine needs nothing of ours")
        with served(_template().create(None)) as url:
            self.assertEqual(faults(run(Address(url))), [])

    def test_a_toy_that_fills_it_in_passes(self) -> None:
        template = _template()

        def posterise(source: Byte, recipe: dict[str, float], tell: object) -> Byte:
            flat = (source // 64) * 64 + 32
            mixed = source + recipe["strength"] * (flat.astype(float) - source)
            return (mixed + 0.5).astype(np.uint8)

        template.restyle = posterise
        with served(template.create(None)) as url:
            self.assertEqual(faults(run(Address(url))), [])
