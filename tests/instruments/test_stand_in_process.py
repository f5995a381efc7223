"""The simulated instruments as ``./rook demo`` runs them: a process of their own, spoken to raw."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from maple_rook.core.measurement.instruments import INSTRUMENT_KINDS
from maple_rook.core.measurement.units import UNITS
from maple_rook.instruments import stand_ins
from maple_rook.instruments.protocol import MAX_LINE_BYTES, Hello, Pong, Sent, Sorry, parse
from maple_rook.settings import PROJECT_ROOT

Running = tuple["subprocess.Popen[bytes]", dict[str, str]]


@pytest.fixture(scope="module")
def running(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    note = tmp_path_factory.mktemp("line") / "addresses.json"
    process = subprocess.Popen(
        [sys.executable, "-m", "maple_rook.instruments.stand_ins", str(note)],
        stdin=subprocess.PIPE,
        stdout=subprocess.DEVNULL,
        cwd=PROJECT_ROOT,
        env={**os.environ, "PYTHONPATH": str(PROJECT_ROOT / "src")},
    )
    deadline = time.monotonic() + 30
    while not note.exists():
        assert time.monotonic() < deadline, "the stand-ins did not start"
        time.sleep(0.02)
    yield process, json.loads(note.read_text())
    process.kill()
    process.wait()


class Wire:
    """One connection, a line at a time."""

    def __init__(self, address: str) -> None:
        host, port = address.split(":")
        self.socket = socket.create_connection((host, int(port)), timeout=10)
        self._file = self.socket.makefile("rb")
        self.hello = self.hear()

    def say(self, line: str) -> None:
        self.socket.sendall(f"{line}\n".encode())

    def hear(self) -> str:
        return self._file.readline(2_000_000).decode().rstrip("\n")

    def ask(self, line: str) -> str:
        self.say(line)
        return self.hear()


@pytest.fixture
def caliper(running: Running) -> Iterator[Wire]:
    wire = Wire(running[1]["caliper"])
    yield wire
    wire.ask("SET mode steady")
    wire.socket.close()


def test_all_answer_and_greet_as_what_they_are(running: Running) -> None:
    kinds = {"caliper", "scale", "hardness_tester", "angle_gauge", "edge_tester", "card_tester"}
    assert set(running[1]) == kinds
    for kind, address in running[1].items():
        greeting = parse(Wire(address).hello)
        assert isinstance(greeting, Hello)
        assert greeting.kind == kind


def test_it_answers_pings_and_takes_what_lies_in_its_jaws(caliper: Wire) -> None:
    assert parse(caliper.ask("PING")) == Pong()
    assert caliper.ask("SPECIMEN spine_heel 2.13") == "OK"
    read = parse(caliper.ask("TAKE 7 spine_heel 2.5"))
    assert isinstance(read, Sent)
    assert (read.request, read.unit, read.steady) == (7, "mm", True)
    assert read.value == pytest.approx(2.13, abs=0.06)


def test_readings_are_counted_so_that_none_is_taken_twice(caliper: Wire) -> None:
    numbers = []
    for request in range(5):
        read = parse(caliper.ask(f"TAKE {request} height_heel 46"))
        assert isinstance(read, Sent)
        numbers.append(read.number)
    assert numbers == list(range(numbers[0], numbers[0] + 5))


def test_its_button_reaches_everybody_but_the_one_who_pressed(
    running: Running, caliper: Wire
) -> None:
    other = Wire(running[1]["caliper"])
    assert caliper.ask("PRESS spine_heel") == "OK"
    heard = parse(other.hear())
    assert isinstance(heard, Sent)
    assert heard.request is None


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("TAKE 1 weight", "a caliper does not measure weight"),
        ("TAKE 1 wings", "does not measure wings"),
        ("TAKE one spine_heel", "does not follow"),
        ("TAKE", "does not follow"),
        ("SET mode asleep", "does not follow"),
        ("SET zero plenty", "plenty is not a number"),
        ("hello?", "does not follow"),
    ],
)
def test_what_it_cannot_follow_it_is_sorry_for(caliper: Wire, line: str, says: str) -> None:
    answer = parse(caliper.ask(line))
    assert isinstance(answer, Sorry)
    assert says in answer.reason


def test_a_line_of_a_megabyte_ends_the_connection_and_nothing_else(
    running: Running, caliper: Wire
) -> None:
    flood = Wire(running[1]["caliper"])
    with pytest.raises((ConnectionError, TimeoutError)):
        flood.socket.sendall(b"9" * 50_000_000)
    assert parse(caliper.ask("PING")) == Pong()


def test_its_own_long_line_is_longer_than_the_protocol_allows(caliper: Wire) -> None:
    caliper.ask("SET mode long-line")
    assert len(caliper.ask("TAKE 1 spine_heel 2.1")) > MAX_LINE_BYTES


def test_it_ends_when_whoever_started_it_is_gone(tmp_path: Path) -> None:
    note = tmp_path / "addresses.json"
    process = subprocess.Popen(
        [sys.executable, "-m", "maple_rook.instruments.stand_ins", str(note)],
        stdin=subprocess.PIPE,
        stdout=subprocess.DEVNULL,
        cwd=PROJECT_ROOT,
        env={**os.environ, "PYTHONPATH": str(PROJECT_ROOT / "src")},
    )
    assert process.stdin is not None
    process.stdin.close()
    assert process.wait(timeout=30) == 0


def test_the_page_about_instruments_names_every_kind_unit_and_mode() -> None:
    page = (PROJECT_ROOT / "docs" / "instruments.md").read_text()
    for kind, facts in INSTRUMENT_KINDS.items():
        if kind != "eye" and not facts.is_reference:
            assert f"`{kind.replace(' ', '_')}`" in page
    units = page.split("Units: `")[1].split("`")[0]
    assert all(unit in units for unit in UNITS)
    assert all(f"`{mode}`" in page or f"mode {mode}`" in page for mode in stand_ins.MODES)
    assert f"{MAX_LINE_BYTES} bytes" in page
