"""Work orders: from faults to repairs, to done, re-checked and back on the shelf."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.answers.figures import OutlineOut, PieceOut, blade_outline
from maple_rook.answers.finish import with_hardness
from maple_rook.core.errors import InvalidValue
from maple_rook.core.upkeep.cautions import FINISH, HANDLING
from maple_rook.core.upkeep.finish_work import STONING, Fault, Method, Repair, cost, repairs
from maple_rook.core.upkeep.reprofile import Wanted
from maple_rook.core.upkeep.reprofile_plan import ReprofilePlan
from maple_rook.http.policy import Somebody
from maple_rook.http.problems import Conflict
from maple_rook.intake import readings
from maple_rook.intake.schemas import StoredOut
from maple_rook.stations.upkeep.order_schemas import (
    DeliveryOut,
    DeliveryRow,
    EventIn,
    EventOut,
    FaultOut,
    MethodOut,
    OrderIn,
    OrderOut,
    RepairOut,
    WorkOut,
)
from maple_rook.stations.upkeep.replan import planned, refused_without_word
from maple_rook.stations.upkeep.schemas import ReprofileOrderIn
from maple_rook.store import records, upkeep, work_orders
from maple_rook.store.tables import Photo, Piece, Sheet, Shop
from maple_rook.store.upkeep_tables import RepairRow, WorkEventRow, WorkOrderRow
from maple_rook.store.work_orders import EventKind, RepairState, Spotted, state_of

REPROFILE = "reprofile"
OPEN = (RepairState.ORDERED, RepairState.DONE)


def work_of(db: Session, piece_id: int) -> WorkOut:
    """The open faults of a piece, its orders, and its state on the shelf."""
    piece = records.pieces(db, [piece_id])[0]
    finish = work_orders.finishes(db, [piece_id])[piece_id]
    orders = [_order(row) for row in work_orders.orders(db, [piece_id])]
    ordered = {(j.item, j.aspect) for o in orders for j in o.repairs if j.state in OPEN}
    shop = db.scalars(select(Shop)).one()
    blade = records.blade_of(db, piece_id)
    return WorkOut(
        piece=PieceOut.of(piece),
        outline=OutlineOut.of(blade_outline(blade)),
        shelf=with_hardness(finish.state, blade).shelf,
        verdict=finish.verdict,
        faults=[
            FaultOut(
                item=repair.fault.item,
                aspect=repair.fault.aspect,
                label=repair.fault.label,
                severity=repair.fault.severity,
                note=repair.fault.note,
                method=_method(repair.method, returns=repair.returns),
                ordered=(repair.fault.item, repair.fault.aspect) in ordered,
            )
            for repair in repairs([s.fault for s in finish.spotted])
        ],
        orders=orders,
        hourly_rate=upkeep.workshop(db).hourly_rate,
        currency=shop.currency,
        cautions=[FINISH, HANDLING],
    )


def _method(method: Method, *, returns: bool) -> MethodOut:
    return MethodOut(
        what=method.what if not returns else "Back to the maker, with the fault named.",
        grits=list(method.grits) if not returns else [],
        materials=list(method.materials) if not returns else [],
        minutes=method.minutes if not returns else 0.0,
        caution=method.caution,
        recheck=method.recheck,
        returns=returns,
    )


def _order(row: WorkOrderRow) -> OrderOut:
    shown = [_repair(repair) for repair in row.repairs]
    return OrderOut(
        id=row.id,
        ordered_at=row.recorded_at,
        person=row.person.name,
        repairs=shown,
        open_minutes=sum(j.method.minutes for j in shown if j.state in OPEN),
    )


def _repair(row: RepairRow) -> RepairOut:
    taken = [e.minutes for e in row.events if e.minutes is not None]
    return RepairOut(
        id=row.id,
        item=row.item,
        aspect=row.aspect,
        label=row.label,
        severity=row.severity,
        note=row.note,
        method=MethodOut(
            what=row.what,
            grits=row.grits,
            materials=row.materials,
            minutes=row.minutes,
            caution=row.caution,
            recheck=row.recheck,
            returns=row.returns,
        ),
        state=state_of(row.events),
        minutes_taken=sum(taken) if taken else None,
        events=[
            EventOut(
                kind=EventKind(e.kind),
                minutes=e.minutes,
                value=e.value,
                note=e.note,
                photo_id=e.photo_id,
                person=e.person.name,
                at=e.recorded_at,
            )
            for e in row.events
        ],
    )


def order(db: Session, person: Somebody, piece_id: int, asked: OrderIn) -> WorkOut:
    """Order the faults named, or all; those already in an open order are left out.

    One order of a piece is written at a time, so that no fault is ordered twice.
    """
    if not _known(db, piece_id, asked.client_id):
        now = work_of(db, piece_id)
        free = {(f.item, f.aspect) for f in now.faults if not f.ordered}
        wanted = {(f.item, f.aspect) for f in asked.faults} or free
        if not wanted <= free:
            item, aspect = sorted(wanted - free)[0]
            raise Conflict(
                f"{item.replace('_', ' ')} {aspect} is no fault to order: it does not "
                "stand, or is ordered already."
            )
        if not wanted:
            raise Conflict("There is nothing to order: every open fault is ordered already.")
        spotted = {
            (s.fault.item, s.fault.aspect): s
            for s in work_orders.finishes(db, [piece_id])[piece_id].spotted
        }
        chosen = [spotted[key] for key in wanted]
        _keep(db, person, piece_id, asked.client_id, chosen)
        db.commit()
    return work_of(db, piece_id)


def _known(db: Session, piece_id: int, client_id: uuid.UUID) -> bool:
    """Whether the order is written already; until it is, no other is written of the piece."""
    db.execute(select(Piece.id).where(Piece.id == piece_id).with_for_update())
    found = db.scalar(select(WorkOrderRow.id).where(WorkOrderRow.client_id == client_id))
    return found is not None


def _keep(
    db: Session, person: Somebody, piece_id: int, client_id: uuid.UUID, chosen: Sequence[Spotted]
) -> None:
    seen = {(s.fault.item, s.fault.aspect): s.seen_id for s in chosen}
    row = _begun(db, person, piece_id, client_id, max(s.sheet_id for s in chosen))
    for place, repair in enumerate(repairs([s.fault for s in chosen])):
        fault = repair.fault
        row.repairs.append(_repair_row(place, repair, seen[fault.item, fault.aspect]))


def _begun(
    db: Session, person: Somebody, piece_id: int, client_id: uuid.UUID, sheet_id: int
) -> WorkOrderRow:
    row = WorkOrderRow(
        client_id=client_id, piece_id=piece_id, sheet_id=sheet_id, person_id=person.id
    )
    db.add(row)
    return row


def _repair_row(place: int, repair: Repair, seen_id: int | None) -> RepairRow:
    method = _method(repair.method, returns=repair.returns)
    return RepairRow(
        place=place,
        item=repair.fault.item,
        aspect=repair.fault.aspect,
        severity=repair.fault.severity,
        label=repair.fault.label,
        note=repair.fault.note,
        seen_id=seen_id,
        **method.model_dump(),
    )


def order_reprofile(
    db: Session, person: Somebody, piece_id: int, asked: ReprofileOrderIn
) -> WorkOut:
    """Order a re-profile; turning an uneven edge even needs the owner's word."""
    if not _known(db, piece_id, asked.client_id):
        wanted = asked.wanted.core()
        _, plan = planned(db, piece_id, wanted)
        refused_without_word(plan, owner_accepts=asked.owner_accepts)
        sheet = db.scalar(
            select(Sheet.id).where(Sheet.piece_id == piece_id).order_by(Sheet.id.desc()).limit(1)
        )
        if sheet is None:
            raise Conflict("This piece has no sheet yet.")
        row = _begun(db, person, piece_id, asked.client_id, sheet)
        row.repairs.append(_repair_row(0, _reprofile_repair(wanted, plan), None))
        db.commit()
    return work_of(db, piece_id)


