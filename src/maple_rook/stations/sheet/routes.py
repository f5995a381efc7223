from __future__ import annotations

from fastapi import APIRouter, Response

from maple_rook.stations.access import CurrentPerson, CurrentSettings, Db, RowId
from maple_rook.stations.kitchen import ChosenKitchen
from maple_rook.stations.schemas import json_answer
from maple_rook.stations.sheet import work
from maple_rook.stations.sheet.schemas import KnifeSheetOut

router = APIRouter(tags=["sheet"])


@router.get("/pieces/{piece_id}", response_model=KnifeSheetOut)
def knife_sheet(
    db: Db, _: CurrentPerson, settings: CurrentSettings, piece_id: RowId, kitchen: ChosenKitchen
) -> Response:
    """Everything about one knife."""
    return json_answer(work.knife_sheet(db, piece_id, kitchen, settings.draws))
