"""Parts that pages of every kind are put together from."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Sequence

from maple_rook.core.writing.fields import LiveFigure, Words
from maple_rook.formats.page.blocks import Block, Bullets, Heading, Paragraph, Run, Shown, Tone
from maple_rook.stations.pages.schemas import PageContent
from maple_rook.store.tables import Shop

GLOSSARY = (
    "± is the expanded uncertainty U, k = 2: the true value lies inside in about 95 of 100 cases.",
    "Grade M is measured on this knife, G derived from what was measured, R predicted by a model "
    "from published tests, P by one from practice.",
    "A prediction is given as limits of 90 % with a likely value: in 90 of 100 cases the knife "
    "should do what lies between them.",
    "Cutting ease is an index: an ordinary knife is 100, a knife at 120 needs a sixth less force.",
    "Months to the stone are for an ordinary home kitchen, with the edge honed in between.",
    "A difference counts as real where it is larger than both uncertainties together allow for.",
)


def runs(words: Iterable[Words]) -> list[Run]:
    return [Run(text=w.text, figure=w.figure, grade=w.grade) for w in words]


def paragraph(text: str, tone: Tone = "text") -> Paragraph:
    return Paragraph(runs=[Run(text=text)], tone=tone)


def heading(key: str, text: str) -> Heading:
    return Heading(key=key, text=text)


def paragraphs(text: str) -> list[str]:
    """A text at its empty lines.

    >>> paragraphs("One.\\n\\n\\nTwo,\\nstill two.")
    ['One.', 'Two,\\nstill two.']
    """
    parts = [part.strip() for part in text.replace("\r", "").split("\n\n")]
    return [part for part in parts if part]


def introduction(content: PageContent) -> list[Block]:
    return [paragraph(text, "own") for text in paragraphs(content.intro)]


def glossary() -> list[Block]:
    items = [[Run(text=text)] for text in GLOSSARY]
    return [heading("how-to-read", "How to read this"), Bullets(items=items)]


def shown(piece_id: int, figures: Sequence[LiveFigure]) -> list[Shown]:
    return [
        Shown(
            piece_id=piece_id,
            key=f.key,
            label=f.label,
            text=f.text,
            unit=f.unit,
            central=f.central,
            expanded=f.expanded,
        )
        for f in figures
    ]


def said_in(blocks: Sequence[Block]) -> list[str]:
    """Keys of the figures that texts of the page say, in order, each once."""
    found: dict[str, None] = {}
    for block in blocks:
        texts = (
            [block.runs]
            if isinstance(block, Paragraph)
            else block.items
            if isinstance(block, Bullets)
            else []
        )
        found |= {run.figure: None for text in texts for run in text if run.figure}
    return list(found)


def shop_line(shop: Shop) -> str:
    return ", ".join(filter(None, (shop.name, shop.place)))


def day_text(day: dt.date | None) -> str:
    return day.isoformat() if day else ""


def summary_of(texts: Sequence[str]) -> str:
    """A line for link previews, cut at a word."""
    text = " ".join(" ".join(texts).split())
    return text if len(text) <= 200 else f"{text[:197].rsplit(' ', 1)[0]}…"
