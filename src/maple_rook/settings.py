"""Settings from the environment, each prefixed ``MAPLE_ROOK_``."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Literal, Self

from pydantic import Field, SecretStr, model_validator
from pydantic_settings import BaseSettings, SettingsConfigDict

PROJECT_ROOT = Path(__file__).resolve().parents[2]


def default_home() -> Path:
    """Where data outlives the work tree: the user's data folder, for root the system's."""
    if os.geteuid() == 0:
        return Path("/var/lib/maple-rook")
    base = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share"
    return Path(base) / "maple-rook"


def named(said: str) -> frozenset[str]:
    """The names in a setting that lists them, commas between.

    >>> sorted(named("Scale.local, bench-2,"))
    ['bench-2', 'scale.local']
    """
    return frozenset(name.strip().lower() for name in said.split(",")) - {""}


class Settings(BaseSettings):
    model_config = SettingsConfigDict(env_prefix="MAPLE_ROOK_")

    database_url: str | None = None
    replica_url: str | None = None
    home: Path = default_home()
    host: str = "127.0.0.1"
    port: int = 8420
    requests_per_minute: int = Field(6000, ge=10)
    public_url: str | None = None
    hosts: str = ""
    trusted_proxies: str = ""
    drain_s: int = Field(30, ge=0, le=600)
    instrument_hosts: str = ""
    run_as: str = "maple-rook"
    s3_endpoint: str | None = None
    s3_bucket: str | None = None
    s3_region: str = "us-east-1"
    s3_key_id: str | None = None
    s3_secret: SecretStr | None = None
    log_level: Literal["debug", "info", "warning", "error"] = "warning"
    log_format: Literal["logfmt", "json"] = "logfmt"
    web_root: Path = PROJECT_ROOT / "web" / "dist"

    @model_validator(mode="after")
    def _whole_bucket(self) -> Self:
        """A bucket that is half set would be found out only when a photograph is added."""
        said = {
            "S3_ENDPOINT": self.s3_endpoint,
            "S3_BUCKET": self.s3_bucket,
            "S3_KEY_ID": self.s3_key_id,
            "S3_SECRET": self.s3_secret,
        }
        missing = [f"MAPLE_ROOK_{name}" for name, value in said.items() if not value]
        if len(missing) not in (0, len(said)):
            raise ValueError(f"a bucket for photographs needs {' and '.join(missing)} as well")
        return self
