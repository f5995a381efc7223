"""Rows that belong together: the points of one traced edge, the points of one edge trial."""

from __future__ import annotations

import json
import uuid
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.trials import Protocol, TrialKind
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.profile import EdgeCurve, from_points
from maple_rook.formats.incoming.cells import key_of
from maple_rook.formats.incoming.drafts import Draft, RowVerdict
from maple_rook.formats.incoming.fields import Kind
from maple_rook.formats.trial_points import read_points
from maple_rook.intake.edge_traces import check_length, stored_points
from maple_rook.stations.exchange.row_storage import Keeper
from maple_rook.store import incoming, records
from maple_rook.store.tables import EdgeTrace
from maple_rook.store.trial_tables import TrialMark, TrialPoint, TrialProtocol, TrialRow
from maple_rook.store.trials import protocol_from, stored_protocol

_MOST_POINTS = 5_000
_LEAST_POINTS = 3


@dataclass
class _Group:
    name: tuple[str, ...]
    drafts: list[Draft] = field(default_factory=list)


class Groups:
    """Gathers rows that stand one below the other under one name, and keeps each group whole."""

    def __init__(self, kind: Kind, keeper: Keeper) -> None:
        self.kind, self.keeper = kind, keeper
        self._open: _Group | None = None

    def add(self, drafts: Sequence[Draft]) -> list[Draft]:
        """Take rows in; those of groups that ended with them are judged and returned."""
        done: list[Draft] = []
        for draft in drafts:
            if draft.lost:
                done.append(draft)
                continue
            name = tuple(draft.texts.get(f, "") for f in ("key", "tag", "trial_kind", "round"))
            if self._open is None or self._open.name != name:
                done += self.end()
                self._open = _Group(name)
            self._open.drafts.append(draft)
        return done

    def end(self) -> list[Draft]:
        """Keep the group that is open; either all its rows come in, or none."""
        group, self._open = self._open, None
        if group is None:
            return []
        first = group.drafts[0]
        try:
            with self.keeper.db.begin_nested():
                keep = _keep_trace if self.kind is Kind.PROFILES else _keep_trial
                keep(self.keeper, group.drafts)
        except InvalidValue as wrong:
            first.say(RowVerdict.REFUSED, str(wrong))
            for draft in group.drafts[1:]:
                draft.say(RowVerdict.REFUSED, f"goes with line {first.line}")
        return group.drafts


def _known(
    keeper: Keeper, table: type[EdgeTrace | TrialRow], key: uuid.UUID, drafts: Sequence[Draft]
) -> bool:
    keeper.once(drafts[0], "key", key)
    known = incoming.is_known(keeper.db, table, key)
    if known:
        for draft in drafts:
            draft.say(RowVerdict.KNOWN, "it is in the record")
    return known


def _keep_trace(keeper: Keeper, drafts: Sequence[Draft]) -> None:
    first = drafts[0]
    piece = keeper.known_piece(first)
    points = [(d.number["x"], d.number["y"]) for d in drafts]
    if not _LEAST_POINTS <= len(points) <= _MOST_POINTS:
        raise InvalidValue(
            "traced edge", f"{len(points)} points", f"{_LEAST_POINTS} to {_MOST_POINTS}"
        )
    said = first.texts
    tag = said["tag"].casefold()
    key = key_of(said.get("key", ""), "trace", tag, said.get("round", ""), points)
    if _known(keeper, EdgeTrace, key, drafts):
        return
    laid = _laid(keeper.db, piece, points, said.get("source", ""))
    keeper.db.add(
        EdgeTrace(
            client_id=key,
            sheet_id=keeper.sheet(first, piece),
            source=said.get("source", "columns"),
            given="\n".join(f"{x:g};{y:g}" for x, y in points),
            points=laid,
            taken_at=first.taken_at or keeper.choices.noon,
            person_id=keeper.person(said.get("person", "")),
        )
    )
    keeper.db.flush()
    keeper.added["profiles"] += 1


def _laid(
    db: Session, piece: int, points: list[tuple[float, float]], source: str
) -> list[list[float]]:
    """The points as the edge rests on the board, and as long as the edge measures.

    Gaps under a straight edge were measured as it rests; they are not laid again.
    """
    curve = _as_gaps(points) if source == "stations" else from_points(points)
    edge = records.figures(db, [piece])[piece].get("edge_length")
    if edge is not None:
        check_length(curve, edge.mean)
    return stored_points(curve)


def _as_gaps(points: list[tuple[float, float]]) -> EdgeCurve:
    x, y = np.array(points).T
    if not (np.all(np.diff(x) > 0) and np.all(y >= 0)):
        raise InvalidValue("stations", f"{len(points)} points", "places from the heel, gaps from 0")
    return EdgeCurve(x, y)


def _keep_trial(keeper: Keeper, drafts: Sequence[Draft]) -> None:
    first = drafts[0]
    piece = keeper.known_piece(first)
    said = first.texts
    kind, protocol = _trial_kind(said["trial_kind"]), _protocol(said.get("protocol", ""))
    begun = first.taken_at or keeper.choices.noon
    cells = [f"{d.texts['x']};{d.texts.get('event') or d.texts.get('value', '')}" for d in drafts]
    key = key_of(
        said.get("key", ""),
        "trial",
        said["tag"].casefold(),
        kind.label,
        first.taken_at.isoformat() if first.taken_at else "",
        cells,
    )
    if _known(keeper, TrialRow, key, drafts):
        return
    read = read_points("\n".join(cells), kind)
    for bad in read.bad:
        drafts[bad.line - 1].say(RowVerdict.REFUSED, f"{bad.why}; left out")
    if not read.points:
        raise InvalidValue("trial", "no point that can be read", "at least one point")
    person = keeper.person(said.get("person", ""))
    row = TrialRow(
        client_id=key,
        piece_id=piece,
        kind=kind.value,
        source=said.get("source", "file"),
        note=said.get("note", ""),
        instrument_id=keeper.instrument_named(first),
        started_at=begun,
        person_id=person,
    )
    keeper.db.add(row)
    keeper.db.flush()
    keeper.db.add(
        TrialProtocol(trial_id=row.id, person_id=person, protocol=stored_protocol(protocol))
    )
    keeper.db.add_all(
        TrialPoint(
            client_id=uuid.uuid5(key, f"{p.x!r}"),
            trial_id=row.id,
            x=p.x,
            value=p.value,
            event=p.event.value if p.event else "",
            person_id=person,
        )
        for p in read.points
    )
    if said.get("set_aside"):
        keeper.db.add(TrialMark(trial_id=row.id, reason=said["set_aside"], person_id=person))
    keeper.db.flush()
    keeper.added["trials"] += 1


def _trial_kind(text: str) -> TrialKind:
    try:
        return TrialKind(text.casefold())
    except ValueError:
        raise InvalidValue("kind of trial", text, ", ".join(k.label for k in TrialKind)) from None


def _protocol(text: str) -> Protocol:
    if not text:
        return Protocol()
    try:
        return protocol_from(json.loads(text))
    except (ValueError, TypeError, KeyError, AttributeError):
        raise InvalidValue("protocol", text, "an object such as an exported trial has") from None
