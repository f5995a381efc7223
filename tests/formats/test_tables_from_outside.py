"""Files as shops have them: encodings, separators, merged cells, formulas, and worse."""

from __future__ import annotations

import io
import json
import subprocess
import sys
import zipfile
from pathlib import Path

import openpyxl
import pytest
import xlsxwriter

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.cells import Decimals
from maple_rook.formats.incoming.drafts import Draft, RowVerdict
from maple_rook.formats.incoming.fields import FIELDS, Kind
from maple_rook.formats.incoming.headings import guess, guess_columns, guess_kind
from maple_rook.formats.incoming.opening import open_tables
from maple_rook.formats.incoming.table import Table
from maple_rook.formats.incoming.understand import Reader, habit


def opened(tmp_path: Path, content: str | bytes, name: str = "list.csv") -> list[Table]:
    path = tmp_path / name
    path.write_bytes(content.encode() if isinstance(content, str) else content)
    return open_tables(path, name)


def read(table: Table, kind: Kind | None = None) -> list[Draft]:
    columns = guess_columns(table.headings)
    kind = kind or guess_kind(columns, table.name)
    assert kind is not None
    steels = {"1 4116": "1.4116", "x50crmov15": "1.4116"}
    reader = Reader(kind, columns, habit(table, columns), lambda _: "gyuto", steels)
    return [reader.read(row) for row in table.rows()]


def readings(draft: Draft) -> dict[str, float]:
    return {f.quantity.key: round(f.typed.base_value, 4) for f in draft.readings}


@pytest.mark.parametrize(
    ("heading", "field", "unit"),
    [
        # habits of naming met in the trade; common practice, no source
        ("Spine @ heel (in)", "spine_heel", "in"),
        ("Wt. [oz]", "weight", "oz"),
        ("BTE mm", "thickness_behind_edge", "mm"),
        ("OAL", "overall_length", ""),
        ("edge_angle_incl", "edge_angle", "incl"),
        ("Klingenhöhe (mm)", "height_heel", "mm"),
        ("Stated hardness", "claim:hardness", ""),
        ("Claimed HRC", "claim:hardness", ""),
        ("Thicknes at heel", "spine_heel", ""),
        ("spine 10mm from tip", "spine_tip", ""),
        ("Brand", "maker", ""),
    ],
)
def test_headings_are_understood_in_several_habits(heading: str, field: str, unit: str) -> None:
    found = guess(heading)
    assert found is not None
    assert (found.field, found.unit) == (field, unit)


def test_every_name_the_record_uses_for_a_column_is_its_own_heading() -> None:
    wrong = [key for key in FIELDS if ":" not in key and (f := guess(key)) and f.field != key]
    assert wrong == []


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
@pytest.mark.parametrize("separator", [",", ";", "\t"])
def test_any_usual_encoding_and_separator(tmp_path: Path, encoding: str, separator: str) -> None:
    text = "\r\n".join(
        separator.join(row)
        for row in (
            ("Nr", "Gewicht (g)", "Griff"),
            ("A-1", "186", "Nussbaum, geölt und geräuchert"),
            ("A-2", "190", "Größe für kleine Hände"),
        )
    ).replace("Nussbaum,", "Nussbaum")
    [table] = opened(tmp_path, text.encode(encoding))
    first, second = read(table)
    assert (first.texts["tag"], readings(first)) == ("A-1", {"weight": 186.0})
    assert second.texts["handle"] == "Größe für kleine Hände"


def test_decimal_commas_fractions_and_other_units_are_read_and_told(tmp_path: Path) -> None:
    [table] = opened(
        tmp_path,
        (
            "Our winter list;;;;\n;;;;\nTag;Edge length;Weight;Behind edge;Edge angle\n;mm;g;mm;\n"
            'A-1;209,5;1.186,5;0,27;14,5\nA-2;"8 1/4 in";6,9 oz;0,31;30 incl\n'
        ),
    )
    columns = guess_columns(table.headings)
    assert habit(table, columns) is Decimals.COMMA
    plain, mixed = read(table)
    assert readings(plain) == {
        "edge_length": 209.5,
        "weight": 1186.5,
        "thickness_behind_edge": 0.27,
        "edge_angle": 14.5,
    }
    # 8 1/4 in = 209.55 mm and 6.9 oz = 195.6117 g by the exact inch and avoirdupois ounce
    assert readings(mixed) == {
        "edge_length": 209.55,
        "weight": 195.6117,
        "thickness_behind_edge": 0.31,
        "edge_angle": 15.0,
    }
    assert mixed.verdict is RowVerdict.CORRECTED
    assert any("8 1/4 in" in said for said in mixed.said)


