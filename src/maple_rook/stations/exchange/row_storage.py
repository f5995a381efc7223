"""Rows understood, written into the record: each once, whatever was there before."""

from __future__ import annotations

import datetime as dt
import uuid
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean
from typing import Any

from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.reading import TakenReading, unknown_instrument_u
from maple_rook.formats.incoming.cells import key_of
from maple_rook.formats.incoming.drafts import Draft, FigureDraft, RowVerdict
from maple_rook.stations.exchange.model_storage import Choices, ModelKeeper
from maple_rook.store import incoming, records
from maple_rook.store.readings import NewReading, keep_many, reference_block
from maple_rook.store.tables import (
    Instrument,
    Person,
    Piece,
    Sheet,
)


@dataclass(frozen=True)
class _Waiting:
    """A reading that will be written with its chunk."""

    draft: Draft
    figure: FigureDraft
    key: uuid.UUID
    piece: int
    begun: dt.datetime


class Keeper:
    """Writes drafts in the session's transaction; the caller commits or rolls back.

    What the record knows is read once when it is made; nobody else's rows are changed.
    """

    def __init__(self, db: Session, person_id: int, choices: Choices) -> None:
        self.db, self.person_id, self.choices = db, person_id, choices
        self.pieces = incoming.piece_ids(db)
        self.added: Counter[str] = Counter()
        self.models = ModelKeeper(db, choices, self.added)
        self._people = incoming.named(db, Person)
        self._instruments = incoming.named(db, Instrument)
        self._seen: dict[object, int] = {}
        self._nth: Counter[tuple[object, ...]] = Counter()
        self._signed: dict[int, dt.datetime] = {}
        self._mine: set[int] = set()

    def type_of(self, tag: str) -> str | None:
        found = self.pieces.get(tag.casefold())
        return found[1] if found else None

    def look_again(self) -> None:
        """Read again what the record has beside knives: grades, instruments, people."""
        self.models.look_again()
        self._people = incoming.named(self.db, Person)
        self._instruments = incoming.named(self.db, Instrument)

    def finish(self) -> None:
        """Sign off the sheets that came signed, once all their readings are in."""
        for sheet, at in self._signed.items():
            self.db.get_one(Sheet, sheet).finished_at = at
        self.db.flush()

    def once(self, draft: Draft, what: str, key: object, said: str = "") -> None:
        """Refuse what the same file already had under this key."""
        line = self._seen.setdefault((what, key), draft.line)
        if line != draft.line:
            accepted = f"each once; it is on line {line} already"
            raise InvalidValue(what, said or str(key), accepted)

    # pieces

    def enter(self, drafts: Sequence[Draft]) -> list[tuple[Draft, int, bool]]:
        """The pieces of rows, each with whether it is new; new ones are entered together.

        A row that cannot be kept is refused and left out, the others are kept.
        """
        found: list[tuple[Draft, int, bool]] = []
        new: dict[str, tuple[Draft, dict[str, Any]]] = {}
        for draft in drafts:
            if draft.texts["tag"].casefold() in new:  # another day of a piece of this very file
                found += self._enter(new)
            try:
                known = self._known_piece(draft)
            except InvalidValue as wrong:
                draft.say(RowVerdict.REFUSED, str(wrong))
                continue
            if isinstance(known, int):
                found.append((draft, known, False))
            else:
                new[draft.texts["tag"].casefold()] = draft, known
        return [*found, *self._enter(new)]

    def _enter(self, new: dict[str, tuple[Draft, dict[str, Any]]]) -> list[tuple[Draft, int, bool]]:
        """New pieces by their tags, entered together; none waits any more."""
        ids = incoming.add_pieces(self.db, [row for _, row in new.values()])
        entered = []
        for (tag, (draft, _)), key in zip(new.items(), ids, strict=True):
            assert draft.model is not None
            self.pieces[tag] = key, draft.model.knife_type
            entered.append((draft, key, True))
        self.added["pieces"] += len(new)
        new.clear()
        return entered

    def _known_piece(self, draft: Draft) -> int | dict[str, Any]:
        """The piece the record has under a row's tag, or the row of a new one."""
        tag = draft.texts["tag"]
        at = draft.taken_at.isoformat() if draft.taken_at else ""
        self.once(draft, "tag", (tag.casefold(), at), tag)
        condition = draft.texts.get("condition", "").casefold()
        if condition not in ("", "new", "used"):
            wrong = InvalidValue("condition", condition, "new or used")
            draft.say(RowVerdict.PARTLY, f"{wrong}: it stays out")
            condition = ""
        model = self.models.keep(draft) if draft.model else None
        note = draft.texts.get("note", "")
        known = self.pieces.get(tag.casefold())
        if known is not None:
            row = self.db.get_one(Piece, known[0])
            if model is not None and row.model_id != model:
                raise InvalidValue("tag", tag, "the model this tag already belongs to")
            said = {"note": note, "condition": condition}
            self.models.compare(draft, row, {name: value for name, value in said.items() if value})
            return known[0]
        if model is None:
            accepted = "a piece of the record, or a row with maker, line and type"
            raise InvalidValue("tag", tag, accepted)
        return {"model_id": model, "tag": tag, "condition": condition or "new", "note": note}

    def model_of(self, piece: int) -> int:
        return self.db.get_one(Piece, piece).model_id

    def known_piece(self, draft: Draft) -> int:
        tag = draft.texts["tag"]
        known = self.pieces.get(tag.casefold())
        if known is None:
            raise InvalidValue(
                "tag", tag, "a piece of the record, or of a table of pieces in this file"
            )
        return known[0]

    def person(self, name: str) -> int:
        """Who measured; somebody the record does not know is entered as from elsewhere."""
        if not name:
            return self.person_id
        known = self._people.get(name.casefold())
        return known or incoming.enter_named(
            self.db, Person(name=name, role="elsewhere"), self._people
        )

    # readings

    def readings(self, drafts: Sequence[tuple[Draft, int]], *, repeats: bool, ours: bool) -> None:
        """Readings of rows with their pieces: those the record lacks, copied together.

        With ``repeats`` a later row of the same figure is another reading of it. ``ours`` were
        taken with the shop's usual instruments, where a row names none.
        """
        waiting = [w for draft, piece in drafts for w in self._waiting(draft, piece, repeats)]
        known = incoming.known_readings(self.db, [w.key for w in waiting])
        new = []
        for w in waiting:
            if w.key not in known:
                new.append(w)
                continue
            stands, typed = known[w.key]
            if abs(stands - w.figure.typed.base_value) > 1e-9:
                w.draft.say(
                    RowVerdict.DOUBTFUL,
                    f"{w.figure.quantity.label} stands as {typed}; the file says"
                    f" {w.figure.typed.text}: a reading is never changed",
                )
        fresh = {id(w.draft) for w in new}
        for draft, _ in drafts:
            if draft.readings and id(draft) not in fresh:
                draft.known()
        self._write(new, ours=ours)

    def _waiting(self, draft: Draft, piece: int, repeats: bool) -> list[_Waiting]:
        found = []
        texts = draft.texts
        at = draft.taken_at
        begun = (
            dt.datetime.fromisoformat(texts["round"])
            if "round" in texts
            else (
                at.replace(hour=12, minute=0, second=0, microsecond=0) if at else self.choices.noon
            )
        )
        for figure in draft.readings:
            q = figure.quantity.key
            if figure.doubt and texts.get("unusual") != "yes":
                brought = self.choices.doubtful == "bring"
                fate = "kept, marked unusual" if brought else "left out"
                draft.say(RowVerdict.DOUBTFUL, f"{figure.doubt}: {fate}")
                if not brought:
                    continue
            of = (q, at.isoformat() if at else "", texts.get("round", ""))
            nth = 1
            if repeats:
                self._nth[piece, *of] += 1
                nth = self._nth[piece, *of]
            said = texts.get("key", "")
            key = key_of(said, "reading", texts["tag"].casefold(), *of, nth)
            try:
                if said:
                    self.once(draft, "key", key, said)
            except InvalidValue as wrong:
                draft.say(RowVerdict.REFUSED, str(wrong))
                continue
            found.append(_Waiting(draft, figure, key, piece, begun))
        return found

    def _write(self, new: Sequence[_Waiting], *, ours: bool) -> None:
        sheets = self._sheets(new)
        readings, struck = [], {}
        lengths: dict[int, list[float]] = {}
        for w in new:
            sheet, signed = sheets[w.piece, w.begun]
            if signed and sheet not in self._mine:
                w.draft.say(RowVerdict.REFUSED, f"the sheet of {w.begun:%Y-%m-%d} is signed off")
                continue
            texts, numbers = w.draft.texts, w.draft.number
            person = self.person(texts.get("person", ""))
            q = w.figure.quantity
            named = self.instrument_named(w.draft)
            unknown = named is None and ("instrument" in texts or "u" in numbers or not ours)
            taken = TakenReading(
                w.key,
                q,
                w.figure.typed,
                w.draft.taken_at or w.begun,
                unusual=bool(w.figure.doubt),
                method=texts.get("method") or "brought in",
                station=w.figure.station or texts.get("place") or None,
                along_mm=numbers.get("along"),
                above_edge_mm=numbers.get("above_edge"),
                standard_uncertainty=self._own_u(w, unknown=unknown),
                note=texts.get("note", ""),
            )
            block = self._block(w.draft) if q.key == "hardness_block" else None
            readings.append(
                NewReading(sheet, taken, person, named, block, instrument_unknown=unknown)
            )
            if "struck" in texts:
                struck[w.key] = texts["struck"], person
            elif q.key == "edge_length":
                lengths.setdefault(sheet, []).append(w.figure.typed.base_value)
            if "signed" in texts and sheet in self._mine:
                self._signed[sheet] = dt.datetime.fromisoformat(texts["signed"])
        keep_many(self.db, readings, {sheet: fmean(found) for sheet, found in lengths.items()})
        self.added["readings"] += len(readings)
        if struck:
            incoming.strike(self.db, struck)

    def _own_u(self, w: _Waiting, *, unknown: bool) -> float | None:
        """Standard uncertainty that does not follow from an instrument of the shop."""
        stated = w.draft.number.get("u")
        if w.draft.texts.get("method") == records.PHOTO:
            return stated
        if not unknown or w.figure.typed.kind is not FigureKind.MEASURED:
            return None
        return stated or unknown_instrument_u(w.figure.quantity, w.figure.typed.step)

    def _sheets(self, new: Sequence[_Waiting]) -> dict[tuple[int, dt.datetime], tuple[int, bool]]:
        found = incoming.sheets_of(self.db, {w.piece for w in new})
        lacking = {(w.piece, w.begun): w for w in new if (w.piece, w.begun) not in found}
        ids = incoming.add_sheets(
            self.db,
            [
                {
                    "piece_id": piece,
                    "started_at": begun,
                    "person_id": self.person(w.draft.texts.get("person", "")),
                }
                for (piece, begun), w in lacking.items()
            ],
        )
        self._mine.update(ids)
        self.added["sheets"] += len(ids)
        return found | {key: (i, False) for key, i in zip(lacking, ids, strict=True)}

    def sheet(self, draft: Draft, piece: int) -> int:
        """The sheet of a row that holds no reading, begun where there is none."""
        begun = draft.texts.get("round")
        at = dt.datetime.fromisoformat(begun) if begun else draft.taken_at or self.choices.noon
        known = incoming.sheets_of(self.db, [piece]).get((piece, at))
        if known is not None:
            return known[0]
        person = self.person(draft.texts.get("person", ""))
        [made] = incoming.add_sheets(
            self.db, [{"piece_id": piece, "started_at": at, "person_id": person}]
        )
        self._mine.add(made)
        self.added["sheets"] += 1
        if "signed" in draft.texts:
            self._signed[made] = dt.datetime.fromisoformat(draft.texts["signed"])
        return made

    def instrument_named(self, draft: Draft) -> int | None:
        """The instrument a row names, where the shop has it."""
        name = draft.texts.get("instrument", "")
        known = self._instruments.get(name.casefold())
        if name and known is None:
            said = f"instrument “{name}” is not among the shop's: unknown instrument"
            draft.say(RowVerdict.CORRECTED, said)
        return known

    def _block(self, draft: Draft) -> int:
        known = self._instruments.get(draft.texts.get("block", "").casefold())
        if known is not None:
            return known
        block = reference_block(self.db)
        if block is None:
            raise InvalidValue(
                "block", draft.texts.get("block", ""), "a reference block of the shop"
            )
        return block.id
