"""Text from outside at its worst: reading it takes no time to speak of.

Each is read apart, in a process that is ended where it takes longer: an expression that looks at a
run of blanks or digits from every place of it would take hours.
"""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from maple_rook.background.apart import Apart
from worst_text import READERS, RUNS, read

WITHIN_S, LONG = 15.0, 80_000
"""What is looked at from every place of it takes a minute at this length."""


@pytest.fixture(scope="module")
def apart() -> Iterator[Apart]:
    made = Apart("text", at_once=1, waiting=0)
    yield made
    made.close()


@pytest.mark.parametrize("name", READERS)
def test_reading_ends(name: str, apart: Apart) -> None:
    for run in RUNS:
        apart.run(WITHIN_S, read, name, f"1{run * (LONG // len(run))}"[: LONG - 1] + "!")
