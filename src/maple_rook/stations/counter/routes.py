from __future__ import annotations

from fastapi import APIRouter, Request

from maple_rook.answers.customer import CustomerProfileIn
from maple_rook.http.access import CurrentPerson, Db, RowId
from maple_rook.http.preconditions import Seen, SeenIfThere
from maple_rook.stations.counter import conversation, use_cases
from maple_rook.stations.counter.schemas import (
    AdviceOut,
    CounterOut,
    CustomerIn,
    CustomerOut,
    TakeHomeIn,
    TakeHomeOut,
)

router = APIRouter(prefix="/counter", tags=["counter"])


@router.get("")
def asked(db: Db, _: CurrentPerson) -> CounterOut:
    """The questions asked at the counter, presets to start from, and kept customers."""
    return conversation.conversation(db)


@router.post("/advice")
def advice(request: Request, db: Db, _: CurrentPerson, asked: CustomerProfileIn) -> AdviceOut:
    """A short list for a customer's profile, with reasons; nothing is stored."""
    return use_cases.advice(db, request.app.state.shelf, asked.core())


@router.post("/card")
def card(request: Request, db: Db, _: CurrentPerson, asked: TakeHomeIn) -> TakeHomeOut:
    """The page that goes home with a knife; refused where the profile rules the knife out."""
    shelf = request.app.state.shelf
    return use_cases.card(db, shelf, asked.profile.core(), asked.piece_id)


@router.post("/customers", status_code=201)
def keep_customer(
    db: Db, person: CurrentPerson, seen: SeenIfThere, asked: CustomerIn
) -> list[CustomerOut]:
    """Keep a profile under a label, nothing else of the person; or change one as it was seen."""
    return conversation.keep(db, person, asked, seen)


@router.delete("/customers/{customer_id}")
def forget_customer(db: Db, _: CurrentPerson, seen: Seen, customer_id: RowId) -> list[CustomerOut]:
    """Forget a customer for good."""
    return conversation.forget(db, customer_id, seen)