def test_an_odd_day_takes_no_row_along(tmp_path: Path) -> None:
    """Which month 03/04 is of nobody knows; what was measured then is known all the same."""
    text = "tag,weight g,measured on\nA-1,186,03/04/2026\nA-2,190,2026-09-14\nA-3,191,soon\n"
    odd, plain, never = read(*opened(tmp_path, text))
    assert [readings(row) for row in (odd, plain, never)] == [
        {"weight": weight} for weight in (186.0, 190.0, 191.0)
    ]
    assert [row.verdict for row in (odd, plain, never)] == [
        RowVerdict.PARTLY,
        RowVerdict.ACCEPTED,
        RowVerdict.PARTLY,
    ]
    assert (odd.taken_at, never.taken_at) == (None, None)
    assert "the day of the list is taken" in odd.said[0]


def test_what_cannot_be_is_refused_by_cell_and_the_rest_of_the_row_stays(tmp_path: Path) -> None:
    [table] = opened(
        tmp_path,
        (
            "tag,weight g,spine at heel mm,hardness\nA-1,186,76,60\nA-2,NaN,2.1,inf\n,190,2.2,61\n"
            "A-4,980,2.2,61\n"
        ),
    )
    spine, nan, untagged, heavy = read(table)
    assert readings(spine) == {"weight": 186.0, "hardness": 60.0}
    assert spine.verdict is RowVerdict.PARTLY
    assert not spine.lost
    assert "76" in spine.said[0]
    assert readings(nan) == {"spine_heel": 2.1}
    assert len(nan.said) == 2
    assert untagged.lost
    assert untagged.verdict is RowVerdict.REFUSED
    assert "tag" in untagged.said[0]
    assert heavy.readings[0].doubt.startswith("weight 980 g is unusual for a gyuto")


def test_bytes_outside_the_encoding_refuse_their_row_alone(tmp_path: Path) -> None:
    filler = b"".join(b"A-%d,186\n" % n for n in range(30_000))
    content = b"tag,weight g\n" + filler + b"\xff\xfe,190\n" + b"Z-1,191\n"
    drafts = read(opened(tmp_path, content)[0])
    assert [d.lost for d in drafts[-2:]] == [True, False]
    assert "encoding" in drafts[-2].said[0]


def workbook(fill: object) -> bytes:
    held = io.BytesIO()
    book = xlsxwriter.Workbook(held)
    fill(book)  # type: ignore[operator]
    book.close()
    return held.getvalue()


def test_merged_cells_are_filled_and_formulas_read_by_their_last_value(tmp_path: Path) -> None:
    def fill(book: xlsxwriter.Workbook) -> None:
        page = book.add_worksheet("Winter")
        page.write_row(0, 0, ["Brand", "Tag", "Model", "Type", "Size", "Weight g"])
        page.merge_range("A2:A3", "Kesterby")
        page.write_row(1, 1, ["A-1", "Harbour", "gyuto", 210, 186])
        page.write_row(2, 1, ["A-2", "Harbour", "gyuto", 240])
        page.write_formula("F3", "=6.9*28.35", None, 195.615)
        page.write_row(3, 0, ["Kesterby", "A-3", "Harbour", "gyuto", 240])
        page.write_formula("F4", "=1/0", None, "#DIV/0!")

    [table] = opened(tmp_path, workbook(fill), "w.xlsx")
    first, second, third = read(table)
    assert second.model is not None
    assert second.model.maker == "Kesterby"
    assert readings(second) == {"weight": 195.615}
    assert {"merged" in s or "formula" in s for s in second.said} == {True}
    assert first.verdict is RowVerdict.ACCEPTED
    assert third.readings == []
    assert third.verdict is RowVerdict.PARTLY


def test_a_formula_nobody_computed_says_so(tmp_path: Path) -> None:
    book = openpyxl.Workbook()
    assert book.active is not None
    for row in (["tag", "weight g"], ["A-1", "=3*62"]):
        book.active.append(row)
    held = io.BytesIO()
    book.save(held)
    [draft] = read(opened(tmp_path, held.getvalue(), "w.xlsx")[0])
    assert draft.readings == []
    assert "without a computed value" in draft.said[0]


def test_a_sheet_of_a_million_columns_is_not_unfolded(tmp_path: Path) -> None:
    def fill(book: xlsxwriter.Workbook) -> None:
        page = book.add_worksheet()
        page.write_row(0, 0, ["tag", "weight g"])
        page.write_row(1, 0, ["A-1", 186])
        page.write(2, 16_383, "far out")
        page.write(1_048_575, 0, "far down")

    [table] = opened(tmp_path, workbook(fill), "w.xlsx")
    drafts = read(table)
    assert [d.lost for d in drafts] == [False, True]
    assert "400 columns" in drafts[1].said[0]
    assert "not read, below over 1000 empty lines: line 1048576" in table.said


