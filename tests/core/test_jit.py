"""Kernels are kept on disk: one is compiled anew when anything that it takes from elsewhere changes."""

import os
import subprocess
import sys
import tempfile
import textwrap
import unittest
from pathlib import Path
from types import ModuleType
from typing import Any, NamedTuple
from unittest.mock import patch

import numpy as np

from warmtide.core.maths import jit
from warmtide.core.maths.jit import kept, kept_in, kernel, kinds


def module(name: str, code: str, **given: Any) -> ModuleType:
    """A module of that source, as if it had been imported."""
    made = ModuleType(name)
    vars(made).update(given, kernel=kernel)
    exec(compile(textwrap.dedent(code), f"{name}.py", "exec"), vars(made))
    return made


class Kept(unittest.TestCase):
    def folder(self, helper: str, constant: object = 3) -> Path:
        """Where a kernel is kept that calls a helper of another module, which calls one more, and uses a constant."""
        deepest = module("deepest", f"@kernel\ndef deep(x):\n    return {helper}\n")
        between = module("between", "@kernel\ndef helper(x):\n    return deep(x)\n", deep=deepest.deep)
        caller = module(
            "caller",
            "@kernel\ndef work(x):\n    return helper(x) + CONSTANT\n",
            helper=between.helper,
            CONSTANT=constant,
        )
        return kept_in(caller.work.function, "int64")

    def test_the_same_sources_share_a_folder(self) -> None:
        self.assertEqual(self.folder("x + 1"), self.folder("x + 1"))

    def test_another_helper_far_down_is_another_folder(self) -> None:
        self.assertNotEqual(self.folder("x + 1"), self.folder("x + 2"))
        self.assertNotEqual(self.folder("x + 1"), self.folder("x * 1"))

    def test_another_constant_is_another_folder(self) -> None:
        folders = {
            self.folder("x", constant)
            for constant in (
                3,
                4,
                3.5,
                (1, 2),
                np.array([1.0, 2.0]),
                np.array([1.0, 2.5]),
                np.array([1, 2]),
                np.float32(3),
                np.float32(4),
            )
        }
        self.assertEqual(len(folders), 9)

    def test_another_kind_of_argument_and_another_source_are_other_files(self) -> None:
        alone, other = (module("alone", f"@kernel\ndef work(x):\n    return x + {n}\n").work.function for n in (1, 2))
        self.assertNotEqual(kept_in(alone, "int64"), kept_in(alone, "float64"))
        self.assertNotEqual(kept_in(alone, "int64"), kept_in(other, "int64"))

    def test_kernels_that_call_each_other_come_to_an_end(self) -> None:
        ring = module("ring", "@kernel\ndef one(x):\n    return other(x)\n@kernel\ndef other(x):\n    return one(x)\n")
        self.assertTrue(kept_in(ring.one.function).is_relative_to(jit.cache_folder()))


class _Scaled(NamedTuple):
    factor: float
    plane: Any


class _Turned(NamedTuple):
    plane: Any
    factor: float


@kernel
def _times(given):  # type: ignore[no-untyped-def]
    return given.plane[0] * given.factor


@kernel
def _twice(plane, at):  # type: ignore[no-untyped-def]
    return plane[at] * 2


@kernel
def _gathered(plane, steps, weight, out):  # type: ignore[no-untyped-def]
    """Uses memory of its own, another kernel and nested values."""
    own = np.zeros(plane.shape, np.float32)
    for i in range(plane.shape[0]):
        for j in range(plane.shape[1]):
            own[i, j] = _twice(plane, (i, j)) * weight + steps[0] + steps[1][1]
    for i in range(plane.shape[0]):
        for j in range(plane.shape[1]):
            out[i, j] = own[i, j]
    return plane.shape[0] > 2


@kernel
def _pair(x):  # type: ignore[no-untyped-def]
    return x, x + 1


@kernel
def _sum(values):  # type: ignore[no-untyped-def]
    total = values[0]
    for i in range(1, len(values)):
        total += values[i]
    return total


