"""Settings, from the environment (WARMTIDE_...)."""

from functools import cache
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict

from .records.store_address import StoreAddress

ROOT = Path(__file__).resolve().parent.parent


class Settings(BaseSettings):
    """What differs between machines.

    database : postgresql:// address. store : the folder for images, or s3://bucket/prefix; store_endpoint : where that bucket is, if
    not with the one who gave the protocol its name; store_keys : a file with its key's name and secret, each in a line of its own (if
    there is none, they come from the environment or the machine); store_ca : the authority that its certificate is checked by.
    hosts : names under which the server may be reached, by comma; `any-address` is every number address. key : what
    whoever comes in must have; none is asked for where it is empty. engines : the file that names engines beside the built-in one. frontend : the built interface.
    """

    model_config = SettingsConfigDict(env_prefix="WARMTIDE_")

    database: str = "postgresql://127.0.0.1/warmtide"
    store: str = str(ROOT / ".data" / "images")
    store_endpoint: str = ""
    store_keys: Path | None = None
    store_ca: Path | None = None
    hosts: str = "127.0.0.1,localhost"
    key: str = ""
    engines: Path | None = None
    frontend: Path = ROOT / "frontend" / "dist"

    @property
    def store_at(self) -> StoreAddress:
        """Where images are kept."""
        return StoreAddress(self.store, self.store_endpoint, self.store_keys, self.store_ca)


@cache
def settings() -> Settings:
    return Settings()
