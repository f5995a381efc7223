"""Use cases for photos: upload, delete, store its figures, reproduce them."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

import numpy as np
from sqlalchemy import delete, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, joinedload

from maple_rook.answers.figures import blade_outline
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.photo_blade import BladeLines, PhotoFigure
from maple_rook.core.geometry.scale_card import CARDS, View
from maple_rook.core.measurement.instruments import InstrumentKind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.plausibility import doubt, parse_reading
from maple_rook.core.measurement.quantities import quantity
from maple_rook.core.measurement.reading import TakenReading
from maple_rook.core.prediction.built import built
from maple_rook.http.policy import Somebody
from maple_rook.http.problems import Conflict
from maple_rook.intake.edge_traces import stored_points
from maple_rook.intake.readings import SIGNED_OFF
from maple_rook.photo import specimen
from maple_rook.photo.heel_view import HeelView
from maple_rook.photo.refusal import PhotoRefused
from maple_rook.photo.stand_in import Knife, Shot, photograph
from maple_rook.stations.photo import measuring
from maple_rook.stations.photo.desk import PhotoDesk
from maple_rook.stations.photo.schemas import (
    AcceptedOut,
    AcceptIn,
    AgainOut,
    MeasureIn,
    PhotoOut,
    ShotKind,
    StandInIn,
    accepted_out,
)
from maple_rook.store import records
from maple_rook.store.photo_tables import MeasuringPhoto, PhotoMeasurement
from maple_rook.store.readings import NewReading, Told, keep_in
from maple_rook.store.tables import EdgeTrace, Instrument, Sheet, Shop

NOT_AGAIN = "This photo was taken over into the record; it stays with what was read from it."
ONLY_DEMO = "The simulated camera is only in the demo shop; take a photo of the knife."
CAMERA_NAME = "photo with scale card"
_SPINE_POINTS = 160
_SHOTS: dict[ShotKind, dict[str, Any]] = {
    "straight": {"tilt_deg": 4.0},
    "tilted": {"tilt_deg": 19.0, "towards_deg": 70.0, "blur_px": 1.2, "noise": 5.0},
    "blurred": {"blur_px": 13.0},
    "glare": {"glare": 1.0},
    "cut off": {"aside_mm": (90.0, 30.0)},
    "too oblique": {"tilt_deg": 48.0, "towards_deg": 80.0},
}
_HEEL_SHOTS: dict[ShotKind, dict[str, Any]] = {
    "straight": {"tilt_deg": 1.5},
    "tilted": {"tilt_deg": 4.0},
    "blurred": {"blur_px": 13.0},
    "too oblique": {"tilt_deg": 30.0},
    "cut off": {"aside_mm": (40.0, 10.0)},
}


def keep(
    db: Session,
    desk: PhotoDesk,
    person: Somebody,
    sheet_id: int,
    view: View,
    client_id: uuid.UUID,
    content: bytes,
) -> PhotoOut:
    """Keep a photo with a sheet, once; it is measured afterwards.

    Parameters
    ----------
    db : the session the caller commits.
    desk : where photos are opened.
    person : who asks.
    sheet_id : number of the sheet.
    view : from the side or from the heel.
    client_id : named by the client, so that it is written once.
    content : the file's bytes.
    """
    known = db.scalar(select(MeasuringPhoto).where(MeasuringPhoto.client_id == client_id))
    if known is not None:
        return photo_out(db, known)
    if records.get(db, Sheet, "sheet", sheet_id).finished_at is not None:
        raise Conflict(SIGNED_OFF)
    original = desk.original(content)
    row = {
        "client_id": client_id,
        "sheet_id": sheet_id,
        "view": view.value,
        "media_type": original.media_type,
        "content": original.content,
        "width_px": original.width_px,
        "height_px": original.height_px,
        "person_id": person.id,
    }
    db.execute(insert(MeasuringPhoto).values(row).on_conflict_do_nothing())
    db.commit()
    kept = db.scalars(select(MeasuringPhoto).where(MeasuringPhoto.client_id == client_id)).one()
    return photo_out(db, kept)


def photo_out(db: Session, row: MeasuringPhoto) -> PhotoOut:
    return PhotoOut.of(row, _accepted(db, row.id))


def _accepted(db: Session, photo_id: int) -> list[PhotoMeasurement]:
    query = select(PhotoMeasurement).where(PhotoMeasurement.photo_id == photo_id)
    return list(db.scalars(query.order_by(PhotoMeasurement.id)))


def photos(db: Session, sheet_id: int) -> list[PhotoOut]:
    """Photos of a sheet, newest first."""
    records.get(db, Sheet, "sheet", sheet_id)
    query = (
        select(MeasuringPhoto)
        .options(joinedload(MeasuringPhoto.person))
        .where(MeasuringPhoto.sheet_id == sheet_id)
        .order_by(MeasuringPhoto.id.desc())
    )
    return [photo_out(db, row) for row in db.scalars(query)]


def throw_away(db: Session, photo_id: int) -> list[PhotoOut]:
    """Delete a photo from which nothing was taken over; returns the sheet's other photos."""
    sheet_id = measuring.photo_of(db, photo_id).sheet_id
    if _accepted(db, photo_id):
        raise Conflict(NOT_AGAIN)
    try:
        db.execute(delete(MeasuringPhoto).where(MeasuringPhoto.id == photo_id))
        db.commit()
    except IntegrityError:  # something was taken over meanwhile
        db.rollback()
        raise Conflict(NOT_AGAIN) from None
    return photos(db, sheet_id)


