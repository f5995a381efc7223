"""Authentication of every request: who asks, whether they may, from which page, how often."""

from __future__ import annotations

import hashlib
import hmac
import time
from collections import OrderedDict
from urllib.parse import urlsplit

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from limits import RateLimitItemPerMinute
from limits.aio.storage import MemoryStorage  # the other one starts a thread for a request
from limits.aio.strategies import FixedWindowRateLimiter
from sqlalchemy.orm import Session, sessionmaker
from starlette.responses import Response

from maple_rook.core.errors import InvalidValue
from maple_rook.http import known_browsers
from maple_rook.http.hashing import HashingLine
from maple_rook.http.idempotency import asked_once
from maple_rook.http.policy import GRAVE, POLICY, May, Somebody, action_of, permitted
from maple_rook.http.problems import (
    FromElsewhere,
    NotPermitted,
    PasswordNeeded,
    SecondStepNeeded,
    SignInNeeded,
    TooMany,
)
from maple_rook.settings import Settings
from maple_rook.store import people

SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
COOKIE = "rook"
TOKEN_HEADER = "X-Rook-Token"
KNOWN_FOR_S = 2.0
CONFIRMED_FOR_S = 900.0
"""How long a password that was given counts as given lately."""
MOST_KNOWN = 5_000
OF_NOBODY = ("health_alive", "health_ready")
"""Health is answered without authentication and without a database connection."""
BY_ADDRESS = "upkeep_calendar"
"""The one action whose key may stand in the address: calendars cannot send headers."""


def page_token(token: str) -> str:
    """A token that only our own pages know for a sign-in; it is sent with every write."""
    return hashlib.sha256(f"page {token}".encode("utf-8", "surrogatepass")).hexdigest()


