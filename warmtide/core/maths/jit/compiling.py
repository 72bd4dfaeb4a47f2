"""Kernels compiled by numba to machine code that stands by itself. Loaded only where something is to be compiled."""

import struct
import types
from collections.abc import Callable
from typing import Any

import numba
from llvmlite import ir
from numba.core.compiler_lock import global_compiler_lock
from numba.core.registry import cpu_target
from numba.np.arrayobj import make_array, populate_array

from .kept import Code

# Its kinds; as the package describes itself, some of them are missing.
nb: Any = numba.core.types
_OPTIONS = {"nogil": True, "fastmath": False, "error_model": "numpy"}
_ALONE = {**_OPTIONS, "no_cpython_wrapper": True, "no_cfunc_wrapper": True}
_dispatchers: dict[Callable[..., Any], Any] = {}
# Where an array object keeps the address of its values, of its shape and of its strides: NumPy's C interface.
_DATA, _SHAPE, _STRIDES = 16, 32, 40


def _twin(function: Callable[..., Any]) -> Callable[..., Any]:
    """The function with numba's kernels where it names ours."""
    named = {name: getattr(function.__globals__.get(name), "function", None) for name in function.__code__.co_names}
    names = {name: dispatcher(other) for name, other in named.items() if other is not None}
    made = types.FunctionType(
        function.__code__, {**function.__globals__, **names}, function.__name__, function.__defaults__
    )
    made.__module__, made.__qualname__ = function.__module__, function.__qualname__
    return made


def dispatcher(function: Callable[..., Any]) -> Any:
    """numba's own kernel of a function, kept for this process only."""
    if function not in _dispatchers:
        _dispatchers[function] = numba.njit(**_OPTIONS)(_twin(function))
    return _dispatchers[function]


def compiled(function: Callable[..., Any], arguments: tuple[Any, ...]) -> Code | None:
    """Machine code of a kernel for arguments such as these; None where it returns what our calls can't."""
    kinds = tuple(numba.typeof(argument) for argument in arguments)
    with global_compiler_lock:
        return _compiled(function, kinds)


def _compiled(function: Callable[..., Any], kinds: tuple[Any, ...]) -> Code | None:
    found = numba.njit(**_ALONE)(_twin(function))._compiler.compile(kinds, None)
    result = _result(found.signature.return_type)
    if result is None:
        return None
    symbol = f"warmtide_{function.__name__}"
    data = _with_entry(found, kinds, symbol)
    return Code(data, symbol, result or None, externals_of(data))


def _result(kind: Any) -> str | None:
    """The kind of number that a kernel returns, "" for nothing, None for what a call of C can't return."""
    if kind in (nb.none, nb.void):
        return ""
    if isinstance(kind, nb.Boolean):
        return "bool"
    return str(kind) if isinstance(kind, (nb.Integer, nb.Float)) else None


def _with_entry(found: Any, kinds: tuple[Any, ...], symbol: str) -> bytes:
    """An object file of a compiled kernel and an entry to it that takes array objects and numbers as C passes them."""
    context = cpu_target.target_context
    leaves = [leaf for kind in kinds for leaf in _leaves(kind)]
    pointer, status = ir.IntType(8).as_pointer(), ir.IntType(32)
    returns = found.signature.return_type
    answer = [] if _result(returns) == "" else [context.get_data_type(returns).as_pointer()]
    passed = [pointer if isinstance(leaf, nb.Array) else context.get_data_type(leaf) for leaf in leaves]
    library = context.codegen().create_library(symbol)
    library.add_linking_library(found.library)
    module = library.create_ir_module(symbol)
    entry = ir.Function(module, ir.FunctionType(status, [*passed, *answer]), symbol)
    builder = ir.IRBuilder(entry.append_basic_block())
    values = iter(entry.args)
    taken = [_value(context, builder, kind, values) for kind in kinds]
    inner = context.declare_function(module, found.fndesc)
    outcome, value = context.call_conv.call_function(builder, inner, returns, kinds, taken)
    if answer:
        builder.store(context.get_value_as_data(builder, returns, value), entry.args[-1])
    builder.ret(builder.select(outcome.is_ok, ir.Constant(status, 0), ir.Constant(status, 1)))
    library.add_ir_module(module)
    library.enable_object_caching()
    library.finalize()
    return bytes(library.serialize_using_object_code()[2][0])


def _leaves(kind: Any) -> list[Any]:
    """The arrays and numbers of a kind, those of tuples one after another."""
    return [leaf for item in kind.types for leaf in _leaves(item)] if isinstance(kind, nb.BaseTuple) else [kind]


def _value(context: Any, builder: Any, kind: Any, given: Any) -> Any:
    """An argument as compiled code has it, of what C passed."""
    if isinstance(kind, nb.BaseTuple):
        return context.make_tuple(builder, kind, [_value(context, builder, item, given) for item in kind.types])
    if isinstance(kind, nb.Array):
        return _array(context, builder, kind, next(given))
    return context.data_model_manager[kind].from_data(builder, next(given))


def _array(context: Any, builder: Any, kind: Any, item: Any) -> Any:
    word = ir.IntType(64)

    def field(offset: int, of: Any) -> Any:
        place = builder.gep(item, [ir.Constant(word, offset)])
        return builder.load(builder.bitcast(place, of.as_pointer()))

    made = make_array(kind)(context, builder)
    sides = [field(offset, word.as_pointer()) for offset in (_SHAPE, _STRIDES)]
    shape, strides = (
        [builder.load(builder.gep(side, [ir.Constant(word, axis)])) for axis in range(kind.ndim)] for side in sides
    )
    size = context.get_abi_sizeof(context.get_data_type(kind.dtype))
    data = field(_DATA, context.get_data_type(kind.dtype).as_pointer())
    populate_array(made, data=data, shape=shape, strides=strides, itemsize=ir.Constant(word, size), meminfo=None)
    return made._getvalue()


def externals_of(data: bytes) -> tuple[str, ...]:
    """Names that an object file (ELF, 64 bit) leaves to others: an unknown one would end the process on loading."""
    start, size, count = *struct.unpack_from("<Q", data, 40), *struct.unpack_from("<HH", data, 58)
    sections = [struct.unpack_from("<IIQQQQIIQQ", data, start + i * size) for i in range(count)]
    names = set()
    for _, kind, _, _, place, length, link, _, _, each in sections:
        if kind != 2:  # The table of symbols.
            continue
        texts = sections[link][4]
        for at in range(place + each, place + length, each):
            name, _, _, section = struct.unpack_from("<IBBH", data, at)
            if section == 0 and name:
                end = data.index(b"\0", texts + name)
                names.add(data[texts + name : end].decode())
    return tuple(sorted(names))
