"""Images as content-addressed files behind fsspec: a folder by default, a bucket when workers are elsewhere."""

import contextlib
import errno
import hashlib
import re
import time
import uuid
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import fsspec

from .store_address import StoreAddress

_NAME = re.compile(r"[0-9a-f]{64}")
# A file of a bucket that is older than this is written again when it is taken up again.
_YOUNG = 12 * 3600
# Seconds for which a store that is away is asked again.
_PATIENCE = 30.0
# A file that is written takes less; one that is older was left by a process that died.
_PART_SECONDS = 3600


# What a disk refuses, and what is said of it.
FULL = "The disk is full: make room on it and run this again."
LOCKED = "The folder of the pictures can't be written: allow it and run this again."
_REFUSED = {errno.ENOSPC: FULL, errno.EDQUOT: FULL, errno.EROFS: LOCKED, errno.EACCES: LOCKED}


def refused_by_disk(error: BaseException | None) -> str | None:
    """The sentence for an error that says that nothing can be written, None for any other."""
    return _REFUSED.get(error.errno or 0) if isinstance(error, OSError) else None


class StoreAway(OSError):
    """The store of pictures does not answer."""

    def __init__(self) -> None:
        super().__init__("The store of pictures does not answer; see that it runs and is reached, then run this again.")


class LostPicture(Exception):
    """A picture's file is missing, or is not what it was when it was kept."""


class MissingPicture(LostPicture):
    """There is no such file."""


@dataclass(frozen=True)
class Kept:
    """A file of the store: its name, its bytes, and when it was written, as seconds since 1970."""

    digest: str
    size: int
    written: float


