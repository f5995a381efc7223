"""What is asked at the Counter, and the customers it remembers by their label."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.customer import CustomerProfileIn
from maple_rook.answers.wishes import known_profile
from maple_rook.core.choosing.circumstances import (
    Buyer,
    HandSize,
    Hours,
    Storage,
    Trouble,
    Wrist,
)
from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    Grip,
    Hand,
    Heft,
    Motion,
    Ratio,
    School,
    Size,
    Skill,
    Tools,
)
from maple_rook.core.choosing.customers import PRESETS
from maple_rook.core.choosing.wishes import meets, specification
from maple_rook.core.edge_life.retention import BoardMaterial, FoodMix, RodSchool, Technique, Use
from maple_rook.core.labelled import Labelled
from maple_rook.http.policy import Somebody
from maple_rook.http.preconditions import IfMatch, NoVersion, version
from maple_rook.http.schemas import Choice
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.counter.schemas import (
    CounterOut,
    CustomerIn,
    CustomerOut,
    MatchOut,
    QuestionOut,
    SpecificationOut,
    WishOut,
)
from maple_rook.store import choices
from maple_rook.store.foods import shop_foods
from maple_rook.store.tables import Shop

NOT_ASKED, MATCHES_SHOWN = "not_asked", 6
_QUESTIONS = (
    ("size", "What is it for?", Size),
    ("use", "How much board work?", Use),
    ("food_mix", "What is cut most?", FoodMix),
    ("motion", "How does the hand move?", Motion),
    ("hand", "Which hand?", Hand),
    ("grip", "How is it held?", Grip),
    ("bone", "Any bone?", Bone),
    ("board", "On what board?", BoardMaterial),
    ("technique", "How careful is the hand?", Technique),
    ("care", "How is it cleaned?", Care),
    ("tools", "What keeps it sharp?", Tools),
    ("skill", "How skilled?", Skill),
)
_CIRCUMSTANCES = (
    ("hand_size", "How large is the hand?", HandSize),
    ("wrist", "How strong is the wrist?", Wrist),
    ("hours", "How many hours a day at the board?", Hours),
    ("buyer", "Who will own it?", Buyer),
    ("storage", "Where is it stored?", Storage),
    ("troubles", "What did the last knife do wrong?", Trouble),
)
"""Asked where the seller cares to; *not asked* is no answer to tap, and of some there are many."""
_SCHOOLS = (
    ("school", "If both cannot be had", School),
    ("heft", "Weight", Heft),
    ("rods", "Honing hard steel", RodSchool),
    ("ratio", "An uneven edge is read as", Ratio),
)


def conversation(db: Session) -> CounterOut:
    return CounterOut(
        questions=_asked(_QUESTIONS),
        circumstances=_asked(_CIRCUMSTANCES),
        schools=_asked(_SCHOOLS),
        presets=[CustomerProfileIn.of(profile) for profile in PRESETS.values()],
        customers=customers(db),
        foods=[Choice(key=f.key, label=f.label) for f in shop_foods(db)],
        currency=db.scalar(select(Shop.currency)) or "",
    )


def _asked(questions: Iterable[tuple[str, str, type[Labelled]]]) -> list[QuestionOut]:
    return [
        QuestionOut(
            key=key,
            asked=asked,
            answers=[Choice(key=a.value, label=a.label) for a in answers if a.value != NOT_ASKED],
            several=answers is Trouble,
        )
        for key, asked, answers in questions
    ]


def customers(db: Session) -> list[CustomerOut]:
    """Saved customers, by label."""
    return [
        CustomerOut(
            id=row.id,
            profile=known_profile(row.profile, row.label),
            recorded_at=row.recorded_at,
            etag=version(row),
        )
        for row in choices.customers(db)
    ]


def wishes(db: Session, shelf: Shelf) -> list[WishOut]:
    """Kept wishes, each with the knives in stock that answer it."""
    shelf.catch_up(db)
    columns = shelf.columns(db)
    currency = db.scalar(select(Shop.currency)) or ""
    found = []
    for row in choices.wishes(db):
        asked = known_profile(row.profile, row.label)
        profile = asked.core()
        wanted = specification(profile)
        at = np.flatnonzero(meets(profile, wanted, columns.decides))[:MATCHES_SHOWN]
        knives = shelf.recorded(db, columns.ids[at].tolist()) if len(at) else []
        found.append(
            WishOut(
                id=row.id,
                profile=asked,
                recorded_at=row.recorded_at,
                wanted=SpecificationOut.of(wanted, currency),
                matches=[
                    MatchOut(piece_id=k.piece.id, tag=k.piece.tag, name=k.piece.name)
                    for k in knives
                ],
            )
        )
    return found


def keep_wish(db: Session, shelf: Shelf, person: Somebody, asked: CustomerIn) -> list[WishOut]:
    """Keep what would suit a customer, under a label."""
    profile = asked.profile.model_copy(update={"label": asked.label}).model_dump(mode="json")
    choices.keep_wish(db, asked.label, profile, person.id)
    db.commit()
    return wishes(db, shelf)


def forget_wish(db: Session, shelf: Shelf, wish_id: int) -> list[WishOut]:
    """Delete a wish for good."""
    choices.forget_wish(db, wish_id)
    db.commit()
    return wishes(db, shelf)


def keep(
    db: Session, person: Somebody, asked: CustomerIn, seen: IfMatch | None
) -> list[CustomerOut]:
    """Keep a customer's profile under its label; one that is there is changed as it was seen."""
    known = choices.customer(db, label=asked.label)
    if known is not None:
        if seen is None:
            raise NoVersion(f"There is {asked.label} already; look at it, then change it.")
        seen.check(known)
    profile = asked.profile.model_copy(update={"label": asked.label}).model_dump(mode="json")
    choices.keep_customer(db, asked.label, profile, person.id)
    db.commit()
    return customers(db)


def forget(db: Session, customer_id: int, seen: IfMatch) -> list[CustomerOut]:
    """Delete a customer for good."""
    seen.check(choices.customer(db, number=customer_id))
    choices.forget_customer(db, customer_id)
    db.commit()
    return customers(db)
