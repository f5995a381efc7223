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
    PairIn,
    PairOut,
    TakeHomeIn,
    TakeHomeOut,
    WishOut,
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


@router.get("/wishes")
def wishes(request: Request, db: Db, _: CurrentPerson) -> list[WishOut]:
    """Customers for whom nothing suited, what would suit them, and knives in stock that do."""
    return conversation.wishes(db, request.app.state.shelf)


@router.post("/wishes", status_code=201)
def keep_wish(request: Request, db: Db, person: CurrentPerson, asked: CustomerIn) -> list[WishOut]:
    """Keep what would suit a customer, to be matched when pieces are measured."""
    return conversation.keep_wish(db, request.app.state.shelf, person, asked)


@router.delete("/wishes/{wish_id}")
def forget_wish(request: Request, db: Db, _: CurrentPerson, wish_id: RowId) -> list[WishOut]:
    """Forget a wish for good."""
    return conversation.forget_wish(db, request.app.state.shelf, wish_id)


@router.post("/pair")
def pair(request: Request, db: Db, _: CurrentPerson, asked: PairIn) -> PairOut:
    """Which of two knives to have, or both, beside what the customer has; nothing is stored."""
    return use_cases.pair(db, request.app.state.shelf, asked.profile.core(), asked.pieces)
