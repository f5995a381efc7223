"""Cells of foreign tables: any number in either habit, days, names, prices; nothing ever breaks."""

from __future__ import annotations

import uuid
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.parsing import parse_typed
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.units import UNITS, Dimension
from maple_rook.formats.csv_table import harmless
from maple_rook.formats.incoming.cells import (
    Decimals,
    as_point,
    clean,
    decimals_of,
    grind_of,
    key_of,
    knife_type_of,
    unguarded,
    when,
    yes,
)
from maple_rook.formats.incoming.drafts import RowVerdict
from maple_rook.formats.incoming.fields import CLAIM, FIELDS, MEANINGS, NEEDED, RECORD_KINDS, Kind
from maple_rook.formats.incoming.headings import (
    Column,
    fitted,
    guess,
    guess_columns,
    guess_kind,
    missing,
    plain,
    unit_of,
)
from maple_rook.formats.incoming.money import Prices, price_of
from maple_rook.formats.incoming.table import TableRow
from maple_rook.formats.incoming.understand import Reader
from maple_rook.formats.record_tables import RECORD_TABLES

weights = st.decimals(min_value=6, max_value=4999, places=2, allow_nan=False, allow_infinity=False)
texts = st.text(max_size=80)


def in_habit(value: Decimal, decimals: Decimals, *, thousands: bool) -> str:
    """A number as a spreadsheet of either habit shows it."""
    text = f"{value:,.2f}" if thousands else f"{value:.2f}"
    if decimals is Decimals.COMMA:
        return text.translate(str.maketrans(",.", ".,"))
    return text


@given(weights, st.sampled_from(Decimals), st.booleans())
def test_a_number_means_the_same_in_either_habit(
    value: Decimal, decimals: Decimals, thousands: bool
) -> None:
    text = as_point(f"{in_habit(value, decimals, thousands=thousands)} g", decimals)
    assert parse_typed(text, Dimension.MASS).base_value == pytest.approx(float(value))


@given(st.lists(weights, min_size=1, max_size=20), st.sampled_from(Decimals))
def test_the_habit_of_a_column_is_told_from_its_cells(
    values: list[Decimal], decimals: Decimals
) -> None:
    assert decimals_of([in_habit(v, decimals, thousands=False) for v in values]) is decimals


@given(texts)
def test_no_heading_and_no_cell_breaks_the_reading(text: str) -> None:
    column = guess(text)
    assert column is None or column.field in FIELDS
    row = TableRow(2, ["A-1", text, text, text, text])
    columns = [Column(f) for f in ("tag", "weight", "edge_angle", "taken_at", "price")]
    for decimals in Decimals:
        draft = Reader(Kind.PIECES, columns, decimals, lambda _: "gyuto", {}).read(row)
        assert draft.verdict in RowVerdict
        assert all(
            f.quantity.hard_low <= f.typed.base_value <= f.quantity.hard_high
            for f in draft.readings
        )


@given(texts)
def test_what_is_made_harmless_for_spreadsheets_comes_back(text: str) -> None:
    guarded = harmless(text)
    assert guarded == text or guarded[0] == "'"
    if not text.startswith("'"):
        assert unguarded(guarded) == text


@pytest.mark.parametrize("key", list(QUANTITIES))
def test_a_quantity_is_known_by_its_name_with_any_of_its_units(key: str) -> None:
    q = QUANTITIES[key]
    for heading in (q.label, q.label.title(), key, key.upper()):
        found = guess(heading)
        assert found is not None
        assert found.field == key
    for unit in UNITS.values():
        if unit.dimension is q.dimension and q.dimension is not Dimension.SCORE:
            found = guess(f"{q.label} [{unit.symbol}]")
            assert found is not None
            assert (found.field, found.unit) == (key, unit.symbol)


def test_a_unit_of_another_dimension_is_not_taken_for_the_columns() -> None:
    found = guess("weight (mm)")
    assert found == Column("weight", "")


@pytest.mark.parametrize("kind", list(RECORD_KINDS))
def test_a_table_of_the_record_is_recognised_and_lacks_nothing(kind: Kind) -> None:
    names = [column.name for column in RECORD_TABLES[kind]]
    columns = fitted(guess_columns(names), kind)
    assert guess_kind(guess_columns(names)) is kind
    assert missing(columns, kind) == []
    given_back = {"si_value", "si_unit", "u"}  # recalculated from what was typed
    unread = {n for n, c in zip(names, columns, strict=True) if not c.field}
    assert unread <= given_back


def test_what_a_kind_cannot_do_without_it_can_have() -> None:
    for kind in RECORD_KINDS:
        assert set(NEEDED[kind]) <= set(MEANINGS[kind]) <= set(FIELDS)


def test_a_makers_list_claims_and_a_second_column_of_a_figure_is_left_out() -> None:
    headings = ["Brand", "Model", "Type", "Size", "Weight g", "Weight oz", "Advertised hardness"]
    columns = guess_columns(headings)
    kind = guess_kind(columns)
    assert kind is Kind.MODELS
    assert [c.field for c in fitted(columns, kind)][4:] == [
        f"{CLAIM}weight",
        "",
        f"{CLAIM}hardness",
    ]


