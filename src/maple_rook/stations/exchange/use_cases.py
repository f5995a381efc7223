"""Importing, as a person sees it: a file with guesses, its report, what came before."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, joinedload

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.units import units_of
from maple_rook.formats.csv_table import csv_lines
from maple_rook.formats.incoming.cells import Decimals
from maple_rook.formats.incoming.drafts import RowVerdict
from maple_rook.formats.incoming.fields import FIELDS, MEANINGS, Kind, Origin
from maple_rook.formats.incoming.headings import (
    Column,
    are_computed,
    fitted,
    guess_columns,
    guess_kind,
    guess_origin,
    missing,
    names_articles,
    plain,
)
from maple_rook.formats.incoming.table import MOST_BYTES, MOST_ROWS, Table, TableRow
from maple_rook.formats.incoming.understand import habit, questions
from maple_rook.formats.record_tables import RECORD_TABLES
from maple_rook.http.problems import Conflict
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.exchange.importing import (
    COMPUTED,
    WRITTEN_MEANWHILE,
    Imports,
    Opened,
    remembered,
    report_of,
    shop_currency,
)
from maple_rook.stations.exchange.model_storage import Choices
from maple_rook.stations.exchange.row_import import Mapped, RowReport, import_rows, other_currencies
from maple_rook.stations.exchange.schemas import (
    BulkIn,
    BulkOut,
    BulkRowOut,
    ColumnOut,
    ImportOut,
    ImportsOut,
    MeaningOut,
    PastImport,
    RowOut,
    RowsOut,
    TableOut,
)
from maple_rook.store.exchange_tables import ImportFile, ImportRow
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Piece
from maple_rook.store.today import today

_FIRST = 3
_LONGEST_CELL = 60
_ALIKE = 0.6
_PAST = 30


def overview(db: Session) -> ImportsOut:
    """What columns can mean, and the files that were imported, newest first."""
    past = db.scalars(
        select(ImportRow)
        .options(joinedload(ImportRow.person))
        .order_by(ImportRow.id.desc())
        .limit(_PAST)
    )
    return ImportsOut(
        meanings=[
            MeaningOut(
                key=f.key,
                label=f.label,
                units=units_of(f.dimension) if f.dimension else [],
                kinds=[kind for kind in Kind if f.key in MEANINGS[kind]],
            )
            for f in FIELDS.values()
        ],
        past=[
            PastImport(
                file=row.file,
                source=row.source,
                person=row.person.name,
                recorded_at=row.recorded_at,
                counts=row.counts,
                added=row.added,
            )
            for row in past
        ],
        most_bytes=MOST_BYTES,
        most_rows=MOST_ROWS,
    )


def opened(
    db: Session, imports: Imports, path: Path, sha256: str, name: str, person_id: int
) -> ImportOut:
    """A file that arrived, read as the source it looks most like was read before.

    Parameters
    ----------
    db : the session the caller commits.
    imports : files that wait.
    path : the file.
    sha256 : digest of the file.
    name : the file's name.
    person_id : number of who asks.
    """
    row = imports.open(db, path, sha256, name, person_id)
    row.source = _likely_source(db, imports.opened(db, row).tables)
    db.commit()
    return shown(db, imports, row)


def _last_of_sources(db: Session) -> dict[str, ImportRow]:
    rows = db.scalars(
        select(ImportRow)
        .ext(distinct_on(ImportRow.source))
        .order_by(ImportRow.source, ImportRow.id.desc())
    )
    return {row.source: row for row in rows}


def _likely_source(db: Session, tables: Sequence[Table]) -> str:
    headings = {plain(h) for table in tables for h in table.headings if h}
    best, likeness = "", _ALIKE
    for source, row in _last_of_sources(db).items():
        shared = len(headings & set(row.columns)) / max(len(headings | set(row.columns)), 1)
        if shared > likeness:
            best, likeness = source, shared
    return best


def shown(db: Session, imports: Imports, row: ImportFile, source: str | None = None) -> ImportOut:
    """A file as it stands; another ``source`` has its columns read as that one's were."""
    known = _last_of_sources(db)
    source = row.source if source is None else source
    told = report_of(row)
    return ImportOut(
        id=row.id,
        file=row.file,
        size=row.size,
        source=source,
        sources=sorted(known),
        state=row.state,
        for_good=row.for_good,
        done=row.done,
        problem=row.problem,
        tables=_read_as(imports.opened(db, row), source, known.get(source), shop_currency(db)),
        counts={verdict: told.counts.get(verdict, 0) for verdict in RowVerdict},
        added=dict(told.added),
    )


def _read_as(file: Opened, source: str, last: ImportRow | None, currency: str) -> list[TableOut]:
    """The tables of a file as its source's last one was read; the file is looked into once."""
    key = source, last.id if last else 0, currency
    if key not in file.read_as:
        known = remembered(last)
        file.read_as[key] = [_table(table, known, currency) for table in file.tables]
    return file.read_as[key]


