"""People of the shop: invited, given another role, removed."""

from __future__ import annotations

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.http.policy import Role, Somebody
from maple_rook.http.preconditions import IfMatch, version
from maple_rook.http.problems import Conflict
from maple_rook.stations.people.schemas import InvitedOut, PersonIn, PersonOut, PersonState
from maple_rook.store import people
from maple_rook.store.people_tables import Password, SignIn
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Person


def listed(db: Session) -> list[PersonOut]:
    """Everybody whom the record names, owners first, who left last."""
    able = set(db.scalars(select(Password.person_id)))
    asked = people.invited(db)
    seen = dict(
        db.execute(
            select(SignIn.person_id, func.max(SignIn.seen_at)).group_by(SignIn.person_id)
        ).all()
    )
    order = {role.value: place for place, role in enumerate(Role)}
    found = []
    for person in db.scalars(select(Person)):
        if person.left_on is not None:
            state = PersonState.LEFT
        elif person.id in able:
            state = PersonState.ACTIVE
        else:
            state = PersonState.INVITED if person.id in asked else PersonState.CANNOT
        found.append(
            PersonOut(
                id=person.id,
                name=person.name,
                role=Role(person.role),
                state=state,
                seen_at=seen.get(person.id),
                etag=version(person),
            )
        )
    return sorted(found, key=lambda p: (p.state is PersonState.LEFT, order[p.role], p.name.lower()))


def _one(db: Session, person_id: int) -> PersonOut:
    return next(person for person in listed(db) if person.id == person_id)


def _free(db: Session, name: str, person_id: int | None) -> None:
    if not people.name_is_free(db, name, but=person_id):
        raise InvalidValue("name", name, "a name nobody here has or had")


def _locked(db: Session, person_id: int) -> Person:
    """The person, with the owners locked against other changes."""
    everybody = db.scalars(select(Person).order_by(Person.id).with_for_update()).all()
    for person in everybody:
        if person.id == person_id:
            return person
    raise NotFound("person", person_id)


def _leave_an_owner(db: Session, but: Person) -> None:
    if but.role == Role.OWNER and not people.has_owner(db, but=but.id):
        raise Conflict(f"{but.name} is the only owner; make somebody else one first.")


def invite(db: Session, asked: PersonIn) -> InvitedOut:
    """Enter somebody and make their invitation."""
    _free(db, asked.name, None)
    person = Person(name=asked.name, role=asked.role)
    db.add(person)
    db.flush()
    return _invited(db, person)


def invite_again(db: Session, person_id: int) -> InvitedOut:
    """A new invitation, for who lost theirs or forgot their password; the old one ends."""
    person = _locked(db, person_id)
    if person.left_on is not None:
        person.left_on = None
    if person.role == Role.ELSEWHERE:
        raise Conflict("Give them a role first.")
    return _invited(db, person)


def _invited(db: Session, person: Person) -> InvitedOut:
    token = people.invite(db, person.id)
    people.write_down(db, "invitations", "made", person.id, person.name)
    db.commit()
    return InvitedOut(person=_one(db, person.id), token=token, days=people.INVITED_FOR.days)


def change(db: Session, person_id: int, asked: PersonIn, seen: IfMatch) -> PersonOut:
    """Another name or role; with another role one signs in again."""
    person = _locked(db, person_id)
    seen.check(person)
    _free(db, asked.name, person_id)
    if asked.role != person.role:
        if asked.role != Role.OWNER:
            _leave_an_owner(db, person)
        people.end(db, person.id)
    person.name, person.role = asked.name, asked.role
    db.commit()
    return _one(db, person_id)


def send_away(db: Session, me: Somebody, person_id: int, seen: IfMatch) -> PersonOut:
    """Who left signs in no more, at once; what they wrote stays theirs."""
    person = _locked(db, person_id)
    seen.check(person)
    if person.id == me.id:
        raise Conflict("You cannot remove yourself; another owner can.")
    _leave_an_owner(db, person)
    person.left_on = db.scalar(select(func.current_date()))
    people.end(db, person.id)
    db.commit()
    return _one(db, person_id)
