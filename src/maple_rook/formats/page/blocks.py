"""What a page holds, whatever it is written as: headings, paragraphs, tables, drawings.

A published page is kept as such a document, so that it reads the same for good, in every format.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping
from types import MappingProxyType
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field


class Run(BaseModel):
    """A stretch of text; ``figure`` is the key of a figure it says, ``grade`` how that is known."""

    text: str
    figure: str = ""
    grade: str = ""


class Heading(BaseModel):
    kind: Literal["heading"] = "heading"
    key: str
    text: str


Tone = Literal["text", "own", "note", "caution", "for", "against"]


class Paragraph(BaseModel):
    """Text; ``own`` is in the author's words, the rest is drawn from the record."""

    kind: Literal["paragraph"] = "paragraph"
    runs: list[Run]
    tone: Tone = "text"

    @property
    def text(self) -> str:
        return "".join(run.text for run in self.runs)


class Bullets(BaseModel):
    kind: Literal["bullets"] = "bullets"
    items: list[list[Run]]
    tone: Tone = "text"


class Cell(BaseModel):
    """A cell of a table; ``value`` is what it is sorted by, ``href`` a page it leads to, named
    from the shop's root (``/p/…``).
    """

    text: str
    value: float | None = None
    grade: str = ""
    href: str = ""

    def href_from(self, root: str) -> str:
        """The same where ``root`` leads to the shop's root: ``../`` or a whole address.

        >>> Cell(text="A", href="/p/a").href_from("https://knives.example/shop/")
        'https://knives.example/shop/p/a'
        """
        return f"{root}{self.href.removeprefix('/')}"


class TableBlock(BaseModel):
    """A table; columns in ``numbers`` stand at the right, ``sortable`` ones can be put in order."""

    kind: Literal["table"] = "table"
    key: str
    caption: str
    head: list[str]
    rows: list[list[Cell]]
    numbers: list[int] = []
    sortable: bool = False


class Drawing(BaseModel):
    """An SVG document of our own, and what it shows for who cannot see it."""

    kind: Literal["drawing"] = "drawing"
    key: str
    svg: str
    alt: str
    caption: str = ""


class PhotoBlock(BaseModel):
    """A photograph: ``version`` names its picture and crop, which later crops do not change."""

    kind: Literal["photo"] = "photo"
    photograph_id: int
    version: str
    crop: list[float] | None
    width_px: int
    height_px: int
    alt: str
    caption: str = ""
    credit: str = ""

    @property
    def said(self) -> str:
        """Caption and credit in a line."""
        credit = f"Photograph: {self.credit}" if self.credit else ""
        return " ".join(filter(None, (self.caption, credit)))


Block = Annotated[
    Heading | Paragraph | Bullets | TableBlock | Drawing | PhotoBlock, Field(discriminator="kind")
]
Photographs = Mapping[str, bytes]
"""Pictures of a page's photographs by version, for formats that hold them."""
NO_PHOTOGRAPHS: Photographs = MappingProxyType({})


class HowFigure(BaseModel):
    """How one figure was measured: readings, method, instruments with what is known of them, U."""

    key: str
    label: str
    text: str
    readings: int
    methods: list[str]
    instruments: list[str]


class HowMeasured(BaseModel):
    """How a knife was measured: days, people only where chosen, and its figures."""

    tag: str
    name: str
    days: list[str]
    people: list[str] = []
    figures: list[HowFigure]


class Shown(BaseModel):
    """A figure as the page says it, for what is told of later changes."""

    piece_id: int
    key: str
    label: str
    text: str
    unit: str = ""
    central: float | None = None
    expanded: float = 0.0


class PageDocument(BaseModel):
    """A page as it is published; ``published_on`` is a day, ``disclosure`` sentences."""

    format: Literal["maple-rook-page"] = "maple-rook-page"
    version: Literal[1] = 1
    kind: str
    title: str
    summary: str
    by: str
    shop: str
    published_on: str
    blocks: list[Block]
    disclosure: list[str] = []
    cautions: list[str] = []
    how: list[HowMeasured] = []
    figures: list[Shown] = []
    json_ld: dict[str, Any] = {}

    @property
    def fingerprint(self) -> str:
        """Of the figures: another one as soon as any of them is said otherwise.

        >>> page = PageDocument(kind="review", title="", summary="", by="", shop="",
        ...     published_on="2026-11-30", blocks=[])
        >>> page.fingerprint
        'e3b0-c442-98fc'
        """
        said = "\n".join(f"{f.piece_id} {f.key} {f.text}" for f in self.figures)
        digest = hashlib.sha256(said.encode()).hexdigest()
        return "-".join(digest[i : i + 4] for i in (0, 4, 8))

    @property
    def own_words(self) -> bool:
        """Whether some of a review is in its author's words, so that it has to be told apart."""
        return any(isinstance(block, Paragraph) and block.tone == "own" for block in self.blocks)

    def photographs(self) -> Iterator[PhotoBlock]:
        return (block for block in self.blocks if isinstance(block, PhotoBlock))

    def drawings(self) -> Iterator[Drawing]:
        return (block for block in self.blocks if isinstance(block, Drawing))
