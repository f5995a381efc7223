from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import StreamingResponse
from pydantic import Field

from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.formats.csv_table import CSV_TYPE
from maple_rook.http.access import MAX_ID, CurrentPerson, Db, LongDb
from maple_rook.http.downloads import written
from maple_rook.shelf import as_table
from maple_rook.shelf.query import AskedQuery
from maple_rook.stations.rack import claim_list, use_cases
from maple_rook.stations.rack.claim_list import ClaimList
from maple_rook.stations.rack.schemas import RackOut, StripKnife

router = APIRouter(tags=["rack"])


@router.get("/rack", response_model=RackOut)
def rack(request: Request, db: Db, _: CurrentPerson, query: AskedQuery) -> Response:
    """A page of the shelf, filtered and sorted."""
    state = request.app.state
    found = use_cases.rack(db, state.shelf, state.overview, query)
    return Response(found, media_type="application/json")


@router.get("/rack.csv", response_class=StreamingResponse)
def table(request: Request, db: LongDb, _: CurrentPerson, query: AskedQuery) -> StreamingResponse:
    """The shelf as the search and the ranges leave it, as CSV; the page is passed over."""
    lines = as_table.shelf_csv(db, request.app.state.shelf, query)
    return written(lines, CSV_TYPE, "shelf.csv")


@router.get("/claims")
def claims(
    request: Request,
    db: Db,
    _: CurrentPerson,
    search: Annotated[str, Query(max_length=200)] = "",
    verdict: ClaimVerdict | None = None,
    limit: Annotated[int, Query(ge=1, le=500)] = 60,
) -> ClaimList:
    """What makers printed against what was measured, over the whole shelf."""
    return claim_list.claims(db, request.app.state.shelf, search, verdict, limit)


@router.get("/strip")
def strip(
    request: Request,
    db: Db,
    _: CurrentPerson,
    piece: Annotated[
        list[Annotated[int, Field(ge=1, le=MAX_ID)]] | None, Query(max_length=6)
    ] = None,
) -> list[StripKnife]:
    """The knives in hand, for the strip."""
    return use_cases.strip(db, request.app.state.shelf, piece or [])
