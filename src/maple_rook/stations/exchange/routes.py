from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse

from maple_rook.formats.csv_table import CSV_TYPE
from maple_rook.formats.incoming.understand import Verdict
from maple_rook.stations.access import CurrentPerson, Db, Opener
from maple_rook.stations.exchange import work
from maple_rook.stations.exchange.importing import Imports
from maple_rook.stations.exchange.schemas import ChoicesIn, ImportOut, ImportsOut, RowsOut
from maple_rook.stations.schemas import storable

router = APIRouter(tags=["exchange"])


def _imports(request: Request) -> Imports:
    found: Imports = request.app.state.imports
    return found


@router.get("/imports")
def imports(db: Db, _: CurrentPerson) -> ImportsOut:
    """What columns of a table can mean, and what was brought in before."""
    return work.overview(db)


@router.post(
    "/imports",
    status_code=201,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {
                "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}
            },
        }
    },
)
async def open_file(
    request: Request,
    opener: Opener,
    _: CurrentPerson,
    name: Annotated[str, Query(min_length=1, max_length=200)],
) -> ImportOut:
    """Give a CSV, XLSX or JSON file as the body; nothing is written yet."""
    waiting = _imports(request)
    path, sha256 = await waiting.receive(request.stream())

    def opened() -> ImportOut:
        with opener() as db:
            return work.opened(db, waiting, path, sha256, storable(name))

    return await run_in_threadpool(opened)


@router.get("/imports/{key}")
def one(
    request: Request, db: Db, _: CurrentPerson, key: str,
    source: Annotated[str | None, Query(max_length=80)] = None,
) -> ImportOut:  # fmt: skip
    """A file as it stands; with another ``source`` its columns are read as that one's were."""
    return work.shown(db, _imports(request).get(key), source)


@router.post("/imports/{key}/run", status_code=202)
def run(
    request: Request, db: Db, opener: Opener, person: CurrentPerson, key: str, asked: ChoicesIn
) -> ImportOut:
    """Try the file, or bring it in ``for_good``; ask for it again to see how far it is."""
    return work.shown(db, _imports(request).start(key, opener, person.id, asked), asked.source)


@router.get("/imports/{key}/rows")
def rows(
    request: Request, _: CurrentPerson, key: str,
    verdict: Verdict | None = None,
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> RowsOut:  # fmt: skip
    """Row by row what became of the file."""
    return work.rows(_imports(request).get(key), verdict, offset, limit)


@router.get("/imports/{key}/report.csv", response_class=StreamingResponse)
def report(request: Request, _: CurrentPerson, key: str) -> StreamingResponse:
    """The whole report as a file."""
    lines = work.report_csv(_imports(request).get(key))
    headers = {"Content-Disposition": 'attachment; filename="report.csv"'}
    return StreamingResponse(lines, media_type=CSV_TYPE, headers=headers)


@router.delete("/imports/{key}", status_code=204)
def stop(request: Request, _: CurrentPerson, key: str) -> None:
    """Stop what runs, keeping nothing of it, or forget a file at rest."""
    _imports(request).stop(key)
