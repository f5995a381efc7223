"""What a file from outside can do to the process that opens it, and that nothing else notices."""

from __future__ import annotations

import os
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from bench_line import until
from maple_rook.background.apart import MOST_MEMORY, Apart
from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.apart import heads
from maple_rook.http.problems import TooMany

PATIENCE_S = 60.0


@pytest.fixture
def apart() -> Iterator[Apart]:
    made = Apart("file", at_once=2, waiting=1)
    yield made
    made.close()


def test_a_file_that_takes_too_long_is_given_up_and_others_are_opened(apart: Apart) -> None:
    with ThreadPoolExecutor() as pool:
        stuck = pool.submit(apart.run, 2.0, time.sleep, 600)
        assert apart.run(PATIENCE_S, abs, -1) == 1
        with pytest.raises(InvalidValue, match="takes too much"):
            stuck.result()
    assert apart.run(PATIENCE_S, abs, -2) == 2


@pytest.mark.parametrize(
    ("work", "given"), [(bytearray, 2 * MOST_MEMORY), (os._exit, 1), (os.abort, None)]
)
def test_a_file_that_takes_too_much_or_brings_its_process_down_is_refused(
    apart: Apart, work: object, given: int | None
) -> None:
    arguments = [] if given is None else [given]
    with pytest.raises(InvalidValue, match="takes too much"):
        apart.run(PATIENCE_S, work, *arguments)  # type: ignore[arg-type]
    assert apart.run(PATIENCE_S, abs, -1) == 1


def test_who_comes_when_many_wait_is_told_to_come_again(apart: Apart) -> None:
    with ThreadPoolExecutor() as pool:
        busy = [pool.submit(apart.run, PATIENCE_S, time.sleep, 2) for _ in range(3)]

        def full() -> bool:
            try:
                apart.check_room()
            except TooMany:
                return True
            return False

        until(full)
        with pytest.raises(TooMany, match="Other files"):
            apart.run(PATIENCE_S, abs, -1)
        for one in busy:
            one.result()
    assert apart.run(PATIENCE_S, abs, -1) == 1


def test_what_is_wrong_with_a_file_is_said_as_it_was_found(apart: Apart, tmp_path: Path) -> None:
    file = tmp_path / "old.xls"
    file.write_bytes(b"\xd0\xcf\x11\xe0" + b"\0" * 100)
    with pytest.raises(InvalidValue) as refused:
        apart.run(PATIENCE_S, heads, file, "old.xls")
    assert (refused.value.field, refused.value.value) == ("file", "an old binary workbook")
    assert str(refused.value).startswith("file: an old binary workbook is not accepted")
