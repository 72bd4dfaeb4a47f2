"""Which engines there are: a file of the owner's, that nothing but the command line and the owner's own hand changes (docs/formats.md)."""

import json
import os
import re
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..core.job.engine import add_engine, engines, forget_engine
from ..core.model.engine import About
from ..core.model.errors import BadInput
from ..core.model.recipe import ENGINE_NAME
from .client import RemoteEngine
from .line import Address

_LOOPBACK = re.compile(r"localhost|127(\.\d{1,3}){3}|\[?::1\]?")
_MOST = 20


class Entry(BaseModel):
    """One engine: where it is, and what it said of itself when it was added. The token is in a file of its own."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    name: str = Field(pattern=ENGINE_NAME)
    url: str
    token_file: Path | None = None
    ca_file: Path | None = None
    about: About

    @property
    def address(self) -> Address:
        return Address(self.url, self.token_file, self.ca_file)


class _File(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")

    engines: tuple[Entry, ...] = Field((), max_length=_MOST)


def checked_url(url: str, with_token: bool) -> str:
    """An engine's address as it is kept. Raises `BadInput` where it is none, or a token would go over the net in the clear."""
    parts = urlsplit(url)
    if (
        parts.scheme not in ("http", "https")
        or not parts.hostname
        or parts.query
        or parts.fragment
        or parts.username
        or parts.password
    ):
        raise BadInput(f"{url!r} is not an engine's address; give one like https://studio.example:8900.")
    if parts.scheme == "http" and with_token and not _LOOPBACK.fullmatch(parts.hostname):
        raise BadInput(f"{url} would get the token in the clear; use https, or an engine on this machine.")
    return url.rstrip("/")


def entries(path: Path) -> tuple[Entry, ...]:
    """The engines that a file names; none where there is no file. Raises `BadInput` for one that can't be read."""
    try:
        return _File.model_validate_json(path.read_bytes()).engines
    except FileNotFoundError:
        return ()
    except (OSError, ValidationError):
        raise BadInput(
            f"{path} can't be read as a list of engines; `warmtide engine` writes it, docs/formats.md says how."
        ) from None


def keep(path: Path, wanted: tuple[Entry, ...]) -> None:
    """Write the file, whole or not at all."""
    if len(wanted) > _MOST:
        raise BadInput(f"At most {_MOST} engines can be known; remove one first.")
    told: dict[str, Any] = _File(engines=wanted).model_dump(mode="json", exclude_defaults=True)
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_suffix(".part")
    part.write_text(json.dumps(told, indent=1, ensure_ascii=False))
    os.replace(part, path)


class Known:
    """The engines of a file, as one process knows them; read again when the file is another."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._seen: tuple[float, int] | None = None
        self.engines: dict[str, RemoteEngine] = {}

    def read(self) -> bool:
        """Make the engines of the file known to this process; whether anything has changed."""
        try:
            facts = self.path.stat()
            seen: tuple[float, int] | None = (facts.st_mtime, facts.st_size)
        except OSError:
            seen = None
        if seen == self._seen:
            return False
        wanted = {entry.name: entry for entry in entries(self.path)}
        self._seen = seen
        for name in [
            name
            for name, engine in self.engines.items()
            if name not in wanted or engine.address != wanted[name].address
        ]:
            self.engines.pop(name).close()
            forget_engine(name)
        for name, entry in wanted.items():
            if name not in self.engines:
                self.engines[name] = RemoteEngine(entry.address, entry.about)
                add_engine(self.engines[name])
        return True

    def refresh(self) -> list[str]:
        """Ask every engine what it is by now; sentences for those that are no longer what they were."""
        faults = []
        for engine in list(self.engines.values()):
            try:
                engine.refresh()
            except BadInput as error:
                faults.append(str(error))
        return faults


def others() -> list[RemoteEngine]:
    """Engines beside the built-in one that this process knows."""
    return [engine for engine in engines().values() if isinstance(engine, RemoteEngine)]
