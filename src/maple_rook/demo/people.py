"""Who works in the demo shop: names made up, one password for all, which the sign-in page tells."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.store.database import FOUNDER
from maple_rook.store.people import hashed, keep_hash
from maple_rook.store.people_tables import Password
from maple_rook.store.tables import Person

DEMO_PASSWORD = "maple and rook"
DEMO_PEOPLE = {
    "Odd in the office": "owner",
    "Wil at the bench": "bench",
    "Tibby at the counter": "counter",
    "Moth who reads": "reader",
}
IN_DEMO = [(name, role, DEMO_PASSWORD) for name, role in DEMO_PEOPLE.items()]


def add_people(session: Session) -> dict[str, Person]:
    """Everybody of the demo by name, with the password; who has one is left as they are."""
    known = {person.name: person for person in session.scalars(select(Person))}
    with_password = set(session.scalars(select(Password.person_id)))
    founder = known.get(FOUNDER)
    for name, role in DEMO_PEOPLE.items():
        if name not in known:
            known[name] = founder or Person(name=name, role=role)
            known[name].name, founder = name, None
            session.add(known[name])
            session.flush()
        if known[name].id not in with_password:
            known[name].role = role
            keep_hash(session, known[name].id, hashed(DEMO_PASSWORD))
    return known
