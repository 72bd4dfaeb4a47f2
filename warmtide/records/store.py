"""Images as content-addressed files behind fsspec: a folder by default, a bucket when workers are elsewhere."""

import contextlib
import errno
import hashlib
import re
import time
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import fsspec

_NAME = re.compile(r"[0-9a-f]{64}")
# A file that is written takes less; one that is older was left by a process that died.
_PART_SECONDS = 3600


# What a disk refuses, and what is said of it.
FULL = "The disk is full: make room on it and run this again."
LOCKED = "The folder of the pictures can't be written: allow it and run this again."
_REFUSED = {errno.ENOSPC: FULL, errno.EDQUOT: FULL, errno.EROFS: LOCKED, errno.EACCES: LOCKED}


def refused_by_disk(error: BaseException | None) -> str | None:
    """The sentence for an error that says that nothing can be written, None for any other."""
    return _REFUSED.get(error.errno or 0) if isinstance(error, OSError) else None


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
    address : anything fsspec opens, such as a folder or s3://bucket/prefix.
    """

    def __init__(self, address: str) -> None:
        self._files, self._root = fsspec.core.url_to_fs(address)

    def _path(self, digest: str) -> str:
        if not _NAME.fullmatch(digest):
            raise KeyError(digest)
        return f"{self._root}/{digest[:2]}/{digest[2:]}"

    def put(self, data: bytes) -> str:
        """Keep bytes whole or not at all; the name is their hash. Putting the same bytes twice keeps one, and mends a
        file that was damaged since."""
        digest = hashlib.sha256(data).hexdigest()
        path = self._path(digest)
        if not self._is_good(path, data):
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
            data: bytes = self._files.cat_file(self._path(digest))
        except FileNotFoundError:
            raise MissingPicture(f"A picture's file is missing ({digest[:12]}); {_MEND}") from None
        if hashlib.sha256(data).hexdigest() != digest:
            raise LostPicture(f"A picture's file is damaged ({digest[:12]}); {_MEND}")
        return data

    def has(self, digest: str) -> bool:
        return bool(self._files.exists(self._path(digest)))

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


def _seconds(facts: dict[str, Any]) -> float:
    """When a file was written, as its store tells it."""
    found = next((facts[name] for name in ("mtime", "LastModified", "created") if facts.get(name)), 0.0)
    return float(found) if isinstance(found, float | int) else float(found.timestamp())


def _tuple(protocol: str | tuple[str, ...]) -> tuple[str, ...]:
    return (protocol,) if isinstance(protocol, str) else protocol


_MEND = "run `warmtide check --repair`, or bring the picture in again."
