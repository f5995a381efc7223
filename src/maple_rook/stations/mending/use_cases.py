"""Rename, move, edit, retire, set aside; and undo any of it."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import InstrumentedAttribute, Session, joinedload

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.knife_types import knife_type
from maple_rook.core.measurement.plausibility import parse_as, parse_claim
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.formats.gtin import gtin
from maple_rook.http.policy import Somebody
from maple_rook.http.preconditions import IfMatch, version
from maple_rook.http.problems import Conflict
from maple_rook.stations.mending.schemas import (
    ClaimChange,
    ClaimOfModel,
    MakerChange,
    MendableMaker,
    MendableModel,
    MendableOut,
    MendedModel,
    MendedOut,
    MendedPiece,
    ModelChange,
    PieceChange,
    SetAsideIn,
)
from maple_rook.stations.mending.writing import written
from maple_rook.store import records
from maple_rook.store.amendments import Act, Amendment, ChangedSince, Changes, Subject, undo
from maple_rook.store.steels import grade_named
from maple_rook.store.tables import Claim, KnifeModel, Maker, Piece, Sheet


def mendable(db: Session) -> MendableOut:
    """Makers and models, by name, with what hangs on each."""
    of_model = _counted(db, Piece.model_id)
    of_maker = _counted(db, KnifeModel.maker_id)
    models = db.scalars(select(KnifeModel).options(joinedload(KnifeModel.maker)))
    return MendableOut(
        makers=[
            MendableMaker(id=m.id, name=m.name, models=of_maker.get(m.id, 0), etag=version(m))
            for m in db.scalars(select(Maker).order_by(func.lower(Maker.name)))
        ],
        models=sorted(
            (
                MendableModel(
                    id=m.id,
                    name=records.model_name(m),
                    maker_id=m.maker_id,
                    knife_type=m.knife_type,
                    pieces=of_model.get(m.id, 0),
                    retired=m.retired,
                )
                for m in models
            ),
            key=lambda m: m.name.casefold(),
        ),
    )


def _counted(db: Session, column: InstrumentedAttribute[int]) -> dict[int, int]:
    return dict(db.execute(select(column, func.count()).group_by(column)).all())


def model(db: Session, model_id: int) -> MendedModel:
    """A model as it stands."""
    row = records.get(db, KnifeModel, "model", model_id)
    tags = db.scalars(select(Piece.tag).where(Piece.model_id == row.id).order_by(Piece.tag))
    return MendedModel(
        id=row.id,
        maker=row.maker.name,
        line=row.line,
        knife_type=row.knife_type,
        nominal_mm=row.nominal_mm,
        grind=row.grind,
        construction=row.construction,
        finish=row.finish,
        handle=row.handle,
        steel=row.steel.designation if row.steel else None,
        price=None if row.price is None else float(row.price),
        gtin=row.gtin,
        even_machine_edge=row.even_machine_edge,
        retired=row.retired,
        claims=[
            ClaimOfModel(quantity=c.quantity, label=QUANTITIES[c.quantity].label, printed=c.printed)
            for c in row.claims
        ],
        tags=list(tags),
        etag=version(row, *row.claims),
    )


def piece(db: Session, piece_id: int) -> MendedPiece:
    """A piece as it stands."""
    row = records.get(db, Piece, "piece", piece_id)
    return MendedPiece(
        id=row.id,
        tag=row.tag,
        condition=row.condition,
        note=row.note,
        model_id=row.model_id,
        merged_into=row.merged_into_id,
        etag=version(row),
    )


def change_piece(
    db: Session, person: Somebody, piece_id: int, asked: PieceChange, seen: IfMatch
) -> MendedOut:
    """Give a piece another tag, condition, note or model."""
    row = records.get(db, Piece, "piece", piece_id, lock=True)
    seen.check(row)
    values = asked.model_dump(exclude_none=True, exclude={"reason"})
    tag = values.get("tag", row.tag)
    if tag != row.tag and db.scalar(select(Piece.id).where(func.lower(Piece.tag) == tag.lower())):
        hint = "Merge the two where they are one knife."
        raise InvalidValue("tag", tag, "a tag no other piece carries", hint=hint)
    if "model_id" in values:
        records.get(db, KnifeModel, "model", values["model_id"])
    changes = Changes(db)
    changes.set(row, **values)
    return written(db, person, Act.EDIT, Subject.PIECE, row.id, row.tag, changes, asked.reason)


def change_model(
    db: Session, person: Somebody, model_id: int, asked: ModelChange, seen: IfMatch
) -> MendedOut:
    """Change what a model is called, made of and sold for, and what is printed of it."""
    row = records.get(db, KnifeModel, "model", model_id, lock=True)
    seen.check(row, *row.claims)
    changes = Changes(db)
    changes.set(row, **_model_values(db, asked, changes))
    _check_alone(db, row)
    if asked.claims is not None:
        _change_claims(row, asked.claims, changes)
    name = records.model_name(row)
    return written(db, person, Act.EDIT, Subject.MODEL, row.id, name, changes, asked.reason)


def _model_values(db: Session, asked: ModelChange, changes: Changes) -> dict[str, Any]:
    """Columns of a model by what was asked; a field sent as null is emptied where it may be."""
    sent = asked.model_fields_set
    plain = ("line", "construction", "finish", "handle", "even_machine_edge", "retired")
    values = {n: getattr(asked, n) for n in plain if getattr(asked, n) is not None}
    if asked.knife_type is not None:
        values["knife_type"] = knife_type(asked.knife_type).key
    if asked.nominal is not None:
        values["nominal_mm"] = parse_as(QUANTITIES["edge_length"], asked.nominal).base_value
    if asked.grind is not None:
        values["grind"] = asked.grind.value
    if "steel" in sent:
        values["steel_id"] = None if asked.steel is None else grade_named(db, asked.steel).id
    if "price" in sent:
        values["price"] = asked.price
    if asked.gtin is not None:
        values["gtin"] = gtin(asked.gtin)
    if asked.maker is not None:
        values["maker_id"] = _maker(db, asked.maker, changes)
    return values


def _maker(db: Session, name: str, changes: Changes) -> int:
    """The maker of a name, whatever its capitals; entered where it is new."""
    known = db.scalar(select(Maker).where(func.lower(Maker.name) == name.lower()))
    if known is None:
        known = Maker(name=name)
        changes.add(known)
    return known.id


def _check_alone(db: Session, row: KnifeModel) -> None:
    """Two models are never known by the same name."""
    with db.no_autoflush:
        other = db.scalar(
            select(KnifeModel.id).where(
                KnifeModel.id != row.id,
                KnifeModel.maker_id == row.maker_id,
                KnifeModel.line == row.line,
                KnifeModel.knife_type == row.knife_type,
                KnifeModel.nominal_mm == row.nominal_mm,
            )
        )
        if other is not None:
            hint = "Merge the two where they are one."
            named = f"{row.line} {row.nominal_mm:g}"
            raise InvalidValue("model", named, "a name no other model has", hint=hint)


def _change_claims(row: KnifeModel, asked: Sequence[ClaimChange], changes: Changes) -> None:
    wanted = {claim.quantity: claim for claim in asked}
    if len(wanted) < len(asked):
        raise InvalidValue("claims", "a quantity twice", "one claim of each quantity")
    for known in list(row.claims):
        said = wanted.pop(known.quantity, None)
        if said is None:
            row.claims.remove(known)
            changes.remove(known)
        elif said.printed != known.printed:
            changes.set(known, **_claimed(said))
    for said in wanted.values():
        changes.add(Claim(model_id=row.id, quantity=said.quantity, **_claimed(said)))


def _claimed(asked: ClaimChange) -> dict[str, Any]:
    typed = parse_claim(QUANTITIES[asked.quantity], asked.printed)
    return {"printed": asked.printed, "low": typed.base_low, "high": typed.base_high}


def change_maker(
    db: Session, person: Somebody, maker_id: int, asked: MakerChange, seen: IfMatch
) -> MendedOut:
    """Rename a maker."""
    row = records.get(db, Maker, "maker", maker_id, lock=True)
    seen.check(row)
    other = select(Maker.id).where(func.lower(Maker.name) == asked.name.lower(), Maker.id != row.id)
    if db.scalar(other):
        hint = "Merge the two where they are one."
        raise InvalidValue("name", asked.name, "a name no other maker has", hint=hint)
    changes = Changes(db)
    changes.set(row, name=asked.name)
    return written(db, person, Act.EDIT, Subject.MAKER, row.id, row.name, changes, asked.reason)


def set_aside(db: Session, person: Somebody, sheet_id: int, asked: SetAsideIn) -> MendedOut:
    """Have a wrong sheet count for nothing, with a reason; or put it back."""
    row = records.get(db, Sheet, "sheet", sheet_id, lock=True)
    changes = Changes(db)
    if asked.reason:
        signed = row.finished_at or dt.datetime.now(dt.UTC)
        changes.set(row, set_aside=asked.reason, finished_at=signed)
    else:
        changes.set(row, set_aside=None)
    act = Act.SET_ASIDE if asked.reason else Act.PUT_BACK
    name = f"sheet of {row.piece.tag}, {row.started_at:%Y-%m-%d}"
    return written(db, person, act, Subject.SHEET, row.id, name, changes, asked.reason)


def undo_amendment(db: Session, person: Somebody, amendment_id: int) -> MendedOut:
    """Make everything an amendment changed what it was, unless it was changed again since."""
    of = records.get(db, Amendment, "amendment", amendment_id, lock=True)
    if db.scalar(select(Amendment.id).where(Amendment.undoes_id == of.id)):
        raise Conflict("It is undone already.")
    try:
        rows = undo(db, of.changes)
    except ChangedSince as since:
        raise Conflict(f"It cannot be undone: {since}. Undo the later change first.") from None
    db.add(
        Amendment(
            act=Act.UNDO.value,
            about=of.about,
            about_id=of.about_id,
            named=of.named,
            changes=[row._asdict() for row in rows],
            undoes_id=of.id,
            person_id=person.id,
        )
    )
    db.commit()
    return MendedOut(amendment_id=of.id)
