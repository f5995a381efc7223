"""Where a piece is: on the shelf, reserved, sold, returned. Its record stays whatever it is."""

from __future__ import annotations

import datetime as dt

from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.routine.stock import Stock
from maple_rook.http.preconditions import IfMatch, version
from maple_rook.stations.sheet.schemas import StockIn, StockOut
from maple_rook.store import records
from maple_rook.store.tables import Piece
from maple_rook.store.today import today


def shown(piece: Piece) -> StockOut:
    return StockOut(
        state=Stock(piece.stock), on=piece.stock_on, customer=piece.stock_for, etag=version(piece)
    )


def move(db: Session, piece_id: int, asked: StockIn, seen: IfMatch) -> StockOut:
    """Change a piece's stock; a piece on the shelf has no buyer, and no date is in the future."""
    piece = records.get(db, Piece, "piece", piece_id, lock=True)
    seen.check(piece)
    now = today(db)
    if asked.on is not None and asked.on > now + dt.timedelta(days=1):
        raise InvalidValue("on", asked.on.isoformat(), "today or before")
    piece.stock = asked.state.value
    piece.stock_on = asked.on or now
    piece.stock_for = "" if asked.state is Stock.ON_SHELF else asked.customer
    db.commit()
    return shown(piece)
