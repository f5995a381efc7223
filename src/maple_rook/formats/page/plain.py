"""A page as Markdown and as plain text for a newsletter."""

from __future__ import annotations

import re
import textwrap
from collections.abc import Iterator, Sequence
from urllib.parse import urljoin

from maple_rook.formats.page.blocks import (
    Block,
    Bullets,
    Cell,
    Drawing,
    Heading,
    PageDocument,
    Paragraph,
    PhotoBlock,
    Run,
    TableBlock,
)

MARKDOWN_TYPE, TEXT_TYPE = "text/markdown", "text/plain"
_WIDE = 72
_SPECIAL = re.compile(r"([\\`*_\[\]<>#|~])")
_LEADING = re.compile(r"^(\s*)([-+]|\d+[.)])(\s)", re.MULTILINE)
_SIGNS = {"for": "+ ", "against": "- "}


def markdown(page: PageDocument, address: str) -> str:
    """The page as CommonMark with tables; ``address`` is where it is read, its pictures below.

    Whatever the text holds, it stays text: marks of the language are escaped.
    """
    parts = [f"# {_escaped(page.title)}", f"*{_escaped(page.by)}*" if page.by else ""]
    parts += [_in_markdown(block, address) for block in page.blocks]
    if page.disclosure:
        parts += ["## Disclosure", _escaped(" ".join(page.disclosure))]
    parts += [f"> {_escaped(caution)}" for caution in page.cautions]
    parts.append(f"*{_escaped(closing(page))}*")
    return "\n\n".join(filter(None, parts)) + "\n"


def closing(page: PageDocument) -> str:
    """The last line of a page: of which day, by whom, and the mark of its figures."""
    day = page.published_on or "draft"
    return f"{page.shop}, {day}. Mark of its figures: {page.fingerprint}."


def _escaped(text: str) -> str:
    return _LEADING.sub(r"\1\\\2\3", _SPECIAL.sub(r"\\\1", text))


def _runs(runs: Sequence[Run]) -> str:
    return "".join(f"**{_escaped(r.text)}**" if r.figure else _escaped(r.text) for r in runs)


def _in_markdown(block: Block, address: str) -> str:
    match block:
        case Heading():
            return f"## {_escaped(block.text)}"
        case Paragraph():
            return _runs(block.runs)
        case Bullets():
            return "\n".join(f"- {_runs(item)}" for item in block.items)
        case TableBlock():
            rule = ["---:" if i in block.numbers else "---" for i in range(len(block.head))]
            rows = [[_escaped(name) for name in block.head], rule]
            rows += [[_cell(cell, urljoin(address, "../")) for cell in row] for row in block.rows]
            return "\n".join(f"| {' | '.join(row)} |" for row in rows)
        case Drawing():
            caption = f"\n\n*{_escaped(block.caption)}*" if block.caption else ""
            return f"![{_escaped(block.alt)}]({address}/drawings/{block.key}.svg){caption}"
        case PhotoBlock():
            caption = f"\n\n*{_escaped(block.said)}*" if block.said else ""
            picture = f"{address}/photographs/{block.version}/960.jpeg"
            return f"![{_escaped(block.alt)}]({picture}){caption}"


def _cell(cell: Cell, root: str) -> str:
    text = _escaped(cell.text).replace("\n", " ")
    return f"[{text}]({cell.href_from(root)})" if cell.href and text else text


def plain_text(page: PageDocument, address: str) -> str:
    """The page as text of at most 72 characters a line, with where to find it at the end."""
    lines = [page.title, "=" * min(len(page.title), _WIDE), *([page.by] if page.by else [])]
    for block in page.blocks:
        lines += ["", *_in_text(block)]
    if page.disclosure:
        lines += ["", *_wrapped(" ".join(page.disclosure))]
    for caution in page.cautions:
        lines += ["", *_wrapped(caution)]
    lines += ["", *_wrapped(closing(page)), address]
    return re.sub(r"\n{3,}", "\n\n", "\n".join(lines)) + "\n"


def _wrapped(text: str, first: str = "", rest: str = "") -> list[str]:
    return textwrap.wrap(
        text, _WIDE, initial_indent=first, subsequent_indent=rest, break_long_words=False
    )


def _in_text(block: Block) -> Iterator[str]:
    match block:
        case Heading():
            yield block.text
            yield "-" * min(len(block.text), _WIDE)
        case Paragraph():
            for line in block.text.split("\n"):
                yield from _wrapped(line)
        case Bullets():
            sign = _SIGNS.get(block.tone, "* ")
            for item in block.items:
                yield from _wrapped("".join(run.text for run in item), sign, "  ")
        case TableBlock():
            yield from _wrapped(block.caption)
            for row in block.rows:
                named = zip(block.head[1:], row[1:], strict=True)
                said = "; ".join(f"{name} {c.text}".strip() for name, c in named if c.text)
                yield from _wrapped(f"{row[0].text}: {said}", "* ", "  ")
        case Drawing():
            yield from _wrapped(f"[{block.alt}]")
        case PhotoBlock():
            yield from _wrapped(f"[{block.alt}] {block.said}".rstrip())
