"""How every kernel of the core is compiled: on first use, for the kinds of its arguments, and kept on disk.

A kernel is compiled once by numba to machine code that stands by itself (`compiling`), which later processes load
without numba (`machine`): 2 to 5 ms a kernel, where numba alone takes .5 s to load. What is kept
is named by all that it is made of (`kept`), so that nothing stale is ever run.

`fastmath` stays off: it lets the compiler reorder sums, so the same recipe could give other pixels on
another machine, for a gain of about 5 %.
"""

import threading
from collections.abc import Callable
from typing import Any, TypeVar

import cv2

from .kept import cache_folder, kept_in
from .kinds import Kind, kind_of

cv2.setNumThreads(1)

__all__ = ["Kernel", "cache_folder", "kept_in", "kernel"]

Function = TypeVar("Function", bound=Callable[..., Any])
# Compiling and loading are done by one thread at a time; calling what is loaded needs no lock.
_making = threading.Lock()


class Kernel:
    """A function that runs as machine code, without the interpreter lock."""

    def __init__(self, function: Callable[..., Any]) -> None:
        self.function = function
        self.__doc__ = function.__doc__
        self.__name__ = function.__name__
        self.__module__ = function.__module__
        self._ready: dict[tuple[Kind, ...], Callable[..., Any]] = {}

    def __call__(self, *arguments: Any) -> Any:
        kinds = tuple([kind_of(argument) for argument in arguments])
        ready = self._ready.get(kinds)
        if ready is None:
            ready = self._made_ready(kinds, arguments)
        return ready(*arguments)

    def _made_ready(self, kinds: tuple[Kind, ...], arguments: tuple[Any, ...]) -> Callable[..., Any]:
        from .machine import ready

        with _making:
            if kinds not in self._ready:
                self._ready[kinds] = ready(self.function, arguments)
            return self._ready[kinds]


def kernel(function: Function) -> Function:
    """Compile `function` to machine code on first use; compiled, it runs without the interpreter lock.

    Its arguments are arrays, numbers and tuples of them (named ones too, whose fields it finds by name), by position; it returns a number or nothing.
    """
    made: Any = Kernel(function)
    return made  # type: ignore[no-any-return]
