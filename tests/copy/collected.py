"""Every string that a person may read: of the front end, the server, commands and documents."""

from __future__ import annotations

import ast
import json
import re
from collections.abc import Iterator
from dataclasses import dataclass

from maple_rook import front_end
from maple_rook.settings import PROJECT_ROOT

PACKAGE = PROJECT_ROOT / "src" / "maple_rook"
NOT_READ = (
    *("store/migrations", "demo/", "typed_cases.py", "cluster.py", "suite.py"),
    "http/security_headers.py",
    *("formats/incoming/vocabulary.py", "formats/incoming/money.py"),
    *("formats/incoming/headings.py", "formats/card_words.py"),
)
"""What holds SQL, invented names, words for other programs, or other languages."""
DOCUMENTS = ("README.md", "CHANGELOG.md", "CONTRIBUTING.md", "SECURITY.md", "docs/**/*.md")
_WORDS = re.compile(r"[^\W\d_]{2,}\W+[^\W\d_]{2,}|^[A-Z][a-z]+ ")
_NOT_PROSE = re.compile(
    r"^(SELECT|INSERT|UPDATE|CREATE|DROP|ALTER|GRANT|WITH|SET|EXISTS)\b|[{}<>]{2}|::|\\[dw]|%s"
)


@dataclass(frozen=True)
class Said:
    """A string, and where it stands; an ellipsis is what is put in when it is shown."""

    file: str
    line: int
    text: str

    def __str__(self) -> str:
        return f"{self.file}:{self.line}: {self.text}"


def all_said() -> list[Said]:
    return [*of_the_front_end(), *of_the_server(), *of_documents()]


def of_the_front_end() -> list[Said]:
    printed = front_end.npm("run", "--silent", "copy")
    return [Said(**one) for one in json.loads(printed)]


def of_the_server() -> Iterator[Said]:
    """Literals of two words or more, and the text of f-strings."""
    for path in sorted(PACKAGE.rglob("*.py")):
        name = path.relative_to(PACKAGE).as_posix()
        if name.startswith(NOT_READ):
            continue
        yield from _of_module(f"src/maple_rook/{name}", path.read_text())


def _of_module(file: str, source: str) -> Iterator[Said]:
    tree = ast.parse(source)
    inner: set[int] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            inner.add(id(node.value))  # a docstring
        elif isinstance(node, ast.JoinedStr):
            inner |= {id(part) for part in ast.walk(node) if part is not node}
    for node in ast.walk(tree):
        if id(node) in inner:
            continue
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            text = node.value
        elif isinstance(node, ast.JoinedStr):
            text = "".join(map(_part, node.values))
        else:
            continue
        text = " ".join(text.split())
        if " " in text and _WORDS.search(text) and not _NOT_PROSE.search(text):
            yield Said(file, node.lineno, text)


def _part(node: ast.expr) -> str:
    """A part of an f-string; what is put in with the format of per cent brings its own sign."""
    if isinstance(node, ast.Constant):
        return str(node.value)
    spec = getattr(node, "format_spec", None)
    return "…%" if spec is not None and ast.unparse(spec).rstrip("'\"").endswith("%") else "…"


def of_documents() -> Iterator[Said]:
    """Paragraphs, items and cells of Markdown, without code and addresses."""
    for pattern in DOCUMENTS:
        for path in sorted(PROJECT_ROOT.glob(pattern)):
            yield from markdown_of(path.relative_to(PROJECT_ROOT).as_posix(), path.read_text())


def markdown_of(file: str, text: str) -> Iterator[Said]:
    """The prose of a document, line by line."""
    fenced = False
    for number, line in enumerate(text.splitlines(), 1):
        if line.startswith("```"):
            fenced = not fenced
        if fenced or line.startswith(("    ", "```")):
            continue
        plain = re.sub(r"`[^`]*`", "…", line)
        plain = re.sub(r"\]\([^)]*\)|<[^>]+>|[\[*_|#]", " ", plain)
        if plain.strip():
            yield Said(file, number, " ".join(plain.split()))
