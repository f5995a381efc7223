"""Running the application: database, migrations, server, and a clean end."""

from __future__ import annotations

import contextlib
import gc
import getpass
import ipaddress
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import webbrowser
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from pwd import struct_passwd
from types import FrameType
from typing import Any

import uvicorn
from fastapi import FastAPI
from sqlalchemy import Engine, select, text
from uvicorn.supervisors import Multiprocess

from maple_rook import demo
from maple_rook.allocator import limit_heaps
from maple_rook.app import create_app
from maple_rook.background.queue import SCHEMA as QUEUE
from maple_rook.cluster import Cluster, ClusterError, free_port
from maple_rook.demo import shelves
from maple_rook.demo.people import IN_DEMO, add_people
from maple_rook.http.observability import COUNTED_TOGETHER
from maple_rook.http.patience import served_with, told_once
from maple_rook.private_files import write_private
from maple_rook.run_files import (
    Running,
    only_server,
    open_connections,
    run_file,
    running_servers,
)
from maple_rook.service_user import run_as, service_user
from maple_rook.settings import PROGRAM, Settings
from maple_rook.store import people, records
from maple_rook.store.database import (
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
CLUSTER_LOOKED_AT_EVERY_S = 2.0
STOPPED_WITHIN_S = 15.0
SAID_AFTER_S = 4.0
"""A server that takes longer to stop is said to, and what it waits for."""
OWNER_LETTER = "owner-address.txt"
"""In the home, where no terminal shows it: the address at which to become the owner."""
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
    """No person of that name."""


def own_cluster(settings: Settings) -> Cluster:
    archive = settings.wal_archive.resolve() if settings.wal_archive else None
    return Cluster(settings.home / "postgresql", wal_archive=archive)


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
        if cluster.alive and not cluster.others_connected():
            cluster.stop()


def keep_running(cluster: Cluster, over: threading.Event, say: Say) -> None:
    """Start PostgreSQL again whenever it ended by itself, at the port it had, until ``over``."""
    while not over.wait(CLUSTER_LOOKED_AT_EVERY_S):
        if cluster.alive:
            continue
        try:
            port = cluster.last_port()
            cluster.start()
            say(f"PostgreSQL had ended; it was started again on 127.0.0.1:{cluster.port}")
            if cluster.port != port:
                say(f"⚠ It had port {port}, which is taken: restart the server")
        except ClusterError as error:
            say(f"⚠ {error}")


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
                    f"{PROGRAM} demo, or name another database."
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


def welcome(engine: Engine, settings: Settings, address: str, *, say: Say) -> None:
    """Tell who starts a shop without an owner where to become one, at every start.

    The address lets in, so it is shown on a terminal only; where there is none, as under a
    service manager, it goes into a file that nobody else may read.
    """
    letter = settings.home / OWNER_LETTER
    with sessions(engine)(info={UNAUDITED: True}) as session:
        if people.has_owner(session):
            letter.unlink(missing_ok=True)
            return
        token = people.invite(session, people.first_owner(session).id)
        session.commit()
    join = f"{address}/join#{token}"
    if sys.stdout.isatty():
        say(f"This shop has no owner yet. Become it at {join}")
        return
    write_private(letter, f"{join}\n")
    say(f"This shop has no owner yet. The address at which to become it is in {letter}")


def reset(engine: Engine, *, say: Say) -> None:
    """Empty a demo database and load it again; a real shop is left alone."""
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
    with contextlib.ExitStack() as stack:
        own = None if settings.database_url else own_cluster(settings)
        if own is not None:
            stack.enter_context(only_server(settings, "demo" if is_demo else "shop"))
        url = stack.enter_context(database(settings, is_demo=is_demo, say=say))
        engine = connect(url)
        prepare(engine, is_demo=is_demo, say=say)
        if is_demo and pieces and (added := shelves.grow_to(engine, pieces)):
            say(f"Added {added:,} pieces, copies of the demo's")
        port = next_port(settings.port, settings.host)
        if port != settings.port and "port" in settings.model_fields_set:
            raise Refused(
                f"Port {settings.port} is taken, which MAPLE_ROOK_PORT names: free it, or name "
                "another. Nothing was started."
            )
        if port != settings.port:
            say(f"Port {settings.port} is taken; using {port}")
        address = f"http://{settings.host}:{port}"
        _warn(settings, is_demo=is_demo, say=say)
        welcome(engine, settings, (settings.public_url or address).rstrip("/"), say=say)
        user = service_user(settings, say)
        shop, whom = _shop_name(engine), user.pw_name if user else getpass.getuser()
        stack.enter_context(run_file(settings, port, address, shop=shop, user=whom))
        stack.enter_context(stand_ins(engine, user, is_demo=is_demo, say=say))
        engine.dispose()
        over = threading.Event()
        stack.callback(over.set)

        def look_after() -> None:
            if own is not None:
                looking = threading.Thread(target=keep_running, args=(own, over, say), daemon=True)
                looking.start()

        serving_url = own.serving_url(DATABASES[is_demo]) if own is not None else url

        def work() -> None:
            announcing = (settings.host, port, address, say, open_browser)
            threading.Thread(target=_announce, args=announcing, daemon=True).start()
            with contextlib.suppress(KeyboardInterrupt):
                _answer(settings, serving_url, port, workers, is_demo=is_demo, say=say)

        if user is None:
            look_after()
            work()
        else:
            run_as(user, partial(_with_parent, os.getpid(), work), look_after)
    say("Stopped")


def _shop_name(engine: Engine) -> str:
    with sessions(engine)() as session:
        shop = session.scalars(select(Shop)).one()
        return f"{shop.name} (demo)" if shop.demo else shop.name


def _with_parent(parent: int, work: Callable[[], None]) -> None:
    threading.Thread(target=_end_with, args=(parent,), daemon=True).start()
    work()


def _answer(
    settings: Settings, url: str, port: int, workers: int, *, is_demo: bool, say: Say
) -> None:
    """Answer requests until told to stop.

    Parameters
    ----------
    settings : the shop's settings.
    url : of the database.
    port : where to listen.
    workers : how many processes serve.
    is_demo : whether it is the demo shop.
    say : where lines for the person at the terminal go.
    """
    told_once()
    limit_heaps()
    how = served_with(
        host=settings.host,
        port=port,
        timeout_graceful_shutdown=settings.drain_s,
        timeout_keep_alive=KEEP_ALIVE_S,
        proxy_headers=bool(settings.trusted_proxies),
        forwarded_allow_ips=settings.trusted_proxies,
    )
    if workers > 1:
        say(f"{workers} processes serve")
        _serve_by_several(url, how, workers, is_demo=is_demo)
        return
    app = create_app(settings, connect(url), IN_DEMO if is_demo else ())
    _settle_memory()
    _Server(uvicorn.Config(app, **how), app.state.instruments.close).run()


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
    limit_heaps()
    settings = Settings()
    assert settings.database_url is not None
    app = create_app(
        settings, connect(settings.database_url), IN_DEMO if os.environ.get(_AS_DEMO) else ()
    )
    _settle_memory()
    told_once()
    _close_streams_first(app.state.instruments.close)
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    return app


def _close_streams_first(close_streams: Callable[[], None]) -> None:
    """End open event streams when told to stop, before the server waits for what is open."""
    for number in (signal.SIGTERM, signal.SIGINT):
        before = signal.getsignal(number)

        def told(got: int, frame: FrameType | None, before: Any = before) -> None:
            close_streams()
            if callable(before):
                before(got, frame)

        signal.signal(number, told)


def _end_with(parent: int) -> None:
    """Stop once the process that started this one is gone, however it went."""
    while os.getppid() == parent:
        time.sleep(1)
    os.kill(os.getpid(), signal.SIGTERM)


def _warn(settings: Settings, *, is_demo: bool, say: Say) -> None:
    """What somebody should know who lets others reach the server."""
    if settings.public_url and not settings.trusted_proxies:
        say(
            "⚠ No proxy is trusted, so everybody behind it counts as one address: set "
            "MAPLE_ROOK_TRUSTED_PROXIES to that of the proxy."
        )
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
def stand_ins(
    engine: Engine, user: struct_passwd | None, *, is_demo: bool, say: Say
) -> Iterator[None]:
    """The demo bench's simulated instruments, in a process that ends with this one.

    Parameters
    ----------
    engine : of the shop's database.
    user : as whom they run; as whoever this is where there is none.
    is_demo : a shop of one's own has none.
    say : where lines for the person at the terminal go.
    """
    if not is_demo:
        yield
        return
    with tempfile.TemporaryDirectory(prefix="maple-rook-instruments-") as folder:
        note = Path(folder, "addresses.json")
        if user is not None:
            shutil.chown(folder, user.pw_uid, user.pw_gid)
        process = subprocess.Popen(
            [sys.executable, "-m", "maple_rook.instruments.stand_ins", str(note)],
            stdin=subprocess.PIPE,
            stdout=subprocess.DEVNULL,
            start_new_session=True,
            user=None if user is None else user.pw_uid,
            group=None if user is None else user.pw_gid,
            extra_groups=None if user is None else [],
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


def _waited_for(running: Running, within_s: float) -> str:
    """What a server that was told to stop still has, in words."""
    still = open_connections(int(running.address.rsplit(":", 1)[1]))
    has = f"{still} connection{'s' if still != 1 else ''} open" if still else "work to finish"
    return f"Waiting for the server at {running.address}, which has {has}: {within_s:.0f} s at most"


def stop_all(settings: Settings, *, say: Say) -> None:
    """Stop every server of our own, then PostgreSQL, unless somebody else still uses it."""
    for running in running_servers(settings):
        os.kill(running.pid, signal.SIGTERM)
        begun = time.monotonic()
        told = False
        within_s = settings.drain_s + STOPPED_WITHIN_S
        while running.alive and time.monotonic() < begun + within_s:
            if not told and time.monotonic() > begun + SAID_AFTER_S:
                told = True
                say(_waited_for(running, within_s))
            time.sleep(0.05)
        if running.alive:
            raise Refused(
                f"The server at {running.address} (process {running.pid}) has not ended yet; "
                "PostgreSQL goes on."
            )
        say(f"Stopped the server at {running.address}")
    cluster = own_cluster(settings)
    if not cluster.data.exists() or not cluster.running:
        return
    others = cluster.others_connected()
    if others:
        raise Refused(f"PostgreSQL goes on, since it is used: {'; '.join(others)}.")
    cluster.stop()
    say("Stopped PostgreSQL")
