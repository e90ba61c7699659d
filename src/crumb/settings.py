"""What can be set from outside, by environment variables that start with ``CRUMB_``."""

from functools import lru_cache
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """Where things are; every default suits one machine on loopback."""

    model_config = SettingsConfigDict(env_prefix="CRUMB_")

    database_url: str = "postgresql+psycopg://crumb@127.0.0.1:5437/crumb"
    files_dir: Path = Path(".data/files")
    web_dir: Path = Path("web/dist")
    secure_cookies: bool = False
    """Set where the server is reached over https; on loopback there is none."""
    session_days: int = 14
    public_url: str = "http://127.0.0.1:8327"
    """Where people reach the server: printed on practice sheets."""


@lru_cache
def get_settings() -> Settings:
    """The settings of this process."""
    return Settings()
