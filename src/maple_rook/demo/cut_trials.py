"""A cut trial of the demo shop, as the file a load cell under the board left; all made up."""

from __future__ import annotations

import datetime as dt
import uuid
import zlib
from collections.abc import Iterator

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.cutting.foods import FOODS, STROKES, Food
from maple_rook.core.cutting.force import curves_n
from maple_rook.core.edge_life.retention import EdgeState
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.formats.csv_table import csv_lines
from maple_rook.formats.cut_file import read_cuts
from maple_rook.store import records
from maple_rook.store.cut_tables import CutRow, CutSession
from maple_rook.store.tables import Person, Piece

_NAMESPACE = uuid.UUID("5a0f5d0e-0c1b-4a52-8d6e-2f2f1a7c9b10")
DAY = 24
TAGS = ("KH-01", "HS-24", "PK-21", "DG-20")
RESISTS = {
    "carrot": (1.18, 0.88, 1.0),
    "tomato": (1.30, 1.0, 1.1),
    "squash": (0.92, 1.22, 1.0),
}
"""How the foods of this market resist, over what is assumed: R, k and tau."""
HEADING = ("knife", "food", "lot", "cut", "depth mm", "force N")
NOTE = "Load cell under the board, straight push, edges as sharpened for the shelf."
_STEP_MM, _OF_A_CUT, _OF_A_POINT = 1.5, 0.06, 0.02


def add_cut_trial(session: Session, hand: Person, opening: dt.datetime) -> None:
    """Put the session into the record, read from its file as anybody's would be."""
    ids = {piece.tag: piece.id for piece in session.scalars(select(Piece))}
    text = session_file({tag: records.blade_of(session, ids[tag]) for tag in TAGS})
    row = CutSession(
        client_id=uuid.uuid5(_NAMESPACE, "session"),
        source="file",
        edge=EdgeState.FRESH.value,
        given=text,
        note=NOTE,
        started_at=opening + dt.timedelta(days=DAY),
        person_id=hand.id,
    )
    session.add(row)
    session.flush()
    for cut in read_cuts(text).cuts:
        session.add(
            CutRow(
                client_id=uuid.uuid5(_NAMESPACE, f"{cut.knife}/{cut.food}"),
                session_id=row.id,
                piece_id=ids[cut.knife],
                food=cut.food,
                stroke="push",
                lot=cut.lot,
                depth_mm=cut.depth_mm,
                force_n=cut.force_n,
                person_id=hand.id,
            )
        )
    session.flush()


def session_file(blades: dict[str, Blade]) -> str:
    """The file of the session: every knife through every food, once."""

    def rows() -> Iterator[tuple[str | float, ...]]:
        for tag, blade in blades.items():
            for key, times in RESISTS.items():
                depth, force = _cut(tag, blade, FOODS[key], times)
                lot = f"{key}, market of the ninth"
                for d, f in zip(depth, force, strict=True):
                    yield tag, key, lot, 1.0, d, f

    return "".join(csv_lines(HEADING, rows()))


def _cut(
    tag: str, blade: Blade, food: Food, times: tuple[float, float, float]
) -> tuple[list[float], list[float]]:
    made = built(blade)
    assert made is not None
    rng = np.random.default_rng(zlib.crc32(f"cut {tag} {food.key}".encode()))
    depth = np.arange(_STEP_MM, food.height_mm + 0.1, _STEP_MM)
    edge = blade.inputs["edge_length"].figure.mean
    own = food.resisting(*times)
    force = curves_n(
        made.cuts, [own], [STROKES["push"]], blade.edge_radius_um.mean, edge, depth[None]
    )[0, 0]
    read = force * np.exp(rng.normal(0, _OF_A_CUT) + rng.normal(0, _OF_A_POINT, depth.size))
    return np.round(depth, 1).tolist(), np.round(read, 2).tolist()
