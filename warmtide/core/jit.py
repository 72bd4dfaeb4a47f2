"""How every kernel of the core is compiled.

`fastmath` stays off: it lets the compiler reorder sums, so the same recipe could give other pixels on
another machine, for a gain of about 5 %. The compiled code is kept on disk (see `cache_folder`).
"""

import os
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar


def cache_folder() -> Path:
    """Where compiled kernels are kept: NUMBA_CACHE_DIR, or a folder of the user's."""
    given = os.environ.get("NUMBA_CACHE_DIR")
    return Path(given) if given else Path.home() / ".cache" / "warmtide" / "kernels"


try:
    cache_folder().mkdir(parents=True, exist_ok=True)
    os.environ.setdefault("NUMBA_CACHE_DIR", str(cache_folder()))
except OSError:
    os.environ.setdefault("NUMBA_CACHE_DIR", f"/tmp/warmtide-kernels-{os.getuid()}")

import cv2  # noqa: E402
from numba import njit  # noqa: E402

cv2.setNumThreads(1)

Function = TypeVar("Function", bound=Callable[..., Any])


def kernel(function: Function) -> Function:
    """Compile `function` to machine code on first use, without the interpreter lock."""
    compiled: Function = njit(cache=True, nogil=True, fastmath=False, error_model="numpy")(function)
    return compiled
