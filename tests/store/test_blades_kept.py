"""What the record keeps of a blade's shape: traces, what was seen of the faces, foods."""

from __future__ import annotations

import datetime as dt
import uuid
from collections.abc import Iterator
from dataclasses import replace

import pytest
from sqlalchemy import Engine, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.core.cutting.foods import FOODS
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.geometry.profile import on_board
from maple_rook.demo.shapes import EDGES, FURTHER
from maple_rook.shelf.knife import JOB_STROKES
from maple_rook.shelf.projection import Shelf
from maple_rook.store import records
from maple_rook.store.database import sessions
from maple_rook.store.foods import MOST_FOODS, drop_food, keep_food, restore_foods, shop_foods
from maple_rook.store.tables import EdgeTrace, KnifeModel, Observation, Person, Piece, Sheet


@pytest.fixture
def sheet(db: Session) -> Iterator[Sheet]:
    """A fresh sheet of a fresh piece; rolled back afterwards."""
    model = db.scalars(select(KnifeModel).order_by(KnifeModel.id)).first()
    person = db.scalars(select(Person)).first()
    made = Sheet(piece=Piece(model=model, tag=f"B-{uuid.uuid4().hex[:8]}"), person=person)
    db.add(made)
    db.flush()
    yield made
    db.rollback()


def trace(db: Session, sheet: Sheet, points: list[list[float]]) -> EdgeTrace:
    row = EdgeTrace(
        client_id=uuid.uuid4(),
        sheet_id=sheet.id,
        source="columns",
        given="",
        points=points,
        taken_at=dt.datetime.now(dt.UTC),
        person_id=sheet.person_id,
    )
    db.add(row)
    db.flush()
    return row


def see(db: Session, sheet: Sheet, item: str, value: str) -> None:
    now = dt.datetime.now(dt.UTC)
    db.add(
        Observation(
            client_id=uuid.uuid4(),
            sheet_id=sheet.id,
            item=item,
            value=value,
            taken_at=now,
            person_id=sheet.person_id,
        )
    )
    db.flush()


EDGE = [[0.0, 0.0], [100.0, 0.0], [160.0, 3.0], [209.0, 12.0]]


def test_the_newest_trace_of_a_piece_stands_and_an_empty_one_withdraws_it(
    db: Session, sheet: Sheet
) -> None:
    piece = sheet.piece_id
    assert records.traces(db, [piece]) == {}
    trace(db, sheet, [[0.0, 0.0], [209.0, 0.0]])
    trace(db, sheet, EDGE)
    assert records.traces(db, [piece])[piece].points == EDGE
    curve = records.edge_curve(records.traces(db, [piece])[piece])
    assert curve is not None
    assert on_board(curve).tip_height_mm == pytest.approx(12.0)
    trace(db, sheet, [])
    assert records.traces(db, [piece]) == {}
    assert records.edge_curve(None) is None


def test_traced_edges_are_append_only(db: Session, sheet: Sheet) -> None:
    row = trace(db, sheet, EDGE)
    for statement in (
        "UPDATE edge_traces SET source = 'svg' WHERE id = :id",
        "DELETE FROM edge_traces WHERE id = :id",
    ):
        with pytest.raises(DBAPIError, match="append-only"), db.begin_nested():
            db.execute(text(statement), {"id": row.id})


def test_what_was_seen_of_the_faces_reaches_the_blade(db: Session, sheet: Sheet) -> None:
    piece = sheet.piece

    def blade():  # type: ignore[no-untyped-def]
        return records.blades(db, [piece], {})[0]

    assert blade().surface is None
    see(db, sheet, "surface", "brushed,hammered")
    see(db, sheet, "dimples", "both")
    see(db, sheet, "shaped_faces", "right")
    see(db, sheet, "asymmetry_school", "angle")
    found = blade()
    assert found.surface == ("brushed", "hammered", "dimples.both")
    assert found.shaped == "right"
    assert found.school is AsymmetrySchool.ANGLE
    see(db, sheet, "asymmetry_school", "strokes")
    see(db, sheet, "dimples", "withdrawn")
    assert blade().school is None
    assert blade().surface == ("brushed", "hammered")


def test_the_shelf_notices_a_trace_an_observation_and_a_changed_food(engine: Engine) -> None:
    shelf = Shelf()
    with sessions(engine)() as db:
        model = db.scalars(select(KnifeModel).order_by(KnifeModel.id)).first()
        person = db.scalars(select(Person)).first()
        made = Sheet(piece=Piece(model=model, tag=f"B-{uuid.uuid4().hex[:8]}"), person=person)
        db.add(made)
        db.flush()
        assert shelf.knives(db, [made.piece_id])[0].blade.surface is None
        see(db, made, "surface", "polished")
        second = shelf.knives(db, [made.piece_id])[0]
        assert second.blade.surface == ("polished",)
        trace(db, made, EDGE)
        third = shelf.knives(db, [made.piece_id])[0]
        assert third.blade.traced is not None
        assert third.profile.tip_height_mm == pytest.approx(12.0)
        before = shelf.model_version(db)
        keep_food(db, replace(FOODS["onion"], key="leek", label="leek"))
        assert shelf.model_version(db) != before
        more = len(shelf.knives(db, [made.piece_id])[0].central) - len(third.central)
        assert more == len(JOB_STROKES)
        db.rollback()
        assert shop_foods(db) == tuple(FOODS.values())


def test_foods_are_the_shipped_ones_until_one_is_changed(db: Session) -> None:
    shipped = tuple(FOODS.values())
    assert shop_foods(db) == shipped
    tougher = replace(FOODS["carrot"], label="winter carrot", toughness_j_m2=900)
    keep_food(db, tougher)
    assert [f.key for f in shop_foods(db)] == list(FOODS)
    assert {f.key: f for f in shop_foods(db)}["carrot"] == tougher
    drop_food(db, "squash")
    assert "squash" not in {f.key for f in shop_foods(db)}
    with pytest.raises(InvalidValue, match="food"):
        drop_food(db, "squash")
    for n in range(MOST_FOODS - len(shop_foods(db))):
        keep_food(db, replace(FOODS["onion"], key=f"f{n}", label=f"food {n}"))
    with pytest.raises(InvalidValue, match=f"at most {MOST_FOODS}"):
        keep_food(db, replace(FOODS["onion"], key="one_more"))
    restore_foods(db)
    assert shop_foods(db) == shipped
    db.rollback()


def test_the_demo_has_every_grind_and_the_edges_it_names(db: Session) -> None:
    pieces = records.pieces(db)
    figures = records.figures(db)
    tags = {p.tag: p for p in pieces}
    assert {p.model.grind for p in pieces} >= {
        "full_flat",
        "sabre",
        "high_flat",
        "hollow",
        "deep_concave",
        "convex",
        "single_bevel",
        "single_bevel_added",
        "asymmetric_double",
        "two_angle",
    }
    for tag, further in FURTHER.items():
        assert set(further) <= set(figures[tags[tag].id]), tag
    kept = records.traces(db, [tags[tag].id for tag in EDGES])
    for tag, edge in EDGES.items():
        *_, (length, tip) = edge
        assert kept[tags[tag].id].points[-1] == pytest.approx([length, tip])
