"""Rows of ``./rook bench``: one that fails says so, figures are kept and compared."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
import typer
from benchmarks import __main__ as bench
from benchmarks.rows import Row, going_on, read, write
from typer.testing import CliRunner


def failing() -> Iterator[Row]:
    yield Row("  first", 1.0, "ms")
    raise ValueError("7,723 of 10,000\nare listed")


def test_a_measurement_that_fails_says_so_and_what_came_before_stays(
    capsys: pytest.CaptureFixture[str],
) -> None:
    first, last = going_on("lists", failing)
    assert (first.value_text, last.figure) == ("1.0 ms", "lists")
    assert last.value_text == "failed: ValueError: 7,723 of 10,000 are listed"
    assert "Traceback" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("now", "before", "times"),
    [
        (Row("x", 30, "ms", 3.0), Row("x", 10, "ms", 2.0), 1.5),  # the ratio hangs on no machine
        (Row("x", 30, "ms"), Row("x", 10, "ms"), 3.0),
        (Row("x", 50, "readings/s"), Row("x", 100, "readings/s"), 2.0),  # fewer a second
        (Row("x", 50, "lists/s", 1.2), Row("x", 100, "lists/s", 1.0), 1.2),
        (Row("x", failed="no"), Row("x", 10, "ms"), None),
        (Row("x", 0, "frames"), Row("x", 0, "frames"), None),
    ],
)
def test_a_row_is_so_many_times_what_it_was(now: Row, before: Row, times: float | None) -> None:
    assert now.against(before) == (None if times is None else pytest.approx(times))


def test_figures_are_kept_and_read_again(tmp_path: Path) -> None:
    rows = [Row("a", 1.5, "ms", 2.0, "95 % 3 ms"), Row("b", failed="why")]
    write(tmp_path / "kept.json", rows)
    assert list(read(tmp_path / "kept.json").values()) == rows


def test_parts_are_run_by_name_and_a_slower_row_is_pointed_at(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setitem(bench.PARTS, "board", lambda: iter([Row("Board", 30.0, "ms", 3.0)]))
    monkeypatch.setitem(bench.PARTS, "page", failing)
    app = typer.Typer()
    app.command()(bench.main)
    write(tmp_path / "before.json", [Row("Board", 10.0, "ms", 1.5)])
    arguments = [
        "board",
        "--against",
        str(tmp_path / "before.json"),
        "--json",
        str(tmp_path / "now.json"),
    ]
    done = CliRunner().invoke(app, arguments)
    assert done.exit_code == 0
    assert "2.00  slower" in done.output
    assert read(tmp_path / "now.json")["Board"].ratio == 3.0
    done = CliRunner().invoke(app, ["page", "board"])
    assert done.exit_code == 1
    assert "1 of 3 rows failed" in done.output
    assert CliRunner().invoke(app, ["attic"]).exit_code == 2
