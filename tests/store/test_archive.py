"""An archive keeps every table, every type and every picture, and a restored shop is as guarded."""

from __future__ import annotations

import datetime as dt
import hashlib
import json
import uuid
import zipfile
from collections.abc import Iterator
from decimal import Decimal
from pathlib import Path

import pytest
from sqlalchemy import Connection, Engine, delete, func, select, text, update
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.cluster import Cluster
from maple_rook.store import archive
from maple_rook.store.amendments import Amendment
from maple_rook.store.database import sessions
from maple_rook.store.exchange_tables import ImportRow, Publication
from maple_rook.store.photo_tables import MeasuringPhoto, PhotoMeasurement
from maple_rook.store.tables import (
    KnifeModel,
    Maker,
    Observation,
    Photo,
    Piece,
    Reading,
    Sheet,
    Shop,
)
from maple_rook.store.upkeep_tables import DoneRow
from shops import shop_engine

ODD = "naïve “刀” \\ \t\n'; DROP TABLE pieces; -- \u2028"
PICTURES = (b"\xff\xd8\xff" + bytes(range(256)) * 40, b"\x89PNG\r\n\x00\x01", b"RIFF1234WEBP")
TYPES = ("image/jpeg", "image/png", "image/webp")


@pytest.fixture(scope="module")
def full(cluster: Cluster) -> Iterator[Engine]:
    """The demo shop with something awkward in every corner."""
    with shop_engine(cluster, demo=True) as engine:
        _make_odd(engine)
        yield engine


def _make_odd(engine: Engine) -> None:
    with sessions(engine)() as db:
        sheet = db.scalars(select(Sheet).order_by(Sheet.id)).first()
        assert sheet is not None
        db.add_all(
            Photo(
                client_id=uuid.uuid4(),
                sheet_id=sheet.id,
                media_type=kind,
                content=content,
                person_id=1,
            )
            for kind, content in zip(TYPES, PICTURES, strict=True)
        )
        model = KnifeModel(
            maker=Maker(name=ODD[:60]),
            line=ODD[:70],
            knife_type="gyuto",
            nominal_mm=1e-300,
            grind="convex",
            price=Decimal("0.10"),
        )
        later = Piece(model=model, tag="ODD", note=ODD)
        db.add(later)
        db.flush()
        db.get_one(Piece, 2).merged_into_id = later.id  # of a row that comes after its own
        db.scalars(select(Shop)).one().logo = PICTURES[1]
        db.add(
            Amendment(
                act="edit",
                about="piece",
                about_id=2,
                named=ODD[:60],
                changes=[{"table": "pieces", "key": 2, "before": {}, "after": {"note": ODD}}],
                person_id=1,
            )
        )
        db.add(
            DoneRow(
                client_id=uuid.uuid4(),
                piece_id=1,
                care="stone",
                person_id=1,
                note=ODD,
                done_on=dt.date(2026, 2, 28),
                height_mm=45.123456789012345,
            )
        )
        db.add(
            Publication(
                piece_id=1, address="kh-01", on=True, shown=["weight"], words=ODD, person_id=1
            )
        )
        db.add(
            ImportRow(
                source=ODD[:60],
                file="x.csv",
                sha256="0" * 64,
                columns={"wt": ["", "oz"]},
                counts={},
                added={"readings": 3},
                person_id=1,
            )
        )
        shot = MeasuringPhoto(
            client_id=uuid.uuid4(),
            sheet_id=sheet.id,
            view="side",
            media_type="image/jpeg",
            content=PICTURES[0],
            width_px=900,
            height_px=700,
            person_id=1,
        )
        db.add(
            PhotoMeasurement(
                client_id=uuid.uuid4(),
                photo=shot,
                method=1,
                person_id=1,
                parameters={"ruler_mm": 99.8},
                results={"readings": {}},
            )
        )
        db.commit()


@pytest.fixture
def packed(full: Engine, tmp_path: Path) -> Path:
    path = tmp_path / "shop.zip"
    with sessions(full)() as db:
        archive.write_archive(db, path)
    return path


@pytest.fixture
def restored(cluster: Cluster, packed: Path) -> Iterator[Engine]:
    with shop_engine(cluster) as engine:
        with sessions(engine)() as db:
            archive.restore_archive(db, packed)
        yield engine


def every_row(db: Session) -> dict[str, list[tuple[object, ...]]]:
    return {
        table.name: [
            tuple(row) for row in db.execute(select(table).order_by(*table.primary_key.columns))
        ]
        for table in archive.tables()
    }


def test_every_row_of_every_table_comes_back_as_it_was(full: Engine, restored: Engine) -> None:
    with sessions(full)() as before, sessions(restored)() as after:
        was, is_now = every_row(before), every_row(after)
        assert was.keys() == is_now.keys()
        for name, rows in was.items():
            assert is_now[name] == rows, name
        filled = {name for name, rows in was.items() if rows}
        assert len(filled) >= 24
        assert list(after.scalars(select(Photo.content).order_by(Photo.id))) == list(PICTURES)


def test_no_table_of_the_database_is_forgotten(full: Engine) -> None:
    with full.connect() as connection:
        found = connection.scalars(
            text("SELECT tablename FROM pg_tables WHERE schemaname = 'public'")
        )
        in_the_archive = {t.name for t in archive.tables()}
        assert set(found) - in_the_archive == {"alembic_version"} | archive.LEFT_OUT