class Called(unittest.TestCase):
    def test_memory_of_its_own_other_kernels_and_nested_values(self) -> None:
        plane = np.arange(12, dtype=np.float32).reshape(3, 4)
        out = np.empty((3, 4))
        self.assertIs(_gathered(plane, (1, (2, 3.5)), np.float32(0.5), out), True)
        np.testing.assert_array_equal(out, plane + 4.5)

    def test_views_and_orders_are_read_where_they_lie(self) -> None:
        plane = np.arange(48, dtype=np.float64).reshape(6, 8)
        for view in (plane[::2, 1::2], plane.T[:4, :3], plane[::-1, ::-1][:3, :4], np.asfortranarray(plane[:3, :4])):
            out = np.empty(view.shape)
            _gathered(view, (0, (0, 0.0)), 1.0, out)
            np.testing.assert_array_equal(out, view * 2)

    def test_kinds_of_numbers_come_back_as_they_are(self) -> None:
        for dtype in (np.uint8, np.int16, np.int64, np.uint64, np.float32, np.float64):
            found = _sum(np.array([1, 2, 3], dtype))
            self.assertEqual(found, 6)
            self.assertIsInstance(found, float if np.issubdtype(dtype, np.floating) else int)
        self.assertEqual(_sum(np.array([2**63, 5], np.uint64)), 2**63 + 5)

    def test_fields_are_found_by_their_names(self) -> None:
        plane = np.array([3.0, 4.0])
        self.assertEqual(_times(_Scaled(2.0, plane)), 6.0)
        # The same values in another order are another kind.
        self.assertEqual(_times(_Turned(plane, 5.0)), 15.0)
        self.assertEqual(_times(_Scaled(4.0, plane)), 12.0)
        self.assertNotEqual(kinds.told(_Scaled(2.0, plane)), kinds.told((2.0, plane)))

    def test_what_returns_a_tuple_is_run_all_the_same(self) -> None:
        self.assertEqual(_pair(4), (4, 5))

    def test_what_no_kernel_takes_is_named(self) -> None:
        with self.assertRaisesRegex(TypeError, "_sum can't be given a str"):
            _sum("abc")

    def test_code_that_is_damaged_on_disk_is_compiled_again(self) -> None:
        with tempfile.TemporaryDirectory() as folder, patch.object(kept, "cache_folder", lambda: Path(folder)):
            fresh = jit.Kernel(_sum.function)
            fresh(np.ones(3))
            (path,) = Path(folder).rglob("*.code")
            whole = path.read_bytes()
            for damaged in (whole[: len(whole) // 2], whole[:-20] + bytes(20), b"", b"{}\nxyz", b"null\n"):
                path.write_bytes(damaged)
                self.assertIsNone(kept.read(path))
                self.assertEqual(jit.Kernel(_sum.function)(np.ones(3)), 3.0)
                self.assertEqual(path.read_bytes()[-20:], whole[-20:])

    def test_a_process_that_finds_its_kernels_never_loads_the_compiler(self) -> None:
        code = "import sys, numpy; from warmtide.core.maths.colour import to_lab; to_lab(numpy.zeros((8, 8, 3), 'f4')); print('numba' in sys.modules)"
        for _ in range(2):
            run = subprocess.run(
                [sys.executable, "-c", code], capture_output=True, text=True, check=True, env=os.environ
            )
        self.assertEqual(run.stdout.strip(), "False")


class AnotherHelper(unittest.TestCase):
    def test_the_next_process_computes_with_the_helper_as_it_is_now(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            place = Path(folder)
            (place / "work.py").write_text(
                "from warmtide.core.maths.jit import kernel\nfrom helper import helper\n\n\n"
                "@kernel\ndef work(x):\n    return helper(x) + 1\n"
            )
            found = []
            for number in (5, 7, 5):
                (place / "helper.py").write_text(
                    f"from warmtide.core.maths.jit import kernel\n\n\n@kernel\ndef helper(x):\n    return x * {number}\n"
                )
                found.append(self.asked(place))
        self.assertEqual(found, [51, 71, 51])

    def asked(self, place: Path) -> int:
        """What work(10) is in a new process that keeps its kernels there."""
        code = "import sys; sys.path.insert(0, sys.argv[1])\nimport helper, work\nprint(work.work(10))\n"
        run = subprocess.run(
            [sys.executable, "-B", "-c", code, str(place)], capture_output=True, text=True, check=True,
            env={"PATH": "/usr/bin:/bin", "WARMTIDE_KERNELS": str(place / "kernels"), "PYTHONPATH": "."},
        )  # fmt: skip
        return int(run.stdout)


if __name__ == "__main__":
    unittest.main()
