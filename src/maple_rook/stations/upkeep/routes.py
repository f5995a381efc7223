from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool

from maple_rook.answers.calibration import ChosenLife, ChosenModels
from maple_rook.answers.kitchen import ChosenKitchen
from maple_rook.core.edge_life.retention import RodSchool
from maple_rook.core.upkeep.sharpening_tools import Tool
from maple_rook.formats.calendar_file import CALENDAR_TYPE
from maple_rook.http.access import MAX_ID, CurrentPerson, Db, RowId
from maple_rook.http.preconditions import Seen
from maple_rook.intake.schemas import StoredOut
from maple_rook.stations.upkeep import dates, lasting, orders, replan, setting, shop
from maple_rook.stations.upkeep.life_schemas import (
    CareOut,
    DoneIn,
    EndIn,
    LifeOut,
    PlanIn,
    PlanOut,
    VoidDoneIn,
)
from maple_rook.stations.upkeep.order_schemas import DeliveryOut, EventIn, OrderIn, WorkOut
from maple_rook.stations.upkeep.schemas import (
    ReprofileOrderIn,
    ReprofileOut,
    SetupOut,
    WantedIn,
    WorkshopIn,
    WorkshopOut,
)
from maple_rook.store import upkeep

router = APIRouter(tags=["upkeep"])
Angle = Annotated[float | None, Query(ge=5, le=35, description="degrees per side")]
Reach = Annotated[float, Query(ge=30, le=400, description="edge to the pivot of a guide, mm")]


@router.get("/pieces/{piece_id}/setup")
def setup(
    db: Db,
    _: CurrentPerson,
    piece_id: RowId,
    tool: Tool = Tool.WHETSTONE,
    rods: RodSchool = RodSchool.NONE,
    angle: Angle = None,
    reach: Reach = setting.GUIDE_REACH_MM,
) -> SetupOut:
    """A knife set to a tool, at the angle found or another."""
    return setting.setup(db, piece_id, tool, rods, angle, reach)


@router.post("/pieces/{piece_id}/reprofile")
def reprofile(
    db: Db,
    _: CurrentPerson,
    models: ChosenModels,
    piece_id: RowId,
    kitchen: ChosenKitchen,
    asked: WantedIn,
) -> ReprofileOut:
    """What another edge takes and gives; nothing is stored."""
    return replan.reprofile(db, models, piece_id, kitchen, asked)


@router.post("/pieces/{piece_id}/reprofile/order", status_code=201)
def order_reprofile(
    db: Db, person: CurrentPerson, piece_id: RowId, asked: ReprofileOrderIn
) -> WorkOut:
    """Order a re-profile; turning an uneven edge even asks for the owner's word."""
    return orders.order_reprofile(db, person, piece_id, asked)


@router.get("/pieces/{piece_id}/upkeep")
def life_of(
    db: Db, _: CurrentPerson, life: ChosenLife, piece_id: RowId, kitchen: ChosenKitchen
) -> LifeOut:
    """What sharpening does to a knife, its log and its plans."""
    return lasting.life_of(db, life, piece_id, kitchen, _today())


@router.post("/pieces/{piece_id}/upkeep/log", status_code=201)
def write(
    db: Db,
    person: CurrentPerson,
    life: ChosenLife,
    piece_id: RowId,
    kitchen: ChosenKitchen,
    asked: DoneIn,
) -> LifeOut:
    """Write into the log what was done; sent twice it is kept once."""
    lasting.write(db, person, piece_id, asked)
    return lasting.life_of(db, life, piece_id, kitchen, _today())


@router.post("/upkeep/log/{done_id}/void", status_code=201)
def strike(
    db: Db,
    person: CurrentPerson,
    life: ChosenLife,
    done_id: RowId,
    kitchen: ChosenKitchen,
    asked: VoidDoneIn,
) -> LifeOut:
    """Strike an entry of the log out with a reason; it stays to be read."""
    piece_id = lasting.strike(db, person, done_id, asked.reason)
    return lasting.life_of(db, life, piece_id, kitchen, _today())


