"""The file of a study that comes from outside: opened, proved, never trusted."""

import hashlib
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO

from pydantic import ValidationError

from ...core.model.errors import BadInput
from .form import FOLDERS, FORMAT, MOST_FILES, VERSION, FileBody, StudyFile
from .write import NAME

# What `study.json` may hold, and what one picture may.
_MOST_TOLD, _MOST_FILE = 256 << 20, 1 << 30
_NOT_ONE = "This is no file of a study; bring in a .zip that was saved from the shelf."
_DAMAGED = "The file of the study is damaged ({}); save it again where it was made."


class OpenedStudy:
    """A study's file that can be read, file by file. To be closed."""

    def __init__(self, file: Path | IO[bytes]) -> None:
        """Raises `BadInput` where it is not the file of a study, or says what can't be."""
        try:
            self._zip = zipfile.ZipFile(file)
        except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
            raise BadInput(_NOT_ONE) from None
        try:
            if len(self._zip.infolist()) > MOST_FILES + 1:
                raise BadInput(_DAMAGED.format("too many files"))
            self.study = _told(self._read(NAME, _MOST_TOLD, _NOT_ONE))
            self._check_files()
        except BaseException:
            self._zip.close()
            raise

    def close(self) -> None:
        self._zip.close()

    def _read(self, path: str, most: int, otherwise: str) -> bytes:
        try:
            info = self._zip.getinfo(path)
            if info.file_size > most:
                raise BadInput(_DAMAGED.format("a part of it is too large"))
            with self._zip.open(info) as entry:
                # What is packed may be more than it says.
                data = entry.read(most + 1)
        except KeyError:
            raise BadInput(otherwise) from None
        except (zipfile.BadZipFile, OSError, EOFError, NotImplementedError, RuntimeError, ValueError) as error:
            if isinstance(error, BadInput):
                raise
            raise BadInput(_DAMAGED.format("it can't be unpacked")) from None
        except Exception:
            # Unpackers raise whatever they come upon.
            raise BadInput(_DAMAGED.format("it can't be unpacked")) from None
        if len(data) > most:
            raise BadInput(_DAMAGED.format("a part of it is too large"))
        return data

    def _check_files(self) -> None:
        names = set(self._zip.namelist())
        told = {body.digest: body for body in self.study.files}
        for body in self.study.files:
            folder, _, name = body.path.partition("/")
            if folder != FOLDERS[body.kind] or not name.startswith(body.digest):
                raise BadInput(_DAMAGED.format("a file lies where it can't be"))
            if body.path not in names:
                raise BadInput(_DAMAGED.format(f"{body.path[:40]} is missing"))
        if len(told) < len(self.study.files):
            raise BadInput(_DAMAGED.format("a file is named twice"))

    @property
    def weight(self) -> int:
        """What its files take."""
        return sum(body.bytes for body in self.study.files)

    def data(self, body: FileBody) -> bytes:
        """The bytes of one file, proved by its name; raises `BadInput`."""
        data = self._read(body.path, min(body.bytes, _MOST_FILE), _DAMAGED.format(f"{body.path[:40]} is missing"))
        if hashlib.sha256(data).hexdigest() != body.digest:
            raise BadInput(_DAMAGED.format(f"{body.path[:40]} is not what it was"))
        return data

    def files(self) -> Iterator[tuple[FileBody, bytes]]:
        """Every file, one after another."""
        for body in self.study.files:
            yield body, self.data(body)


def _told(data: bytes) -> StudyFile:
    try:
        found = json.loads(data)
    except (ValueError, RecursionError):
        raise BadInput(_DAMAGED.format("what it says can't be read")) from None
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise BadInput(_NOT_ONE)
    if found.get("version") != VERSION:
        raise BadInput("The file of the study is of a newer Warm Tide; bring it in there, or update this one.")
    try:
        return StudyFile.model_validate(found)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])[:60]
        raise BadInput(_DAMAGED.format(f"{where}: {str(first['msg'])[:80]}")) from None
