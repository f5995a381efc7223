"""Predict a described blade; nothing is stored."""

from __future__ import annotations

from maple_rook.core.prediction.predict import predict
from maple_rook.stations.predict.schemas import PredictIn, PredictOut


def predict_described(asked: PredictIn) -> PredictOut:
    predictions = predict([asked.blade.core()], asked.kitchen.core(), draws=asked.draws)
    return PredictOut.of(predictions[0])