class ImageStore:
    """Blobs named by their SHA-256.

    Parameters
    ----------
    address : a folder, or a bucket as `StoreAddress` tells of it.
    """

    def __init__(self, address: str | StoreAddress) -> None:
        where = StoreAddress(address) if isinstance(address, str) else address
        self._files, self._root = fsspec.core.url_to_fs(where.at, **where.options())
        # A bucket takes a file whole or not at all; a folder gets it beside its place first.
        self._whole = where.in_bucket

    def _path(self, digest: str) -> str:
        if not _NAME.fullmatch(digest):
            raise KeyError(digest)
        return f"{self._root}/{digest[:2]}/{digest[2:]}"

    def put(self, data: bytes) -> str:
        """Keep bytes whole or not at all; the name is their hash. Putting the same bytes twice keeps one, and mends a
        file that was damaged since."""
        digest = hashlib.sha256(data).hexdigest()
        path = self._path(digest)
        if self._whole:
            if not self._is_young(path, len(data)):
                _patiently(self._files.pipe_file, path, data)
        elif not self._is_good(path, data):
            self._files.makedirs(path.rsplit("/", 1)[0], exist_ok=True)
            part = f"{path}.{uuid.uuid4().hex}"
            try:
                self._files.pipe_file(part, data)
                self._files.mv(part, path)
            except BaseException:
                with contextlib.suppress(OSError):
                    self._files.rm_file(part)
                raise
        else:
            # What is taken up again is young again: whoever clears the store away leaves it for now.
            with contextlib.suppress(NotImplementedError, OSError):
                self._files.touch(path, truncate=False)
        return digest

    def _is_young(self, path: str, size: int) -> bool:
        """Whether a bucket has a file of this size that was written lately: whoever clears away leaves it. What is in it is proved when
        it is read; reading it here would cost as much as writing."""
        try:
            facts = _patiently(self._files.info, path)
        except FileNotFoundError:
            return False
        return int(facts["size"]) == size and time.time() - _seconds(facts) < _YOUNG

    def _is_good(self, path: str, data: bytes) -> bool:
        try:
            return bool(self._files.size(path) == len(data)) and self._files.cat_file(path) == data
        except OSError:
            return False

    def get(self, digest: str) -> bytes:
        """The bytes under a name.

        Raises
        ------
        KeyError : it is no name. LostPicture : there is no such file, or its bytes are others.
        """
        try:
            data: bytes = _patiently(self._files.cat_file, self._path(digest))
        except FileNotFoundError:
            raise MissingPicture(f"A picture's file is missing ({digest[:12]}); {_MEND}") from None
        if hashlib.sha256(data).hexdigest() != digest:
            raise LostPicture(f"A picture's file is damaged ({digest[:12]}); {_MEND}")
        return data

    def has(self, digest: str) -> bool:
        return bool(_patiently(self._files.exists, self._path(digest)))

    def size(self, digest: str) -> int:
        """Bytes of a file; raises FileNotFoundError where there is none."""
        return int(self._files.size(self._path(digest)))

    def head(self, digest: str, count: int = 16) -> bytes:
        """Its first bytes; raises as `size`."""
        with self._files.open(self._path(digest), "rb") as file:
            return bytes(file.read(count))

    def pieces(self, digest: str, piece: int) -> Iterator[bytes]:
        """A file's bytes, so many at a time, unproved: whoever takes them in proves them by its name."""
        with self._files.open(self._path(digest), "rb") as file:
            while part := file.read(piece):
                yield bytes(part)

    def remove(self, digest: str) -> None:
        """Let a file go; one that is gone already is no fault."""
        with contextlib.suppress(FileNotFoundError):
            self._files.rm_file(self._path(digest))

    def everything(self) -> Iterator[Kept]:
        """Every file by its name, in no order."""
        for path, facts in self._all().items():
            digest = "".join(path.rsplit("/", 2)[-2:])
            if _NAME.fullmatch(digest):
                yield Kept(digest, int(facts["size"]), _seconds(facts))

    def _all(self) -> dict[str, dict[str, Any]]:
        return self._files.find(self._root, detail=True) if self._files.exists(self._root) else {}

    def remove_parts(self) -> None:
        """Let go of what processes left that died while they wrote."""
        for path, facts in self._all().items():
            if not _NAME.fullmatch("".join(path.rsplit("/", 2)[-2:])) and time.time() - _seconds(facts) > _PART_SECONDS:
                with contextlib.suppress(FileNotFoundError):
                    self._files.rm_file(path)

    def written(self, digest: str) -> float:
        """When a file was written or taken up last, as seconds since 1970; now, where it is gone."""
        try:
            facts = self._files.info(self._path(digest))
        except FileNotFoundError:
            return time.time()
        return _seconds(facts)

    @property
    def folder(self) -> Path | None:
        """The folder of this machine that holds the files, or None where they are elsewhere."""
        return Path(self._root) if "file" in _tuple(self._files.protocol) else None


def _patiently(ask: Callable[..., Any], *what: Any) -> Any:
    """What a store answers; one that is late or fails is asked again for half a minute. A folder's refusals are told at once."""
    deadline, pause = time.monotonic() + _PATIENCE, 0.2
    while True:
        try:
            return ask(*what)
        except (FileNotFoundError, PermissionError):
            raise
        except OSError as error:
            if error.errno in _REFUSED:
                raise
            away: Exception = error
        except Exception as error:
            # The bucket's library has a family of its own for lines that break.
            if not type(error).__module__.startswith("botocore"):
                raise
            away = error
        if time.monotonic() + pause > deadline:
            raise StoreAway from away
        time.sleep(pause)
        pause = min(2 * pause, 4.0)


def _seconds(facts: dict[str, Any]) -> float:
    """When a file was written, as its store tells it."""
    found = next((facts[name] for name in ("mtime", "LastModified", "created") if facts.get(name)), 0.0)
    return float(found) if isinstance(found, float | int) else float(found.timestamp())


def _tuple(protocol: str | tuple[str, ...]) -> tuple[str, ...]:
    return (protocol,) if isinstance(protocol, str) else protocol


_MEND = "run `warmtide check --repair`, or bring the picture in again."
