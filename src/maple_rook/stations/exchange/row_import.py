"""A file imported: every table in one transaction, tried first and then for good."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import islice

from sqlalchemy import select
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue, MapleRookError
from maple_rook.formats.incoming.cells import Decimals
from maple_rook.formats.incoming.drafts import Draft, RowVerdict
from maple_rook.formats.incoming.fields import Kind, Origin
from maple_rook.formats.incoming.headings import Column, missing
from maple_rook.formats.incoming.money import prices_of
from maple_rook.formats.incoming.table import SAMPLE, Table
from maple_rook.formats.incoming.understand import Reader
from maple_rook.stations.exchange.groups import Groups
from maple_rook.stations.exchange.model_storage import Choices
from maple_rook.stations.exchange.row_storage import Keeper
from maple_rook.store.tables import Shop
from maple_rook.store.travelling import BASICS, REST, Arrivals

CHUNK = 2_000
TABLES = {Kind.BASICS: BASICS, Kind.REST: REST}


class Cancelled(MapleRookError):
    """Somebody stopped it; nothing was kept."""


@dataclass(frozen=True)
class Mapped:
    """A table with what its columns mean and where its figures are from; no kind leaves it out."""

    table: Table
    kind: Kind | None
    columns: Sequence[Column]
    decimals: Decimals
    origin: Origin = Origin.MEASURED


@dataclass(frozen=True)
class RowReport:
    """What became of one row, and why."""

    table: str
    line: int
    shown: str
    verdict: RowVerdict
    said: str


@dataclass
class Report:
    """Row by row what would be, or was, imported, and how much that is."""

    rows: list[RowReport] = field(default_factory=list)
    counts: Counter[RowVerdict] = field(default_factory=Counter)
    added: Counter[str] = field(default_factory=Counter)

    @property
    def changed_models(self) -> bool:
        """Whether anything was written other than readings of pieces."""
        return bool(self.added["changes"] or self.added["claims"])

    def tell(self, table: str, drafts: Sequence[Draft]) -> None:
        for draft in drafts:
            self.counts[draft.verdict] += 1
            self.rows.append(
                RowReport(table, draft.line, draft.shown, draft.verdict, " · ".join(draft.said))
            )


def import_rows(
    db: Session,
    person_id: int,
    tables: Sequence[Mapped],
    choices: Choices,
    *,
    tell: Callable[[int], None] = lambda _: None,
) -> Report:
    """Bring every table in; the caller commits, or rolls back what was only tried.

    ``tell`` hears how many rows are done, and stops everything by raising.

    Parameters
    ----------
    db : the session the caller commits.
    person_id : number of who asks.
    tables : tables with their columns understood.
    choices : what the person decided.
    tell : told how far it is.
    """
    chosen = [m for m in tables if m.kind is not None]
    if not chosen:
        raise InvalidValue("tables", "none", "at least one table that is not left out")
    for m in chosen:
        assert m.kind is not None
        if lacking := missing(m.columns, m.kind):
            raise InvalidValue(
                f"columns of {m.table.name}",
                "no " + ", ".join(lacking),
                f"for a table of {m.kind.value}, a column that means it",
            )
    report = Report()
    choices = _with_currency(db, chosen, choices)
    keeper = Keeper(db, person_id, choices)
    for m in sorted(chosen, key=lambda m: list(Kind).index(m.kind or Kind.MODELS)):
        for drafts in _kept(keeper, m):
            report.tell(m.table.name, drafts)
            tell(len(report.rows))
        if m.kind is Kind.BASICS:
            keeper.look_again()
    keeper.finish()
    report.added = +keeper.added
    return report


def other_currencies(m: Mapped, own: str) -> list[str]:
    """Currencies of a table's first prices that are not the shop's; a rate is asked for each.

    A shop that names none takes the one of the file, where there is only one.
    """
    found = _currencies(m, own)
    return found if own or len(found) > 1 else []


def _currencies(m: Mapped, own: str) -> list[str]:
    place = {column.field: i for i, column in enumerate(m.columns)}
    if "price" not in place:
        return []
    rows = [row.cells for row in m.table.first(SAMPLE)]
    cells = [
        " ".join(row[place[field]] for field in ("price", "currency") if field in place)
        for row in rows
        if len(row) > max(place["price"], place.get("currency", 0))
    ]
    return prices_of(m.table.headings, m.columns, own).others(cells, m.decimals)


def _with_currency(db: Session, tables: Sequence[Mapped], choices: Choices) -> Choices:
    """The choices with the shop's currency; one that names none takes the file's only one."""
    if choices.currency:
        return choices
    named = {currency for m in tables for currency in _currencies(m, "")}
    if len(named) != 1:
        return choices
    [currency] = named
    db.scalars(select(Shop)).one().currency = currency
    return replace(choices, currency=currency)


def _kept(keeper: Keeper, m: Mapped) -> Iterator[list[Draft]]:
    assert m.kind is not None
    choices = keeper.choices
    prices = prices_of(m.table.headings, m.columns, choices.currency, choices.rates)
    reader = Reader(m.kind, m.columns, m.decimals, keeper.type_of, keeper.models.steels, prices)
    groups = Groups(m.kind, keeper) if m.kind in (Kind.PROFILES, Kind.TRIALS) else None
    arrivals = Arrivals(keeper.db, TABLES[m.kind]) if m.kind in TABLES else None
    rows = m.table.rows()
    while chunk := list(islice(rows, CHUNK)):
        drafts = [reader.read(row) for row in chunk]
        if arrivals is not None:
            _arrived(keeper, arrivals, drafts)
            yield drafts
            continue
        if groups:
            yield groups.add(drafts)
        else:
            _keep(keeper, m, drafts)
            yield drafts
    if groups:
        yield groups.end()


def _arrived(keeper: Keeper, arrivals: Arrivals, drafts: Sequence[Draft]) -> None:
    """Rows of another shop's tables, each as it is."""
    for draft in (d for d in drafts if not d.lost):
        table = draft.texts["table"]
        draft.shown = table.replace("_", " ")
        try:
            with keeper.db.begin_nested():
                new = arrivals.keep(table, json.loads(draft.texts["row"]))
        except (InvalidValue, ValueError, DBAPIError) as wrong:
            said = str(getattr(wrong, "orig", wrong)).splitlines()[0]
            draft.say(RowVerdict.REFUSED, said)
            continue
        if new:
            keeper.added[table] += 1
        elif new is False:
            draft.known()


