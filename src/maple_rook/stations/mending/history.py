"""Corrections, in words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from maple_rook.stations.mending.schemas import AmendmentOut, AmendmentsOut, ChangeOut
from maple_rook.store import records
from maple_rook.store.amendments import Act, Amendment, Subject
from maple_rook.store.tables import KnifeModel, Maker

_ROWS_SHOWN = 60
_SHOWN_AS: Mapping[str, str] = {
    "maker_id": "maker",
    "steel_id": "steel",
    "model_id": "model",
    "set_aside": "set aside",
}
_TOLD = ("pieces", "knife_models", "makers", "claims", "sheets")
_NAMED = {"maker_id": Maker, "model_id": KnifeModel}


def amendments(
    db: Session, about: Subject | None, about_id: int | None, offset: int, limit: int
) -> AmendmentsOut:
    """Corrections, newest first; of one thing where it is named."""
    where = []
    if about is not None:
        where.append(Amendment.about == about.value)
    if about_id is not None:
        where.append(Amendment.about_id == about_id)
    rows = db.scalars(
        select(Amendment)
        .options(joinedload(Amendment.person))
        .where(*where)
        .order_by(Amendment.id.desc())
        .offset(offset)
        .limit(limit)
    ).all()
    undone = set(
        db.scalars(select(Amendment.undoes_id).where(Amendment.undoes_id.in_([r.id for r in rows])))
    )
    names = _names(db, rows)
    return AmendmentsOut(
        total=db.scalar(select(func.count(Amendment.id)).where(*where)) or 0,
        amendments=[
            AmendmentOut(
                id=row.id,
                act=Act(row.act),
                about=Subject(row.about),
                about_id=row.about_id,
                named=row.named,
                reason=row.reason,
                person=row.person.name,
                recorded_at=row.recorded_at,
                changes=_in_words(row, names)[:_ROWS_SHOWN],
                moved=sum(change["table"] not in _TOLD for change in row.changes),
                undone=row.id in undone,
            )
            for row in rows
        ],
    )


def _names(db: Session, rows: Sequence[Amendment]) -> dict[tuple[str, int], str]:
    """What people call the rows that changes point at."""
    wanted: dict[str, set[int]] = {name: set() for name in _NAMED}
    for row in rows:
        for change in row.changes:
            for side in (change["before"], change["after"]):
                for name in _NAMED:
                    if side and side.get(name):
                        wanted[name].add(side[name])
    makers = db.scalars(select(Maker).where(Maker.id.in_(wanted["maker_id"])))
    models = db.scalars(
        select(KnifeModel)
        .options(joinedload(KnifeModel.maker))
        .where(KnifeModel.id.in_(wanted["model_id"]))
    )
    return {
        **{("maker_id", m.id): m.name for m in makers},
        **{("model_id", m.id): records.model_name(m) for m in models},
    }


def _in_words(row: Amendment, names: Mapping[tuple[str, int], str]) -> list[ChangeOut]:
    """The changes of single columns; rows that were added or removed are given by their names."""
    found = []
    for change in row.changes:
        if change["table"] not in _TOLD:
            continue
        before, after = change["before"], change["after"]
        what = change["table"].replace("_", " ").removesuffix("s")
        if before is None or after is None:
            whole = before or after
            said = whole.get("printed") or whole.get("name") or whole.get("line") or ""
            of = whole.get("quantity", "").replace("_", " ")
            label = f"{what} {of}".strip()
            found.append(
                ChangeOut(what=label, before=said if before else "", after=said if after else "")
            )
            continue
        for name in after:
            if name in ("low", "high", "finished_at"):
                continue
            label = _SHOWN_AS.get(name, name.replace("_", " "))
            sides = [_said(name, side[name], names) for side in (before, after)]
            found.append(ChangeOut(what=label, before=sides[0], after=sides[1]))
    return found


def _said(name: str, value: Any, names: Mapping[tuple[str, int], str]) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return names.get((name, value), str(value)) if isinstance(value, int) else str(value)
