from __future__ import annotations

import datetime as dt
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from maple_rook.formats.incoming.cells import Decimals
from maple_rook.formats.incoming.drafts import RowVerdict
from maple_rook.formats.incoming.fields import Kind, Origin
from maple_rook.formats.incoming.headings import Column
from maple_rook.formats.incoming.table import MOST_COLUMNS
from maple_rook.formats.shelf_label import LabelSize
from maple_rook.http.schemas import ShortText, StorableText, Strict

FieldKey = Annotated[str, StringConstraints(pattern=r"^[a-z0-9_:]{0,48}$")]


Rates = Annotated[
    dict[
        Annotated[str, StringConstraints(min_length=1, max_length=12)],
        Annotated[Decimal, Field(gt=0, lt=1_000_000)],
    ],
    Field(max_length=20),
]


class ColumnOut(BaseModel):
    """A column of a file: its heading, what it most likely means, and its first cells.

    ``question`` is what only a person can say of it; empty where nothing.
    """

    heading: str
    field: str
    unit: str
    sure: bool
    question: str
    first: list[str]


class TableOut(BaseModel):
    """A table of a file; ``said`` is what was noticed while opening it.

    ``origin`` is where its figures look to be from; none where a person has to say. ``currencies``
    are those of prices that are not in the shop's.
    """

    name: str
    kind: Kind | None
    origin: Origin | None
    decimals: Decimals
    columns: list[ColumnOut]
    said: list[str]
    missing: list[str]
    currencies: list[str]


class MeaningOut(BaseModel):
    """What a column can mean in a table of some kinds; ``units`` may be chosen for it."""

    key: str
    label: str
    units: list[str]
    kinds: list[Kind]


class ColumnIn(Strict):
    """What a column means; an empty field leaves it out."""

    field: FieldKey = ""
    unit: Annotated[str, StringConstraints(max_length=8)] = ""

    def core(self) -> Column:
        return Column(self.field, self.unit)


class TableIn(Strict):
    """A table as a person read it; no kind leaves it out.

    ``origin`` is to be said where figures would be readings.
    """

    kind: Kind | None
    origin: Origin | None = None
    decimals: Decimals = Decimals.POINT
    columns: Annotated[list[ColumnIn], Field(max_length=MOST_COLUMNS)]


class ChoicesIn(Strict):
    """How a file shall be imported; ``source`` names where it is from, so that it is remembered.

    ``measured_on`` is the day of readings that give none. Doubtful readings are left out, or kept
    and marked unusual; what stands of a model or piece is left, or becomes what the file says.
    ``rates`` say what one of another currency is in the shop's; prices without one stay out.
    """

    source: ShortText
    tables: Annotated[list[TableIn], Field(min_length=1, max_length=60)]
    measured_on: dt.date
    doubtful: Literal["leave", "bring"] = "leave"
    changed: Literal["leave", "take"] = "leave"
    rates: Rates = Field(default_factory=dict)
    for_good: bool = False


class RowOut(BaseModel):
    table: str
    line: int
    shown: str
    verdict: RowVerdict
    said: str


class ImportOut(BaseModel):
    """A file that waits, is tried or imported; ``problem`` says what stopped it."""

    id: str
    file: str
    size: int
    source: str
    sources: list[str]
    state: Literal["waiting", "running", "tried", "brought in", "stopped"]
    for_good: bool
    done: int
    problem: str
    tables: list[TableOut]
    counts: dict[RowVerdict, int]
    added: dict[str, int]


class RowsOut(BaseModel):
    """A page of the report."""

    total: int
    rows: list[RowOut]


class PastImport(BaseModel):
    """A file that was imported."""

    file: str
    source: str
    person: str
    recorded_at: dt.datetime
    counts: dict[str, int]
    added: dict[str, int]


class ImportsOut(BaseModel):
    """What can be imported, and what was."""

    meanings: list[MeaningOut]
    past: list[PastImport]
    most_bytes: int
    most_rows: int


class BulkIn(Strict):
    """Rows of one kind as objects whose names are the record's columns."""

    model_config = ConfigDict(
        json_schema_extra={
            "examples": [
                {
                    "rows": [
                        {
                            "tag": "KH-01",
                            "key": "kh-01-weight-1",
                            "quantity": "weight",
                            "typed": "6.6 oz",
                            "taken_at": "2026-09-14T08:31:04Z",
                        },
                        {"tag": "KH-01", "quantity": "hardness", "typed": 60.5, "unit": "HRC"},
                    ],
                    "dry_run": True,
                }
            ]
        }
    )

    rows: Annotated[
        list[dict[FieldKey, StorableText | float | bool | None]],
        Field(min_length=1, max_length=5_000),
    ]
    measured_on: dt.date | None = None
    doubtful: Literal["leave", "bring"] = "leave"
    changed: Literal["leave", "take"] = "leave"
    rates: Rates = Field(default_factory=dict)
    dry_run: bool = False


class BulkRowOut(BaseModel):
    """What became of a row: ``verdict`` is in words, ``verdict_code`` its code."""

    table: str
    line: int
    shown: str
    verdict: Annotated[str, Field(deprecated="in words; use verdict_code")]
    verdict_code: RowVerdict
    said: str


class BulkOut(BaseModel):
    """What became of every row, in the order given; ``counts`` are by the verdict in words."""

    counts: dict[str, int]
    added: dict[str, int]
    rows: list[BulkRowOut]


class ShowChoice(BaseModel):
    """Something of a knife that can be shown: a measured quantity, or a group of things."""

    key: str
    label: str
    group: bool


class PublicationOut(BaseModel):
    """How a knife is shown to anybody, at /k/ and its address."""

    on: bool
    address: str
    shown: list[str]
    words: str
    choices: list[ShowChoice]
    etag: str


class PublicationIn(Strict):
    """What shall be shown; groups and quantities by their keys, and words of the shop's own."""

    on: bool
    shown: Annotated[list[FieldKey], Field(max_length=80)]
    words: Annotated[StorableText, StringConstraints(strip_whitespace=True, max_length=600)] = ""


class OnStock(BaseModel):
    """What labels are printed on, and the first place of the sheet that is still free."""

    stock: LabelSize = LabelSize.ROLL_90
    first: int = Field(1, ge=1, le=100)


class LabelStockOut(BaseModel):
    """Stock that labels can be printed on; ``places`` is how many a sheet has, 1 for a roll."""

    key: LabelSize
    name: str
    places: int
