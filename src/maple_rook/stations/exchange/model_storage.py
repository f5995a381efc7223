"""Models and claims of imported rows, written into the record; differences are reported."""

from __future__ import annotations

import datetime as dt
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any, Literal

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.measurement.grinds import Grind
from maple_rook.formats.incoming.drafts import ClaimDraft, Draft, ModelDraft, RowVerdict
from maple_rook.formats.incoming.headings import plain
from maple_rook.store import incoming
from maple_rook.store.tables import Claim, KnifeModel, Maker, Piece, SteelGrade


@dataclass(frozen=True)
class Choices:
    """What a person decided about a whole import; prices are kept in ``currency``, the shop's."""

    measured_on: dt.date
    doubtful: Literal["leave", "bring"] = "leave"
    changed: Literal["leave", "take"] = "leave"
    currency: str = ""
    rates: Mapping[str, Decimal] = field(default_factory=dict)

    @property
    def noon(self) -> dt.datetime:
        return dt.datetime.combine(self.measured_on, dt.time(12), tzinfo=dt.UTC)


class ModelKeeper:
    """Writes the models of drafts and what is printed of them; counts what is ``added``."""

    def __init__(self, db: Session, choices: Choices, added: Counter[str]) -> None:
        self.db, self.choices, self.added = db, choices, added
        self.ids = incoming.model_ids(db)
        self.look_again()
        self._claims = incoming.claims_of(db)
        self._makers = incoming.named(db, Maker)
        self._rows: dict[int, KnifeModel] = {}
        self._grades: dict[str, SteelGrade] = {}

    def look_again(self) -> None:
        """Read the names of the shop's grades."""
        self.steels = {
            plain(name): designation
            for designation, names in incoming.steel_names(self.db).items()
            for name in names
        }

    def keep(self, draft: Draft) -> int:
        """The model of a row, entered if new; differences are reported or stored."""
        asked = draft.model
        assert asked is not None
        known = self.ids.get(asked.key)
        if known is None:
            return self._new_model(draft, asked)
        if known not in self._rows:
            self._rows[known] = self.db.get_one(KnifeModel, known)
        row = self._rows[known]
        self.compare(draft, row, self._said_of(asked))
        return known

    def _said_of(self, asked: ModelDraft) -> dict[str, Any]:
        """What a row says of its model, by column of the record."""
        said: dict[str, Any] = {
            "construction": asked.construction,
            "finish": asked.finish,
            "handle": asked.handle,
            "gtin": asked.gtin,
            "grind": asked.grind.value if asked.grind else "",
            "price": asked.price,
            "even_machine_edge": asked.even_machine_edge,
        }
        if asked.steel:
            said["steel"] = self._steel(asked.steel)
        return {name: value for name, value in said.items() if value not in (None, "")}

    def _steel(self, designation: str) -> SteelGrade:
        if designation not in self._grades:
            query = select(SteelGrade).where(SteelGrade.designation == designation)
            self._grades[designation] = self.db.scalars(query).one()
        return self._grades[designation]

    def compare(self, draft: Draft, row: KnifeModel | Piece, said: dict[str, Any]) -> None:
        """Tell where a row and the record differ; take it over where that was chosen."""
        for name, value in said.items():
            stands = getattr(row, name)
            if stands == value:
                continue
            was, new = (getattr(v, "designation", v) for v in (stands, value))
            label = name.replace("_", " ")
            if stands in (None, "") or self.choices.changed == "take":
                setattr(row, name, value)
                self.added["changes"] += 1
                draft.changed = True
                draft.say(RowVerdict.CORRECTED, f"{label}: {was or 'open'} becomes {new}")
            else:
                draft.say(
                    RowVerdict.DOUBTFUL, f"{label} stands as {was}; the file says {new}: left"
                )

    def _new_model(self, draft: Draft, asked: ModelDraft) -> int:
        if asked.grind is None:
            draft.say(RowVerdict.CORRECTED, "grind not given: not yet seen")
        maker = self._makers.get(asked.maker.casefold())
        if maker is None:
            maker = incoming.enter_named(self.db, Maker(name=asked.maker), self._makers)
        row = KnifeModel(
            maker_id=maker,
            line=asked.line,
            knife_type=asked.knife_type,
            nominal_mm=asked.nominal_mm,
            grind=(asked.grind or Grind.NOT_SEEN).value,
            construction=asked.construction or "one steel",
            finish=asked.finish,
            handle=asked.handle,
            gtin=asked.gtin,
            even_machine_edge=bool(asked.even_machine_edge),
            price=asked.price,
            steel=self._steel(asked.steel) if asked.steel else None,
        )
        self.db.add(row)
        self.db.flush()
        self.ids[asked.key] = row.id
        self._rows[row.id] = row
        self.added["models"] += 1
        return row.id

    def claim(self, draft: Draft, model: int, claim: ClaimDraft) -> bool:
        """Add what is printed; a model keeps one claim of each quantity, as first printed."""
        known = self._claims.get((model, claim.quantity))
        if known is None:
            self.db.add(
                Claim(
                    model_id=model,
                    quantity=claim.quantity,
                    printed=claim.printed,
                    low=claim.low,
                    high=claim.high,
                )
            )
            self._claims[model, claim.quantity] = claim.printed
            self.added["claims"] += 1
            return True
        if known != claim.printed:
            said = f"the claim stands as {known}; the file says {claim.printed}: left"
            draft.say(RowVerdict.DOUBTFUL, said)
        return False
