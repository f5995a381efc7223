"""A page as HTML: whole for a browser, or a fragment with its own styles for another site."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any
from urllib.parse import urljoin

from jinja2 import Environment, PackageLoader, select_autoescape
from markupsafe import Markup, escape

from maple_rook.formats.inks import (
    BLADE,
    DARK,
    HAIRLINE,
    HANDLE,
    INK,
    INKS,
    PAPER,
    PATINA,
    PLUM,
    RUST,
    SOFT,
)
from maple_rook.formats.page.blocks import Cell, Drawing, PageDocument, Run, TableBlock
from maple_rook.formats.page.plain import closing
from maple_rook.formats.paper import qr_svg

HTML_TYPE = "text/html"
_TEMPLATES = Environment(
    loader=PackageLoader("maple_rook.formats.page"),
    autoescape=select_autoescape(),
    trim_blocks=True,
    lstrip_blocks=True,
)
_NAMES = {
    "ink": INK,
    "soft": SOFT,
    "hairline": HAIRLINE,
    "panel": PAPER,
    "blade": BLADE,
    "handle": HANDLE,
    "rust": RUST,
    "predicted": PLUM,
    "measured": PATINA,
    **{f"knife-{letter}": hue for letter, hue in zip("abcdef", INKS, strict=True)},
}
_VARIABLE = {hue: f"var(--mr-{name})" for name, hue in reversed(_NAMES.items())}
_GRADES = {"M": "measured", "G": "derived"}


def colours(*, dark: bool) -> str:
    """The colours of a page as custom properties, of either scheme."""
    return "".join(f"--mr-{name}:{DARK[hue] if dark else hue};" for name, hue in _NAMES.items())


def inline(drawing: Drawing) -> Markup:
    """A drawing of our own inside a page, in the page's colours."""
    svg = drawing.svg[drawing.svg.index("<svg") :]
    svg = re.sub(r"<title>.*?</title>", "", svg, count=1, flags=re.DOTALL)
    svg = re.sub(r"#[0-9a-f]{6}", lambda hue: _VARIABLE.get(hue[0], hue[0]), svg)
    svg = re.sub(r'(<svg[^>]*?) width="[^"]*" height="[^"]*"', r"\1", svg, count=1)
    svg = svg.replace(' font-family="sans-serif"', "", 1)  # its words are in the page's font
    # presentation attributes do not take variables; styles do
    svg = re.sub(r'(fill|stroke)="(var\([^"]*\))"', r'style="\1:\2"', svg)
    svg = _one_style(svg)
    named = f'<svg role="img" aria-label="{escape(drawing.alt)}"'
    return Markup(svg.replace("<svg", named, 1))  # nosec B704 - our own SVG, its texts escaped


def _one_style(svg: str) -> str:
    """An element may have one style attribute: what stands in several is joined."""

    def joined(tag: re.Match[str]) -> str:
        styles = re.findall(r' style="([^"]*)"', tag[0])
        if len(styles) < 2:
            return tag[0]
        bare = re.sub(r' style="[^"]*"', "", tag[0])
        end = "/>" if bare.endswith("/>") else ">"
        return f'{bare[: -len(end)].rstrip()} style="{";".join(styles)}"{end}'

    return re.sub(r"<[a-z][^<>]*>", joined, svg)


def grade_class(part: Run | Cell) -> str:
    return f"mr-{_GRADES.get(part.grade, 'predicted')}" if part.grade else ""


_TEMPLATES.globals |= {"inline": inline, "grade_class": grade_class, "closing": closing}


@dataclass(frozen=True)
class Order:
    """By which column of a sortable table its rows stand; None as they were published."""

    column: int | None = None
    down: bool = False

    def of(self, page: PageDocument) -> PageDocument:
        """The page with its sortable tables in this order."""
        column = self.column
        if column is None:
            return page
        blocks = [
            put_in_order(block, column, down=self.down)
            if isinstance(block, TableBlock) and block.sortable and column < len(block.head)
            else block
            for block in page.blocks
        ]
        return page.model_copy(update={"blocks": blocks})


@dataclass(frozen=True)
class Around:
    """What stands around a published page: its address, the short one of how it was measured, the
    feed; ``framed`` where it is shown in a frame of another page. A draft has none of it. ``root``
    leads from the page to the shop's root, which may be below a path.
    """

    url: str = ""
    short: str = ""
    feed: str = ""
    sort: Order | None = None
    framed: bool = False
    root: str = "../"

    @property
    def photographs(self) -> str:
        """Where photographs are: below the page, or for a draft the shop's own."""
        return f"{self.url}/photographs" if self.url else f"{self.root}api/photographs"


def whole(page: PageDocument, around: Around) -> str:
    """A page for a browser."""
    code = Markup(qr_svg(around.short)) if around.short and not around.framed else ""  # nosec B704
    return _TEMPLATES.get_template("page.html").render(
        page=page,
        around=around,
        root=around.root,
        code=code,
        sort=around.sort,
        light=Markup(colours(dark=False)),  # nosec B704 - our colours
        dark=Markup(colours(dark=True)),  # nosec B704
        json_ld=script_json(page.json_ld | ({"url": around.url} if around.url else {})),
    )


def fragment(page: PageDocument, address: str) -> str:
    """The page to be put into another page: one element with styles that touch nothing else."""
    return _TEMPLATES.get_template("fragment.html").render(
        page=page,
        root=urljoin(address, "../"),
        light=Markup(colours(dark=False)),  # nosec B704 - our colours
        address=address,
        json_ld=script_json(page.json_ld),
    )


def how(page: PageDocument, url: str, root: str) -> str:
    """How the figures of a page were measured; ``root`` leads from there to the shop's root."""
    return _TEMPLATES.get_template("how.html").render(
        page=page,
        root=root,
        url=url,
        light=Markup(colours(dark=False)),  # nosec B704 - our colours
        dark=Markup(colours(dark=True)),  # nosec B704
    )


def script_json(of: Mapping[str, Any]) -> Markup:
    """JSON that may stand in a script element: no ``<`` in it."""
    text = json.dumps(of, ensure_ascii=True).replace("<", "\\u003c")
    return Markup(text)  # nosec B704 - no < is left in it


def put_in_order(table: TableBlock, column: int, *, down: bool) -> TableBlock:
    """The table sorted by a column; rows without a figure stay last."""

    def key(row: list[Cell]) -> tuple[bool, float, str]:
        cell = row[column]
        missing = cell.value is None and not cell.text
        if cell.value is None:
            return missing, 0.0, cell.text.casefold()
        return missing, -cell.value if down else cell.value, ""

    texts = all(row[column].value is None for row in table.rows)
    rows = sorted(table.rows, key=key)
    if texts and down:
        rows.reverse()
    return table.model_copy(update={"rows": rows})
