"""What ``./rook test`` says of itself: packages and how much of them is covered, what failed."""

from __future__ import annotations

import pytest

from maple_rook import front_end, suite
from maple_rook.suite import Step, packages, run_all


def test_coverage_is_summed_by_room() -> None:
    def file(covered: int, lines: int) -> dict[str, object]:
        return {"summary": {"covered_lines": covered, "num_statements": lines}}

    report: dict[str, object] = {
        "files": {
            "src/maple_rook/core/measurement/units.py": file(9, 10),
            "src/maple_rook/core/measurement/parsing.py": file(10, 10),
            "src/maple_rook/stations/bench/use_cases.py": file(3, 4),
            "src/maple_rook/stations/__init__.py": file(1, 2),
            "src/maple_rook/cli.py": file(0, 5),
        }
    }
    assert packages(report) == [
        (".", 0, 5),
        ("core/measurement", 19, 20),
        ("stations", 1, 2),
        ("stations/bench", 3, 4),
    ]


def test_so_is_the_front_ends() -> None:
    lines = {"lines": {"covered": 4, "total": 5}}
    report: dict[str, object] = {
        "total": lines,
        "/anywhere/web/src/strip/store.ts": lines,
        "/anywhere/web/src/stations/bench/queue.ts": lines,
        "/anywhere/web/src/router.ts": lines,
    }
    assert packages(report) == [(".", 4, 5), ("stations/bench", 4, 5), ("strip", 4, 5)]


def test_a_quick_check_that_fails_ends_the_run_with_its_reason(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    said: list[str] = []
    monkeypatch.setattr(front_end, "ensure_packages", lambda _: None)
    failing = Step("lint", ("-c", "print('line 3 is too long'); raise SystemExit(1)"))
    monkeypatch.setattr(suite, "FIRST", (Step("format", ("-c", "")), failing))
    assert run_all(said.append) == 1
    assert any("line 3 is too long" in line for line in said)
    assert [line.split(" (")[0] for line in said if " (" in line] == ["format: ok", "lint: failed"]
