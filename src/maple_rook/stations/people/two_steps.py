"""The second step of signing in: added, removed, required of owners."""

from __future__ import annotations

import segno
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.http.policy import Role, Somebody
from maple_rook.http.problems import Conflict
from maple_rook.stations.people.schemas import BegunOut, RecoveryCodesOut, TwoStepOut
from maple_rook.store import people, two_step
from maple_rook.store.tables import Shop

_ON, _OFF = "Signing in in two steps is on already.", "Signing in in two steps is not on."


def state(db: Session, me: Somebody) -> TwoStepOut:
    return TwoStepOut(
        since=two_step.since(db, me.id),
        codes_left=two_step.codes_left(db, me.id),
        asked=db.scalars(select(Shop.owners_in_two_steps)).one() and me.role == Role.OWNER,
    )


def begin(db: Session, me: Somebody) -> BegunOut:
    """A secret for the authenticator, on once it is confirmed."""
    if two_step.is_on(db, me.id):
        raise Conflict(_ON)
    secret = two_step.begin(db, me.id)
    address = two_step.address(secret, me.name, db.scalars(select(Shop.name)).one())
    db.commit()
    code = segno.make(address, micro=False)
    picture = code.svg_data_uri(scale=4, border=2, dark="#000", light="#fff")
    return BegunOut(secret=secret, address=address, picture=picture)


def confirm(db: Session, me: Somebody, code: str) -> RecoveryCodesOut:
    """On, once the authenticator shows the right code; other browsers are signed out."""
    if two_step.is_on(db, me.id):
        raise Conflict(_ON)
    codes = two_step.confirmed(db, me.id, code)
    if codes is None:
        accepted = "the code that the authenticator shows now; check the clock of both"
        raise InvalidValue("code", code, accepted)
    people.end(db, me.id, kind=people.BROWSER, but=me.sign_in_id)
    people.write_down(db, "two-step sign-in", "made", me.id, me.name)
    db.commit()
    return RecoveryCodesOut(codes=codes)


def new_codes(db: Session, me: Somebody) -> RecoveryCodesOut:
    """New recovery codes; those before do not count any more."""
    if not two_step.is_on(db, me.id):
        raise Conflict(_OFF)
    codes = two_step.new_codes(db, me.id)
    people.write_down(db, "recovery codes", "made", me.id, me.name)
    db.commit()
    return RecoveryCodesOut(codes=codes)


def end(db: Session, me: Somebody) -> None:
    """One step again, unless the shop asks two of its owners."""
    if state(db, me).asked:
        raise Conflict("Owners here sign in in two steps; end that for owners first.")
    two_step.end(db, me.id)
    people.write_down(db, "two-step sign-in", "removed", me.id, me.name)
    db.commit()


def ask_of_owners(db: Session, me: Somebody, asked: bool) -> TwoStepOut:
    """Owners have to, or need not; who asks it of others does it themselves."""
    if asked and not two_step.is_on(db, me.id):
        raise Conflict("Add your own second step first.")
    shop = db.scalars(select(Shop)).one()
    shop.owners_in_two_steps = asked
    db.commit()
    return state(db, me)
