"""Kernels are kept on disk: one is compiled anew when anything that it takes from elsewhere changes."""

import subprocess
import sys
import tempfile
import textwrap
import unittest
from pathlib import Path
from types import ModuleType
from typing import Any

import numpy as np

from warmtide.core import jit
from warmtide.core.jit import kept_in, kernel


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
        return kept_in(caller.work.function)

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

    def test_a_kernel_that_takes_nothing_from_elsewhere_needs_no_folder_of_its_own(self) -> None:
        alone = module("alone", "@kernel\ndef work(x):\n    return x + 1\n")
        self.assertEqual(kept_in(alone.work.function), jit.cache_folder())

    def test_kernels_that_call_each_other_come_to_an_end(self) -> None:
        ring = module("ring", "@kernel\ndef one(x):\n    return other(x)\n@kernel\ndef other(x):\n    return one(x)\n")
        self.assertNotEqual(kept_in(ring.one.function), jit.cache_folder())


class AnotherHelper(unittest.TestCase):
    def test_the_next_process_computes_with_the_helper_as_it_is_now(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            place = Path(folder)
            (place / "work.py").write_text(
                "from warmtide.core.jit import kernel\nfrom helper import helper\n\n\n"
                "@kernel\ndef work(x):\n    return helper(x) + 1\n"
            )
            found = []
            for number in (5, 7, 5):
                (place / "helper.py").write_text(
                    f"from warmtide.core.jit import kernel\n\n\n@kernel\ndef helper(x):\n    return x * {number}\n"
                )
                found.append(self.asked(place))
        self.assertEqual(found, [51, 71, 51])

    def asked(self, place: Path) -> int:
        """What work(10) is in a new process that keeps its kernels there; its modules are taken for parts of the core."""
        code = (
            "import sys; sys.path.insert(0, sys.argv[1])\n"
            "import warmtide.core.jit, helper, work\n"
            "for name in ('helper', 'work'):\n"
            "    sys.modules['warmtide.core.' + name] = sys.modules[name]\n"
            "print(work.work(10))\n"
        )
        run = subprocess.run(
            [sys.executable, "-B", "-c", code, str(place)], capture_output=True, text=True, check=True,
            env={"PATH": "/usr/bin:/bin", "NUMBA_CACHE_DIR": str(place / "kernels"), "PYTHONPATH": "."},
        )  # fmt: skip
        return int(run.stdout)


if __name__ == "__main__":
    unittest.main()