def _keep(keeper: Keeper, m: Mapped, drafts: Sequence[Draft]) -> None:
    kind, ours = m.kind, m.origin is Origin.OURS
    whole = [draft for draft in drafts if not draft.lost]
    if kind is Kind.PIECES:
        entered = keeper.enter(whole)
        for draft, piece, new in entered:
            added = bool(draft.claims) and _claims(keeper, draft, keeper.model_of(piece))
            if not new and not added and not draft.readings:
                draft.known()
        keeper.readings([(draft, piece) for draft, piece, _ in entered], repeats=False, ours=ours)
        return
    with_readings: list[tuple[Draft, int]] = []
    for draft in whole:
        try:
            if kind is Kind.READINGS:
                with_readings.append((draft, keeper.known_piece(draft)))
            else:
                _keep_model(keeper, draft)
        except InvalidValue as wrong:
            draft.say(RowVerdict.REFUSED, str(wrong))
    keeper.readings(with_readings, repeats=True, ours=ours)


def _keep_model(keeper: Keeper, draft: Draft) -> None:
    assert draft.model is not None
    new = draft.model.key not in keeper.models.ids
    model = keeper.models.keep(draft)
    new = _claims(keeper, draft, model) or new
    if not new:
        draft.known()


def _claims(keeper: Keeper, draft: Draft, model: int) -> bool:
    """Whether any of the claims is new; all are stored or reported."""
    return sum(keeper.models.claim(draft, model, claim) for claim in draft.claims) > 0