def _table(table: Table, known: dict[str, Column], currency: str) -> TableOut:
    guessed = mapped_by_guess(table, known)
    columns, kind = guessed.columns, guessed.kind
    first, asked = table.first(_FIRST), questions(table, columns)
    return TableOut(
        name=table.name,
        kind=kind,
        origin=guess_origin(table.headings),
        decimals=guessed.decimals,
        columns=[
            ColumnOut(
                heading=heading,
                field=column.field,
                unit=column.unit,
                sure=column.sure and i not in asked,
                question=asked.get(i, ""),
                first=[row.cells[i][:_LONGEST_CELL] for row in first if i < len(row.cells)],
            )
            for i, (heading, column) in enumerate(zip(table.headings, columns, strict=True))
        ],
        said=[*table.said, *([COMPUTED] if are_computed(table.headings) else [])],
        missing=missing(columns, kind) if kind else [],
        currencies=other_currencies(guessed, currency),
    )


def knife_tagged(db: Session, shelf: Shelf, tag: str) -> ShelfKnife:
    """The knife that carries a tag."""
    found = db.scalar(select(Piece.id).where(Piece.tag == tag))
    if found is None:
        raise NotFound("piece with the tag", tag)
    return shelf.knives(db, [found])[0]


def mapped_by_guess(table: Table, known: Mapping[str, Column] | None = None) -> Mapped:
    """A table as it is most likely meant, by what its headings meant before."""
    columns = guess_columns(table.headings, known)
    kind = guess_kind(columns, table.name)
    if table.hidden or are_computed(table.headings):
        kind = None  # hidden, or means calculated from readings
    elif kind is Kind.PIECES and _of_articles(table.headings, columns):
        kind = Kind.MODELS
    columns = fitted(columns, kind)
    return Mapped(table, kind, columns, habit(table, columns))


def _of_articles(headings: Sequence[str], columns: Sequence[Column]) -> bool:
    """Whether what looks like tags are a catalogue's article numbers, which many pieces share."""
    tag = next(h for h, column in zip(headings, columns, strict=True) if column.field == "tag")
    return guess_origin(headings) is Origin.PRINTED and names_articles(tag)


def rows(row: ImportFile, verdict: RowVerdict | None, offset: int, limit: int) -> RowsOut:
    """A page of the report, or of the rows of one verdict."""
    found = [r for r in report_of(row).rows if verdict is None or r.verdict is verdict]
    page = found[offset : offset + limit]
    return RowsOut(total=len(found), rows=[_row_out(r) for r in page])


def report_csv(row: ImportFile) -> Iterator[str]:
    """The whole report, a line at a time."""
    lines = ((r.table, r.line, r.shown, r.verdict.label, r.said) for r in report_of(row).rows)
    return csv_lines(["table", "line", "row", "verdict", "why"], lines)


def bulk(db: Session, person_id: int, kind: Kind, asked: BulkIn) -> BulkOut:
    """Rows of one kind in one transaction, through the same door as a file."""
    names = list(dict.fromkeys(name for row in asked.rows for name in row))
    cells = [[_said(row.get(name)) for name in names] for row in asked.rows]
    table = Table(kind.value, names, lambda: (TableRow(i, c) for i, c in enumerate(cells, 1)))
    columns = fitted(guess_columns(names), kind)
    _check_names(names, columns, kind)
    choices = Choices(
        asked.measured_on or today(db),
        asked.doubtful,
        asked.changed,
        shop_currency(db),
        asked.rates,
    )
    try:
        report = import_rows(db, person_id, [Mapped(table, kind, columns, Decimals.POINT)], choices)
        if asked.dry_run:
            db.rollback()
        else:
            db.commit()
    except IntegrityError:
        raise Conflict(WRITTEN_MEANWHILE) from None
    return BulkOut(
        counts={verdict.label: report.counts.get(verdict, 0) for verdict in RowVerdict},
        added=dict(report.added),
        rows=[
            BulkRowOut(
                table=row.table,
                line=row.line,
                shown=row.shown,
                verdict=row.verdict.label,
                verdict_code=row.verdict,
                said=row.said,
            )
            for row in report.rows
        ],
    )


def _check_names(names: list[str], columns: list[Column], kind: Kind) -> None:
    """Refuse names that mean nothing in rows of a kind: what stands under them would be lost."""
    known = [column.name for column in RECORD_TABLES[kind]]
    strange = [
        name
        for name, column in zip(names, columns, strict=True)
        if not column.field and name not in known
    ]
    if strange:
        accepted = f"names of {kind.value}: {', '.join(known)}, or of figures, with their unit"
        raise InvalidValue("rows", ", ".join(strange), accepted)


def _row_out(row: RowReport) -> RowOut:
    return RowOut(
        table=row.table, line=row.line, shown=row.shown, verdict=row.verdict, said=row.said
    )


def _said(value: str | float | bool | None) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return value.strip() if isinstance(value, str) else f"{value:.12g}"
