"""What a person reads is spelled and worded as docs/writing.md says: every string there is."""

from __future__ import annotations

import re
from collections.abc import Sequence
from pathlib import Path

import pytest
from collected import Said, all_said, markdown_of
from rules import findings

from maple_rook import front_end

WORDS = Path(__file__).parent / "words.txt"
_UNKNOWN = re.compile(r":(\d+):\d+ - Unknown word \((.+?)\)")


@pytest.fixture(scope="module")
def said() -> list[Said]:
    front_end.ensure_packages(lambda _: None)
    return all_said()


def misspelled(strings: Sequence[Said]) -> list[str]:
    """Words that neither the British dictionary nor the list of the trade has (cspell)."""
    listed = front_end.WEB / "said.tmp.txt"
    listed.write_text("\n".join(one.text for one in strings))
    try:
        printed = front_end.npm("run", "--silent", "spelling", "--", listed.name)
    finally:
        listed.unlink()
    return [f"{strings[int(line) - 1]}: {word}" for line, word in _UNKNOWN.findall(printed)]


def test_every_string_is_collected(said: list[Said]) -> None:
    """A handful from every place that strings come from: a collector that lost one would pass."""
    texts = {one.text for one in said}
    assert len(texts) > 6_000
    for known in (
        "Save the protocol",  # an element
        "No knife matches these filters",  # a property
        "The server does not answer.",  # a script
        "Confirm your password first.",  # the server
        "Wash it before first use.",  # a sentence of the core
        "Maple Rook: measure knives, keep the record, compare them.",  # a command
        "Predicted cutting ease is {cutting_ease}, an ordinary knife being 100.",
    ):
        assert known in texts, known
    assert {"README.md", "docs/operations.md", "CHANGELOG.md"} <= {one.file for one in said}


def test_everything_is_worded_as_the_style_sheet_says(said: list[Said]) -> None:
    assert list(findings(said)) == []


def test_everything_is_spelled_as_the_dictionaries_have_it(said: list[Said]) -> None:
    assert misspelled(said) == []


def test_the_list_of_words_holds_none_that_nobody_uses(said: list[Said]) -> None:
    used = {w.casefold() for one in said for w in re.findall(r"[^\W\d_]+", one.text)}
    listed = [w for w in WORDS.read_text().split("\n") if w and not w.startswith("#")]
    assert [w for w in listed if w.casefold() not in used] == []
    assert listed == sorted(listed, key=str.casefold)


CHANGED = [
    ("Save the protocol", "State it so", "idiom"),
    ("Import them, marked unusual", "bring them in, marked unusual", "import and export"),
    ("Unfinished sheets", "Sheets to take up", "continue"),
    ("It is archived.", "Put it away.", "save, delete"),
    ("3 to 6 months", "3-6 months", "range"),
    ("A stone every 4 months.", "A stone every 4 months!", "exclamation"),
    ("Choose a file to import.", "Please choose a file to import.", "please"),
    ("12 mm of height", "12mm of height", "unit"),
    ("over … % of the edge", "over …% of the edge", "per cent"),
    ("likely 8 times as long as A", "likely 8 times A", "times as much"),
    ("Recalculate the shelf", "Recalulate the shelf", "Recalulate"),
    ("The colour of the handle", "The color of the handle", "color"),
    ("The value is missing.", "pydantic says: value is missing.", "library"),
]


def test_strings_that_are_changed_for_the_worse_are_caught() -> None:
    good = [Said("web/src/x.vue", n, one) for n, (one, _, _) in enumerate(CHANGED)]
    assert [*findings(good), *misspelled(good)] == []
    bad = [Said("web/src/x.vue", n, one) for n, (_, one, _) in enumerate(CHANGED)]
    found = [*findings(bad), *misspelled(bad)]
    for one, (_, _, told) in zip(bad, CHANGED, strict=True):
        assert any(line.startswith(f"{one}") and told in line for line in found), one


def test_code_and_addresses_in_documents_are_not_read_as_prose() -> None:
    text = (
        "Set `MAPLE_ROOK_HOME` as [said](docs/xyzzy.md).\n\n    ./rook xyzzy\n\n```\nxyzzy\n```\n"
    )
    assert [one.text for one in markdown_of("a.md", text)] == ["Set … as said ."]
