"""Browsers that somebody signed in with before carry a signed cookie that says with which names.

It lets nobody in. Whoever brings it is not kept waiting by what strangers try under their name.
"""

from __future__ import annotations

import secrets
from dataclasses import dataclass

from itsdangerous import BadData, URLSafeTimedSerializer

COOKIE = "rook-known"
KEPT_FOR_S = 180 * 86_400
MOST_PEOPLE = 12


@dataclass(frozen=True)
class KnownBrowser:
    """A browser by its random number, and the people who signed in there, the latest last."""

    number: str
    people: tuple[int, ...] = ()

    def knows(self, person_id: int | None) -> bool:
        return person_id in self.people

    def with_person(self, person_id: int) -> KnownBrowser:
        others = tuple(p for p in self.people if p != person_id)
        return KnownBrowser(self.number, (*others, person_id)[-MOST_PEOPLE:])


def read(cookie: str, key: bytes) -> KnownBrowser:
    """What a cookie says that this shop signed; a new browser where it says nothing."""
    try:
        number, people = _serializer(key).loads(cookie, max_age=KEPT_FOR_S)
        return KnownBrowser(str(number), tuple(int(p) for p in people))
    except (BadData, TypeError, ValueError):
        return KnownBrowser(secrets.token_urlsafe(12))


def written(browser: KnownBrowser, key: bytes) -> str:
    return str(_serializer(key).dumps([browser.number, list(browser.people)]))


def _serializer(key: bytes) -> URLSafeTimedSerializer:
    return URLSafeTimedSerializer(key, salt="known browser")
