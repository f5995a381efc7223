"""Photographs of a knife for readers: several, in order, each said what it shows."""

from __future__ import annotations

import hashlib
import uuid
from collections.abc import Callable, Sequence

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.background.apart import Apart
from maple_rook.core.errors import InvalidValue
from maple_rook.formats.page.blocks import PageDocument, PhotoBlock
from maple_rook.http.policy import Somebody
from maple_rook.http.preconditions import IfMatch, version
from maple_rook.http.problems import Conflict
from maple_rook.photo.picture import Original
from maple_rook.photo.web_sizes import checked, kept, size_of, version_of, web_size
from maple_rook.stations.pages.schemas import PhotographIn, PhotographOut
from maple_rook.store import records
from maple_rook.store.photo_tables import Photograph, WebPicture
from maple_rook.store.picture_store import PictureStore, content_of
from maple_rook.store.tables import Piece

MOST = 24
"""Photographs of one piece."""
WITHIN_S = 30.0


def of_piece(db: Session, piece_id: int) -> list[Photograph]:
    """The photographs of a piece that were not dropped, in their order."""
    query = select(Photograph).where(Photograph.piece_id == piece_id, ~Photograph.dropped)
    return list(db.scalars(query.order_by(Photograph.place, Photograph.id)))


def listed(db: Session, piece_id: int) -> list[PhotographOut]:
    """The same for their desk."""
    records.get(db, Piece, "piece", piece_id)
    return [_out(row) for row in of_piece(db, piece_id)]


def _out(row: Photograph) -> PhotographOut:
    width, height = size_of(row.width_px, row.height_px, row.crop)
    return PhotographOut(
        id=row.id,
        alt=row.alt,
        caption=row.caption,
        credit=row.credit,
        crop=row.crop,
        width_px=width,
        height_px=height,
        version=version_of(row.digest, row.crop),
        etag=version(row),
    )


def opened(apart: Apart, content: bytes) -> Original:
    """A photograph as it will be kept, opened in a separate process; refused where it is none."""
    return apart.run(WITHIN_S, kept, content)


def keep(
    db: Session,
    person: Somebody,
    piece_id: int,
    client_id: uuid.UUID,
    found: Original,
    bucket: PictureStore | None = None,
) -> list[PhotographOut]:
    """Add a photograph as the last of its piece; one that was sent twice is kept once.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    piece_id : number of the piece.
    client_id : made where it was taken.
    found : the photograph as it is kept.
    bucket : where its file is kept instead of the database.
    """
    records.get(db, Piece, "piece", piece_id, lock=True)
    there = of_piece(db, piece_id)
    known = db.scalar(select(Photograph.piece_id).where(Photograph.client_id == client_id))
    if known is not None:
        if known != piece_id:
            raise Conflict("This photograph is of another piece already.")
        return [_out(row) for row in there]
    if len(there) >= MOST:
        raise Conflict(f"This piece has {MOST} photographs; take one away first.")
    digest = hashlib.sha256(found.content).hexdigest()
    if bucket is not None:
        bucket.put(digest, found.content, found.media_type)
    db.add(
        Photograph(
            client_id=client_id,
            piece_id=piece_id,
            place=max((row.place for row in there), default=0) + 1,
            media_type=found.media_type,
            digest=digest,
            content=found.content if bucket is None else None,
            width_px=found.width_px,
            height_px=found.height_px,
            person_id=person.id,
        )
    )
    db.commit()
    return listed(db, piece_id)


def change(
    db: Session, photograph_id: int, asked: PhotographIn, seen: IfMatch
) -> list[PhotographOut]:
    """Say what a photograph shows, who took it, and what of it is shown."""
    row = _present(db, photograph_id)
    seen.check(row)
    row.alt, row.caption, row.credit = asked.alt, asked.caption, asked.credit
    row.crop = checked(asked.crop)
    db.commit()
    return listed(db, row.piece_id)


def order(db: Session, piece_id: int, ids: Sequence[int]) -> list[PhotographOut]:
    """Put the photographs of a piece in this order."""
    rows = {row.id: row for row in of_piece(db, piece_id)}
    if sorted(ids) != sorted(rows):
        accepted = f"each of {', '.join(map(str, rows)) or 'none'} once"
        raise InvalidValue("order", ", ".join(map(str, ids)), accepted)
    for place, key in enumerate(ids, 1):
        rows[key].place = place
    db.commit()
    return listed(db, piece_id)


def drop(db: Session, photograph_id: int) -> None:
    """Remove a photograph; pages published with it still show it."""
    _present(db, photograph_id).dropped = True
    db.commit()


def _present(db: Session, photograph_id: int) -> Photograph:
    row = records.get(db, Photograph, "photograph", photograph_id, lock=True)
    if row.dropped:
        raise records.NotFound("photograph", photograph_id)
    return row


def blocks_of(rows: Sequence[Photograph]) -> list[PhotoBlock]:
    """Photographs as a page shows them."""
    return [block_of(row, row.crop) for row in rows]


def block_of(row: Photograph, crop: list[float] | None) -> PhotoBlock:
    """A photograph as a page shows it, cropped so."""
    width, height = size_of(row.width_px, row.height_px, crop)
    return PhotoBlock(
        photograph_id=row.id,
        version=version_of(row.digest, crop),
        crop=crop,
        width_px=width,
        height_px=height,
        alt=row.alt,
        caption=row.caption,
        credit=row.credit,
    )


def in_size(
    opener: sessionmaker[Session],
    apart: Apart,
    bucket: PictureStore | None,
    of: Callable[[Session], PhotoBlock],
    width_px: int,
    file_format: str,
) -> bytes:
    """A photograph in a size of pages, kept from the first time it is asked for.

    Parameters
    ----------
    opener : opens sessions; none is held while the picture is calculated.
    apart : where pictures are opened.
    bucket : where photographs are kept that the database does not hold.
    of : which photograph and crop.
    width_px, file_format : of the size.
    """
    with opener() as db:
        photo = of(db)
        key = f"{photo.version}-{width_px}.{file_format}"
        there = db.scalar(select(WebPicture.content).where(WebPicture.key == key))
        if there is not None:
            return there
        content = content_of(db, photo.photograph_id, bucket)
    if content is None:
        raise records.NotFound("photograph", photo.photograph_id)
    made = apart.run(WITHIN_S, web_size, content, photo.crop, width_px, file_format)
    with opener() as db:
        db.execute(insert(WebPicture).values(key=key, content=made).on_conflict_do_nothing())
        db.commit()
    return made


def for_files(
    opener: sessionmaker[Session],
    apart: Apart,
    bucket: PictureStore | None,
    page: PageDocument,
    width_px: int = 1600,
) -> dict[str, bytes]:
    """The photographs of a page as JPEG, by version."""
    found = {}
    for photo in page.photographs():

        def this(_: Session, photo: PhotoBlock = photo) -> PhotoBlock:
            return photo

        found[photo.version] = in_size(opener, apart, bucket, this, width_px, "jpeg")
    return found
