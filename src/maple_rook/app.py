"""The application: API, and the built front end from the same process."""

from __future__ import annotations

import time
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from fastapi import APIRouter, FastAPI
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles
from sqlalchemy import Engine
from starlette.middleware.gzip import GZipMiddleware
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from maple_rook import __version__
from maple_rook.instruments import Hub
from maple_rook.settings import Settings
from maple_rook.stations import catalogue, problems
from maple_rook.stations.bench import routes as bench
from maple_rook.stations.board import routes as board
from maple_rook.stations.counter import routes as counter
from maple_rook.stations.exchange import open_api, public
from maple_rook.stations.exchange import routes as exchange
from maple_rook.stations.exchange.importing import Imports
from maple_rook.stations.foods import routes as foods
from maple_rook.stations.instruments import routes as instruments
from maple_rook.stations.instruments import work as instruments_work
from maple_rook.stations.office import routes as office
from maple_rook.stations.photo import routes as photo
from maple_rook.stations.photo.desk import PhotoDesk
from maple_rook.stations.predict import routes as predict
from maple_rook.stations.rack import routes as rack
from maple_rook.stations.reckoning import Reckoning
from maple_rook.stations.sheet import routes as sheet
from maple_rook.stations.shelf import Shelf
from maple_rook.stations.steels import routes as steels
from maple_rook.stations.trials import routes as trials
from maple_rook.stations.upkeep import routes as upkeep
from maple_rook.store.database import sessions
from maple_rook.store.readings import ReadingStore

STATIONS = (catalogue, rack, bench, photo, trials, sheet, board, predict, instruments, foods,
            steels, counter, upkeep, office, exchange, open_api)  # fmt: skip


class BuiltAssets(StaticFiles):
    """Fingerprinted files of the front end; a browser may keep them for good."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        response = await super().get_response(path, scope)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response


class ServerTiming:
    """Say in a header how long the server took, in ms; a browser's network view shows it."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        started = time.perf_counter()

        async def timed(message: Message) -> None:
            if message["type"] == "http.response.start":
                took = 1000 * (time.perf_counter() - started)
                header = (b"server-timing", f"app;dur={took:.1f}".encode())
                message["headers"] = [*message.get("headers", []), header]
            await send(message)

        await self.app(scope, receive, timed)


def create_app(settings: Settings, engine: Engine | None) -> FastAPI:
    """The application on an engine; without one only the API's description can be asked for."""
    hub = Hub()

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        hub.start()
        if engine is not None:
            with app.state.sessions() as session:
                instruments_work.listen(session, hub)
        yield
        await hub.stop()
        if engine is not None:
            app.state.imports.close()
            app.state.readings.close()
            engine.dispose()

    app = FastAPI(
        title="Maple Rook",
        version=__version__,
        lifespan=lifespan,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        generate_unique_id_function=lambda route: f"{route.tags[0]}_{route.name}",
    )
    app.state.settings = settings
    app.state.reckoning = Reckoning()
    app.state.shelf = Shelf(app.state.reckoning)
    app.state.instruments = hub
    app.state.photos = PhotoDesk()
    if engine is not None:
        app.state.sessions = sessions(engine)
        app.state.readings = ReadingStore(engine)
        app.state.imports = Imports(app.state.shelf.forget)
    api = APIRouter(prefix="/api")
    for station in STATIONS:
        api.include_router(station.router)
    app.include_router(api)
    app.include_router(public.router)
    problems.install(app)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=1)
    app.add_middleware(ServerTiming)
    _serve_front_end(app, settings)
    return app


def _serve_front_end(app: FastAPI, settings: Settings) -> None:
    root = settings.web_root
    if not (root / "index.html").exists():
        return
    app.mount("/assets", BuiltAssets(directory=root / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False, tags=["pages"])
    def page(path: str) -> Response:
        """Every address of the front end is its one page; the API's own are not."""
        if path.startswith("api/"):
            return problems.problem(404, "not-found", "Not found", f"There is no /{path}.")
        icon = root / "icon.svg"
        if path == "icon.svg" and icon.exists():
            return FileResponse(icon)
        return FileResponse(root / "index.html", headers={"Cache-Control": "no-cache"})
