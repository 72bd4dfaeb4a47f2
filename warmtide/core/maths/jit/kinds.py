"""Kinds of arguments: what decides which machine code of a kernel fits."""

import ctypes
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

# An array's dtype, dimensions and flags; a number's type; a tuple's type and the kinds in it.
Kind = Any
_WIDE = 1 << 63
# Contiguous in C's or in Fortran's order, aligned, writable: the flags that code is compiled for.
_FLAGS = 0x1 | 0x2 | 0x100 | 0x400
_C, _FORTRAN, _ALIGNED, _WRITABLE = 0x1, 0x2, 0x100, 0x400
_PLAIN: dict[type, str] = {bool: "bool", int: "int64", float: "float64"}


def kind_of(value: Any) -> Kind:
    """What is the same for arguments that the same machine code takes."""
    if type(value) is np.ndarray:
        return value.dtype, value.ndim, value.flags.num & _FLAGS
    if isinstance(value, tuple):
        # Of two named tuples with the same values each has its own code: fields are found by their names.
        return (type(value), *[kind_of(item) for item in value])
    if type(value) is int and not -_WIDE <= value < _WIDE:
        return "wide"
    return type(value)


def told(value: Any) -> str:
    """A kind in words that last from process to process, such as `float32[2,C]`; TypeError where there is none."""
    if isinstance(value, np.ndarray):
        if not value.dtype.isnative or value.dtype.kind not in "biuf":
            raise TypeError(f"an array of {value.dtype}")
        flags = value.flags.num
        order = "C" if flags & _C else "F" if flags & _FORTRAN else "A"
        more = ("" if flags & _WRITABLE else ",readonly") + ("" if flags & _ALIGNED else ",unaligned")
        return f"{value.dtype.name}[{value.ndim},{order}{more}]"
    if isinstance(value, tuple):
        return f"{' '.join(getattr(value, '_fields', ()))}({','.join(told(item) for item in value)})"
    if type(value) is int and value >= _WIDE:
        return "uint64"
    if type(value) in _PLAIN:
        return _PLAIN[type(value)]
    if isinstance(value, np.generic) and value.dtype.kind in "biuf":
        return str(value.dtype.name)
    raise TypeError(f"a {type(value).__name__}")


def flat(values: Any) -> Iterator[Any]:
    """Arrays and numbers of nested tuples, one after another."""
    for value in values:
        if isinstance(value, tuple):
            yield from flat(value)
        else:
            yield value


# How a number goes through a call of C: its type there, and what makes the interpreter's number of it.
_NUMBERS: dict[str, tuple[Any, Callable[[Any], Any]]] = {
    "bool": (ctypes.c_uint8, int),
    "float32": (ctypes.c_float, float),
    "float64": (ctypes.c_double, float),
    **{
        f"{sign}int{bits}": (getattr(ctypes, f"c_{sign}int{bits}"), int)
        for sign in ("", "u")
        for bits in (8, 16, 32, 64)
    },
}


def passed_as(value: Any) -> tuple[Any, Callable[[Any], Any] | None]:
    """The type of C that an array or a number goes as, and what it must go through before, if anything."""
    if isinstance(value, np.ndarray):
        return ctypes.py_object, None
    kind, made = _NUMBERS[told(value)]
    return kind, None if type(value) in (int, float) else made


def number_type(name: str) -> Any:
    """The type of C of a number's kind."""
    return _NUMBERS[name][0]
