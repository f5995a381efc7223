"""Nothing is written that the log of changes does not tell, if only by reference."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from sqlalchemy import Connection, Engine, select, text
from sqlalchemy.orm import Session

from maple_rook.cluster import Cluster
from maple_rook.store.database import WRITER, sessions
from maple_rook.store.people_tables import AuditEntry
from maple_rook.store.tables import Person, Piece, Reading, Sheet
from shops import shop_engine

SECRET = {
    "passwords",
    "sign_ins",
    "invitations",
    "two_step",
    "recovery_codes",
}
"""Of these the use case notes that something was written, and never what."""
NOBODYS = {
    "audit",
    "alembic_version",
    "signing_keys",
    "sign_in_attempts",
    "request_keys",
    "import_parts",
    "shelf",
    "shelf_claims",
    "shelf_stale",
    "shelf_quarantine",
    "web_pictures",
}
"""Kept by the shop for itself: calculated from the record, counted, or part of what is noted."""


@pytest.fixture(scope="module")
def shop(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster, demo=True) as engine:
        yield engine


@pytest.fixture
def connection(shop: Engine) -> Iterator[Connection]:
    with shop.connect() as found:
        yield found


def noted(connection: Connection, event: str) -> set[str]:
    """Tables whose writes of a kind a trigger notes."""
    return set(
        connection.scalars(
            text(
                "SELECT event_object_table FROM information_schema.triggers"
                " WHERE action_statement LIKE '%audit\\_%' AND event_manipulation = :event"
            ),
            {"event": event},
        )
    )


def refused(connection: Connection) -> set[str]:
    """Tables whose rows are only ever added."""
    return set(
        connection.scalars(
            text(
                "SELECT DISTINCT event_object_table FROM information_schema.triggers"
                " WHERE action_statement LIKE '%refuse\\_change%'"
            )
        )
    )


def test_every_table_is_noted_when_it_is_written(connection: Connection) -> None:
    every = set(
        connection.scalars(text("SELECT tablename FROM pg_tables WHERE schemaname = 'public'"))
    )
    told = every - SECRET - NOBODYS
    assert told - noted(connection, "INSERT") == set()
    changing = told - refused(connection)
    assert changing - noted(connection, "UPDATE") == {"import_files", "tasks"}, "only how far it is"
    assert changing - noted(connection, "DELETE") == {"tasks"}, "never deleted"


def test_what_is_added_is_told_once_an_hour_for_each_sheet_and_writer(shop: Engine) -> None:
    own = {"client_id": "gen_random_uuid()", "replicate": "replicate + 1000 * :n"}
    columns = {
        c.name: {**own, "person_id": ":person"}.get(c.name, c.name)
        for c in Reading.__table__.columns
        if c.name not in ("id", "recorded_at")
    }
    copied = text(
        f"INSERT INTO readings ({', '.join(columns)}) SELECT {', '.join(columns.values())}"
        " FROM readings WHERE sheet_id = :sheet AND replicate < 1000 LIMIT 3"
    )

    def told(db: Session) -> list[tuple[str, str, str]]:
        rows = db.scalars(
            select(AuditEntry).where(AuditEntry.about == "readings").order_by(AuditEntry.id)
        )
        return [(row.person.name, row.act, row.named) for row in rows if row.person]

    with sessions(shop)() as db:
        first, second = db.scalars(select(Person).order_by(Person.id).limit(2))
        sheet, tag = db.execute(
            select(Sheet.id, Piece.tag).join(Piece, Piece.id == Sheet.piece_id).order_by(Sheet.id)
        ).first() or (0, "")
        before = told(db)
        for n, person in enumerate((first, first, second), 1):
            db.info[WRITER] = person.id
            db.execute(copied, {"n": n, "person": person.id, "sheet": sheet})
        db.commit()
        assert told(db)[len(before) :] == [
            (first.name, "made", tag),
            (second.name, "made", tag),
        ]
        db.execute(text("SET session_replication_role = replica"))
        db.execute(text("UPDATE audit SET at = at - interval '2 hours' WHERE about = 'readings'"))
        db.execute(text("SET session_replication_role = origin"))
        db.execute(copied, {"n": 9, "person": first.id, "sheet": sheet})
        db.commit()
        assert told(db)[-1] == (first.name, "made", tag)
        assert len(told(db)) == len(before) + 3
