"""What the Bench writes while measuring: readings, observations, photos, and striking them out.

Everything is added once, however often it is sent, and nothing is changed afterwards.
"""

from __future__ import annotations

import datetime as dt
import uuid
from collections.abc import Awaitable, Callable
from functools import partial

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.observations import WITHDRAWN, checked_value
from maple_rook.core.measurement.plausibility import doubt, parse_entry
from maple_rook.core.measurement.quantities import kinds_for, quantity
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.reading import TakenReading
from maple_rook.http.policy import Somebody
from maple_rook.http.problems import Conflict, UnusualValue
from maple_rook.intake.schemas import ObservationIn, ReadingIn, StoredOut
from maple_rook.store import records
from maple_rook.store.readings import NewReading, ReadingStore, Told, keep_again, reference_block
from maple_rook.store.tables import Instrument, Observation, Photo, Reading, ReadingVoid, Sheet

SIGNED_OFF = "This sheet is signed off. Begin a new sheet of the piece to add to it."
PHOTO_TYPES = {b"\xff\xd8\xff": "image/jpeg", b"\x89PNG": "image/png", b"RIFF": "image/webp"}
MAX_PHOTO_BYTES = 3_000_000

Chosen = tuple[int | None, int | None]
"""Ids of an instrument and a reference block, where there is one."""


async def take_reading(
    look: Callable[[Callable[[Session], Chosen]], Awaitable[Chosen]],
    store: ReadingStore,
    person: Somebody,
    sheet_id: int,
    asked: ReadingIn,
) -> StoredOut:
    """Store one reading exactly once.

    Hard limits refuse it; a value outside the typical range is kept when ``confirmed`` and marked.

    Parameters
    ----------
    look : does what needs a session, in a thread that only readings use.
    store : keeps single readings.
    person : who asks.
    sheet_id : number of the sheet.
    asked : what was asked, as it came in.
    """
    q = quantity(asked.quantity)
    knife_type = await store.knife_type(sheet_id)
    if knife_type is None:
        raise records.NotFound("sheet", sheet_id)
    typed, station = parse_entry(q, asked.typed, default_unit=asked.default_unit or q.entry_unit)
    unusual = doubt(q.key, typed, knife_type)
    if unusual and not asked.confirmed:
        raise UnusualValue(q.label, asked.typed, unusual)
    instrument_id = reference_id = None
    measured = typed.kind is FigureKind.MEASURED
    named = asked.instrument_id if measured else None
    if named is not None or asked.photo_id is not None or q.key == "hardness_block":
        instrument_id, reference_id = await look(partial(_chosen, named, asked, q, sheet_id))
    taken = TakenReading(
        asked.client_id,
        q,
        typed,
        asked.taken_at or dt.datetime.now(dt.UTC),
        unusual=unusual is not None,
        method=asked.method,
        station=station,
        along_mm=asked.along_mm,
        above_edge_mm=asked.above_edge_mm,
        note=asked.note,
        photo_id=asked.photo_id,
    )
    kept = await store.keep(NewReading(sheet_id, taken, person.id, instrument_id, reference_id))
    if kept.told is Told.NO_SHEET:
        raise records.NotFound("sheet", sheet_id)
    if kept.told is Told.SIGNED_OFF:
        raise Conflict(SIGNED_OFF)
    if kept.told is Told.NO_INSTRUMENT:
        raise InvalidValue(
            "instrument",
            "none",
            f"{q.instrument.label} in use",
            hint=f"Every {q.instrument.label} of the shop is retired; "
            "enter the one you measure with.",
        )
    return StoredOut(
        id=kept.id, client_id=asked.client_id, sheet_id=kept.sheet_id, replicate=kept.replicate
    )


def _chosen(named: int | None, asked: ReadingIn, q: Quantity, sheet_id: int, db: Session) -> Chosen:
    """The instrument and the reference block that were named, if they fit; refuses those that do
    not, and a photo of another sheet.
    """
    _of_this_sheet(db, asked.photo_id, sheet_id)
    return _fitting(db, named, q), _reference(db, asked, q)


def _of_this_sheet(db: Session, photo_id: int | None, sheet_id: int) -> None:
    if photo_id is not None:
        photo = records.get(db, Photo, "photo", photo_id)
        if photo.sheet_id != sheet_id:
            raise InvalidValue("photo", photo_id, "a photo of this sheet")


def _fitting(db: Session, instrument_id: int | None, q: Quantity) -> int | None:
    """The instrument named, if it can measure this; None leaves the choice to the shop's usual."""
    if instrument_id is None:
        return None
    return instrument_for(db, instrument_id, q).id


def instrument_for(db: Session, instrument_id: int, q: Quantity) -> Instrument:
    """The instrument of this number, refused where it cannot measure the quantity."""
    instrument = records.get(db, Instrument, "instrument", instrument_id)
    if instrument.kind not in kinds_for(q):
        raise InvalidValue("instrument", instrument.name, f"a {q.instrument.label} for {q.label}")
    return instrument


def _reference(db: Session, asked: ReadingIn, q: Quantity) -> int | None:
    """The block a block reading was taken on: the one named, or the shop's first."""
    if q.key != "hardness_block":
        return None
    block = reference_block(db, asked.reference_id)
    if block is None or block.certified is None:
        raise InvalidValue(
            "reference block",
            asked.reference_id or "none",
            "a reference block of the shop",
            hint="Enter the block with its certified value among the instruments.",
        )
    return block.id


