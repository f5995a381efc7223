from __future__ import annotations

from fastapi import APIRouter

from maple_rook.http.access import CurrentPerson
from maple_rook.stations.predict import use_cases
from maple_rook.stations.predict.schemas import PredictIn, PredictOut

router = APIRouter(tags=["predict"])


@router.post("/predict")
def predict(asked: PredictIn, _: CurrentPerson) -> PredictOut:
    """Every prediction for a blade described in JSON, with interval, grade and model card."""
    return use_cases.predict_described(asked)