def accept(
    db: Session, desk: PhotoDesk, person: Somebody, photo_id: int, asked: AcceptIn
) -> AcceptedOut:
    """Measure once more and take the chosen figures over, all in one step and once.

    Each becomes a reading with method *photo* and its own uncertainty; the edge, with the spine
    over it, becomes the traced edge of the piece.

    Parameters
    ----------
    db : the session the caller commits.
    desk : where photos are measured.
    person : who asks.
    photo_id : number of the photo.
    asked : what was asked, as it came in.
    """
    photo = measuring.photo_of(db, photo_id)
    known = _known(db, asked.client_id)
    if known is not None:
        return accepted_out(known, photo.sheet_id)
    knife = measuring.subject(db, photo.sheet_id)
    if knife.sheet.finished_at is not None:
        raise Conflict(SIGNED_OFF)
    figures, lines = _measured(db, desk, photo, asked.how, knife)
    for key in asked.quantities:
        if key not in figures:
            raise InvalidValue("quantities", key, f"some of {', '.join(figures)}")
    if asked.keep_edge and lines is None:
        raise InvalidValue("edge", "a photo from the heel", "a photo from the side")
    camera = _camera(db)
    taken_at = asked.taken_at or dt.datetime.now(dt.UTC)
    readings = {
        key: _reading(db, knife, key, figures[key], camera, person, asked.client_id, taken_at)
        for key in dict.fromkeys(asked.quantities)
    }
    if asked.keep_edge and lines is not None:
        _keep_edge(db, photo, lines, person, asked.client_id, taken_at)
    row = PhotoMeasurement(
        client_id=asked.client_id,
        photo_id=photo.id,
        method=measuring.METHOD,
        parameters={"how": asked.how.model_dump(mode="json"), "knife": knife.told()},
        results={"figures": _stored(figures), "readings": readings, "edge_kept": asked.keep_edge},
        person_id=person.id,
    )
    db.add(row)
    try:
        db.commit()
    except IntegrityError:  # the same acceptance came twice at once
        db.rollback()
        again = _known(db, asked.client_id)
        if again is None:
            raise
        return accepted_out(again, photo.sheet_id)
    return accepted_out(row, photo.sheet_id)


def _known(db: Session, client_id: uuid.UUID) -> PhotoMeasurement | None:
    return db.scalar(select(PhotoMeasurement).where(PhotoMeasurement.client_id == client_id))


def _measured(
    db: Session, desk: PhotoDesk, photo: MeasuringPhoto, how: MeasureIn, knife: measuring.Subject
) -> tuple[dict[str, PhotoFigure], BladeLines | None]:
    try:
        found = measuring.trace(db, desk, photo, how, knife)
    except PhotoRefused as refused:
        raise Conflict(str(refused)) from None
    if isinstance(found.view, HeelView):
        return measuring.end_of(found.view, knife).figures, None
    lines, figures = measuring.side_figures_of(found.view, how, knife)
    return figures, lines


def _stored(figures: dict[str, PhotoFigure]) -> dict[str, list[float]]:
    return {k: [round(f.value, 6), round(f.standard_uncertainty, 6)] for k, f in figures.items()}


def _camera(db: Session) -> int:
    """The instrument photo readings name; the shop's first camera, entered when first needed."""
    in_use = select(Instrument.id).where(
        Instrument.kind == InstrumentKind.CAMERA, ~Instrument.retired
    )
    query = in_use.order_by(Instrument.id).limit(1)
    found = db.scalar(query)
    if found is not None:
        return found
    new = {
        "name": CAMERA_NAME,
        "kind": InstrumentKind.CAMERA,
        "resolution": 0.01,
        "mpe": 0.5,
        "unit": "mm",
    }
    db.execute(insert(Instrument).values(new).on_conflict_do_nothing())
    camera = db.scalar(query)
    if camera is None:
        raise InvalidValue("instrument", CAMERA_NAME, "a camera that is not retired")
    return camera