def void_reading(db: Session, person: Somebody, client_id: uuid.UUID, reason: str) -> StoredOut:
    """Strike a reading out, once; it stays in the history."""
    reading = db.scalar(select(Reading).where(Reading.client_id == client_id))
    if reading is None:
        raise records.NotFound("reading", client_id)
    if reading.sheet.finished_at is not None:
        raise Conflict("This sheet is signed off; its readings can no longer be voided.")
    db.execute(
        insert(ReadingVoid)
        .values(reading_id=reading.id, reason=reason, person_id=person.id)
        .on_conflict_do_nothing()
    )
    db.commit()
    return StoredOut(
        id=reading.id, client_id=client_id, sheet_id=reading.sheet_id, replicate=reading.replicate
    )


def restore_reading(db: Session, client_id: uuid.UUID) -> StoredOut:
    """Take back that a reading was voided: it is entered once more, as it was read.

    The voided line stays in the history. However often it is asked, one void is taken back once,
    and a reading that still counts is left as it is.
    """
    reading = db.scalar(
        select(Reading).where(Reading.client_id == client_id).options(joinedload(Reading.void))
    )
    if reading is None:
        raise records.NotFound("reading", client_id)
    if reading.sheet.finished_at is not None:
        raise Conflict(SIGNED_OFF)
    if reading.void is None:
        return StoredOut(id=reading.id, client_id=client_id, sheet_id=reading.sheet_id)
    again = uuid.uuid5(client_id, "restored")
    kept = keep_again(db, reading, again)
    if kept.told is Told.SIGNED_OFF:
        raise Conflict(SIGNED_OFF)
    db.commit()
    return StoredOut(id=kept.id, client_id=again, sheet_id=kept.sheet_id, replicate=kept.replicate)


def observe(db: Session, person: Somebody, sheet_id: int, asked: ObservationIn) -> StoredOut:
    """Store what was seen, once; refused if another observation stands than the writer saw."""
    known = db.scalar(select(Observation).where(Observation.client_id == asked.client_id))
    if known is not None:
        return StoredOut(id=known.id, client_id=known.client_id, sheet_id=known.sheet_id)
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    value = checked_value(asked.item, asked.aspect, asked.value, asked.note)
    db.execute(select(Sheet.id).where(Sheet.id == sheet_id).with_for_update())
    if sheet.finished_at is not None:
        raise Conflict(SIGNED_OFF)
    _nothing_newer(db, sheet_id, asked)
    _of_this_sheet(db, asked.photo_id, sheet_id)
    row = Observation(
        client_id=asked.client_id,
        sheet_id=sheet_id,
        item=asked.item,
        aspect=asked.aspect,
        value=value,
        note=asked.note,
        replaces=asked.replaces,
        photo_id=asked.photo_id,
        taken_at=asked.taken_at or dt.datetime.now(dt.UTC),
        person_id=person.id,
    )
    db.add(row)
    db.commit()
    return StoredOut(id=row.id, client_id=row.client_id, sheet_id=sheet_id)


def _nothing_newer(db: Session, sheet_id: int, asked: ObservationIn) -> None:
    standing = db.scalars(
        select(Observation)
        .where(
            Observation.sheet_id == sheet_id,
            Observation.item == asked.item,
            Observation.aspect == asked.aspect,
        )
        .order_by(Observation.id.desc())
        .limit(1)
    ).first()
    if standing is None or standing.value == WITHDRAWN or standing.client_id == asked.replaces:
        return
    said = ", ".join(filter(None, (standing.value.replace("_", " "), standing.note)))
    raise Conflict(
        f"{standing.person.name} entered “{said}” here at another bench at "
        f"{standing.recorded_at:%H:%M}. Nothing was written over it; look, and enter yours again."
    )


def picture_type(content: bytes) -> str:
    """Media type of a picture by its first bytes; refused if too large or another kind of file."""
    if len(content) > MAX_PHOTO_BYTES:
        size = f"{len(content) / 1e6:.1f} MB"
        raise InvalidValue("photo", size, f"at most {MAX_PHOTO_BYTES / 1e6:g} MB")
    kind = next((t for start, t in PHOTO_TYPES.items() if content.startswith(start)), None)
    if kind is None or (kind == "image/webp" and content[8:12] != b"WEBP"):
        raise InvalidValue("photo", f"{len(content)} bytes", "a JPEG, PNG or WebP picture")
    return kind


def keep_photo(
    db: Session,
    person: Somebody,
    sheet_id: int,
    client_id: uuid.UUID,
    content: bytes,
    *,
    after_sign_off: bool = False,
) -> StoredOut:
    """Store a picture with the sheet, once. JPEG, PNG or WebP, 3 MB at most.

    The Bench adds none to a signed sheet; work on the knife comes ``after_sign_off``.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    sheet_id : number of the sheet.
    client_id : named by the client, so that it is written once.
    content : the file's bytes.
    after_sign_off : whether a signed sheet still takes it.
    """
    known = db.scalar(select(Photo.id).where(Photo.client_id == client_id))
    if known is not None:
        return StoredOut(id=known, client_id=client_id, sheet_id=sheet_id)
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    if sheet.finished_at is not None and not after_sign_off:
        raise Conflict(SIGNED_OFF)
    kind = picture_type(content)
    photo = Photo(
        client_id=client_id,
        sheet_id=sheet.id,
        media_type=kind,
        content=content,
        person_id=person.id,
    )
    db.add(photo)
    db.commit()
    return StoredOut(id=photo.id, client_id=client_id, sheet_id=sheet.id)
