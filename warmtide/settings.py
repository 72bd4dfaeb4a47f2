"""Settings, from the environment (WARMTIDE_...)."""

from functools import cache
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict

ROOT = Path(__file__).resolve().parent.parent


class Settings(BaseSettings):
    """What differs between machines.

    database : postgresql:// address. store : an fsspec address of the folder or bucket for images.
    hosts : names under which the server may be reached, by comma; `any-address` is every number address. key : what
    whoever comes in must have; none is asked for where it is empty. engines : the file that names engines beside the built-in one. frontend : the built interface.
    """

    model_config = SettingsConfigDict(env_prefix="WARMTIDE_")

    database: str = "postgresql://127.0.0.1/warmtide"
    store: str = str(ROOT / ".data" / "images")
    hosts: str = "127.0.0.1,localhost"
    key: str = ""
    engines: Path | None = None
    frontend: Path = ROOT / "frontend" / "dist"


@cache
def settings() -> Settings:
    return Settings()
