"""Running the application: database, migrations, server, and a clean end."""

from __future__ import annotations

import contextlib
import gc
import ipaddress
import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import webbrowser
from collections.abc import Callable, Iterator
from pathlib import Path
from types import FrameType
from typing import Any

import uvicorn
from fastapi import FastAPI
from sqlalchemy import Engine, select, text
from uvicorn.supervisors import Multiprocess

from maple_rook import demo
from maple_rook.app import create_app
from maple_rook.background.queue import SCHEMA as QUEUE
from maple_rook.cluster import Cluster, free_port
from maple_rook.demo import shelves
from maple_rook.demo.people import IN_DEMO, add_people
from maple_rook.http.observability import COUNTED_TOGETHER
from maple_rook.run_files import is_ours, run_file, running_servers
from maple_rook.settings import Settings
from maple_rook.store import people, records
from maple_rook.store.database import (
    APPLICATION_NAME,
    UNAUDITED,
    connect,
    found_shop,
    migrate,
    sessions,
)
from maple_rook.store.tables import Piece, Shop

Say = Callable[[str], None]
DATABASES = {True: "maple_rook_demo", False: "maple_rook"}
PORTS_TRIED = 50
STAND_INS_START_S = 10.0
KEEP_ALIVE_S = 75
"""Longer than a busy moment: a connection is not closed under a request that is on its way."""
_AS_DEMO = "MAPLE_ROOK_AS_DEMO"


class Refused(RuntimeError):
    """A command that does not fit the shop it found; the message says why."""


class NotADemo(Refused):
    """The database holds a real shop; demo commands leave it alone."""


class NotYours(Refused):
    """The database holds the demo, whose passwords anybody knows."""


class NotThere(Refused):
    """Nobody of that name."""


def own_cluster(settings: Settings) -> Cluster:
    return Cluster(settings.home / "postgresql")


@contextlib.contextmanager
def database(settings: Settings, *, is_demo: bool, say: Say) -> Iterator[str]:
    """Address of the database, with a cluster of our own running unless one was given."""
    if settings.database_url:
        say("Using the PostgreSQL that MAPLE_ROOK_DATABASE_URL names")
        yield settings.database_url
        return
    settings.home.mkdir(parents=True, exist_ok=True)
    cluster = own_cluster(settings)
    started = cluster.start()
    say(f"PostgreSQL {'started' if started else 'runs'} on 127.0.0.1:{cluster.port}")
    try:
        cluster.ensure_database(DATABASES[is_demo])
        yield cluster.url(DATABASES[is_demo])
    finally:
        if cluster.running and not cluster.others_connected(APPLICATION_NAME):
            cluster.stop()


def prepare(engine: Engine, *, is_demo: bool, say: Say) -> None:
    """Migrate, found the shop, and load the demo into an empty one."""
    migrate(engine)
    with sessions(engine)(info={UNAUDITED: True}) as session:
        found_shop(session)
        session.commit()
        shop = session.scalars(select(Shop)).one()
        if not is_demo:
            if shop.demo:
                raise NotYours(
                    f"This database holds the demo, {shop.name}: serve it with "
                    "./rook demo, or name another database."
                )
            return
        stocked = session.scalar(select(Piece.id).limit(1)) is not None
        if stocked and not shop.demo:
            raise NotADemo(f"This database holds {shop.name}, not the demo; nothing was changed.")
        if not stocked:
            say("Loading the demo shop")
            demo.load(session)
        add_people(session)
        if not stocked:
            demo.change_a_little(session)
        session.commit()


def welcome(engine: Engine, address: str, *, say: Say) -> None:
    """Tell who starts a shop without an owner where to become one; each start anew."""
    with sessions(engine)(info={UNAUDITED: True}) as session:
        if people.has_owner(session):
            return
        token = people.invite(session, people.first_owner(session).id)
        session.commit()
    say(f"This shop has no owner yet. Become it at {address}/join#{token}")


