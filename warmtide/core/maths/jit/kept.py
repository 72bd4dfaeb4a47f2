"""Where machine code is kept, and how it is named: by all that it is made of."""

import fcntl
import hashlib
import importlib.util
import json
import os
import stat
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import asdict, dataclass
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

# Another figure where the way kernels are compiled or called changes.
_FORM = 1


@cache
def cache_folder() -> Path:
    """Where compiled kernels are kept: WARMTIDE_KERNELS, else a folder of the user's, else one that is not lasting."""
    given = os.environ.get("WARMTIDE_KERNELS")
    wanted = Path(given) if given else Path.home() / ".cache" / "warmtide" / "kernels"
    passing = Path(f"/tmp/warmtide-kernels-{os.getuid()}")
    for place in (wanted, passing):
        try:
            place.mkdir(parents=True, exist_ok=True, mode=0o700)
        except OSError:
            continue
        # Where everybody can write, somebody may have been there before us.
        if os.access(place, os.W_OK) and (place == wanted or _is_ours(place)):
            return place
    return wanted


def _is_ours(place: Path) -> bool:
    """Whether nobody else can put anything there: what lies there is run."""
    found = place.stat()
    return found.st_uid == os.getuid() and not found.st_mode & (stat.S_IWGRP | stat.S_IWOTH)


def _told(function: Callable[..., Any]) -> bytes:
    """What a function does, in bytes."""
    code = function.__code__
    return repr((code.co_code, code.co_consts, code.co_names, code.co_varnames)).encode()


def _reliance(function: Callable[..., Any], found: dict[str, bytes]) -> dict[str, bytes]:
    """All that a kernel takes from outside of itself by name: other kernels, theirs too, and values frozen into it."""
    for name in function.__code__.co_names:
        value = function.__globals__.get(name)
        other = getattr(value, "function", None)
        if other is not None:
            key = f"{other.__module__}.{other.__name__}"
            if key not in found:
                found[key] = _told(other)
                _reliance(other, found)
        elif isinstance(value, type) and hasattr(value, "_fields"):
            found[f"{function.__module__}.{name}"] = repr(value._fields).encode()
        elif isinstance(value, (int, float, tuple, np.generic)):
            found[f"{function.__module__}.{name}"] = repr(value).encode()
        elif isinstance(value, np.ndarray):
            found[f"{function.__module__}.{name}"] = repr(value.dtype).encode() + value.tobytes()
    return found


def digest_of(function: Callable[..., Any]) -> str:
    """A hash of a kernel, of the kernels it calls and of the constants that they take."""
    told = repr((_told(function), sorted(_reliance(function, {}).items())))
    return hashlib.blake2b(told.encode(), digest_size=10).hexdigest()


def _numba_version() -> list[str]:
    """Told from what lies beside the package, since asking it would load it."""
    package = importlib.util.find_spec("numba")
    folders = package.submodule_search_locations if package else None
    return sorted(path.name for path in Path(folders[0]).parent.glob("numba-*.dist-info")) if folders else []


@cache
def _machine() -> str:
    """A hash of the compiler and of the processor that it compiles for."""
    import llvmlite
    import llvmlite.binding as llvm

    known = (_FORM, _numba_version(), llvmlite.__version__, np.__version__, llvm.get_process_triple(),
             llvm.get_host_cpu_name(), llvm.get_host_cpu_features().flatten())  # fmt: skip
    return hashlib.blake2b(repr(known).encode(), digest_size=6).hexdigest()


def machine_folder() -> Path:
    """The folder of what was compiled by this compiler for this processor."""
    folder = cache_folder() / _machine()
    with suppress(OSError):
        folder.mkdir(parents=True, exist_ok=True)
    return folder


@dataclass(frozen=True)
class Code:
    """Machine code of one kernel for one kind of arguments.

    Attributes
    ----------
    object : an object file. symbol : its entry. result : the kind of number that it returns, None for nothing.
    externals : names that it must find outside of itself.
    """

    object: bytes
    symbol: str
    result: str | None
    externals: tuple[str, ...]


def kept_in(function: Callable[..., Any], kinds: str = "") -> Path:
    """The file of a kernel's machine code for the kinds of arguments."""
    name = f"{function.__module__.rsplit('.', 1)[-1]}.{function.__name__}"
    own = hashlib.blake2b(kinds.encode(), digest_size=8).hexdigest()
    return machine_folder() / f"{name}-{digest_of(function)}-{own}.code"


def read(path: Path) -> Code | None:
    """Machine code from its file, or None where there is none or not all of it."""
    try:
        head, _, body = path.read_bytes().partition(b"\n")
        said = json.loads(head)
        if said.pop("digest") != hashlib.blake2b(body).hexdigest():
            return None
        return Code(body, said["symbol"], said["result"], tuple(said["externals"]))
    except (OSError, ValueError, KeyError, TypeError, AttributeError):
        return None


@contextmanager
def alone(path: Path) -> Iterator[None]:
    """One process at a time makes a file; where nothing can be kept, each makes its own."""
    lock = path.with_suffix(".lock")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        held = lock.open("w")
    except OSError:
        yield
        return
    with held:
        fcntl.flock(held, fcntl.LOCK_EX)
        try:
            yield
        finally:
            lock.unlink(missing_ok=True)


def write(path: Path, code: Code) -> None:
    """Keep machine code whole or not at all; where nothing can be kept, the next process compiles again."""
    said = {name: value for name, value in asdict(code).items() if name != "object"}
    said["digest"] = hashlib.blake2b(code.object).hexdigest()
    part = path.with_name(f"{path.name}.{uuid.uuid4().hex}")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        part.write_bytes(json.dumps(said).encode() + b"\n" + code.object)
        part.replace(path)
    except OSError:
        part.unlink(missing_ok=True)