def _altered(part: str, old: bytes, new: bytes) -> bytes:
    """A workbook with one of its parts tampered with."""

    def fill(book: xlsxwriter.Workbook) -> None:
        page = book.add_worksheet()
        page.write_row(0, 0, ["tag", "weight g"])
        page.write_row(1, 0, ["A-1", 186])
        page.merge_range("A3:A4", "A-2")

    held = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(workbook(fill))) as was, zipfile.ZipFile(held, "w") as altered:
        for name in was.namelist():
            content = was.read(name)
            assert name != part or old in content
            altered.writestr(name, content.replace(old, new) if name == part else content)
    return held.getvalue()


_SHEET = "xl/worksheets/sheet1.xml"
_LAUGHS = (
    b'<!DOCTYPE w [<!ENTITY a "ha">'
    + b"".join(
        b'<!ENTITY %c "%s">' % (c, b"&%c;" % (c - 1) * 10) for c in range(ord("b"), ord("m"))
    )
    + b"]>\n<worksheet"
)


@pytest.mark.parametrize(
    ("old", "new"),
    [(b"A3:A4", b"AAAA9:B"), (b"<worksheet", _LAUGHS), (b"</sheetData>", b"</sheet")],
    ids=["a range that is none", "entities upon entities", "broken markup"],
)
def test_a_workbook_somebody_tampered_with_is_refused(
    tmp_path: Path, old: bytes, new: bytes
) -> None:
    with pytest.raises(InvalidValue, match="a whole XLSX workbook"):
        [list(t.rows()) for t in opened(tmp_path, _altered(_SHEET, old, new), "w.xlsx")]


def test_a_workbook_is_read_in_a_time_that_grows_with_its_length(tmp_path: Path) -> None:
    """Of a comment that begins a merged range again and again: nothing looks for its end each time.

    In a process of its own, which is killed where it does not come to an end.
    """
    again = b"</sheetData><!-- " + b"<mergeCell " * 400_000 + b" -->"
    path = tmp_path / "again.xlsx"
    path.write_bytes(_altered(_SHEET, b"</sheetData>", again))
    program = (
        "import pathlib, sys; from maple_rook.formats.incoming.xlsx_file import xlsx_tables; "
        "print(len(list(xlsx_tables(pathlib.Path(sys.argv[1]))[0].rows())))"
    )
    done = subprocess.run(
        [sys.executable, "-c", program, str(path)], capture_output=True, timeout=120, check=True
    )
    assert done.stdout.strip() == b"2"


@pytest.mark.parametrize(
    ("part", "megabytes"), [("xl/sharedStrings.xml", 70), ("xl/worksheets/sheet1.xml", 401)]
)
def test_a_small_file_that_unfolds_to_a_huge_one_is_refused(
    tmp_path: Path, part: str, megabytes: int
) -> None:
    held = io.BytesIO()
    packed = zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED, compresslevel=1)
    with packed, packed.open(part, "w") as zeros:
        for _ in range(megabytes):
            zeros.write(b"0" * 1_000_000)
    with pytest.raises(InvalidValue, match=f"{megabytes} MB unpacked"):
        [list(t.rows()) for t in opened(tmp_path, held.getvalue())]


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "nothing"),
        (b"\x00\x01\x02 no text", "no text"),
        (b"\xd0\xcf\x11\xe0 an old one", "old binary workbook"),
        (b"PK\x03\x04 broken", "broken ZIP"),
        (b'[{"tag": "A-1", "weight": NaN}]', "no JSON"),
        (b'{"tag": "A-1"}', "no list of objects"),
        (b"[" * 200_000, "lists within lists"),
        (b'[{"tag": ' + b"[" * 200_000 + b"]" * 200_000 + b"}]", "lists within lists"),
        (b'{"a":' * 200_000, "lists within lists"),
        (b"tag,note\nA-1," + b"x" * 1_100_000, "line over"),
    ],
    ids=[
        "empty",
        "binary",
        "xls",
        "broken zip",
        "NaN",
        "no list",
        "brackets",
        "brackets in a row",
        "braces",
        "one endless line",
    ],
)
def test_what_no_file_should_be_is_refused_with_words(
    tmp_path: Path, content: bytes, said: str
) -> None:
    with pytest.raises(InvalidValue, match=said):
        [list(t.rows()) for t in opened(tmp_path, content)]


def test_json_numbers_twins_and_nested_values(tmp_path: Path) -> None:
    rows = '[{"tag": "A-1", "weight_g": 186.50, "note": ["a", 1]}, {"tag": "A-2", "tag": "A-3"}]'
    first, twice = read(opened(tmp_path, rows, "list.json")[0])
    assert readings(first) == {"weight": 186.5}
    assert json.loads(first.texts["note"]) == ["a", 1]
    assert twice.lost
    assert "twice" in twice.said[0]


def test_a_number_with_an_endless_exponent_is_refused_and_not_written_out(tmp_path: Path) -> None:
    [draft] = read(opened(tmp_path, '[{"tag": "A-1", "weight_g": 1e999999999}]', "l.json")[0])
    assert draft.readings == []
    assert draft.verdict is RowVerdict.PARTLY
