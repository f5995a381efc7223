"""The demo shop's workshop, plans, log and work in hand. All invented."""

from __future__ import annotations

import datetime as dt
import uuid
from dataclasses import asdict
from typing import NamedTuple

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.retention import Kitchen, RodSchool, Technique, Use
from maple_rook.core.upkeep.grinding import Stone
from maple_rook.core.upkeep.plan import EdgeCare
from maple_rook.core.upkeep.setup import Spacer
from maple_rook.core.upkeep.workshop import Workshop
from maple_rook.http.policy import Somebody
from maple_rook.stations.upkeep import orders
from maple_rook.stations.upkeep.order_schemas import EventIn, OrderIn
from maple_rook.store.tables import Person, Piece
from maple_rook.store.upkeep import stored_workshop
from maple_rook.store.upkeep_tables import DoneRow, PlanRow, WorkshopSet
from maple_rook.store.work_orders import EventKind

_NAMESPACE = uuid.UUID("3f0c6a58-1d0b-4c7e-8f43-90d2b8a1c5e7")
WORKSHOP = Workshop(
    sharpening_charge=14.0,
    spacers=(
        Spacer("harbour token", 2.35),
        Spacer("ferry half", 1.80),
        Spacer("brass shim", 1.00),
        Spacer("thin shim", 0.50),
    ),
    stones=(Stone(320, 2.6, 8.0), Stone(1000, 0.8, 3.0), Stone(3000, 0.25, 1.0)),
    hourly_rate=36.0,
)


class DemoPlan(NamedTuple):
    tag: str
    label: str
    kitchen: Kitchen
    rods: RodSchool
    days_ago: int


PLANS = (
    DemoPlan(
        "DL-25",
        "galley of the ferry",
        Kitchen(Use.PROFESSIONAL, technique=Technique.ROUGH),
        RodSchool.NONE,
        34,
    ),
    DemoPlan("KH-15", "home cook on the quay", Kitchen(Use.HOME), RodSchool.NONE, 68),
    DemoPlan("HS-24", "cookery school", Kitchen(Use.KEEN), RodSchool.NONE, 21),
    DemoPlan("DF-23", "cookery school", Kitchen(Use.KEEN), RodSchool.LIGHT, 12),
    DemoPlan("BT-27", "fish counter on the mole", Kitchen(Use.PROFESSIONAL), RodSchool.NONE, 40),
)
_GALLEY_BEFORE = dt.date(2026, 4, 6)


class DemoEntry(NamedTuple):
    tag: str
    care: EdgeCare
    on: dt.date
    grit: int | None = None
    height: float | None = None
    behind: float | None = None
    minutes: float | None = None
    note: str = ""


def _log(today: dt.date) -> list[DemoEntry]:
    """The galley's own stone between its two sheets, then what the shop did since."""
    galley = [
        DemoEntry(
            "DL-25",
            EdgeCare.STONE,
            _GALLEY_BEFORE + dt.timedelta(days=12 * n),
            400,
            note="by the galley, as the mate wrote it down",
        )
        for n in range(13)
    ]

    def ago(days: int) -> dt.date:
        return today - dt.timedelta(days=days)

    return [
        *galley,
        DemoEntry("DL-25", EdgeCare.THIN, ago(48), 320, 52.20, 0.29, 55, "thick behind the edge"),
        DemoEntry("DL-25", EdgeCare.STONE, ago(34), 1000, 52.15, 0.29, 12),
        DemoEntry("HS-24", EdgeCare.STONE, ago(21), 3000, 49.54, None, 15, "60:40 kept"),
        DemoEntry("DG-20", EdgeCare.STONE, ago(30), 1000, 45.52, None, 14, "bolster still flush"),
        DemoEntry("DG-20", EdgeCare.STONE, ago(6), 1000, 45.44, None, 11),
    ]


def add_upkeep(session: Session, hand: Person, today: dt.date) -> None:
    """Put workshop, plans, log and orders into the record."""
    ids = {piece.tag: piece.id for piece in session.scalars(select(Piece))}
    session.add(WorkshopSet(workshop=stored_workshop(WORKSHOP), person_id=hand.id))
    for plan in PLANS:
        begun = today - dt.timedelta(days=plan.days_ago)
        session.add(
            PlanRow(
                client_id=_name(f"plan/{plan.tag}"),
                piece_id=ids[plan.tag],
                label=plan.label,
                kitchen=asdict(plan.kitchen),
                rods=plan.rods.value,
                begun_on=begun,
                person_id=hand.id,
            )
        )
    session.add_all(
        DoneRow(
            client_id=_name(f"log/{n}"),
            piece_id=ids[e.tag],
            care=e.care.value,
            done_on=e.on,
            grit=e.grit,
            height_mm=e.height,
            behind_edge_mm=e.behind,
            minutes=e.minutes,
            note=e.note,
            person_id=hand.id,
        )
        for n, e in enumerate(_log(today))
    )
    session.flush()
    who = Somebody(hand.id, hand.name)
    for tag in ("TT-16", "OM-21"):
        orders.order(session, who, ids[tag], OrderIn(client_id=_name(f"order/{tag}")))
    sealed = orders.work_of(session, ids["TT-16"]).orders[0].repairs[0].id
    for kind, minutes, value in ((EventKind.DONE, 9.0, ""), (EventKind.RECHECK, None, "fine")):
        event = EventIn(client_id=_name(f"event/{kind}"), kind=kind, minutes=minutes, value=value)
        orders.happened(session, who, sealed, event)


def _name(of: str) -> uuid.UUID:
    return uuid.uuid5(_NAMESPACE, of)
