"""The line protocol: what is understood, and what is garbled and said to be so."""

from __future__ import annotations

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.measurement.plausibility import parse_reading
from maple_rook.core.measurement.units import UNITS
from maple_rook.instruments.protocol import (
    Garbled,
    Hello,
    Pong,
    Sent,
    Sorry,
    parse,
    reading_line,
    take_line,
)


def test_the_lines_of_the_protocol_are_understood() -> None:
    assert parse("HELLO 1 hardness_tester a1b2\n") == Hello("hardness_tester", "a1b2")
    assert parse("PONG") == Pong()
    assert parse("SORRY jaws open") == Sorry("jaws open")
    read = parse("READ 12 4 15.25 dps moving\r\n")
    assert read == Sent(12, 4, 15.25, "dps", steady=False, text="15.25")
    assert parse("READ 3 - 6.5 of 10 steady").typed == "6.5 of 10"  # type: ignore[union-attr]
    assert take_line(9, "weight") == "TAKE 9 weight"


@given(
    number=st.integers(0, 10**8),
    request=st.none() | st.integers(0, 10**8),
    value=st.decimals(-9999, 9999, places=3),
    unit=st.sampled_from(list(UNITS)),
    steady=st.booleans(),
)
def test_what_is_sent_is_what_is_understood(
    number: int, request: int | None, value: object, unit: str, steady: bool
) -> None:
    read = parse(reading_line(number, request, str(value), unit, steady=steady))
    assert read == Sent(number, request, float(str(value)), unit, steady, str(value))


@pytest.mark.parametrize(
    ("line", "wrong"),
    [
        ("", "a line that does not follow the protocol"),
        ("RE?D 1 2 186 g steady", "a line that does not follow the protocol"),
        ("READ 1 2 186 g", "too few words"),
        ("READ one 2 186 g steady", "without its number"),
        ("READ 1 2 1;86 g steady", "not a number"),
        ("READ 1 2 NaN g steady", "not a number"),
        ("READ 1 2 1e5 g steady", "not a number"),
        ("READ 1 2 186 stone steady", "unknown unit"),
        ("READ 1 2 186 g perhaps", "neither steady nor moving"),
        ("READ 1 weight 186 g steady", "for no request"),
        ("HELLO 2 scale x", "protocol 2"),
        ("HELLO scale", "invalid greeting"),
        ("PONG PONG", "does not follow"),
        ("READ " + "9" * 1_000_000, "a line over 512 bytes"),
    ],
)
def test_a_garbled_line_is_named_and_quoted_in_short(line: str, wrong: str) -> None:
    with pytest.raises(Garbled, match=wrong) as caught:
        parse(line)
    assert len(str(caught.value)) < 120


@given(st.text(max_size=700))
def test_no_line_does_more_than_be_garbled(line: str) -> None:
    with contextlib.suppress(Garbled):
        parse(line)


# Devices that type like a keyboard send these forms (common practice).
@pytest.mark.parametrize(
    ("key", "sent", "base"),
    [
        ("spine_heel", "2.13mm", 2.13),
        ("spine_heel", "+000002.13 mm", 2.13),
        ("spine_heel", '0.0839"', 2.131),
        ("weight", "186.5 g", 186.5),
        ("weight", "+  6.58 oz", 186.5),
        ("hardness", "60.5HRC", 60.5),
        ("sharpness_force", "150 gf", 1.471),
        ("sharpness_score", "6.5/10", 6.5),
    ],
)
def test_what_a_typing_device_sends_is_a_reading(key: str, sent: str, base: float) -> None:
    assert parse_reading(key, sent).base_value == pytest.approx(base, rel=1e-3)