def reset(engine: Engine, *, say: Say) -> None:
    """Empty a demo database and load it anew; a real shop is left alone."""
    migrate(engine)
    with sessions(engine)() as session:
        shop = session.scalars(select(Shop)).first()
        if shop is not None and not shop.demo and session.scalar(select(Piece.id).limit(1)):
            raise NotADemo(f"This database holds {shop.name}, not the demo; nothing was changed.")
    with engine.begin() as connection:
        connection.execute(text("DROP SCHEMA public CASCADE"))
        connection.execute(text(f"DROP SCHEMA IF EXISTS {QUEUE} CASCADE"))
        connection.execute(text("CREATE SCHEMA public"))
    prepare(engine, is_demo=True, say=say)


def serve(
    settings: Settings,
    *,
    is_demo: bool,
    say: Say,
    open_browser: bool = True,
    pieces: int = 0,
    workers: int = 1,
) -> None:
    """Serve until told to stop, then stop what was started; a demo fills up to ``pieces``.

    Parameters
    ----------
    settings : the shop's settings.
    is_demo : whether it is the demo shop.
    say : where lines for the person at the terminal go.
    open_browser : whether a browser is opened.
    pieces : how many pieces the demo shop has at least.
    workers : how many processes serve.
    """
    signal.signal(signal.SIGTERM, _leave)
    with database(settings, is_demo=is_demo, say=say) as url:
        engine = connect(url)
        prepare(engine, is_demo=is_demo, say=say)
        if is_demo and pieces and (added := shelves.grow_to(engine, pieces)):
            say(f"Added {added:,} pieces, copies of the demo's")
        port = next_port(settings.port, settings.host)
        if port != settings.port:
            say(f"Port {settings.port} is taken; using {port}")
        address = f"http://{settings.host}:{port}"
        _warn(settings, is_demo=is_demo, say=say)
        welcome(engine, (settings.public_url or address).rstrip("/"), say=say)
        with run_file(settings, port, address), stand_ins(engine, is_demo=is_demo, say=say):
            threading.Thread(
                target=_announce,
                args=(settings.host, port, address, say, open_browser),
                daemon=True,
            ).start()
            how: dict[str, Any] = {
                "host": settings.host,
                "port": port,
                "log_level": "warning",
                "access_log": False,
                "timeout_graceful_shutdown": 3,
                "timeout_keep_alive": KEEP_ALIVE_S,
            }
            try:
                if workers > 1:
                    engine.dispose()
                    say(f"{workers} processes serve")
                    _serve_by_several(url, how, workers, is_demo=is_demo)
                else:
                    app = create_app(settings, engine, IN_DEMO if is_demo else ())
                    _settle_memory()
                    _Server(uvicorn.Config(app, **how), app.state.instruments.close).run()
            except KeyboardInterrupt:
                pass
            finally:
                engine.dispose()
        say("Stopped")


def _serve_by_several(url: str, how: dict[str, Any], workers: int, *, is_demo: bool) -> None:
    """One address, several processes behind it; one that dies is started again."""
    os.environ["MAPLE_ROOK_DATABASE_URL"] = url
    os.environ[_AS_DEMO] = "yes" if is_demo else ""
    config = uvicorn.Config(f"{__name__}:worker", factory=True, workers=workers, **how)
    with tempfile.TemporaryDirectory(prefix="maple-rook-counts-") as folder:
        os.environ[COUNTED_TOGETHER] = folder
        Multiprocess(config, [config.bind_socket()]).run()


def worker() -> FastAPI:
    """The application of one of several processes; what it needs to know is in its environment."""
    settings = Settings()
    assert settings.database_url is not None
    app = create_app(
        settings, connect(settings.database_url), IN_DEMO if os.environ.get(_AS_DEMO) else ()
    )
    _settle_memory()
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    return app


