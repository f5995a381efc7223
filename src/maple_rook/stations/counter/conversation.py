"""What is asked at the Counter, and the customers it remembers by their label."""

from __future__ import annotations

from collections.abc import Iterable

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.customer import CustomerProfileIn
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
from maple_rook.core.edge_life.retention import BoardMaterial, FoodMix, RodSchool, Technique, Use
from maple_rook.core.labelled import Labelled
from maple_rook.http.policy import Somebody
from maple_rook.http.preconditions import IfMatch, NoVersion, version
from maple_rook.http.schemas import Choice
from maple_rook.stations.counter.schemas import (
    CounterOut,
    CustomerIn,
    CustomerOut,
    QuestionOut,
)
from maple_rook.store import choices
from maple_rook.store.foods import shop_foods
from maple_rook.store.tables import Shop

_QUESTIONS = (
    ("size", "Which part does it play?", Size),
    ("use", "How much board work?", Use),
    ("food_mix", "What is cut most?", FoodMix),
    ("motion", "How does the hand move?", Motion),
    ("hand", "Which hand?", Hand),
    ("grip", "How is it held?", Grip),
    ("bone", "Any bone?", Bone),
    ("board", "On what board?", BoardMaterial),
    ("technique", "How gently?", Technique),
    ("care", "And afterwards?", Care),
    ("tools", "What keeps it sharp?", Tools),
    ("skill", "How practised?", Skill),
)
_SCHOOLS = (
    ("school", "If both cannot be had", School),
    ("heft", "Weight", Heft),
    ("rods", "Honing hard steel", RodSchool),
    ("ratio", "An uneven edge is read as", Ratio),
)


def conversation(db: Session) -> CounterOut:
    return CounterOut(
        questions=_asked(_QUESTIONS),
        schools=_asked(_SCHOOLS),
        presets=[CustomerProfileIn.of(profile) for profile in PRESETS.values()],
        customers=customers(db),
        foods=[Choice(key=f.key, label=f.label) for f in shop_foods(db)],
        currency=db.scalar(select(Shop.currency)) or "",
    )


def _asked(questions: Iterable[tuple[str, str, type[Labelled]]]) -> list[QuestionOut]:
    return [
        QuestionOut(
            key=key, asked=asked, answers=[Choice(key=a.value, label=a.label) for a in answers]
        )
        for key, asked, answers in questions
    ]


def customers(db: Session) -> list[CustomerOut]:
    """Kept customers, by label."""
    known = CustomerProfileIn.model_fields
    return [
        CustomerOut(
            id=row.id,
            profile=CustomerProfileIn.model_validate(
                {key: value for key, value in row.profile.items() if key in known}
                | {"label": row.label}
            ),
            recorded_at=row.recorded_at,
            etag=version(row),
        )
        for row in choices.customers(db)
    ]


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
