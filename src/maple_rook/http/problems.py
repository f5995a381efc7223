"""Every error as problem+json (RFC 9457): what happened, where, and what is accepted."""

from __future__ import annotations

import asyncio
import sys
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

import psycopg
import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from sqlalchemy.exc import InternalError, OperationalError
from sqlalchemy.exc import TimeoutError as NoFreeConnection
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from maple_rook.core.errors import InvalidValue, MapleRookError
from maple_rook.core.measurement.plausibility import Doubt
from maple_rook.formats.incoming.table import MOST_BYTES
from maple_rook.http.not_accepted import A_DOCUMENT, field_error, in_words
from maple_rook.photo.picture import MOST_BYTES as MOST_PHOTO_BYTES
from maple_rook.settings import Settings
from maple_rook.store.picture_store import PictureStoreDown
from maple_rook.store.records import NotFound

PROBLEM_TYPE = "application/problem+json"
MAX_BODY_BYTES = 4_000_000
BODY_GRACE_S, BODY_BYTES_PER_S = 10.0, 2_000
"""A body is waited for as long as the grace, and a second more for so many bytes that came."""
LARGE_BODIES = {"/api/imports": MOST_BYTES, "/api/photos": MOST_PHOTO_BYTES}
"""Paths that take files: tables, which are written to disk as they arrive, and photos."""
log = structlog.get_logger()


class UnusualValue(MapleRookError):
    """A reading outside the typical range that has not been confirmed."""

    def __init__(self, field: str, value: str, doubt: Doubt) -> None:
        self.field, self.value, self.doubt = field, value, doubt
        super().__init__(doubt.message)


class Conflict(MapleRookError):
    """The request does not fit the record as it stands."""


class Refused(MapleRookError):
    """A request that is not let through, whatever it asks; subclasses say why and with what."""

    status, kind, title = 400, "refused", "Refused"
    headers: Mapping[str, str] = MappingProxyType({})


class SignInNeeded(Refused):
    """Nobody is signed in."""

    status, kind, title = 401, "sign-in-needed", "Not signed in"
    headers = MappingProxyType({"WWW-Authenticate": 'Bearer realm="Maple Rook"'})


class NotPermitted(Refused):
    """The person who is signed in may not do this."""

    status, kind, title = 403, "not-permitted", "Not permitted"


class PasswordNeeded(Refused):
    """The person who is signed in may do this after entering the password again."""

    status, kind, title = 403, "password-needed", "Password needed"


class SecondStepNeeded(Refused):
    """An owner signed in in one step where the shop asks two of owners."""

    status, kind, title = 403, "second-step-needed", "Second step needed"


class FromElsewhere(Refused):
    """A request another site made a browser send."""

    status, kind, title = 403, "from-elsewhere", "Not from this page"


class TooMany(Refused):
    """Asked too often; ``seconds`` until it may be asked again."""

    status, kind, title = 429, "too-many", "Too many requests"

    def __init__(self, message: str, seconds: int) -> None:
        super().__init__(message)
        self.headers = MappingProxyType({"Retry-After": str(max(1, seconds))})


def problem(status: int, kind: str, title: str, detail: str, **more: Any) -> JSONResponse:
    body = {"type": kind, "title": title, "status": status, "detail": detail, **more}
    return JSONResponse(body, status, media_type=PROBLEM_TYPE)