def _end_with(parent: int) -> None:
    """Stop once the process that started this one is gone, however it went."""
    while os.getppid() == parent:
        time.sleep(1)
    os.kill(os.getpid(), signal.SIGTERM)


def _warn(settings: Settings, *, is_demo: bool, say: Say) -> None:
    """What somebody should know who lets others reach the server."""
    if ipaddress.ip_address(socket.gethostbyname(settings.host)).is_loopback:
        return
    say(f"⚠ Others can reach this server: it listens on {settings.host}, not only on loopback.")
    if is_demo:
        say("⚠ The demo tells its passwords to everybody who opens it.")
    if not (settings.public_url or "").startswith("https:"):
        say(
            "⚠ Passwords travel unencrypted: put a proxy with TLS in front, and set "
            "MAPLE_ROOK_PUBLIC_URL to its https address."
        )


@contextlib.contextmanager
def stand_ins(engine: Engine, *, is_demo: bool, say: Say) -> Iterator[None]:
    """The demo bench's simulated instruments, in a process that ends with this one."""
    if not is_demo:
        yield
        return
    with tempfile.TemporaryDirectory(prefix="maple-rook-instruments-") as folder:
        note = Path(folder, "addresses.json")
        process = subprocess.Popen(
            [sys.executable, "-m", "maple_rook.instruments.stand_ins", str(note)],
            stdin=subprocess.PIPE,
            stdout=subprocess.DEVNULL,
            start_new_session=True,
        )
        try:
            addresses = _noted(note, process)
            if addresses:
                with sessions(engine)(info={UNAUDITED: True}) as session:
                    records.place_stand_ins(session, addresses)
                say("Simulated instruments answer at the Bench and in Trials")
            else:
                say("The simulated instruments did not start; readings can be typed")
            yield
        finally:
            process.terminate()
            process.wait(timeout=5)


def _noted(note: Path, process: subprocess.Popen[bytes]) -> dict[str, str]:
    deadline = time.monotonic() + STAND_INS_START_S
    while time.monotonic() < deadline and process.poll() is None:
        if note.exists():
            found: dict[str, str] = json.loads(note.read_text())
            return found
        time.sleep(0.02)
    return {}


class _Server(uvicorn.Server):
    """A server that ends its open event streams when told to stop, so that stopping is quick."""

    def __init__(self, config: uvicorn.Config, close_streams: Callable[[], None]) -> None:
        super().__init__(config)
        self._close_streams = close_streams

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        self._close_streams()
        super().handle_exit(sig, frame)


def _settle_memory() -> None:
    """Leave what start-up made out of every later garbage collection, and collect less often."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 20)


def _leave(*_: object) -> None:
    raise KeyboardInterrupt


def next_port(wanted: int, host: str) -> int:
    """The wanted port, or the next free one after it."""
    for port in range(wanted, wanted + PORTS_TRIED):
        if free_port(port, host) == port:
            return port
    return free_port(0, host)


def _announce(host: str, port: int, address: str, say: Say, open_browser: bool) -> None:
    deadline = time.monotonic() + 30
    while time.monotonic() < deadline:
        with contextlib.suppress(OSError), socket.create_connection((host, port), timeout=1):
            break
        time.sleep(0.05)
    say(f"Maple Rook is ready at {address}  (Ctrl-C stops it)")
    screen = os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")
    if open_browser and screen and "CI" not in os.environ:
        webbrowser.open(address)


def stop_all(settings: Settings, *, say: Say) -> None:
    """Stop every server of ours, then PostgreSQL."""
    for pid, address, note in running_servers(settings):
        os.kill(pid, signal.SIGTERM)
        deadline = time.monotonic() + 15
        while note.exists() and is_ours(pid) and time.monotonic() < deadline:
            time.sleep(0.05)
        say(f"Stopped the server at {address}")
    cluster = own_cluster(settings)
    if cluster.data.exists() and cluster.running:
        cluster.stop()
        say("Stopped PostgreSQL")
