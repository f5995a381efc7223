"""Every line of a sheet is a row of a table, headings, or said not to be read."""

from __future__ import annotations

from pathlib import Path

import openpyxl
import pytest

from maple_rook.formats.incoming.headings import guess_columns, guess_kind
from maple_rook.formats.incoming.opening import open_tables
from maple_rook.formats.incoming.table import Table


def opened(path: Path, text: str) -> list[Table]:
    path.write_text(text)
    return open_tables(path, path.name)


def saved(path: Path, book: openpyxl.Workbook) -> list[Table]:
    book.save(path)
    return open_tables(path, path.name)


def tags(table: Table) -> list[str]:
    return [row.cells[0] for row in table.rows()]


def fields(table: Table) -> list[tuple[str, str]]:
    return [(column.field, column.unit) for column in guess_columns(table.headings)]


PIECES = "tag,maker,line,type,size\nA-1,Kesterby,Harbour,gyuto,210\nA-2,Kesterby,Quay,petty,150\n"
READINGS = "tag,quantity,value\nA-1,weight,186 g\nA-1,spine at heel,2.1 mm\n"


@pytest.mark.parametrize("between", ["", "\n", "\n\nWhat was measured\n", ",,,,\nMeasured:,,,,\n"])
def test_two_tables_on_a_sheet_are_two(tmp_path: Path, between: str) -> None:
    pieces, readings = opened(tmp_path / "both.csv", PIECES + between + READINGS)
    assert [guess_kind(guess_columns(t.headings)) for t in (pieces, readings)] == [
        "pieces",
        "readings",
    ]
    assert (tags(pieces), tags(readings)) == (["A-1", "A-2"], ["A-1", "A-1"])
    assert readings.name.startswith("both.csv, from line ")
    if "easured" in between:
        assert any("easured" in said for said in readings.said)


def test_a_title_a_total_and_repeated_headings_are_accounted_for(tmp_path: Path) -> None:
    header, first, second = PIECES.splitlines()
    lines = ("Winter shelf of the shop", "", header, first, header.title(), second, "Total,,,,2")
    text = "\n".join(lines)
    [table] = opened(tmp_path / "list.csv", text)
    assert tags(table) == ["A-1", "A-2", "Total"]  # a total is refused as a row, and told
    assert any("“Winter shelf of the shop”" in said for said in table.said)
    assert "headings again on line 5" in table.said


def test_the_words_of_a_row_are_no_headings(tmp_path: Path) -> None:
    """A quantity and its unit are names of columns elsewhere."""
    text = "tag,quantity,value,unit\nA-1,weight,186,g\nA-1,edge,209,mm\nA-1,hardness,60.5,HRC\n"
    [table] = opened(tmp_path / "r.csv", text)
    assert len(list(table.rows())) == 3


def test_tables_beside_each_other_are_parted_at_the_empty_column(tmp_path: Path) -> None:
    text = (
        "tag,maker,line,type,size,,tag,quantity,value\n"
        "A-1,Kesterby,Harbour,gyuto,210,,A-1,weight,186 g\n"
        ",,,,,,A-1,weight,187 g\n"
    )
    left, right = opened(tmp_path / "both.csv", text)
    assert (tags(left), tags(right)) == (["A-1"], ["A-1", "A-1"])
    assert right.name == "both.csv, columns G to I"


def test_a_banner_gives_units_names_and_whose_word_it_is(tmp_path: Path) -> None:
    book = openpyxl.Workbook()
    page = book.active
    assert page is not None
    page.append(["Tag", "Dimensions (in)", None, "Spine (mm)", None, "Claimed", None])
    page.append([None, "edge length", "height", "heel", "tip", "weight g", "HRC"])
    page.append(["A-1", 8.25, 1.8, 2.1, 0.6, 186, 62])
    for merged in ("A1:A2", "B1:C1", "D1:E1", "F1:G1"):
        page.merge_cells(merged)
    [table] = saved(tmp_path / "w.xlsx", book)
    assert fields(table) == [
        ("tag", ""),
        ("edge_length", "in"),
        ("height_heel", "in"),
        ("spine_heel", "mm"),
        ("spine_tip", "mm"),
        ("claim:weight", "g"),
        ("claim:hardness", ""),
    ]
    assert tags(table) == ["A-1"]
    assert any("Dimensions (in)" in said for said in table.said)


def test_a_banner_in_csv_goes_on_until_the_next(tmp_path: Path) -> None:
    text = ",Blade (in),,Handle,\ntag,length,height,length,thickness\nA-1,8.25,1.8,125,20\n"
    [table] = opened(tmp_path / "b.csv", text)
    assert fields(table) == [
        ("tag", ""),
        ("blade_length", "in"),
        ("height_heel", "in"),
        ("handle_length", ""),
        ("handle_thickness", ""),
    ]


def test_what_a_workbook_hides_is_read_and_said(tmp_path: Path) -> None:
    book = openpyxl.Workbook()
    page = book.active
    assert page is not None
    page.title = "Shelf"
    for row in (["tag", "weight g", "size"], ["A-1", 186, 210], ["A-2", 190, 240]):
        page.append(row)
    page.row_dimensions[3].hidden = True
    page.column_dimensions["C"].hidden = True
    other = book.create_sheet("Old")
    for row in (["tag", "weight g"], ["Z-9", 150]):
        other.append(row)
    other.sheet_state = "hidden"
    shelf, old = saved(tmp_path / "w.xlsx", book)
    assert tags(shelf) == ["A-1", "A-2"]
    assert {"hidden rows are read too: 3", "hidden columns are read too: C"} <= set(shelf.said)
    assert (shelf.hidden, old.hidden, tags(old)) == (False, True, ["Z-9"])
    assert "the workbook hides this sheet" in old.said
