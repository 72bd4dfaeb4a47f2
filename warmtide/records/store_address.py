"""Where images are kept: a folder, or a bucket that speaks S3."""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ..core.model.errors import BadInput

# Seconds until a connection to a bucket stands and until it answers, and how often it is asked before it counts as away.
_CONNECT, _READ, _TRIES = 5, 30, 6


@dataclass(frozen=True)
class StoreAddress:
    """A folder or s3://bucket/prefix, and for a bucket its endpoint, the file of its keys and its certificate's authority."""

    at: str
    endpoint: str = ""
    keys: Path | None = None
    ca: Path | None = None

    @property
    def in_bucket(self) -> bool:
        return self.at.startswith("s3://")

    def options(self) -> dict[str, Any]:
        """What the file system of a bucket is opened with; nothing for a folder. Raises `BadInput`."""
        if not self.in_bucket:
            if "://" in self.at and not self.at.startswith(("file://", "memory://")):
                raise BadInput(f"{self.at!r} is no store; give a folder, or s3://bucket/prefix.")
            return {}
        client: dict[str, Any] = {"endpoint_url": self.endpoint} if self.endpoint else {}
        if self.ca is not None:
            client["verify"] = str(self.ca)
        known = {"key": None, "secret": None} if self.keys is None else _read(self.keys)
        return {
            **{name: value for name, value in known.items() if value}, "client_kwargs": client, "use_listings_cache": False,
            # A service that asks for nothing fancy: path addresses, checksums only where they are needed.
            "config_kwargs": {
                "connect_timeout": _CONNECT, "read_timeout": _READ, "retries": {"max_attempts": _TRIES, "mode": "standard"},
                "s3": {"addressing_style": "path"}, "request_checksum_calculation": "when_required", "response_checksum_validation": "when_required",
            },
        }  # fmt: skip


def _read(path: Path) -> dict[str, str]:
    try:
        lines = [line.strip() for line in path.read_text().splitlines() if line.strip()]
    except (OSError, UnicodeDecodeError):
        raise BadInput(f"The file of the store's keys, {path}, can't be read.") from None
    if len(lines) != 2:
        raise BadInput(f"The file of the store's keys, {path}, has two lines: the key's name and its secret.")
    return {"key": lines[0], "secret": lines[1]}
