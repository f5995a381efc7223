"""The queue of tasks, kept in PostgreSQL: any process may take one, and none is lost.

A task whose process died is continued by another after :data:`STALLED_AFTER_S`; one whose
process is told to stop goes back into the queue. A task therefore writes all it writes, and that it
is done, in one transaction.
"""

from __future__ import annotations

import asyncio
import contextlib
import threading
from collections.abc import Callable
from typing import Any

import structlog
from procrastinate import App, PsycopgConnector, RetryStrategy, SyncPsycopgConnector
from procrastinate.exceptions import ConnectorException
from sqlalchemy import Engine
from sqlalchemy.exc import OperationalError

from maple_rook.store.database import APPLICATION_NAME, driver_address

SCHEMA = "jobs"
STALLED_AFTER_S, LOOKED_AT_EVERY_S = 20.0, 5.0
STOPPED_WITHIN_S, _FAREWELL_S = 10.0, 2.0
CONNECTED_WITHIN_S = 2.0
_HEARTBEAT_S = 5.0
log = structlog.get_logger()


class Interrupted(Exception):
    """The process stops; another one does it."""


AGAIN = (Interrupted, OperationalError)
"""What a task raises to be done again: its process stops, or the database went away."""


class TaskQueue:
    """The tasks of one process: those it puts into the queue, and those it takes out."""

    def __init__(self, engine: Engine) -> None:
        how: dict[str, Any] = {
            "conninfo": driver_address(engine.url),
            "kwargs": {"options": f"-c search_path={SCHEMA}", "application_name": APPLICATION_NAME},
            "timeout": CONNECTED_WITHIN_S,
        }
        self.app = App(connector=PsycopgConnector(**how, min_size=1, max_size=4))
        self._putting = App(connector=SyncPsycopgConnector(**how, min_size=0, max_size=4))
        self._working: list[asyncio.Task[None]] = []
        self.stopping = threading.Event()
        """Set once the process stops: long work looks at it and raises :class:`Interrupted`."""

    def add(self, name: str, work: Callable[..., None]) -> None:
        """Name a kind of task: one at a time, in a thread, and again where it was interrupted."""
        again = RetryStrategy(max_attempts=100, wait=1, retry_exceptions=AGAIN)
        for app in (self.app, self._putting):
            app.task(name=name, retry=again, lock=name)(work)

    def put(self, name: str, **about: Any) -> None:
        """Put a task into the queue; it is there when this returns."""
        self._putting.configure_task(name).defer(**about)

    async def start(self) -> None:
        self._putting.open()
        await self.app.open_async()
        self._working = [
            asyncio.create_task(self._work()),
            asyncio.create_task(self._take_up_again()),
        ]

    async def _work(self) -> None:
        while not self.stopping.is_set():
            try:
                await self.app.run_worker_async(
                    install_signal_handlers=False,
                    concurrency=2,
                    delete_jobs="successful",
                    shutdown_graceful_timeout=STOPPED_WITHIN_S,
                    update_heartbeat_interval=_HEARTBEAT_S,
                    stalled_worker_timeout=STALLED_AFTER_S,
                    fetch_job_polling_interval=2.0,
                )
                return
            except (ConnectorException, OSError) as error:  # the database is away for a while
                log.warning("the queue of tasks waits for the database", error=str(error))
                await asyncio.sleep(1)

    async def _take_up_again(self) -> None:
        """Put back what a process that died was working on."""
        while True:
            with contextlib.suppress(ConnectorException, OSError):
                manager = self.app.job_manager
                for job in await manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER_S):
                    log.warning("a task is taken up again", job=job.id, task=job.task_name)
                    await manager.retry_job(job)
            await asyncio.sleep(LOOKED_AT_EVERY_S)

    async def stop(self) -> None:
        """End what is done at a good place; a database that is away is not waited for."""
        self.stopping.set()
        for task in self._working:
            task.cancel()
        if self._working:
            await asyncio.wait(self._working, timeout=STOPPED_WITHIN_S + _FAREWELL_S)
        with contextlib.suppress(TimeoutError, ConnectorException):
            async with asyncio.timeout(_FAREWELL_S):
                await self.app.close_async()
        self._putting.close()
