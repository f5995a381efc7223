"""Signing in and out, passwords, keys for programs."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.http.policy import ROLES, Role, Somebody
from maple_rook.http.problems import Refused
from maple_rook.stations.people.schemas import (
    DemoPersonOut,
    InvitationOut,
    KeyIn,
    KeyOut,
    RoleOut,
    SelfOut,
    SessionOut,
    SignInOut,
)
from maple_rook.store import people
from maple_rook.store.people_tables import Invitation
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Shop


class NoInvitation(Refused):
    """An invitation unknown, used, replaced or expired."""

    status, kind, title = 410, "no-invitation", "No invitation"


def session(db: Session, me: Somebody | None, in_demo: Sequence[DemoPersonOut]) -> SessionOut:
    """What every page, signed in or not, starts with; ``in_demo`` is sent in demos only."""
    shop = db.scalars(select(Shop)).one()
    return SessionOut(
        shop=shop.name,
        demo=list(in_demo) if shop.demo else [],
        has_owner=people.has_owner(db),
        roles=[
            RoleOut(key=role, in_words=facts.in_words, given=facts.given)
            for role, facts in ROLES.items()
        ],
        me=me
        and SelfOut(
            id=me.id,
            name=me.name,
            role=Role(me.role),
            may=sorted(me.may),
            token=me.page_token,
            owes_second_step=me.owes_second_step,
        ),
    )


def sign_out(db: Session, me: Somebody) -> None:
    people.end(db, me.id, only=me.sign_in_id)
    people.write_down(db, "sign-ins", "removed", me.id, me.name)
    db.commit()


def sign_out_everywhere(db: Session, me: Somebody) -> None:
    """End all sign-ins and keys, this one too."""
    people.end(db, me.id)
    people.write_down(db, "sign-ins", "removed", me.id, f"{me.name}, everywhere")
    db.commit()


def sign_ins(db: Session, me: Somebody) -> list[SignInOut]:
    """Everywhere I am signed in."""
    return [
        SignInOut(
            id=row.id,
            kind=row.kind,
            label=row.label,
            role=row.role and Role(row.role),
            made_at=row.made_at,
            seen_at=row.seen_at,
            here=row.id == me.sign_in_id,
        )
        for row in people.standing(db, me.id)
    ]


def end_sign_in(db: Session, me: Somebody, sign_in_id: int) -> list[SignInOut]:
    if not people.end(db, me.id, only=sign_in_id):
        raise NotFound("sign-in of yours", sign_in_id)
    people.write_down(db, "sign-ins", "removed", me.id, me.name)
    db.commit()
    return sign_ins(db, me)


def make_key(db: Session, me: Somebody, asked: KeyIn) -> KeyOut:
    """A key that acts as me, or as less."""
    narrowed = Role.READER if asked.kind == people.CALENDAR else asked.role
    key = people.let_in(db, me.id, kind=asked.kind, label=asked.label, role=narrowed)
    people.write_down(db, "keys", "made", me.id, asked.label)
    db.commit()
    return KeyOut(key=key, sign_ins=sign_ins(db, me))


# Joining


def standing_invitation(db: Session, token: str, *, take: bool = False) -> Invitation:
    found = people.invited_with(db, token, take=take)
    if found is None:
        raise NoInvitation("This invitation has expired or was used; ask an owner for a new one.")
    return found


def invitation(db: Session, token: str) -> InvitationOut:
    person = standing_invitation(db, token).person
    shop = db.scalars(select(Shop)).one()
    first = person.role == Role.OWNER and not people.has_owner(db)
    return InvitationOut(name=person.name, role=Role(person.role), shop=shop.name, first=first)