class Entrance:
    """Lets requests in; who came in lately is remembered :data:`KNOWN_FOR_S` by each process."""

    def __init__(self, settings: Settings) -> None:
        public = urlsplit(settings.public_url or "")
        self._public_host, self._public_is_encrypted = public.netloc, public.scheme == "https"
        self._path = f"{settings.path}/"
        self._limiter = FixedWindowRateLimiter(MemoryStorage())
        self._signed_in = RateLimitItemPerMinute(settings.requests_per_minute)
        self._anybody = RateLimitItemPerMinute(max(1, settings.requests_per_minute // 10))
        self._known: OrderedDict[str, tuple[Somebody, float]] = OrderedDict()
        self.hashing = HashingLine()

    # Cookies

    def cookie(self, request: Request, name: str = COOKIE) -> str:
        """Its name; over TLS with a prefix that no other host can set it under, and no other path
        where the shop has the host for itself (RFC 6265bis).
        """
        if not self._encrypted(request):
            return name
        return f"__Secure-{name}" if self._path != "/" else f"__Host-{name}"

    def let_in(self, request: Request, answer: Response, token: str, known: str) -> None:
        """Set the cookies of who signed in: the sign-in, and that this browser is known.

        Parameters
        ----------
        request : what was asked.
        answer : what is answered.
        token : of the sign-in.
        known : signed, who signs in here.
        """
        signed_in_s = int(people.SIGNED_IN_FOR.total_seconds())
        for name, value, seconds in (
            (COOKIE, token, signed_in_s),
            (known_browsers.COOKIE, known, known_browsers.KEPT_FOR_S),
        ):
            answer.set_cookie(
                self.cookie(request, name),
                value,
                max_age=seconds,
                path=self._path,
                secure=self._encrypted(request),
                httponly=True,
                samesite="strict",
            )

    def known_browser(self, request: Request) -> str:
        """What the browser brings of earlier sign-ins, as it is."""
        return request.cookies.get(self.cookie(request, known_browsers.COOKIE), "")

    def let_out(self, request: Request, answer: Response) -> None:
        answer.delete_cookie(
            self.cookie(request),
            path=self._path,
            secure=self._encrypted(request),
            httponly=True,
            samesite="strict",
        )

    def _encrypted(self, request: Request) -> bool:
        return self._public_is_encrypted or request.scope["scheme"] == "https"

    # Who

    async def who(self, request: Request, action: str) -> Somebody | None:
        token, brought = self._token(request, action)
        if not token or action in OF_NOBODY:
            return None
        known = self._known.get(token)
        if known is None or time.monotonic() > known[1]:
            found = await run_in_threadpool(_entered, request.app.state.sessions, token)
            if found is None:
                self._known.pop(token, None)
                return None
            known = self._known[token] = (found, time.monotonic() + KNOWN_FOR_S)
            while len(self._known) > MOST_KNOWN:
                self._known.popitem(last=False)
        somebody = known[0]
        may_look = somebody.kind != people.CALENDAR or action == BY_ADDRESS
        return somebody if somebody.kind in brought and may_look else None

    def _token(self, request: Request, action: str) -> tuple[str, tuple[str, ...]]:
        """A token, and of which kinds it may be, brought as it is: addresses end up in logs."""
        scheme, _, key = request.headers.get("authorization", "").partition(" ")
        if scheme.lower() == "bearer":
            return key.strip(), (people.PROGRAM, people.CALENDAR)
        if action == BY_ADDRESS and "key" in request.query_params:
            return request.query_params["key"], (people.CALENDAR,)
        return request.cookies.get(self.cookie(request), ""), (people.BROWSER,)

    def forget(self) -> None:
        """Somebody's sign-ins changed: look again."""
        self._known.clear()

    # Whether

    async def check(self, request: Request, action: str, somebody: Somebody | None) -> None:
        """Refuse what is too often, comes from another page, or is not permitted."""
        await self.count(request, somebody)
        if request.method not in SAFE:
            self._check_page(request, somebody)
        may = POLICY.get(action)
        if may is May.COME:
            return
        if somebody is None:
            raise SignInNeeded("Sign in first.")
        if somebody.owes_second_step and may is not May.SELF:
            raise SecondStepNeeded("Owners here sign in in two steps; add the second one first.")
        if may is None or may not in somebody.may:
            raise NotPermitted(
                f"As {somebody.role} this is not permitted; an owner can change that."
            )
        if (may is May.SELF or action in GRAVE) and somebody.kind != people.BROWSER:
            raise NotPermitted(
                "People, passwords, keys and sign-ins can only be changed in a browser."
            )
        if action in GRAVE and time.monotonic() > somebody.confirmed_until:
            raise PasswordNeeded("Confirm your password first.")

    async def count(self, request: Request, somebody: Somebody | None) -> None:
        """Limit the rate of requests: by sign-in, or by address without one."""
        item = self._anybody if somebody is None else self._signed_in
        who = address(request) if somebody is None else f"#{somebody.sign_in_id}"
        if not await self._limiter.hit(item, who):
            stats = await self._limiter.get_window_stats(item, who)
            wait_s = round(stats.reset_time - time.time())
            raise TooMany("Too many requests; wait a moment.", wait_s)

    def _check_page(self, request: Request, somebody: Somebody | None) -> None:
        site = request.headers.get("sec-fetch-site", "same-origin")
        origin = request.headers.get("origin")
        ours = (request.headers.get("host", ""), self._public_host)
        if site not in ("same-origin", "none") or (
            origin is not None and (urlsplit(origin).netloc or None) not in ours
        ):
            raise FromElsewhere("This request came from another site; nothing was done.")
        if somebody is not None and somebody.kind == people.BROWSER:
            sent = request.headers.get(TOKEN_HEADER, "")
            if not hmac.compare_digest(sent.encode(), somebody.page_token.encode()):
                raise FromElsewhere("This page was opened before you signed in; reload it.")


def _entered(opener: sessionmaker[Session], token: str) -> Somebody | None:
    with opener() as db:
        found = people.entered_with(db, token)
    if found is None:
        return None
    return Somebody(
        found.person_id,
        found.name,
        found.role,
        permitted(found.role, found.narrowed_to),
        found.sign_in_id,
        found.kind,
        page_token(token),
        time.monotonic() + CONFIRMED_FOR_S - float(found.confirmed_s),
        found.owes_second_step,
    )


def address(request: Request) -> str:
    """Where a request came from, as the server in front says."""
    return request.client.host if request.client else "nowhere"


def check_address(request: Request) -> None:
    """Refuse an address with a NUL in it: PostgreSQL's text holds none, so none is looked for."""
    said = [("address", request.scope["path"])]
    if request.scope["query_string"]:
        said += request.query_params.multi_items()
    for name, value in said:
        if "\x00" in name + value:
            raise InvalidValue(name, value, "text without NUL characters")


async def at_the_entrance(request: Request) -> None:
    """What every request of the API passes first."""
    check_address(request)
    entrance: Entrance = request.app.state.entrance
    action = action_of(request.scope["route"])
    somebody = await entrance.who(request, action)
    request.state.person = somebody
    await entrance.check(request, action, somebody)
    request.state.asked = await asked_once(request, action, somebody)


async def at_the_window(request: Request) -> None:
    """What every request of a public page passes: rate limits, without authentication."""
    check_address(request)
    request.state.person = request.state.asked = None
    await request.app.state.entrance.count(request, None)