def _reprofile_repair(wanted: Wanted, plan: ReprofilePlan) -> Repair:
    share = wanted.share_right
    ratio = "" if share is None else f", {100 * share:.0f}:{100 - 100 * share:.0f}"
    right, left = plan.volumes_mm3
    method = Method(
        what=f"Grind the edge to {wanted.angle_per_side_deg:g}° per side{ratio}: {right:.0f} mm³ "
        f"of the right face, {left:.0f} mm³ of the left, {plan.made.height_lost_mm:.2f} mm of "
        "height.",
        place=0,
        grits=tuple(step.stone.grit for step in plan.steps),
        materials=("flat stones",),
        minutes=round(plan.minutes[0], 1),
        caution=STONING,
        recheck="Angle, bevel widths and thickness behind the edge, on a new sheet.",
    )
    note = "the owner accepts the cost in steel" if plan.turns_even else ""
    return Repair(Fault(REPROFILE, "", "mend", note), method, returns=False)


def happened(db: Session, person: Somebody, repair_id: int, asked: EventIn) -> WorkOut:
    """Write what happened to a repair; once, and in an order that makes sense."""
    repair = records.get(db, RepairRow, "repair", repair_id)
    piece_id = repair.order.piece_id
    known = db.scalar(select(WorkEventRow.id).where(WorkEventRow.client_id == asked.client_id))
    if known is None:
        db.execute(select(RepairRow.id).where(RepairRow.id == repair_id).with_for_update())
        db.refresh(repair, ["events"])
        _fits(state_of(repair.events), asked)
        if asked.photo_id is not None:
            photo = records.get(db, Photo, "photo", asked.photo_id)
            if photo.sheet_id != repair.order.sheet_id:
                raise InvalidValue("photo", asked.photo_id, "a photo of this work order")
        values = {
            **asked.model_dump(),
            "kind": asked.kind.value,
            "repair_id": repair_id,
            "person_id": person.id,
        }
        db.execute(insert(WorkEventRow).values(values).on_conflict_do_nothing())
        db.commit()
        db.expire_all()
    return work_of(db, piece_id)


