"""Logs, metrics and health of a server."""

from __future__ import annotations

import os
import re
import time
import uuid
from pathlib import Path

import structlog
from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.routing import APIRoute
from prometheus_client import CollectorRegistry, Counter, Gauge, Histogram, generate_latest
from prometheus_client.exposition import CONTENT_TYPE_PLAIN_0_0_4
from prometheus_client.multiprocess import MultiProcessCollector, mark_process_dead
from pydantic import BaseModel
from sqlalchemy import Engine, event, text
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from maple_rook import __version__
from maple_rook.http.access import CurrentPerson
from maple_rook.http.policy import action_of
from maple_rook.http.problems import Refused
from maple_rook.http.shop_counts import shop_counts
from maple_rook.store.database import newest_revision

REQUEST_ID = "X-Request-ID"
COUNTED_TOGETHER = "PROMETHEUS_MULTIPROC_DIR"
"""Environment of the processes that serve one address: the folder in which each counts."""
_USABLE_ID = re.compile(r"^[A-Za-z0-9._-]{8,64}$")
_BUCKETS_S = (0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10)
log = structlog.get_logger()
router = APIRouter(tags=["health"])


class NotReady(Refused):
    """The server is up and cannot serve: it says what is missing."""

    status, kind, title = 503, "not-ready", "Not ready"


class Watch:
    """The counts of this process, and of those that serve the same address beside it."""

    def __init__(self) -> None:
        self.registry = CollectorRegistry()
        self.requests = Counter(
            "maple_rook_requests_total",
            "Requests by action and status.",
            ["action", "status"],
            registry=self.registry,
        )
        self.seconds = Histogram(
            "maple_rook_request_seconds",
            "Time to the last byte of the answer.",
            ["action"],
            buckets=_BUCKETS_S,
            registry=self.registry,
        )
        self.running = Gauge(
            "maple_rook_requests_running",
            "Requests being answered.",
            registry=self.registry,
            multiprocess_mode="livesum",
        )
        self.in_use = Gauge(
            "maple_rook_pool_in_use",
            "Connections to the database in use.",
            registry=self.registry,
            multiprocess_mode="livesum",
        )
        self.streams = Gauge(
            "maple_rook_event_streams",
            "Open streams of events, one for each Bench that listens.",
            registry=self.registry,
            multiprocess_mode="livesum",
        )
        Gauge(
            "maple_rook_info",
            "The release that runs.",
            ["version"],
            registry=self.registry,
            multiprocess_mode="livemax",
        ).labels(__version__).set(1)

    def connections(self, engine: Engine) -> None:
        """Count the engine's connections while they are in use."""
        event.listen(engine, "checkout", lambda *_: self.in_use.inc())
        event.listen(engine, "checkin", lambda *_: self.in_use.dec())

    def said(self) -> bytes:
        """All counts in the text format of Prometheus; processes that are gone use nothing."""
        folder = os.environ.get(COUNTED_TOGETHER)
        if folder is None:
            return generate_latest(self.registry)
        for pid in {int(one.stem.rpartition("_")[2]) for one in Path(folder).glob("gauge_*.db")}:
            if not _runs(pid):
                mark_process_dead(pid)  # type: ignore[no-untyped-call]
        together = CollectorRegistry()
        MultiProcessCollector(together)  # type: ignore[no-untyped-call]
        return generate_latest(together)


def _runs(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    return True


class Watched:
    """Gives every request an id, which its log lines and its answer carry, and counts it."""

    def __init__(self, app: ASGIApp, watch: Watch) -> None:
        self.app, self.watch = app, watch

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        scope.setdefault("state", {})
        sent = dict(scope["headers"]).get(b"x-request-id", b"").decode("latin-1")
        request_id = sent if _USABLE_ID.match(sent) else uuid.uuid4().hex
        structlog.contextvars.clear_contextvars()
        structlog.contextvars.bind_contextvars(request_id=request_id)
        started, status = time.perf_counter(), 500

        async def noted(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                took = f"app;dur={1000 * (time.perf_counter() - started):.1f}"
                message["headers"] = [
                    *message.get("headers", []),
                    (b"server-timing", took.encode()),
                    (REQUEST_ID.lower().encode(), request_id.encode()),
                ]
            await send(message)

        self.watch.running.inc()
        try:
            await self.app(scope, receive, noted)
        finally:
            self.watch.running.dec()
            self._note(scope, status, time.perf_counter() - started)

    def _note(self, scope: Scope, status: int, took: float) -> None:
        route = scope.get("route")
        action = action_of(route) if isinstance(route, APIRoute) else "other"
        self.watch.requests.labels(action, str(status)).inc()
        self.watch.seconds.labels(action).observe(took)
        person = getattr(scope["state"].get("person"), "id", None)
        # Never the query, a header or a body: keys and what people typed are nobody's business.
        log.info(
            "request",
            method=scope["method"],
            path=scope["path"],
            status=status,
            ms=round(1000 * took, 1),
            action=action,
            person=person,
        )


class Alive(BaseModel):
    """The process answers."""

    version: str


class Ready(BaseModel):
    """The database answers and is of the revision this release needs."""

    revision: str


@router.get("/health/alive")
async def alive() -> Alive:
    """Whether the process answers; nothing else is checked."""
    return Alive(version=__version__)


@router.get("/health/ready")
def ready(request: Request) -> Ready:
    """Whether it can serve: the database answers, and is of the right revision."""
    with request.app.state.sessions() as db:
        revision = str(db.scalar(text("SELECT version_num FROM alembic_version")))
    if revision != newest_revision():
        raise NotReady(f"The record is of revision {revision}, not {newest_revision()}.")
    return Ready(revision=revision)


@router.get("/metrics", response_class=Response)
async def metrics(request: Request, _: CurrentPerson) -> Response:
    """The counts of all processes at this address, and of the shop, as Prometheus reads them."""
    state = request.app.state

    def said() -> bytes:
        watch: Watch = state.watch
        with state.long_sessions() as db:
            return watch.said() + shop_counts(db, state.settings.backups)

    lines = await run_in_threadpool(said)
    return Response(lines, media_type=CONTENT_TYPE_PLAIN_0_0_4)