def _reading(
    db: Session,
    knife: measuring.Subject,
    key: str,
    figure: PhotoFigure,
    camera: int,
    person: Somebody,
    of: uuid.UUID,
    taken_at: dt.datetime,
) -> dict[str, str]:
    """Write one reading; its key follows from the acceptance, so that it is never written twice."""
    q = quantity(key)
    typed = measuring.typed_value(key, figure)
    parsed = parse_reading(key, typed)
    at_heel = q.stop == "edge"  # of the edge a photo sees the heel's end, not mid-blade
    taken = TakenReading(
        uuid.uuid5(of, key),
        q,
        parsed,
        taken_at,
        unusual=doubt(key, parsed, knife.knife_type) is not None,
        method=records.PHOTO,
        station="heel" if at_heel else None,
        along_mm=0.0 if at_heel else None,
        standard_uncertainty=round(figure.standard_uncertainty, 6),
    )
    kept = keep_in(db, NewReading(knife.sheet.id, taken, person.id, camera))
    if kept.told is Told.SIGNED_OFF:
        raise Conflict(SIGNED_OFF)
    return {"typed": typed, "client_id": str(taken.key)}


def _keep_edge(
    db: Session,
    photo: MeasuringPhoto,
    lines: BladeLines,
    person: Somebody,
    of: uuid.UUID,
    taken_at: dt.datetime,
) -> None:
    length = lines.edge.length_mm
    x = np.linspace(0.0, length, _SPINE_POINTS)
    spine = np.interp(x, lines.spine[:, 0], lines.spine[:, 1])
    spine = np.maximum(spine, lines.edge.rise_mm(x))
    row = {
        "client_id": uuid.uuid5(of, "edge"),
        "sheet_id": photo.sheet_id,
        "source": records.PHOTO,
        "given": f"photo {photo.id}",
        "points": stored_points(lines.edge),
        "spine": [[round(float(a), 3), round(float(b), 3)] for a, b in zip(x, spine, strict=True)],
        "taken_at": taken_at,
        "person_id": person.id,
    }
    db.execute(insert(EdgeTrace).values(row).on_conflict_do_nothing())


def again(db: Session, desk: PhotoDesk, photo_id: int, measurement_id: int) -> AgainOut:
    """Measure a photo as it was measured then, from the kept file and parameters alone."""
    photo = measuring.photo_of(db, photo_id)
    row = db.get(PhotoMeasurement, measurement_id)
    if row is None or row.photo_id != photo_id:
        raise records.NotFound("measurement", measurement_id)
    how = MeasureIn.model_validate(row.parameters["how"])
    knife = measuring.subject(db, photo.sheet_id).as_told(row.parameters["knife"])
    figures, _ = _measured(db, desk, photo, how, knife)
    now, then = _stored(figures), row.results["figures"]
    differs = {
        k: [*then.get(k, []), *now.get(k, [])] for k in {*now, *then} if then.get(k) != now.get(k)
    }
    return AgainOut(same=not differs, method=row.method, differs=differs)


def by_stand_in(db: Session, desk: PhotoDesk, person: Somebody, asked: StandInIn) -> PhotoOut:
    """A photo of the sheet's knife by the simulated camera; in the demo shop only."""
    shop = db.scalars(select(Shop)).one()
    if not shop.demo:
        raise Conflict(ONLY_DEMO)
    sheet = records.get(db, Sheet, "sheet", asked.sheet_id)
    blade = records.blade_of(db, sheet.piece_id)
    shots = _SHOTS if asked.view is View.SIDE else _HEEL_SHOTS
    if asked.shot not in shots:
        raise InvalidValue("shot", asked.shot, f"one of {', '.join(shots)}")
    more = {"seed": sheet.piece_id, **shots[asked.shot]}
    if asked.view is View.SIDE:
        kind = KNIFE_TYPES[blade.knife_type]
        knife = specimen.lying(blade, blade_outline(blade), kind.shape.bolster)
        card = _card_for(knife)
        taken = photograph(CARDS[card], knife, Shot(**more))
    else:
        made = built(blade)
        if made is None:
            raise Conflict("Too little of this knife is measured to show its section.")
        size = {"width_px": 3000, "height_px": 2400, "fill": 0.85, "turn_deg": 0.0}
        end = specimen.from_the_heel(made)
        taken = photograph(CARDS["heel"], end, Shot(**(size | more)))
    return keep(db, desk, person, asked.sheet_id, asked.view, asked.client_id, taken)


def _card_for(knife: Knife) -> str:
    """The smallest card whose field the blade fits with room to spare."""
    long, tall = knife.edge[-1][0], max(y for _, y in knife.spine)
    for key in ("a4", "a3"):
        field = CARDS[key].field
        if long < field.right - field.left - 16 and tall < field.bottom - field.top - 30:
            return key
    raise Conflict("This knife is longer than the largest card; lay two points a known distance.")
