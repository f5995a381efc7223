"""What programs ask of knives at /api/v1 beside their documents: predictions, verdicts, changes."""

from __future__ import annotations

import hashlib
import hmac
from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import AwareDatetime, BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.customer import CustomerProfileIn
from maple_rook.answers.figures import PredictionOut
from maple_rook.comparing.compare import compare
from maple_rook.comparing.schemas import Difference, LaidIn, VerdictOut
from maple_rook.core.edge_life.life_model import Basis
from maple_rook.core.edge_life.retention import EdgeState
from maple_rook.core.errors import InvalidValue
from maple_rook.core.prediction.predict import predict
from maple_rook.http.access import CurrentPerson, Db, Opener
from maple_rook.http.schemas import StorableText, Strict, json_answer
from maple_rook.stations.exchange import use_cases
from maple_rook.stations.exchange.open_api import PieceTag, further_on, known_parameters
from maple_rook.store import shelf as shelf_store
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Piece

router = APIRouter(prefix="/v1", tags=["v1"], dependencies=[Depends(known_parameters)])
Tag = Annotated[StorableText, Field(min_length=1, max_length=40)]
SIGNATURE = "Maple-Rook-Signature"


class PiecePredictions(BaseModel):
    """Everything that is predicted of a piece, and for which kitchen.

    A prediction has its 90 % interval and grade; where there is none, ``unavailable`` says why.
    """

    id: int
    tag: str
    kitchen: CustomerProfileIn
    predictions: list[PredictionOut]


@router.get("/pieces/{tag:path}/predictions")
def predictions(
    request: Request,
    db: Db,
    _: CurrentPerson,
    tag: PieceTag,
    basis: Annotated[Basis, Query(description="whether this shop's trials count")] = (
        Basis.CALIBRATED
    ),
) -> PiecePredictions:
    """Every prediction of a piece in a home kitchen, each with its interval and grade.

    `basis` says whether edge life uses this shop's trials (`calibrated`) or only what is published.
    """
    knife = use_cases.knife_tagged(db, request.app.state.shelf, tag)
    foods, life = request.app.state.shelf.models(basis)
    asked = CustomerProfileIn()
    found = predict([knife.blade], asked.core().kitchen, foods=foods, life=life)[0]
    return PiecePredictions(
        id=knife.piece.id,
        tag=tag,
        kitchen=asked,
        predictions=[PredictionOut.of(one) for one in found],
    )


class CompareIn(Strict):
    """Two to six pieces by their tags, for whom they are, and how edge life is calculated."""

    tags: list[Tag] = Field(min_length=2, max_length=6, examples=[["KH-01", "HS-24"]])
    models: bool = Field(False, description="compare the models that the pieces are of")
    profile: CustomerProfileIn = CustomerProfileIn()
    edge: EdgeState = EdgeState.FRESH
    basis: Basis = Basis.CALIBRATED


class ComparedPiece(BaseModel):
    """A piece of a comparison, and all that is predicted of it."""

    id: int
    tag: str
    name: str
    predictions: list[PredictionOut]


class Comparison(BaseModel):
    """What differs between pieces and by how much, and the verdict for the customer."""

    pieces: list[ComparedPiece]
    differences: list[Difference]
    verdict: VerdictOut


@router.post("/compare", response_model=Comparison)
async def compared(
    request: Request, opener: Opener, _: CurrentPerson, asked: CompareIn
) -> Response:
    """Compare pieces and judge them for a customer; nothing is stored."""

    def answer() -> Response:
        with opener() as db:
            laid = LaidIn(
                pieces=_ids_of(db, asked.tags),
                models=asked.models,
                profile=asked.profile,
                edge=asked.edge,
                basis=asked.basis,
            )
            board = compare(db, request.app.state.shelf, laid)
        pieces = [
            ComparedPiece.model_construct(
                id=knife.piece.id,
                tag=knife.piece.tag,
                name=knife.piece.name,
                predictions=knife.predictions,
            )
            for knife in board.knives
        ]
        return json_answer(
            Comparison.model_construct(
                pieces=pieces, differences=board.differences, verdict=board.verdict
            )
        )

    return await run_in_threadpool(answer)


def _ids_of(db: Session, tags: list[str]) -> list[int]:
    """The pieces that carry these tags, in their order."""
    if len(set(tags)) < len(tags):
        raise InvalidValue("tags", ", ".join(tags), "each piece once")
    rows = db.execute(select(Piece.tag, Piece.id).where(Piece.tag.in_(tags)))
    found = {row.tag: row.id for row in rows}
    for tag in tags:
        if tag not in found:
            raise NotFound("piece with the tag", tag)
    return [found[tag] for tag in tags]


class ChangedPiece(BaseModel):
    """A piece of which something changed: a reading, its model, a steel, an instrument."""

    id: int
    tag: str
    href: str = Field(description="where its document is")


class Changes(BaseModel):
    """Pieces in the order in which they changed; ``later`` asks for what changes from now on.

    ``next`` is the address of the following page, null on the last.
    """

    items: list[ChangedPiece]
    next: str | None
    later: str


@router.get("/changes", response_model=Changes)
def changes(
    request: Request,
    db: Db,
    _: CurrentPerson,
    after: Annotated[
        str,
        Query(
            pattern=r"^\d{1,18}\.\d{1,10}$",
            description="as `next` and `later` say it; all pieces if not said",
        ),
    ] = "0.0",
    since: Annotated[
        AwareDatetime | None,
        Query(
            description="only what changed at this moment or after, with its offset from UTC",
            examples=["2026-11-01T00:00:00Z"],
        ),
    ] = None,
    limit: Annotated[int, Query(ge=1, le=1000, description="most pieces of a page")] = 500,
) -> Response:
    """Pieces that changed since the last call, so that a copy elsewhere can follow the shop.

    Follow `next` until it is null, keep `later` and ask there another time; a piece that changed
    often in between comes once, and none is passed over. A piece that was merged into another or
    removed is not found at its `href` any more. `Maple-Rook-Signature` is `sha256=` and the HMAC of
    the body with the key that asks.
    """
    request.app.state.shelf.catch_up(db)
    written, piece_id = map(int, after.split("."))
    found = shelf_store.changed_since(db, (written, piece_id), limit, since)
    keys = [key for _, key in found.places]
    rows = db.execute(select(Piece.id, Piece.tag).where(Piece.id.in_(keys)))
    tags = {row.id: row.tag for row in rows}
    path: str = request.app.state.settings.path
    more = len(found.places) == limit
    at = found.places[-1] if more else (found.until - 1, 2**31 - 1)
    at = max(at, (written, piece_id))
    place = f"{at[0]}.{at[1]}"
    body = Changes(
        items=[
            ChangedPiece(id=key, tag=tags[key], href=f"{path}/api/v1/pieces/{quote(tags[key])}")
            for key in keys
            if key in tags
        ],
        next=further_on(request, "after", place) if more else None,
        later=further_on(request, "after", place, without="since"),
    ).model_dump_json()
    answer = Response(body, media_type="application/json")
    given = request.headers.get("authorization", "")
    if given.lower().startswith("bearer "):
        key = given.split(" ", 1)[1].strip()
        digest = hmac.new(key.encode(), body.encode(), hashlib.sha256).hexdigest()
        answer.headers[SIGNATURE] = f"sha256={digest}"
    return answer
