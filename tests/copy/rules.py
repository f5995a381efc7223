"""What docs/writing.md says, as far as a program can check it."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from collected import Said

SCREENS = ("web/", "src/")
EVERYWHERE = ("",)


@dataclass(frozen=True)
class Rule:
    """A pattern that no string may match, and what to write instead."""

    name: str
    pattern: re.Pattern[str]
    instead: str
    where: tuple[str, ...] = EVERYWHERE
    but: frozenset[str] = field(default_factory=frozenset)
    """Files that it does not hold for."""

    def finds(self, said: Said) -> bool:
        return (
            said.file.startswith(self.where)
            and said.file not in self.but
            and self.pattern.search(said.text) is not None
        )


def _rule(name: str, pattern: str, instead: str, *where: str, but: Iterable[str] = ()) -> Rule:
    found = re.compile(pattern, re.IGNORECASE)
    return Rule(name, found, instead, where or EVERYWHERE, frozenset(but))


_STYLE_SHEET = ("docs/writing.md",)
_SURVEY = ("docs/photos.md",)  # a table that a program prints
RULES = (
    _rule("exclamation mark", r"[a-z]!(\s|$)", "a full stop", but=_STYLE_SHEET),
    _rule("please", r"\bplease\b", "say what to do", but=_STYLE_SHEET),
    _rule("abbreviation", r"\b(e\.g\.|i\.e\.|etc\.)", "such as, that is", but=_STYLE_SHEET),
    _rule(
        "archaism",
        r"\b(afresh|hitherto|whereby|thereof|whilst|nought|betwixt|amongst|henceforth)\b",
        "the word people use",
    ),
    _rule(
        "range with a hyphen",
        r"\d-\d+ (days|weeks|months|years|minutes|hours)\b",
        "3 to 6 months",
        but=_STYLE_SHEET,
    ),
    _rule(
        "unit without a space",
        r"(?<![\w{#])\d+(mm|cm|kg|gf|kB|MB|GB)\b",
        "46 mm",
        but=_SURVEY,
    ),
    _rule("per cent without a space", r"(?<![\w.%])(\d+|…)%(?![\w-])", "5 %"),
    _rule("three dots", r"\w\.\.\.(\s|$)", "an ellipsis, or a full stop", but=_STYLE_SHEET),
    _rule("doubled word", r"\b(the|a|an|of|to|is|and|that|for) \1\b", "the word once"),
    _rule("library", r"\b(pydantic|sqlalchemy|fastapi|vuetify)\b", "what happened", *SCREENS),
    _rule(
        "import and export",
        r"^(?!brought in$).*\b(bring|brings|bringing|brought) (it |them |a \w+ )?in\b(?! order)|"
        r"\btakes? them out\b",
        "import, export",
        *SCREENS,
        but=("web/src/stations/exchange/BringIn.vue",),  # a code of the API
    ),
    _rule(
        "continue, resume, count again",
        r"\b(take|taken) (it|this sheet|that sheet)? ?up( again)?\b|\bsheets to take up\b",
        "continue it",
        "web/",
    ),
    _rule(
        "save, delete, remove, archive",
        r"\b(put|take|throw) (it|them|this \w+) away\b|\bput away\b|\bforget (the|this|for)\b",
        "archive it, remove it, delete it",
        "web/",
    ),
    _rule(
        "idiom",
        r"say it so|show it so|state it so|lay (it|them) down|all the same\?|once more$|"
        r"none to speak of|speaks for it|gives up:|be whom you|of the found|as before\b|"
        r"nothing contradicts|nothing stated|no page for others|do not belong together|"
        r"does not count any more|nobody sends|\bgiven? into\b|is silent yet|fold away|"
        r"a guess: look",
        "plain words; see docs/writing.md",
        "web/",
    ),
    _rule(
        "times as much",
        r"\blikely \d+ times [A-F]\b|\d times \{",
        "9 times as much as B",
        *SCREENS,
        but=_STYLE_SHEET,
    ),
    _rule(
        "protocol",
        r"not a line of|a greeting that is not|connecting again|nothing answers",
        "what happened, in words of the reader",
        "src/",
    ),
)


def findings(strings: Iterable[Said]) -> Iterator[str]:
    """Everything that a rule finds, one line each."""
    for said in strings:
        for rule in RULES:
            if rule.finds(said):
                yield f"{said}\n    {rule.name}: {rule.instead}"
