"""The application: API, and the built front end from the same process."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from functools import partial

from anyio import CapacityLimiter
from fastapi import Depends, FastAPI
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse, HTMLResponse
from fastapi.staticfiles import StaticFiles
from sqlalchemy import Engine
from sqlalchemy.orm import Session, sessionmaker
from starlette.middleware.gzip import GZipMiddleware
from starlette.responses import Response
from starlette.types import Scope

from maple_rook import __version__
from maple_rook.answers.calibration import CalibrationCache
from maple_rook.background.apart import Apart
from maple_rook.background.notifications import INSTRUMENTS, Bulletin
from maple_rook.background.queue import TaskQueue
from maple_rook.background.tasks import TaskKind, Tasks
from maple_rook.http import observability, problems
from maple_rook.http.authentication import Entrance, at_the_entrance, at_the_window
from maple_rook.http.below import Below
from maple_rook.http.hosts import KnownHosts, known_hosts
from maple_rook.http.idempotency import KeepAnswers, answered_before
from maple_rook.http.observability import Watch, Watched
from maple_rook.http.openapi import describe
from maple_rook.http.policy import Role, action_of
from maple_rook.http.security_headers import Guarded, new_nonce, page_policy
from maple_rook.instruments import Hub
from maple_rook.settings import Settings
from maple_rook.shelf.overview import Overview
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.bench import routes as bench
from maple_rook.stations.board import routes as board
from maple_rook.stations.catalogue import routes as catalogue
from maple_rook.stations.counter import routes as counter
from maple_rook.stations.cut_trials import routes as cut_trials
from maple_rook.stations.exchange import open_api, open_knives, public
from maple_rook.stations.exchange import routes as exchange
from maple_rook.stations.exchange.importing import Imports
from maple_rook.stations.foods import routes as foods
from maple_rook.stations.instruments import routes as instruments
from maple_rook.stations.instruments.use_cases import listen
from maple_rook.stations.mending import routes as mending
from maple_rook.stations.office import repeatability, shop_settings
from maple_rook.stations.office import routes as office
from maple_rook.stations.pages import public as published
from maple_rook.stations.pages import routes as pages
from maple_rook.stations.pages.standing import PageMemory
from maple_rook.stations.people import routes as people
from maple_rook.stations.people.schemas import DemoPersonOut
from maple_rook.stations.photo import routes as photo
from maple_rook.stations.photo.desk import PhotoDesk
from maple_rook.stations.photo.proving import prove_photos
from maple_rook.stations.predict import routes as predict
from maple_rook.stations.rack import routes as rack
from maple_rook.stations.sheet import routes as sheet
from maple_rook.stations.steels import routes as steels
from maple_rook.stations.tasks import routes as tasks
from maple_rook.stations.trials import routes as trials
from maple_rook.stations.upkeep import routes as upkeep
from maple_rook.store.database import LONG_WORK, REQUESTS, connect, sessions
from maple_rook.store.picture_store import bucket_of
from maple_rook.store.readings import ReadingStore
from maple_rook.store.replica import Reads
from maple_rook.store.request_keys import AlreadyAsked
from maple_rook.store.shelf import settle

STATIONS = (
    bench,
    catalogue,
    rack,
    photo,
    trials,
    cut_trials,
    sheet,
    board,
    predict,
    instruments,
    foods,
    steels,
    counter,
    upkeep,
    office,
    mending,
    shop_settings,
    repeatability,
    tasks,
    people,
    observability,
    exchange,
    pages,
    open_knives,
    open_api,
)


READING_THREADS = 8
NONCE_HERE = "nonce-of-this-page"
BASE_HERE = 'name="base-path" content=""'


class BuiltAssets(StaticFiles):
    """Fingerprinted files of the front end; a browser may keep them for good."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        response = await super().get_response(path, scope)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response