@router.post("/pieces/{piece_id}/upkeep/plans", status_code=201)
def begin_plan(
    db: Db, person: CurrentPerson, life: ChosenLife, piece_id: RowId, asked: PlanIn
) -> list[PlanOut]:
    """Give a knife into a kitchen; its plans, with their dates."""
    dates.begin(db, person, piece_id, asked)
    return dates.plans_out(db, life, upkeep.plans(db, piece_id), _today())


@router.post("/upkeep/plans/{plan_id}/ended", status_code=201)
def end_plan(
    db: Db, person: CurrentPerson, life: ChosenLife, plan_id: RowId, asked: EndIn
) -> list[PlanOut]:
    """End a plan, or take it up again; the plans that run."""
    dates.end(db, person, plan_id, ended=asked.ended)
    return dates.plans_out(db, life, upkeep.plans(db), _today())


@router.get("/upkeep/plans")
def plans(db: Db, _: CurrentPerson, life: ChosenLife) -> list[PlanOut]:
    """Every plan that runs, what is furthest overdue first."""
    return dates.plans_out(db, life, upkeep.plans(db), _today())


@router.get("/upkeep/calendar.ics", response_class=Response)
def calendar(
    db: Db,
    _: CurrentPerson,
    life: ChosenLife,
    plan: Annotated[int | None, Query(ge=1, le=MAX_ID)] = None,
) -> Response:
    """The dates of a plan, or of all that run, for any calendar (RFC 5545)."""
    content = dates.calendar(db, life, plan, _today(), dt.datetime.now(dt.UTC))
    name = f"upkeep-{plan}" if plan else "upkeep"
    headers = {"Content-Disposition": f'attachment; filename="{name}.ics"'}
    return Response(content, media_type=CALENDAR_TYPE, headers=headers)


@router.get("/upkeep/work")
def delivery(db: Db, _: CurrentPerson) -> DeliveryOut:
    """Hours and cost of every piece with work on it."""
    return orders.delivery(db)


@router.get("/pieces/{piece_id}/work")
def work_of(db: Db, _: CurrentPerson, piece_id: RowId) -> WorkOut:
    """Open faults of a piece, its work orders, and its state on the shelf."""
    return orders.work_of(db, piece_id)


@router.post("/pieces/{piece_id}/work", status_code=201)
def order(db: Db, person: CurrentPerson, piece_id: RowId, asked: OrderIn) -> WorkOut:
    """Order faults to be repaired; sent twice it is ordered once."""
    return orders.order(db, person, piece_id, asked)


@router.post("/upkeep/repairs/{repair_id}/events", status_code=201)
def happened(db: Db, person: CurrentPerson, repair_id: RowId, asked: EventIn) -> WorkOut:
    """What happened to a repair: a picture, done, re-checked, dropped."""
    return orders.happened(db, person, repair_id, asked)


@router.put("/upkeep/repairs/{repair_id}/photos/{client_id}", status_code=201)
async def keep_photo(
    request: Request, db: Db, person: CurrentPerson, repair_id: RowId, client_id: uuid.UUID
) -> StoredOut:
    """A picture of a repair, sent as the body: JPEG, PNG or WebP."""
    content = await request.body()
    return await run_in_threadpool(orders.keep_photo, db, person, repair_id, client_id, content)


@router.get("/pieces/{piece_id}/care")
def care(
    db: Db,
    _: CurrentPerson,
    life: ChosenLife,
    piece_id: RowId,
    kitchen: ChosenKitchen,
) -> CareOut:
    """How a knife is kept in a kitchen, and what is never done with it."""
    return lasting.care_of(db, life, piece_id, kitchen)


@router.get("/upkeep/workshop")
def workshop(db: Db, _: CurrentPerson) -> WorkshopOut:
    """Spacers, stones, rate and limits of the shop."""
    return shop.shown(db)


@router.post("/upkeep/workshop", status_code=201)
def change_workshop(db: Db, person: CurrentPerson, seen: Seen, asked: WorkshopIn) -> WorkshopOut:
    """Set a new version of the workshop; every version stays in the record."""
    return shop.change(db, person, asked, seen)


def _today() -> dt.date:
    return dt.datetime.now().astimezone().date()