def test_what_is_inside_can_be_read_by_anybody(packed: Path, full: Engine) -> None:
    with zipfile.ZipFile(packed) as opened, sessions(full)() as db:
        assert opened.testzip() is None
        manifest = json.loads(opened.read("manifest.json"))
        assert manifest["counts"]["photos"] == 3
        lines = opened.read("tables/readings.jsonl").decode().splitlines()
        assert len(lines) == db.scalar(select(func.count(Reading.id)))
        first = json.loads(lines[0])
        stored = db.get_one(Reading, first["id"])
        assert (first["typed"], first["si_value"]) == (stored.typed, stored.si_value)
        assert {n for n in opened.namelist() if n.startswith("photos/")} == {
            "photos/1.jpg",
            "photos/2.png",
            "photos/3.webp",
        }
        assert opened.read("measuring_photos/1.jpg") == PICTURES[0]


@pytest.mark.parametrize("table", [Reading, Observation, Publication, ImportRow, Photo])
def test_a_restored_record_is_append_only_again(restored: Engine, table: type) -> None:
    with sessions(restored)() as db, pytest.raises(DBAPIError, match="append-only"):
        db.execute(delete(table))


def test_numbers_go_on_where_they_ended_and_an_empty_table_begins_at_one(restored: Engine) -> None:
    with sessions(restored)() as db:
        last = db.scalar(select(func.max(Piece.id))) or 0
        piece = Piece(model_id=1, tag="AFTER")
        db.add(piece)
        db.flush()
        assert piece.id == last + 1
        for table in archive.tables():
            if "id" in table.c and table.c.id.identity is not None:
                expected = (db.scalar(select(func.max(table.c.id))) or 0) + 1
                sequence = text("SELECT nextval(pg_get_serial_sequence(:name, 'id'))")
                assert db.scalar(sequence, {"name": table.name}) == expected, table.name
        db.rollback()


def test_rows_that_do_not_fit_leave_the_empty_shop_as_it_was(
    cluster: Cluster, packed: Path, tmp_path: Path
) -> None:
    broken = tmp_path / "broken.zip"
    with zipfile.ZipFile(packed) as old, zipfile.ZipFile(broken, "w") as new:
        manifest = json.loads(old.read("manifest.json"))
        for name in old.namelist():
            content = old.read(name)
            if name == "tables/claims.jsonl":
                content = content.replace(b'"model_id": 1,', b'"model_id": 999,')
                manifest["sha256"][name] = hashlib.sha256(content).hexdigest()
            if name != "manifest.json":
                new.writestr(name, content)
        new.writestr("manifest.json", json.dumps(manifest))
    with shop_engine(cluster) as engine:
        with sessions(engine)() as db:
            before = archive.counts(db)
        with sessions(engine)() as db, pytest.raises(archive.NotRestored, match="do not fit"):
            archive.restore_archive(db, broken)
        with sessions(engine)() as db:
            assert archive.counts(db) == before
            with pytest.raises(DBAPIError, match="append-only"):
                db.execute(delete(Reading))


SINCE = ("cut_sessions", "cuts", "cut_marks")
"""Tables no earlier release had."""


@pytest.mark.parametrize("then", ["0012", "0015"])
def test_an_archive_of_an_earlier_release_becomes_the_same_shop(
    cluster: Cluster, tmp_path: Path, then: str
) -> None:
    with shop_engine(cluster, demo=True) as engine:
        with sessions(engine)() as db:
            in_stock = {"stock": "on_shelf", "stock_on": None, "stock_for": ""}
            db.execute(update(Piece).values(in_stock))  # no release before wrote it down
            db.commit()
            was = {**every_row(db), **{table: [] for table in SINCE}}
        with engine.begin() as connection:
            archive._migrated(connection, then)
            _write_as_it_stands(connection, tmp_path / "then.zip", then)
    with shop_engine(cluster) as engine, sessions(engine)() as db:
        archive.restore_archive(db, tmp_path / "then.zip")
        now = every_row(db)
        columns = [column.key for column in Reading.__table__.columns]
        since = columns.index("typed_step")  # no release before wrote it down
        for rows in (was, now):
            rows["readings"] = [(*r[:since], *r[since + 1 :]) for r in rows["readings"]]
        assert now == was


def _write_as_it_stands(connection: Connection, path: Path, revision: str) -> None:
    """Every table the database has now, as that release wrote them."""
    derived = {"alembic_version", "shelf_aside", "long_jobs"} | archive.LEFT_OUT
    found = connection.scalars(text("SELECT tablename FROM pg_tables WHERE schemaname = 'public'"))
    lines = {
        name: list(
            connection.scalars(text(f"SELECT row_to_json(t)::text || chr(10) FROM {name} t"))
        )
        for name in set(found) - derived
    }
    members = {f"tables/{name}.jsonl": "".join(rows).encode() for name, rows in lines.items()}
    manifest = {
        "format": archive.FORMAT,
        "version": archive.VERSION,
        "revision": revision,
        "counts": {name: len(rows) for name, rows in lines.items()},
        "sha256": {name: hashlib.sha256(content).hexdigest() for name, content in members.items()},
    }
    with zipfile.ZipFile(path, "w") as packed:
        for name, content in members.items():
            packed.writestr(name, content)
        packed.writestr(archive.MANIFEST, json.dumps(manifest))