def create_app(
    settings: Settings, engine: Engine | None, in_demo: Sequence[tuple[str, str, str]] = ()
) -> FastAPI:
    """The application on an engine; without one only the API's description can be asked for.

    ``in_demo`` are name, role and password of whom anybody may be in a demo shop.
    """
    hub = Hub()

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        hub.start()
        if engine is not None:
            with app.state.sessions() as session:
                listen(session, hub)
                settle(session)
                session.commit()
            await app.state.task_queue.start()
            app.state.bulletin.start()
            await app.state.readings.open()
        yield
        await hub.stop()
        if engine is not None:
            await app.state.bulletin.stop()
            await app.state.task_queue.stop()
            app.state.imports.close()
            await run_in_threadpool(app.state.apart.close)
            await run_in_threadpool(app.state.photos.close)
            await run_in_threadpool(app.state.pictures.close)
            await app.state.readings.close()
            for opened in (engine, *app.state.engines):
                opened.dispose()

    app = FastAPI(
        title="Maple Rook",
        version=__version__,
        lifespan=lifespan,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        generate_unique_id_function=action_of,
        servers=[{"url": settings.path}] if settings.path else None,
    )
    app.state.settings = settings
    app.state.calibrations = CalibrationCache()
    app.state.instruments = hub
    app.state.bucket = bucket_of(settings)
    app.state.page_memory = PageMemory()
    app.state.apart = Apart("file", at_once=2, waiting=8)
    app.state.pictures = Apart("photo", at_once=1, waiting=24)
    app.state.photos = PhotoDesk(Apart("photo", at_once=1, waiting=8))
    if engine is not None:
        _open_the_record(app, engine, settings.replica_url)
    app.state.entrance = Entrance(settings)
    app.state.in_demo = [
        DemoPersonOut(name=name, role=Role(role), password=password)
        for name, role, password in in_demo
    ]
    for station in STATIONS:
        app.include_router(station.router, prefix="/api", dependencies=[Depends(at_the_entrance)])
    for shown in (public, published):
        app.include_router(shown.router, dependencies=[Depends(at_the_window)])
    describe(app)
    problems.install(app, settings)
    app.add_exception_handler(AlreadyAsked, answered_before)
    app.state.watch = Watch()
    if engine is not None:
        app.state.watch.connections(app.state.sessions.kw["bind"])
    _wrap(app, settings)
    _serve_front_end(app, settings)
    return app


def _wrap(app: FastAPI, settings: Settings) -> None:
    """What a request goes through before the routes, the last one first."""
    app.add_middleware(KeepAnswers)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=1)
    app.add_middleware(KnownHosts, known=known_hosts(settings))
    app.add_middleware(Guarded)
    app.add_middleware(Watched, watch=app.state.watch)
    app.add_middleware(Below, path=settings.path)


def _open_the_record(app: FastAPI, engine: Engine, replica_url: str | None) -> None:
    """What lives on the database: what somebody waits for apart from long work."""
    asked, long_work = connect(engine.url, REQUESTS), sessions(engine)
    replicas = [connect(replica_url, p) if replica_url else None for p in (REQUESTS, LONG_WORK)]
    app.state.engines = [asked, *filter(None, replicas)]
    app.state.sessions, app.state.long_sessions = sessions(asked), long_work
    app.state.reads, app.state.long_reads = (
        Reads(primary, sessions(replica) if replica else None)
        for primary, replica in zip((app.state.sessions, long_work), replicas, strict=True)
    )
    app.state.readings = ReadingStore(engine)
    app.state.of_readings = CapacityLimiter(READING_THREADS)
    app.state.task_queue = TaskQueue(engine)
    app.state.bulletin = _bulletin(engine, app.state.instruments, long_work)
    app.state.imports = Imports(long_work, app.state.task_queue, app.state.apart)
    background = app.state.tasks = Tasks(long_work, app.state.task_queue)
    shelf = app.state.shelf = Shelf(
        app.state.calibrations, long_work, lambda: background.begin(TaskKind.SHELF)
    )
    app.state.overview = Overview()
    background.add(TaskKind.SHELF, shelf.work_all_out)
    background.add(TaskKind.PHOTOS, partial(prove_photos, long_work, app.state.photos))


def _bulletin(engine: Engine, hub: Hub, opener: sessionmaker[Session]) -> Bulletin:
    """What other processes tell, passed on to the instruments and Benches of this one."""

    def listen_again() -> None:
        with opener() as session:
            listen(session, hub)

    def heard(what: str) -> None:
        if what == INSTRUMENTS:
            asyncio.get_running_loop().run_in_executor(None, listen_again)
        else:
            hub.changed_elsewhere(int(what))

    bulletin = Bulletin(engine, heard)
    hub.abroad = lambda sheet_id: bulletin.tell(str(sheet_id))
    hub.wanted_abroad = lambda: bulletin.tell(INSTRUMENTS)
    return bulletin


def _serve_front_end(app: FastAPI, settings: Settings) -> None:
    root = settings.web_root
    if not (root / "index.html").exists():
        return
    app.mount("/assets", BuiltAssets(directory=root / "assets"), name="assets")
    index = (root / "index.html").read_text(encoding="utf-8")
    index = index.replace('="./', f'="{settings.path}/').replace(
        BASE_HERE, BASE_HERE.replace('""', f'"{settings.path}"')
    )

    @app.get("/{path:path}", include_in_schema=False, tags=["pages"])
    def page(path: str) -> Response:
        """Every address of the front end is its one page; the API's own are not."""
        if path.startswith("api/"):
            return problems.problem(404, "not-found", "Not found", f"There is no /{path}.")
        icon = root / "icon.svg"
        if path == "icon.svg" and icon.exists():
            return FileResponse(icon)
        nonce = new_nonce()
        headers = {"Cache-Control": "no-cache", "Content-Security-Policy": page_policy(nonce)}
        return HTMLResponse(index.replace(NONCE_HERE, nonce), headers=headers)