def _fits(state: RepairState, asked: EventIn) -> None:
    if state in (RepairState.CLOSED, RepairState.DROPPED) and asked.kind is not EventKind.AFTER:
        raise Conflict(
            f"This repair is {state.label}; see the fault again at the Bench to reopen it."
        )
    if asked.kind is EventKind.RECHECK and state is not RepairState.DONE:
        raise Conflict("Re-check it once it is done.")


def keep_photo(
    db: Session, person: Somebody, repair_id: int, client_id: uuid.UUID, content: bytes
) -> StoredOut:
    """A picture of a repair, kept with the sheet the order came from; once.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    repair_id : number of the repair.
    client_id : named by the client, so that it is written once.
    content : the file's bytes.
    """
    repair = records.get(db, RepairRow, "repair", repair_id)
    sheet_id = repair.order.sheet_id
    return readings.keep_photo(db, person, sheet_id, client_id, content, after_sign_off=True)


def delivery(db: Session) -> DeliveryOut:
    """Hours and cost of every piece that has a fault or an open repair."""
    every = work_orders.orders(db)
    by_piece: dict[int, list[OrderOut]] = {}
    for row in every:
        by_piece.setdefault(row.piece_id, []).append(_order(row))
    ids = sorted({*work_orders.faulty_pieces(db), *by_piece})
    finishes = work_orders.finishes(db, ids)
    shop, rate = db.scalars(select(Shop)).one(), upkeep.workshop(db).hourly_rate
    rows = []
    pieces = records.pieces(db, ids)
    blades = records.blades(db, pieces, records.figures(db, ids))
    for piece, blade in zip(pieces, blades, strict=True):
        orders, finish = by_piece.get(piece.id, []), finishes[piece.id]
        open_repairs = [j for o in orders for j in o.repairs if j.state in OPEN]
        ordered = {(j.item, j.aspect) for j in open_repairs}
        to_come = [
            repair
            for repair in repairs([s.fault for s in finish.spotted])
            if (repair.fault.item, repair.fault.aspect) not in ordered
        ]
        methods = [
            *(j.method for j in open_repairs),
            *(_method(j.method, returns=j.returns) for j in to_come),
        ]
        taken = sum(j.minutes_taken or 0 for o in orders for j in o.repairs)
        if not methods and not taken:
            continue
        wanted = sum(m.minutes for m in methods)
        rows.append(
            DeliveryRow(
                piece_id=piece.id,
                tag=piece.tag,
                name=records.piece_name(piece),
                shelf=with_hardness(finish.state, blade).shelf,
                taken_in=piece.created_at.date(),
                faults=len(finish.spotted),
                open_repairs=len(open_repairs),
                open_minutes=wanted,
                taken_minutes=taken,
                cost=cost(wanted, rate),
                grits=sorted({g for m in methods for g in m.grits}),
                materials=sorted({m for method in methods for m in method.materials}),
                returns=any(m.returns for m in methods),
            )
        )
    return DeliveryOut(rows=rows, hourly_rate=rate, currency=shop.currency)
