"""Every figure that was taken from a photo, measured again from the kept file and parameters."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.background.tasks import Found, Telling
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.http.problems import Conflict
from maple_rook.stations.photo import use_cases
from maple_rook.stations.photo.desk import PhotoDesk
from maple_rook.store.photo_tables import MeasuringPhoto, PhotoMeasurement
from maple_rook.store.tables import Piece, Sheet

MOST_TOLD = 200


def prove_photos(opener: sessionmaker[Session], desk: PhotoDesk, tell: Telling) -> Found:
    """Which of the kept measurements do not come out as they were kept."""
    query = (
        select(PhotoMeasurement.id, PhotoMeasurement.photo_id, Sheet.id, Piece.tag)
        .join(MeasuringPhoto, MeasuringPhoto.id == PhotoMeasurement.photo_id)
        .join(Sheet, Sheet.id == MeasuringPhoto.sheet_id)
        .join(Piece, Piece.id == Sheet.piece_id)
        .order_by(PhotoMeasurement.id)
    )
    with opener() as db:
        every = db.execute(query).all()
    differs = []
    for n, (measurement, photo, sheet, tag) in enumerate(every):
        tell(n, len(every))
        with opener() as db:
            why = _differs(db, desk, photo, measurement)
        if why:
            differs.append({"tag": tag, "sheet_id": sheet, "photo_id": photo, "why": why})
    tell(len(every), len(every))
    return {"differs": differs[:MOST_TOLD]}


def _differs(db: Session, desk: PhotoDesk, photo: int, measurement: int) -> str:
    """In words; empty where all is as it was kept."""
    try:
        found = use_cases.again(db, desk, photo, measurement)
    except Conflict as refused:
        return str(refused)
    labels = [QUANTITIES[key].label if key in QUANTITIES else key for key in sorted(found.differs)]
    return f"differs: {', '.join(labels)}" if labels else ""
