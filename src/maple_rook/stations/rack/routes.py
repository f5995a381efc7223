from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.responses import StreamingResponse
from pydantic import Field

from maple_rook.core.comparing import ClaimVerdict
from maple_rook.formats.csv_table import CSV_TYPE
from maple_rook.stations.access import MAX_ID, CurrentPerson, Db
from maple_rook.stations.rack import as_table, claim_list, work
from maple_rook.stations.rack.claim_list import ClaimList
from maple_rook.stations.rack.schemas import RackOut, StripKnife

router = APIRouter(tags=["rack"])


def rack_query(
    search: Annotated[str, Query(max_length=200)] = "",
    sort: Annotated[str, Query(max_length=40, description=", ".join(work.SORT_KEYS))] = "name",
    descending: bool = False,
    knife_type: Annotated[list[str] | None, Query(max_length=40)] = None,
    within: Annotated[
        list[str] | None, Query(max_length=20, description="key:low:high, such as weight:100:200")
    ] = None,
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=200)] = 48,
) -> work.RackQuery:
    """The query string as the shelf understands it."""
    ranges = dict(work.range_of(text) for text in within or [])
    types = tuple(knife_type or ())
    return work.RackQuery(search, sort, descending, types, ranges, offset, limit)


@router.get("/rack", response_model=RackOut)
def rack(
    request: Request,
    db: Db,
    _: CurrentPerson,
    query: Annotated[work.RackQuery, Depends(rack_query)],
) -> Response:
    """A page of the shelf, filtered and sorted."""
    state = request.app.state
    found = work.rack(db, state.shelf, state.overview, query)
    return Response(found, media_type="application/json")


@router.get("/rack.csv", response_class=StreamingResponse)
def table(
    request: Request,
    db: Db,
    _: CurrentPerson,
    query: Annotated[work.RackQuery, Depends(rack_query)],
) -> StreamingResponse:
    """The shelf as the search and the ranges leave it, as CSV; the page is passed over."""
    lines = as_table.shelf_csv(db, request.app.state.shelf, query)
    headers = {"Content-Disposition": 'attachment; filename="shelf.csv"'}
    return StreamingResponse(lines, media_type=CSV_TYPE, headers=headers)


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
    return work.strip(db, request.app.state.shelf, piece or [])
