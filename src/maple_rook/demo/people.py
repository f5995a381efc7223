"""People of the demo shop: invented names and one password, which the sign-in page shows."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.store.database import FOUNDER
from maple_rook.store.people import hashed, keep_hash
from maple_rook.store.people_tables import Password
from maple_rook.store.tables import Person

DEMO_PASSWORD = "maple and rook"
DEMO_PEOPLE = {
    "Otta in the office": "owner",
    "Wil at the bench": "bench",
    "Tibby at the counter": "counter",
    "Merle, reading only": "reader",
}
IN_DEMO = [(name, role, DEMO_PASSWORD) for name, role in DEMO_PEOPLE.items()]


def add_people(session: Session) -> dict[str, Person]:
    """All people of the demo by name, with the password; those who have one stay unchanged."""
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
