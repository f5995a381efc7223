"""Rows of a table from outside as the record would keep them, and cell by cell what was read."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from itertools import islice

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.parsing import parse_typed
from maple_rook.core.measurement.plausibility import (
    Entry,
    doubt,
    parse_as,
    parse_claim,
    parse_entry,
)
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.units import Dimension
from maple_rook.formats.gtin import gtin
from maple_rook.formats.incoming.cells import (
    Decimals,
    angles_of_sides,
    as_point,
    clean,
    decimals_of,
    grind_of,
    is_ratio,
    knife_type_of,
    unguarded,
    unit_last,
    when,
    yes,
)
from maple_rook.formats.incoming.drafts import (
    ClaimDraft,
    Draft,
    FigureDraft,
    ModelDraft,
    RowVerdict,
)
from maple_rook.formats.incoming.fields import CLAIM, FIELDS, NEEDED, OF_MODEL, WHOLE, Kind
from maple_rook.formats.incoming.headings import Column, guess, plain, unit_of
from maple_rook.formats.incoming.money import Prices
from maple_rook.formats.incoming.table import MOST_CELL, SAMPLE, Table, TableRow

NO_PRICES = Prices()
_NOMINAL_STEP_MM = 5.0
_CACHED = 20_000
_STARTS_AS_NUMBER = re.compile(r"[-+.]?\d")
_SHOWN = 24
_NOTHING = {"", "-", "–", "—", "n/a", "na", "none", "?", "not measured", "k.a.", "tbd"}


def habit(table: Table, columns: Sequence[Column]) -> Decimals:
    """How the table writes decimals, by its first rows."""
    rows = table.first(SAMPLE)
    return decimals_of(
        row.cells[i]
        for row in rows
        for i, column in enumerate(columns)
        if column.field and i < len(row.cells)
    )


def questions(table: Table, columns: Sequence[Column]) -> dict[int, str]:
    """What only a person can say of columns, by their place: ratios that stand under an angle."""
    found = {}
    rows = table.first(SAMPLE)
    for i, column in enumerate(columns):
        if column.field.removeprefix(CLAIM) != "edge_angle":
            continue
        cells = [row.cells[i] for row in rows if i < len(row.cells) and row.cells[i]]
        ratios = [cell for cell in cells if is_ratio(cell)]
        if ratios and 2 * len(ratios) > len(cells):
            found[i] = (
                f"“{ratios[0]}” is a ratio under a heading of an angle: is it the asymmetry,"
                " right face first?"
            )
    return found


class Reader:
    """Understands the rows of one table.

    ``type_of`` tells the type of a knife the record or an earlier table knows by its tag;
    ``steels`` gives the designation of a grade by any of its names in plain letters; ``prices``
    says which currencies they are in.
    """

    def __init__(
        self,
        kind: Kind,
        columns: Sequence[Column],
        decimals: Decimals,
        type_of: Callable[[str], str | None],
        steels: Mapping[str, str],
        prices: Prices = NO_PRICES,
    ) -> None:
        self.kind, self.decimals, self.prices = kind, decimals, prices
        self._columns = [(i, c.field, c.unit) for i, c in enumerate(columns) if c.field]
        self._type_of, self._steels = type_of, steels
        self._parsed: dict[tuple[str, str, str], Entry] = {}

    def read(self, row: TableRow) -> Draft:
        """The row understood; what cannot be is said and left out."""
        draft = Draft(row.line, _shown(row))
        if row.wrong:
            draft.lost = True
            draft.say(RowVerdict.REFUSED, f"the row {row.wrong}")
            return draft
        cells: dict[str, tuple[str, str]] = {}
        for i, name, unit in self._columns:
            text = unguarded(row.cells[i]) if i < len(row.cells) else ""
            if i in row.notes:
                graver = RowVerdict.CORRECTED if text else RowVerdict.PARTLY
                draft.say(graver, f"{FIELDS[name].label}: {row.notes[i]}")
            if text.casefold() not in _NOTHING:
                cells[name] = text, unit
        try:
            self._plain(draft, cells)
            self._figures(draft, cells)
            self._model(draft, cells)
            self._told(draft, cells)
        except InvalidValue as wrong:
            draft.lost = True
            draft.say(RowVerdict.REFUSED, str(wrong))
        return draft

    def _plain(self, draft: Draft, cells: Mapping[str, tuple[str, str]]) -> None:
        """Texts as they are, the day, and what a row of this kind cannot lack."""
        for name, most in _MOST[self.kind].items():
            if name in cells:
                with self._alone(draft, name):
                    draft.texts[name] = clean(cells[name][0], FIELDS[name].label, most)
        for name in NEEDED[self.kind]:
            if name not in cells:
                raise InvalidValue(
                    FIELDS[name].label, "nothing", "a value; the row cannot be kept without"
                )
        if "taken_at" in cells:
            with self._alone(draft, "taken_at", "the day of the list is taken"):
                draft.taken_at = when(cells["taken_at"][0])
        for name in ("round", "signed"):
            if name in cells:
                draft.texts[name] = when(cells[name][0], FIELDS[name].label).isoformat()
        for name in ("unusual", "even_machine_edge"):
            if name in cells:
                with self._alone(draft, name):
                    draft.texts[name] = "yes" if yes(cells[name][0], FIELDS[name].label) else ""

    @contextmanager
    def _alone(self, draft: Draft, name: str, instead: str = "it stays out") -> Iterator[None]:
        """What cannot be read takes no row along, unless the row is nothing without it."""
        try:
            yield
        except InvalidValue as wrong:
            if name in NEEDED[self.kind] or name in _NAMES_THE_ROW:
                raise
            draft.say(RowVerdict.PARTLY, f"{wrong}: {instead}")

    def _figures(self, draft: Draft, cells: Mapping[str, tuple[str, str]]) -> None:
        """Readings and claims: of a row a quantity, or of a row a whole knife."""
        knife_type = self._type_of(draft.texts.get("tag", "")) or ""
        if "knife_type" in cells:
            knife_type, note = knife_type_of(cells["knife_type"][0])
            draft.texts["knife_type"] = knife_type
            if note:
                draft.say(RowVerdict.CORRECTED, note)
        if self.kind in (Kind.READINGS, Kind.CLAIMS):
            self._one(draft, cells, knife_type)
            return
        for name, (text, unit) in cells.items():
            key = name.removeprefix(CLAIM)
            if key not in QUANTITIES:
                continue
            try:
                if name.startswith(CLAIM):
                    draft.claims.append(self._claim(QUANTITIES[key], text, unit))
                else:
                    draft.readings += self._readings(draft, QUANTITIES[key], text, unit, knife_type)
            except InvalidValue as wrong:
                draft.say(RowVerdict.PARTLY, f"{wrong}: this figure stays out")

    def _one(self, draft: Draft, cells: Mapping[str, tuple[str, str]], knife_type: str) -> None:
        said = cells["quantity"][0]
        found = QUANTITIES.get(said) or _quantity(said)
        unit = cells["unit"][0] if "unit" in cells else ""
        symbol = (unit_of(unit) or "") if unit else ""
        if unit and not symbol:
            raise InvalidValue("unit", unit, "a unit such as mm, in, g, oz, HRC or dps")
        if self.kind is Kind.READINGS:
            value = cells["value"][0]
            draft.readings += self._readings(draft, found, value, symbol, knife_type)
        else:
            draft.claims.append(self._claim(found, cells["printed"][0], symbol))

    def _readings(
        self, draft: Draft, q: Quantity, text: str, unit: str, knife_type: str
    ) -> list[FigureDraft]:
        """The readings of a cell: one, or an angle of each face."""
        sides = self._sides(q, text)
        if sides is None:
            return [self._reading(draft, q, text, unit, knife_type)]
        right, left = sides
        if right == left:
            draft.say(RowVerdict.CORRECTED, f"{q.label}: “{text}” read as {right:g}° on each face")
            return [self._reading(draft, q, f"{right:g} dps", "dps", knife_type)]
        said = f"“{text}” read as {right:g}° on the right face and {left:g}° on the left"
        draft.say(RowVerdict.CORRECTED, f"{q.label}: {said}")
        return [
            self._reading(draft, QUANTITIES[key], f"{angle:g} dps", "dps", knife_type)
            for key, angle in (("angle_right", right), ("angle_left", left))
        ]

    def _sides(self, q: Quantity, text: str) -> tuple[float, float] | None:
        """Both angles of a cell under an angle of the edge; a ratio is none."""
        if q.key != "edge_angle":
            return None
        bare = as_point(text, self.decimals)
        if is_ratio(bare):
            raise InvalidValue(q.label, text, "an angle; a ratio such as 70/30 is the asymmetry")
        return angles_of_sides(bare)

    def _reading(
        self, draft: Draft, q: Quantity, text: str, unit: str, knife_type: str
    ) -> FigureDraft:
        known = self._parsed.get((q.key, text, unit))
        if known is None:
            known = self._understood(draft, q, text, unit)
        typed, station = known
        odd = doubt(q.key, typed, knife_type) if knife_type else None
        if odd is None:
            return FigureDraft(q, typed, station=station)
        meant = f" ({odd.suggestion} meant?)" if odd.suggestion else ""
        return FigureDraft(q, typed, f"{odd.message}{meant}", station)

    def _understood(self, draft: Draft, q: Quantity, text: str, unit: str) -> Entry:
        bare = unit_last(as_point(text, self.decimals), q.dimension)
        entry = parse_entry(q, bare, default_unit=unit or q.entry_unit)
        typed = entry.typed
        other = typed.unit_given and bool(unit) and typed.unit != unit
        odd_comma = bare == text and "," in text
        fraction = "/" in bare and q.dimension not in (Dimension.RATIO, Dimension.SCORE)
        if other or odd_comma or fraction:
            draft.say(
                RowVerdict.CORRECTED, f"{q.label}: “{text}” read as {typed.value:g} {typed.unit}"
            )
        elif len(self._parsed) < _CACHED:
            self._parsed[q.key, text, unit] = entry
        return entry

    def _claim(self, q: Quantity, text: str, unit: str) -> ClaimDraft:
        bare = unit_last(as_point(text, self.decimals), q.dimension)
        sides = self._sides(q, text)
        if sides is not None:
            if sides[0] != sides[1]:
                raise InvalidValue(q.label, text, "one angle, as makers claim it")
            bare = f"{sides[0]:g} dps"
        typed = parse_claim(q, bare, default_unit=unit or None)
        printed = bare if typed.unit_given or not unit else f"{bare} {unit}"
        return ClaimDraft(q.key, clean(printed, "claim", 64), typed.base_low, typed.base_high)

    def _model(self, draft: Draft, cells: Mapping[str, tuple[str, str]]) -> None:
        if self.kind not in (Kind.MODELS, Kind.CLAIMS, Kind.PIECES):
            return
        named = [name for name in OF_MODEL if name in cells]
        if not named and self.kind is Kind.PIECES:
            return
        lacking = [FIELDS[n].label for n in OF_MODEL[:3] if n not in cells]
        if lacking:
            raise InvalidValue("model", "without " + ", ".join(lacking), "maker, line and type")
        model = ModelDraft(
            draft.texts["maker"],
            draft.texts["line"],
            draft.texts["knife_type"],
            self._nominal(draft, cells),
        )
        for name in ("construction", "finish", "handle"):
            setattr(model, name, draft.texts.get(name, ""))
        if "gtin" in cells:
            with self._alone(draft, "gtin", "this number stays out"):
                model.gtin = gtin(cells["gtin"][0])
        if "grind" in cells:
            with self._alone(draft, "grind"):
                model.grind, note = grind_of(cells["grind"][0])
                if note:
                    draft.say(RowVerdict.CORRECTED, note)
        if "even_machine_edge" in draft.texts:
            model.even_machine_edge = bool(draft.texts["even_machine_edge"])
        if "steel" in cells:
            model.steel = self._steel(draft, cells["steel"][0])
        if "price" in cells:
            with self._alone(draft, "price", "this price stays out"):
                of_row = cells["currency"][0] if "currency" in cells else ""
                model.price, note = self.prices.read(cells["price"][0], self.decimals, of_row)
                if note:
                    draft.say(RowVerdict.CORRECTED, note)
        draft.model = model

    def _nominal(self, draft: Draft, cells: Mapping[str, tuple[str, str]]) -> float:
        if "nominal" in cells:
            text, unit = cells["nominal"]
            q = QUANTITIES["edge_length"]
            found = parse_as(q, as_point(text, self.decimals), default_unit=unit or "mm").base_value
            return round(found, 3)
        lengths = [f.typed.base_value for f in draft.readings if f.quantity.key == "edge_length"]
        lengths += [(c.low + c.high) / 2 for c in draft.claims if c.quantity == "edge_length"]
        if not lengths:
            raise InvalidValue("nominal size", "nothing", "a size such as 210 mm")
        near = _NOMINAL_STEP_MM * round(lengths[0] / _NOMINAL_STEP_MM)
        draft.say(RowVerdict.CORRECTED, f"nominal size not given: {near:g} mm from the edge length")
        return near

    def _steel(self, draft: Draft, text: str) -> str | None:
        for said in (text, *text.replace("(", " ").replace(")", " ").replace("/", " ").split()):
            if found := self._steels.get(plain(said)):
                return found
        draft.say(
            RowVerdict.CORRECTED, f"steel: “{text[:40]}” is not among the shop's grades; left open"
        )
        return None

    def _told(self, draft: Draft, cells: Mapping[str, tuple[str, str]]) -> None:
        """Numbers that are no readings: places along the edge, points of a trace or a trial."""
        for name in ("x", "y", "along", "above_edge", "u"):
            if name not in cells:
                continue
            text, unit = cells[name]
            bare = as_point(text, self.decimals)
            length = name in ("along", "above_edge") or self.kind is Kind.PROFILES
            if name == "u":
                draft.number[name] = _positive(name, bare)
            elif length:
                found = parse_typed(bare, Dimension.LENGTH, field=name, default_unit=unit or "mm")
                draft.number[name] = found.base_value
            elif not _STARTS_AS_NUMBER.match(bare):
                raise InvalidValue(name, text, "a number, or a day of a kitchen log")
            else:
                draft.texts[name] = clean(bare, name, 40)
        if self.kind is Kind.TRIALS and "value" in cells:
            draft.texts["value"] = clean(as_point(cells["value"][0], self.decimals), "value", 40)


def _positive(name: str, text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not 0 < value < 1e6:
        raise InvalidValue(name, text, "a number above 0, in the base unit")
    return value


def _shown(row: TableRow) -> str:
    """The first cells of a row, so that a person finds it again."""
    filled = (cell for cell in row.cells if cell)
    return " · ".join(cell[:_SHOWN] for cell in islice(filled, 3))[: 2 * _SHOWN]


def _quantity(said: str) -> Quantity:
    column = guess(said)
    found = QUANTITIES.get(column.field) if column else None
    if found is None:
        raise InvalidValue(
            "quantity", said, f"one of {len(QUANTITIES)}, such as weight or spine at heel"
        )
    return found


_NAMES_THE_ROW = ("tag", "key", *OF_MODEL)
_MODEL_TEXTS = {"maker": 80, "line": 80, "construction": 120, "finish": 120, "handle": 120}
_MOST: dict[Kind, dict[str, int]] = {
    **{kind: {"table": 40, "row": MOST_CELL} for kind in WHOLE},
    Kind.MODELS: _MODEL_TEXTS,
    Kind.CLAIMS: {"maker": 80, "line": 80},
    Kind.PIECES: {"tag": 40, "condition": 20, "note": 2000, "person": 80, **_MODEL_TEXTS},
    Kind.READINGS: {
        "tag": 40,
        "key": 80,
        "person": 80,
        "instrument": 80,
        "block": 80,
        "method": 40,
        "place": 40,
        "note": 400,
        "struck": 200,
    },
    Kind.PROFILES: {"tag": 40, "key": 80, "source": 12, "person": 80},
    Kind.TRIALS: {
        "key": 80,
        "tag": 40,
        "trial_kind": 20,
        "source": 12,
        "instrument": 80,
        "person": 80,
        "note": 400,
        "protocol": 4000,
        "set_aside": 200,
        "event": 12,
    },
}
