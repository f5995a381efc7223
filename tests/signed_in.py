"""Somebody signed in, without the page: a key on the client's every request."""

from __future__ import annotations

from typing import Any, Protocol

import httpx2 as httpx
from playwright.sync_api import BrowserContext
from sqlalchemy import Engine, select

from maple_rook.http.authentication import COOKIE, TOKEN_HEADER, page_token
from maple_rook.store import people
from maple_rook.store.database import connect, sessions
from maple_rook.store.tables import Person


def key_of(engine: Engine, role: str = "owner", kind: str = people.PROGRAM, name: str = "") -> str:
    """A key of the first person of a role, or what a browser of theirs keeps in its cookie."""
    which = Person.name == name if name else Person.role == role
    with sessions(engine)() as db:
        person = db.scalars(select(Person).where(which).order_by(Person.id)).first()
        assert person is not None, role
        key = people.let_in(db, person.id, kind=kind, label="tests")
        db.commit()
    return key


def as_owner(address: str, database_url: str, timeout: float = 20) -> httpx.Client:
    """A client of a served shop, as its owner."""
    engine = connect(database_url)
    client = httpx.Client(base_url=address, timeout=timeout)
    bearing(client, key_of(engine))
    engine.dispose()
    return client


def bearer(engine: Engine) -> dict[str, str]:
    return {"Authorization": f"Bearer {key_of(engine)}"}


def bearing(client: httpx.Client, key: str) -> httpx.Client:
    """The client, which shows the key from now on, and changes things whatever they are now."""
    client.headers.update({"Authorization": f"Bearer {key}", "If-Match": "*"})
    return client


class Contexts(Protocol):
    """Opens a browser of its own, at the same shop unless told another."""

    def __call__(self, **how: Any) -> BrowserContext: ...


def in_browser(token: str) -> dict[str, Any]:
    """How a browser is opened in which somebody is signed in already."""
    cookie = {"name": COOKIE, "value": token, "domain": "127.0.0.1", "path": "/"}
    return {
        "storage_state": {"cookies": [cookie], "origins": []},
        "extra_http_headers": {TOKEN_HEADER: page_token(token)},
    }
