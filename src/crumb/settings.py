"""Settings, by environment variables that start with ``CRUMB_``."""

from functools import lru_cache
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """Where things are; every default suits one machine on loopback."""

    model_config = SettingsConfigDict(env_prefix="CRUMB_")

    database_url: str = "postgresql+psycopg://crumb@127.0.0.1:5437/crumb"
    files_dir: Path = Path(".data/files")
    """Uploads and printed sheets: back this up with the database."""
    drawings_dir: Path = Path(".data/drawings")
    """Engravings, which can be made again at any time; each machine has its own."""
    web_dir: Path = Path("web/dist")
    secure_cookies: bool = False
    """Set where the server is reached over https; on loopback there is none."""
    session_days: int = 14
    public_url: str = "http://127.0.0.1:8327"
    """Where people reach the server: printed on practice sheets."""
    trusted_proxies: str = ""
    """Addresses or networks of proxies in front, comma between: only they are believed when they
    say whom they speak for. Empty: nobody is."""
    requests_at_once: int = 12
    """Requests that one process works on at a time; each has a thread and a connection then."""
    requests_waiting: int = 300
    """Requests that wait for that; whoever comes then is asked to come again."""
    statement_seconds: int = 20
    """Longest that the database may think about one thing for a request."""


@lru_cache
def get_settings() -> Settings:
    """The settings of this process."""
    return Settings()
