"""Requests that create carry a key (``Idempotency-Key``); sent again they are answered again."""

from __future__ import annotations

import hashlib
import uuid

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from sqlalchemy.orm import Session, sessionmaker
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from maple_rook.core.errors import InvalidValue
from maple_rook.http.policy import POLICY, May, Somebody
from maple_rook.http.problems import LARGE_BODIES, problem
from maple_rook.store import request_keys
from maple_rook.store.request_keys import AlreadyAsked, Asked

HEADER = "Idempotency-Key"
_CREATE_NOTHING = (May.COME, May.SELF, May.LOOK)
_TELL_A_SECRET = frozenset({"people_invite", "people_invite_again"})
"""Their answers are shown once and never kept."""


async def asked_once(request: Request, action: str, somebody: Somebody | None) -> Asked | None:
    """The key a request came with, where there is something to create."""
    sent = request.headers.get(HEADER)
    if (
        sent is None
        or somebody is None
        or request.method != "POST"
        or POLICY[action] in _CREATE_NOTHING
        or request.url.path in LARGE_BODIES
    ):
        return None
    try:
        key = uuid.UUID(sent)
    except ValueError:
        raise InvalidValue(HEADER, sent, "a UUID") from None
    digest = hashlib.sha256(f"{request.url.path}?{request.url.query} ".encode())
    digest.update(await request.body())
    return Asked(somebody.id, key, digest.digest(), keeps=action not in _TELL_A_SECRET)


async def answered_before(request: Request, error: Exception) -> Response:
    """The answer to a request that was done before: the same again, unless another was asked."""
    assert isinstance(error, AlreadyAsked)
    return await run_in_threadpool(_before, request.app.state.sessions, error.asked)


def _before(opener: sessionmaker[Session], asked: Asked) -> Response:
    with opener() as db:
        row = request_keys.kept(db, asked)
    if row is None:
        return problem(
            409, "conflict", "Does not fit the record", "The same request is being handled already."
        )
    if row.asked_sha256 != asked.sha256:
        detail = "This key was used for another request; make a new one."
        return problem(422, "invalid-value", "Not accepted", detail)
    if row.status is None or row.answer is None:
        return problem(409, "done-already", "Done already", str(AlreadyAsked(asked)))
    headers = {"Idempotency-Replayed": "true"}
    return Response(row.answer, row.status, headers, row.media_type)


class KeepAnswers:
    """Keeps the answer to a request with a key before it is sent."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        held: list[Message] = []

        async def kept(message: Message) -> None:
            asked: Asked | None = scope.get("state", {}).get("asked")
            if asked is None or not asked.written:
                await send(message)
                return
            held.append(message)
            if message["type"] == "http.response.body" and not message.get("more_body"):
                await self._keep(scope, asked, held)
                for one in held:
                    await send(one)

        await self.app(scope, receive, kept)

    async def _keep(self, scope: Scope, asked: Asked, held: list[Message]) -> None:
        status = held[0]["status"]
        headers = dict(held[0]["headers"])
        if asked.keeps and status < 300 and b"idempotency-replayed" not in headers:
            media_type = headers.get(b"content-type", b"").decode("latin-1")[:80]
            answer = b"".join(m.get("body", b"") for m in held[1:])
            opener = scope["app"].state.sessions
            await run_in_threadpool(_keep_answer, opener, asked, status, media_type, answer)


def _keep_answer(
    opener: sessionmaker[Session], asked: Asked, status: int, media_type: str, answer: bytes
) -> None:
    with opener() as db:
        request_keys.keep_answer(db, asked, status, media_type, answer)
