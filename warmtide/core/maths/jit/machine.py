"""Machine code put into memory and called. Needs LLVM's binding and one small library of numba's, not numba."""

import ctypes
import importlib.machinery
import importlib.util
import logging
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

from .kept import Code, alone, kept_in, read, write
from .kinds import flat, number_type, passed_as, told

log = logging.getLogger(__name__)
# Engines own the memory in which their code stands.
_engines: list[Any] = []


def ready(function: Callable[..., Any], arguments: tuple[Any, ...]) -> Callable[..., Any]:
    """A kernel for arguments such as these, from its file or compiled now.

    What can't stand by itself (a kernel that returns a tuple, say) is run by numba, and compiled in every process.
    """
    try:
        kinds = ";".join(told(argument) for argument in arguments)
        path = kept_in(function, kinds)
    except TypeError as error:
        raise TypeError(f"The kernel {function.__name__} can't be given {error}.") from None
    code = read(path) or _compiled(function, arguments, path)
    if code is None:
        from . import compiling

        return compiling.dispatcher(function)  # type: ignore[no-any-return]
    missing = [name for name in code.externals if not _is_there(name)]
    if missing:
        log.warning("kernel %s is run by numba: %s not found", function.__name__, ", ".join(missing))
        from . import compiling

        return compiling.dispatcher(function)  # type: ignore[no-any-return]
    return _callable(function.__name__, code, arguments)


# What a process does before it compiles: nothing, or let others go first.
_give_way: list[Callable[[], None]] = []


def compiling_gives_way(wait: Callable[[], None]) -> None:
    """Call `wait` before every kernel that this process compiles."""
    _give_way.append(wait)


def _compiled(function: Callable[..., Any], arguments: tuple[Any, ...], path: Path) -> Code | None:
    """Compiled now and kept; or by another process meanwhile, which is waited for."""
    from . import compiling

    # Before the lock is taken: whoever is given way to may want the same kernel.
    for wait in _give_way:
        wait()
    with alone(path):
        code = read(path) or compiling.compiled(function, arguments)
        if code is not None:
            write(path, code)
    return code


@cache
def _linker() -> Any:
    """LLVM's binding, with what compiled kernels call for memory made known to it."""
    import llvmlite.binding as llvm

    llvm.initialize_native_target()
    llvm.initialize_native_asmprinter()
    for name, address in _allocator().c_helpers.items():
        llvm.add_symbol(name if name.startswith("_") else f"NRT_{name}", address)
    return llvm


@cache
def _allocator() -> Any:
    """numba's library for memory of arrays within kernels, loaded by its path: as a module it would bring all of numba."""
    package = importlib.util.find_spec("numba")
    assert package is not None and package.submodule_search_locations is not None
    folder = Path(package.submodule_search_locations[0]) / "core" / "runtime"
    path = next(folder.glob("_nrt_python.*.so"))
    loader = importlib.machinery.ExtensionFileLoader("_nrt_python", str(path))
    made = importlib.util.module_from_spec(importlib.util.spec_from_loader("_nrt_python", loader))  # type: ignore[arg-type]
    loader.exec_module(made)
    return made


def _is_there(name: str) -> bool:
    """Whether a name can be found: the allocator's, a function of the interpreter, of C or of its mathematics."""
    llvm = _linker()
    if llvm.address_of_symbol(name) is not None:
        return True
    for library in (None, "libm.so.6"):
        function = getattr(ctypes.CDLL(library), name, None)
        if function is not None:
            llvm.add_symbol(name, ctypes.cast(function, ctypes.c_void_p).value)
            return True
    return False


def _callable(name: str, code: Code, arguments: tuple[Any, ...]) -> Callable[..., Any]:
    """A function that runs machine code on arguments of the kinds given; the interpreter lock is let go meanwhile."""
    llvm = _linker()
    empty = llvm.parse_assembly(f'target triple = "{llvm.get_process_triple()}"\n')
    engine = llvm.create_mcjit_compiler(empty, llvm.Target.from_default_triple().create_target_machine(jit=True))
    engine.add_object_file(llvm.ObjectFileRef.from_data(code.object))
    engine.finalize_object()
    _engines.append(engine)
    given = list(flat(arguments))
    types, makers = zip(*(passed_as(value) for value in given), strict=True)
    outcome = None if code.result is None else number_type(code.result)
    result = () if outcome is None else (ctypes.POINTER(outcome),)
    run = ctypes.CFUNCTYPE(ctypes.c_int32, *types, *result)(engine.get_function_address(code.symbol))
    converted = [(place, make) for place, make in enumerate(makers) if make is not None]
    nested = any(isinstance(argument, tuple) for argument in arguments)

    def call(*values: Any) -> Any:
        passed: list[Any] = list(flat(values) if nested else values)
        for place, make in converted:
            passed[place] = make(passed[place])
        if outcome is None:
            status, found = run(*passed), None
        else:
            found = outcome()
            status = run(*passed, ctypes.byref(found))
        if status:
            raise RuntimeError(f"The kernel {name} failed.")
        return None if found is None else (bool(found.value) if code.result == "bool" else found.value)

    return call
