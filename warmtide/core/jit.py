"""How every kernel of the core is compiled: on first use, and kept on disk (see `cache_folder`).

`fastmath` stays off: it lets the compiler reorder sums, so the same recipe could give other pixels on
another machine, for a gain of about 5 %.

The compiler itself takes .9 s to load, and the server, which plans and frames but never paints, must not pay
for it at every start. So a kernel is a placeholder until any kernel is first called; then all of them become
compiled functions at once, in every module that names them (a kernel that calls another needs the real one).
"""

import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

import cv2

cv2.setNumThreads(1)


def cache_folder() -> Path:
    """Where compiled kernels are kept: NUMBA_CACHE_DIR, or a folder of the user's."""
    given = os.environ.get("NUMBA_CACHE_DIR")
    return Path(given) if given else Path.home() / ".cache" / "warmtide" / "kernels"


try:
    cache_folder().mkdir(parents=True, exist_ok=True)
    os.environ.setdefault("NUMBA_CACHE_DIR", str(cache_folder()))
except OSError:
    os.environ.setdefault("NUMBA_CACHE_DIR", f"/tmp/warmtide-kernels-{os.getuid()}")

Function = TypeVar("Function", bound=Callable[..., Any])


class _Waiting:
    """A kernel that has not been compiled yet."""

    def __init__(self, function: Callable[..., Any]) -> None:
        self.function = function
        self.__doc__ = function.__doc__
        self.__name__ = function.__name__
        self.__module__ = function.__module__

    def __call__(self, *arguments: Any) -> Any:
        return _compiled(self)(*arguments)


_dispatchers: dict[_Waiting, Callable[..., Any]] = {}


def _compiled(wanted: _Waiting) -> Callable[..., Any]:
    """Put compiled functions where placeholders stand, in every module of the core; the one that was wanted."""
    from numba import njit

    for module in [m for name, m in list(sys.modules.items()) if name.startswith(__package__ or "") and m]:
        for name, value in list(vars(module).items()):
            if isinstance(value, _Waiting):
                if value not in _dispatchers:
                    made = njit(cache=True, nogil=True, fastmath=False, error_model="numpy")(value.function)
                    _dispatchers[value] = made
                setattr(module, name, _dispatchers[value])
    return _dispatchers[wanted]


def kernel(function: Function) -> Function:
    """Compile `function` to machine code on first use; compiled, it runs without the interpreter lock."""
    waiting: Any = _Waiting(function)
    return waiting  # type: ignore[no-any-return]
