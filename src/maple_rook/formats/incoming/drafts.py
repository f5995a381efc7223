"""What a row of a table from outside asks of the record, and what becomes of it."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass, field
from decimal import Decimal

from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.parsing import TypedValue
from maple_rook.core.measurement.quantity import Quantity


class RowVerdict(Labelled):
    """What becomes of a row; later ones are graver."""

    ACCEPTED = "accepted"
    KNOWN = "known", "here already"
    CORRECTED = "corrected"
    DOUBTFUL = "doubtful"
    PARTLY = "partly", "in, in part"
    """In the record, but for a figure or a day that could not be read."""
    REFUSED = "refused"
    """Left out, all of it."""


@dataclass
class ModelDraft:
    maker: str
    line: str
    knife_type: str
    nominal_mm: float
    grind: Grind | None = None
    construction: str = ""
    finish: str = ""
    handle: str = ""
    gtin: str = ""
    even_machine_edge: bool | None = None
    steel: str | None = None
    price: Decimal | None = None

    @property
    def key(self) -> tuple[str, str, str, float]:
        return self.maker.casefold(), self.line.casefold(), self.knife_type, self.nominal_mm


@dataclass(frozen=True)
class FigureDraft:
    """A reading as typed; ``doubt`` says what is unusual about it."""

    quantity: Quantity
    typed: TypedValue
    doubt: str = ""
    station: str | None = None


@dataclass(frozen=True)
class ClaimDraft:
    quantity: str
    printed: str
    low: float
    high: float


@dataclass
class Draft:
    """What one row asks of the record; ``texts`` are its plain cells by field, ``shown`` the first.

    A ``lost`` row comes in no part; of another only what was refused stays out. ``changed`` says
    that what stood in the record was changed for it.
    """

    line: int
    shown: str = ""
    texts: dict[str, str] = field(default_factory=dict)
    model: ModelDraft | None = None
    readings: list[FigureDraft] = field(default_factory=list)
    claims: list[ClaimDraft] = field(default_factory=list)
    taken_at: dt.datetime | None = None
    number: dict[str, float] = field(default_factory=dict)
    verdict: RowVerdict = RowVerdict.ACCEPTED
    lost: bool = False
    changed: bool = False
    said: list[str] = field(default_factory=list)

    def say(self, verdict: RowVerdict, text: str) -> None:
        self.said.append(text)
        self.verdict = max(self.verdict, verdict, key=list(RowVerdict).index)

    def known(self) -> None:
        """Nothing of it is new, however it was read; what is doubtful or refused stays so."""
        if self.verdict in (RowVerdict.ACCEPTED, RowVerdict.CORRECTED) and not self.changed:
            self.verdict = RowVerdict.KNOWN
            self.said.append("it is in the record")