def test_what_was_said_of_a_heading_before_goes_before_any_guess() -> None:
    said = {plain("Spine @ heel"): Column("spine_mid", "in")}
    assert guess_columns(["Spine @ heel", "HRC"], said) == [
        Column("spine_mid", "in"),
        Column("hardness", "HRC"),
    ]


@pytest.mark.parametrize(
    ("text", "day"),
    [
        ("2026-09-14", "2026-09-14T12:00:00+00:00"),
        ("14.9.2026", "2026-09-14T12:00:00+00:00"),
        ("2026/9/14", "2026-09-14T12:00:00+00:00"),
        ("14/09/2026", "2026-09-14T12:00:00+00:00"),
        ("09/14/2026", "2026-09-14T12:00:00+00:00"),
        ("05/05/2026", "2026-05-05T12:00:00+00:00"),
        ("2026-09-14T08:30:00+02:00", "2026-09-14T08:30:00+02:00"),
        ("2026-09-14T08:30", "2026-09-14T08:30:00+00:00"),
    ],
)
def test_days_in_several_habits(text: str, day: str) -> None:
    assert when(text).isoformat() == day


@pytest.mark.parametrize(
    "text", ["03/04/2026", "31.02.2026", "tomorrow", "2099-01-01", "1066-10-14", "45914", ""]
)
def test_a_day_that_could_be_two_or_none_is_refused(text: str) -> None:
    with pytest.raises(InvalidValue):
        when(text)


@pytest.mark.parametrize(
    ("text", "decimals", "price", "currency"),
    [
        ("148", Decimals.POINT, "148.00", ""),
        ("€ 1.249,50", Decimals.COMMA, "1249.50", "EUR"),
        ("1,249.50 crowns", Decimals.POINT, "1249.50", "crowns"),
        ("89.-", Decimals.POINT, "89.00", ""),
        ("CHF 89", Decimals.COMMA, "89.00", "CHF"),
        ("1249 Kč", Decimals.POINT, "1249.00", "CZK"),
        ("$129.99", Decimals.POINT, "129.99", "$"),
    ],
)
def test_prices_with_a_currency_beside_them(
    text: str, decimals: Decimals, price: str, currency: str
) -> None:
    assert price_of(text, decimals) == (Decimal(price), currency)


def test_another_currency_is_never_taken_for_the_shops() -> None:
    """The codes are those of ISO 4217."""
    shop = Prices("EUR", rates={"GBP": Decimal("1.15")})
    assert shop.read("€ 120", Decimals.POINT) == (Decimal(120), "")
    assert shop.read("120 euro", Decimals.POINT) == (Decimal(120), "")
    assert shop.read("£100", Decimals.POINT) == (
        Decimal(115),
        "price: 100.00 GBP at 1.15 is 115.00 EUR",
    )
    for other in ("$120", "CHF 120", "120 crowns", "¥12000"):
        with pytest.raises(InvalidValue, match="or with a rate for"):
            shop.read(other, Decimals.POINT)
    with pytest.raises(InvalidValue, match="rate for JPY"):
        Prices("EUR", "JPY").read("12000", Decimals.POINT)
    assert Prices("CAD").read("$120", Decimals.POINT)[0] == 120  # a dollar is the shop's own here
    assert Prices("crowns").read("120 Crowns", Decimals.POINT)[0] == 120


@pytest.mark.parametrize("text", ["free", "0", "-5", "12.345", "1 2", "99999999", "148 or 150"])
def test_what_is_no_price_is_refused(text: str) -> None:
    with pytest.raises(InvalidValue, match="price"):
        price_of(text, Decimals.POINT)


def test_every_type_and_grind_is_known_by_its_name_and_near_misses_are_told() -> None:
    for t in KNIFE_TYPES.values():
        assert knife_type_of(t.label.upper()) == (t.key, "")
    for grind in Grind:
        assert grind_of(GRINDS[grind].label) == (grind, "")
    assert knife_type_of("Santokuu") == ("santoku", "type: “Santokuu” read as santoku")
    with pytest.raises(InvalidValue, match="nakiri"):
        knife_type_of("spoon")


def test_keys_are_the_same_for_the_same_and_kept_where_they_are_keys() -> None:
    given_key = str(uuid.uuid4())
    assert str(key_of(given_key)) == given_key
    assert key_of("r-1") == key_of("r-1") != key_of("r-2")
    assert key_of("", "reading", "a-1", 1) != key_of("", "reading", "a-1", 2)


def test_words_for_yes_and_no_in_a_few_languages() -> None:
    assert all(yes(t, "f") for t in ("yes", "X", "ja", "TRUE", "1", "oui"))
    assert not any(yes(t, "f") for t in ("", "no", "nein", "FALSE", "0", "-"))
    with pytest.raises(InvalidValue, match="yes or no"):
        yes("perhaps", "f")


def test_text_is_one_line_without_control_characters_and_no_longer_than_is_kept() -> None:
    assert clean("smoked\r\n ash\x00\x07 ", "handle", 20) == "smoked ash"
    with pytest.raises(InvalidValue, match="at most 5"):
        clean("smoked", "handle", 5)


def test_unit_words() -> None:
    assert [unit_of(t) for t in ('"', "Inches", "° incl", "µm", "degrees per side", "furlong")] == [
        "in",
        "in",
        "incl",
        "um",
        "dps",
        None,
    ]
