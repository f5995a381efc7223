"""Settings from the environment, each prefixed ``MAPLE_ROOK_``."""

from __future__ import annotations

import difflib
import os
import re
from pathlib import Path
from typing import Literal, Self
from urllib.parse import urlsplit

from pydantic import Field, SecretStr, ValidationError, field_validator, model_validator
from pydantic_settings import BaseSettings, SettingsConfigDict

PACKAGE = Path(__file__).resolve().parent
PROJECT_ROOT = PACKAGE.parents[1]
BUILT_IN = PACKAGE / "web"
"""The built front end inside an installed package; a clone builds its own."""
INSTALLED = (BUILT_IN / "index.html").exists()
PROGRAM = "maple-rook" if INSTALLED else "./rook"
"""What a person types."""


PREFIX = "MAPLE_ROOK_"
_ADDRESS = re.compile(r"https?://[^/?#\s]+(?:/[\w.~-]+)*/?")
NOT_OF_THE_SERVER = {"MAPLE_ROOK_AS_DEMO", "MAPLE_ROOK_KEY"}
"""What our own processes tell each other, and what programs at the API read their key from."""


class WrongSettings(ValueError):
    """The environment holds settings that cannot be used; the message says which and why."""


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
    wal_archive: Path | None = None
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
    web_root: Path = BUILT_IN if INSTALLED else PROJECT_ROOT / "web" / "dist"

    @property
    def backups(self) -> Path:
        """Where backups lie unless a command names another folder."""
        return self.home / "backups"

    @property
    def path(self) -> str:
        """Below which path of its public address the shop is: '' or '/knives'."""
        return urlsplit(self.public_url or "").path.rstrip("/")

    @field_validator("public_url")
    @classmethod
    def _address(cls, said: str | None) -> str | None:
        """An address that links are made of; a path has letters that need no escaping."""
        if said and not _ADDRESS.fullmatch(said):
            raise ValueError(
                "it is an address as https://example.com or https://example.com/knives"
            )
        return said

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


def from_environment() -> Settings:
    """The settings of this process.

    Raises
    ------
    WrongSettings
        For a name that is no setting, which would be passed over without a word, and for a value
        that a setting cannot have.
    """
    known = {f"{PREFIX}{name.upper()}" for name in Settings.model_fields} | NOT_OF_THE_SERVER
    unknown = sorted(n for n in os.environ if n.startswith(PREFIX) and n not in known)
    if unknown:
        close = difflib.get_close_matches(unknown[0], known, n=1)
        meant = f"; did you mean {close[0]}?" if close else "; docs/operations.md lists them."
        raise WrongSettings(f"{unknown[0]} is no setting of Maple Rook{meant}")
    try:
        return Settings()
    except ValidationError as error:
        raise WrongSettings("\n".join(_in_words(dict(one)) for one in error.errors())) from None


def _in_words(error: dict[str, object]) -> str:
    place = error["loc"]
    message = str(error["msg"]).removeprefix("Value error, ")
    if not isinstance(place, tuple) or not place:
        return f"{message[:1].upper()}{message[1:]}."
    name = f"{PREFIX}{str(place[0]).upper()}"
    return f"{name} cannot be {os.environ.get(name, '')!r}: {message[:1].lower()}{message[1:]}."
