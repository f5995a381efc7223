"""Edge trials of the demo shop: what they found is made up, as everything here."""

from __future__ import annotations

import datetime as dt
import uuid
import zlib
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.calibration import Models
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE
from maple_rook.core.edge_life.retention import Kitchen, Use
from maple_rook.core.edge_life.trials import (
    CARD_MEDIUM,
    CYCLES,
    Event,
    Point,
    Protocol,
    TrialKind,
    cuts_of_cycles,
)
from maple_rook.core.measurement.coefficients import PUBLISHED
from maple_rook.core.prediction.evidence import as_tried, expected
from maple_rook.http.policy import Somebody
from maple_rook.stations.trials.storing import store_with_trial
from maple_rook.store import records
from maple_rook.store.foods import shop_foods
from maple_rook.store.tables import Person, Piece
from maple_rook.store.trial_tables import TrialPoint, TrialProtocol, TrialRow
from maple_rook.store.trials import stored_protocol

_NAMESPACE = uuid.UUID("0f6f3c1e-7d43-4f3b-9a6c-5b6b0b1d2a44")
_ON_STONES = Protocol("whetstones, deburred on a strop", None, "1000", CARD_MEDIUM, 50, 40, 50)


@dataclass(frozen=True)
class DemoTrial:
    """A trial; ``off`` is what a card test finds over the published figure, and how deep at first.

    ``points`` are given where they do not come from a card test.
    """

    tag: str
    days: int
    kind: TrialKind
    protocol: Protocol
    off: float = 1.0
    cycles: int = CYCLES
    points: tuple[Point, ...] = ()
    note: str = ""


def _card(
    tag: str, days: int, angle: float, off: float, note: str = "", cycles: int = CYCLES
) -> DemoTrial:
    protocol = replace(_ON_STONES, angle_per_side_deg=angle)
    return DemoTrial(tag, days, TrialKind.CARD, protocol, off, cycles, note=note)


def _line(tag: str, days: int, angle: float, fresh_gf: float, half: float) -> DemoTrial:
    """Force on the line after cuts of rope, which doubles in so many."""
    protocol = replace(
        _ON_STONES,
        angle_per_side_deg=angle,
        medium="tester's line, sisal between",
        load_n=None,
        stroke_mm=None,
        speed_mm_s=None,
    )
    rng = np.random.default_rng(zlib.crc32(f"line {tag}".encode()))
    points = tuple(
        Point(x, round(float(fresh_gf * (1 + x / half) ** 0.95 * np.exp(rng.normal(0, 0.05))), 0))
        for x in range(0, 201, 20)
    )
    return DemoTrial(tag, days, TrialKind.LINE, protocol, points=points)


def _log(
    tag: str,
    days: int,
    kitchen: Kitchen,
    rods: Sequence[int],
    stones: Sequence[int],
    note: str = "",
) -> DemoTrial:
    events = [Point(0, event=Event.START)]
    events += [Point(x, event=Event.ROD) for x in rods]
    events += [Point(x, event=Event.STONE) for x in stones]
    protocol = Protocol("as sold", 15.0, "", "", kitchen=kitchen)
    return DemoTrial(tag, days, TrialKind.KITCHEN, protocol, points=tuple(events), note=note)


_LINE_COOK, _HOME = Kitchen(use=Use.PROFESSIONAL), Kitchen()
TRIALS: tuple[DemoTrial, ...] = (
    _card("KH-01", 3, 15.0, 1.14),
    _card("KH-02", 4, 15.0, 1.22),
    _card("PM-27", 5, 13.5, 1.09),
    _card("QP-18", 6, 15.5, 1.27),
    _card("HS-24", 8, 11.5, 0.93),
    _card("HS-25", 8, 11.5, 1.02),
    _card("BF-16", 9, 13.0, 0.97),
    _card("HW-15", 10, 15.0, 1.06),
    _card("PK-21", 12, 12.0, 1.16),
    _card("PM-21", 13, 15.0, 1.21),
    _card("DG-20", 14, 18.5, 1.35, "Soft and thick: outside the regression's range."),
    _card("TT-16", 15, 16.0, 1.0, "Stopped: it only polished the card.", cycles=38),
    _line("KH-01", 18, 15.0, 168, 78),
    _line("HS-24", 18, 11.5, 122, 52),
    _line("PK-21", 19, 12.0, 118, 134),
    DemoTrial(
        "DL-25",
        20,
        TrialKind.COUNT,
        Protocol("machine edge", 16.5, "800", "10 mm sisal rope, until it slides"),
        points=(Point(1, 34), Point(2, 41), Point(3, 37)),
    ),
    DemoTrial(
        "PM-21",
        21,
        TrialKind.COUNT,
        Protocol("whetstones", 15.0, "1000", "10 mm sisal rope, until it slides"),
        points=(Point(1, 96), Point(2, 108)),
    ),
    _log(
        "DL-25",
        -150,
        _LINE_COOK,
        (1, 2, 4, 5, 6, 30, 31, 33, 34, 64),
        (29, 63),
        "Galley of the ferry, written down by the mate.",
    ),
    _log("KH-15", -120, _HOME, (8, 17, 24, 33, 40), (112,), "A customer's kitchen."),
    _log("OK-21", -130, _HOME, (4, 9, 12), (), "A customer's kitchen; no stone wanted yet."),
)


def add_trials(session: Session, hand: Person, opening: dt.datetime) -> None:
    """Put the trials into the record, each with what was predicted before it."""
    ids = {piece.tag: piece.id for piece in session.scalars(select(Piece))}
    for trial in TRIALS:
        name = f"{trial.tag}/{trial.kind}/{trial.days}"
        row = TrialRow(
            client_id=uuid.uuid5(_NAMESPACE, name),
            piece_id=ids[trial.tag],
            kind=trial.kind.value,
            source="typed",
            note=trial.note,
            started_at=opening + dt.timedelta(days=trial.days),
            person_id=hand.id,
        )
        session.add(row)
        session.flush()
        stored = stored_protocol(trial.protocol)
        session.add(TrialProtocol(trial_id=row.id, protocol=stored, person_id=hand.id))
        session.add_all(
            TrialPoint(
                client_id=uuid.uuid5(_NAMESPACE, f"{name}/{p.x}/{p.event}"),
                trial_id=row.id,
                x=p.x,
                value=p.value,
                event=p.event or "",
                person_id=hand.id,
            )
            for p in trial.points or _cuts(session, ids[trial.tag], trial)
        )
        store_with_trial(
            session,
            Somebody(hand.id, hand.name),
            Models(shop_foods(session), PUBLISHED_LIFE),
            ids[trial.tag],
            row.id,
            trial.protocol,
        )
    session.flush()


def _cuts(session: Session, piece_id: int, trial: DemoTrial) -> list[Point]:
    """Cycles of a card test that finds ``off`` times the published figure."""
    blade = as_tried(records.blade_of(session, piece_id), trial.protocol)
    model = expected(blade, "card_test", None, PUBLISHED)
    tcc = trial.off * (model.value if model else 90.0)
    angle = trial.protocol.angle_per_side_deg or 15.0
    rng = np.random.default_rng(zlib.crc32(f"card {trial.tag}".encode()))
    cuts = cuts_of_cycles(min(45 * 15 / angle, 0.6 * tcc), tcc)
    read = cuts * np.exp(rng.normal(0, 0.05, CYCLES))
    return [Point(i + 1, round(float(read[i]), 2)) for i in range(trial.cycles)]
