"""How every kernel of the core is compiled: on first use, and kept on disk (see `cache_folder`).

`fastmath` stays off: it lets the compiler reorder sums, so the same recipe could give other pixels on
another machine, for a gain of about 5 %.

The compiler itself takes .9 s to load, and the server, which plans and frames but never paints, must not pay
for it at every start. So a kernel is a placeholder until any kernel is first called; then all of them become
compiled functions at once, in every module that names them (a kernel that calls another needs the real one).
"""

import hashlib
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

import cv2
import numpy as np

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


def _told(function: Callable[..., Any]) -> bytes:
    """What a function does, in bytes."""
    code = function.__code__
    return repr((code.co_code, code.co_consts, code.co_names, code.co_varnames)).encode()


def _reliance(function: Callable[..., Any], found: dict[str, bytes]) -> dict[str, bytes]:
    """All that a kernel takes from outside of itself by name: other kernels, theirs too, and values frozen into it."""
    for name in function.__code__.co_names:
        value = function.__globals__.get(name)
        other = value.function if isinstance(value, _Waiting) else getattr(value, "py_func", None)
        if other is not None:
            key = f"{other.__module__}.{other.__name__}"
            if key not in found:
                found[key] = _told(other)
                _reliance(other, found)
        elif isinstance(value, (int, float, tuple, np.generic)):
            found[f"{function.__module__}.{name}"] = repr(value).encode()
        elif isinstance(value, np.ndarray):
            found[f"{function.__module__}.{name}"] = repr(value.dtype).encode() + value.tobytes()
    return found


def kept_in(function: Callable[..., Any]) -> Path:
    """Where a compiled kernel is kept: the compiler sees when its own file changes, so the folder tells all else."""
    reliance = sorted(_reliance(function, {}).items())
    if not reliance:
        return cache_folder()
    return cache_folder() / hashlib.blake2b(repr(reliance).encode(), digest_size=8).hexdigest()


def _compiled(wanted: _Waiting) -> Callable[..., Any]:
    """Put compiled functions where placeholders stand, in every module of the core; the one that was wanted."""
    from numba import config, njit

    here = [m for name, m in list(sys.modules.items()) if name.startswith(__package__ or "") and m]
    waiting = [(m, name, v) for m in here for name, v in list(vars(m).items()) if isinstance(v, _Waiting)]
    for _, _, value in waiting:
        if value not in _dispatchers:
            config.CACHE_DIR = str(kept_in(value.function))
            made = njit(cache=True, nogil=True, fastmath=False, error_model="numpy")(value.function)
            _dispatchers[value] = made
    for module, name, value in waiting:
        setattr(module, name, _dispatchers[value])
    return _dispatchers[wanted]


def kernel(function: Function) -> Function:
    """Compile `function` to machine code on first use; compiled, it runs without the interpreter lock."""
    waiting: Any = _Waiting(function)
    return waiting  # type: ignore[no-any-return]