async def _invalid_request(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    errors = [in_words(e) for e in error.errors()]
    first = errors[0]
    detail = f"{first['field']}: {first['value']} is not accepted; accepted: {first['accepted']}"
    return problem(422, "invalid-value", "Not accepted", detail, errors=errors)


async def _known(_: Request, error: Exception) -> JSONResponse:
    if isinstance(error, InvalidValue):
        field = field_error(error.field, error.value, error.accepted, str(error))
        return problem(
            422,
            "invalid-value",
            "Not accepted",
            str(error),
            errors=[field],
            suggestion=error.suggestion or None,
        )
    if isinstance(error, UnusualValue):
        doubt = error.doubt
        accepted = f"typically {doubt.typical_low:g} to {doubt.typical_high:g}; confirm to keep it"
        field = field_error(error.field, error.value, accepted, doubt.message)
        return problem(
            422,
            "unusual-value",
            "Unusual value",
            doubt.message,
            errors=[field],
            suggestion=doubt.suggestion,
        )
    if isinstance(error, Refused):
        answer = problem(error.status, error.kind, error.title, str(error))
        answer.headers.update(error.headers)
        return answer
    if isinstance(error, NotFound):
        return problem(404, "not-found", "Not found", str(error))
    if isinstance(error, Conflict):
        return problem(409, "conflict", "Does not fit the record", str(error))
    return problem(400, "refused", "Refused", str(error))


async def _http(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, HTTPException)
    if isinstance(error.__cause__, ValueError) and error.status_code == 400:
        accepted = A_DOCUMENT
        wrong = field_error("body", "what was sent", accepted, "it cannot be read as JSON")
        detail = f"body: what was sent is not accepted; accepted: {accepted}"
        return problem(422, "invalid-value", "Not accepted", detail, errors=[wrong])
    answer = problem(error.status_code, "http", str(error.detail), str(error.detail))
    answer.headers.update(error.headers or {})
    return answer


_DATABASE_SAYS = {
    "53100": "The disk of the database is full.",
    "53200": "The database is out of memory.",
    "53300": "The database has too many connections.",
    "57014": "The database took too long.",
    "25006": "The database is read-only at the moment.",
}
"""What an operator can act on, by SQLSTATE (PostgreSQL's manual, appendix A)."""


async def _database_gone(request: Request, error: Exception) -> JSONResponse:
    state = _sqlstate(error)
    log.error("database unavailable", path=request.url.path, sqlstate=state, error=str(error))
    what = _DATABASE_SAYS.get(state, "The database does not answer.")
    return _unavailable(f"{what} Nothing was stored; try again in a moment.")


def _sqlstate(error: Exception) -> str:
    return getattr(getattr(error, "orig", error), "sqlstate", None) or ""


async def _database_fault(request: Request, error: Exception) -> JSONResponse:
    known = _sqlstate(error) in _DATABASE_SAYS
    return await (_database_gone if known else _unexpected)(request, error)


async def _pictures_gone(request: Request, error: Exception) -> JSONResponse:
    log.error("bucket of photographs unavailable", path=request.url.path, error=str(error))
    return _unavailable(str(error), "Photographs unavailable")


async def _database_busy(request: Request, error: Exception) -> JSONResponse:
    log.error("no connection to the database is free", path=request.url.path, error=str(error))
    return _unavailable("The database is busy. Nothing was stored; try again.")


def _unavailable(detail: str, title: str = "Database unavailable") -> JSONResponse:
    answer = problem(503, "unavailable", title, detail)
    answer.headers["Retry-After"] = "2"
    return answer


async def _unexpected(request: Request, error: Exception) -> JSONResponse:
    log.exception("unexpected error", path=request.url.path, exc_info=error)
    detail = "Something went wrong on our side. Nothing was stored."
    return problem(500, "unexpected", "Unexpected error", detail)


class BodyLimit:
    """Refuse bodies over :data:`MAX_BODY_BYTES`, and files over their own limit.

    Declared sizes are refused before reading, streamed ones as soon as they pass the limit. One
    that comes in drops is given up; time that it is not waited for does not count.
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = dict(scope["headers"])
        most = LARGE_BODIES.get(scope["path"], MAX_BODY_BYTES)
        declared = headers.get(b"content-length", b"0")
        if declared.isdigit() and int(declared) > most:
            await self._refuse(most, scope, receive, send)
            return
        seen, waited_s, whole = 0, 0.0, False
        clock = asyncio.get_running_loop().time

        async def counted() -> Message:
            nonlocal seen, waited_s, whole
            if whole:
                return await receive()
            before = clock()
            try:
                async with asyncio.timeout(BODY_GRACE_S + seen / BODY_BYTES_PER_S - waited_s):
                    message = await receive()
            except TimeoutError:
                detail = "The body came too slowly; nothing was stored."
                raise HTTPException(408, detail, {"Connection": "close"}) from None
            waited_s += clock() - before
            whole = not message.get("more_body", False)
            seen += len(message.get("body", b""))
            if seen > most:
                raise HTTPException(413, f"The body is over {most // 1000} kB.")
            return message

        await self.app(scope, counted, send)

    async def _refuse(self, most: int, scope: Scope, receive: Receive, send: Send) -> None:
        detail = f"The body is over {most // 1000} kB; nothing was stored."
        await problem(413, "too-large", "Too large", detail)(scope, receive, send)


def install(app: FastAPI, settings: Settings) -> None:
    plain = settings.log_format == "logfmt"
    structlog.configure(
        processors=[
            structlog.contextvars.merge_contextvars,
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso"),
            structlog.processors.format_exc_info,
            structlog.processors.LogfmtRenderer() if plain else structlog.processors.JSONRenderer(),
        ],
        wrapper_class=structlog.make_filtering_bound_logger(settings.log_level),
        logger_factory=structlog.PrintLoggerFactory(sys.stderr),
    )
    app.add_exception_handler(RequestValidationError, _invalid_request)
    app.add_exception_handler(MapleRookError, _known)
    app.add_exception_handler(PictureStoreDown, _pictures_gone)
    app.add_exception_handler(HTTPException, _http)
    app.add_exception_handler(OperationalError, _database_gone)
    app.add_exception_handler(InternalError, _database_fault)
    app.add_exception_handler(psycopg.OperationalError, _database_gone)
    app.add_exception_handler(psycopg.InternalError, _database_fault)
    app.add_exception_handler(NoFreeConnection, _database_busy)
    app.add_exception_handler(Exception, _unexpected)
    app.add_middleware(BodyLimit)
