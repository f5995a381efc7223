"""A comparison of two to six knives or models, as they lay on the Board, for readers."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from maple_rook.answers.drawings import ON_SCREEN, View, drawn
from maple_rook.comparing.charts import force_chart
from maple_rook.comparing.compare import compare
from maple_rook.comparing.laid import LETTERS
from maple_rook.comparing.schemas import BoardKnife, BoardOut, Difference, LaidIn
from maple_rook.core.choosing.comparing import Verdict
from maple_rook.core.choosing.verdict import customer
from maple_rook.core.edge_life.retention import Use
from maple_rook.core.measurement.wording import interval_text, listed, lower_first
from maple_rook.core.upkeep.cautions import Place, general
from maple_rook.documents.knife_document import knife_document
from maple_rook.formats.json_ld import collection
from maple_rook.formats.page.blocks import Block, Cell, Drawing, PageDocument, TableBlock
from maple_rook.http.problems import Conflict
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.pages.building import (
    day_text,
    glossary,
    heading,
    introduction,
    paragraph,
    shop_line,
    shown,
    summary_of,
)
from maple_rook.stations.pages.facts import PageFacts, facts_of, how_measured
from maple_rook.stations.pages.schemas import ComparisonContent, ComparisonPart

_EDGE_LIFE = ("days_to_rod", "months_to_stone", "card_test")


@dataclass(frozen=True)
class Compared:
    """What a comparison is put together from; ``names`` by letter, ``pages`` title and address."""

    db: Session
    content: ComparisonContent
    board: BoardOut
    facts: Sequence[PageFacts]
    names: Sequence[str]
    pages: Sequence[tuple[str, str]]
    foods: Mapping[str, str]


def compared(
    db: Session,
    shelf: Shelf,
    content: ComparisonContent,
    pages: Callable[[Sequence[int]], Sequence[tuple[str, str]]],
) -> Compared:
    """Look at what is compared.

    Parameters
    ----------
    db : the session the caller commits.
    shelf : the shelf as this process knows it.
    content : what was chosen and written.
    pages : title and address of what is published of pieces.
    """
    ids = list(dict.fromkeys(content.laid.pieces))
    board = compare(db, shelf, named(content.laid))
    facts = facts_of(db, shelf, ids)
    foods, _ = shelf.models(content.laid.basis)
    return Compared(
        db,
        content,
        board,
        facts,
        names_of(db, shelf, content.laid),
        pages(ids),
        {food.key: food.label for food in foods},
    )


_COOKS = {Use.HOME: "home cook", Use.KEEN: "keen cook", Use.PROFESSIONAL: "professional cook"}


def named(laid: LaidIn) -> LaidIn:
    """What is compared, for a customer whom readers can make something of.

    >>> named(LaidIn(pieces=[1, 2])).profile.label
    'home cook'
    """
    profile = laid.profile
    if profile.label:
        return laid
    label = _COOKS[profile.use]
    return laid.model_copy(update={"profile": profile.model_copy(update={"label": label})})


def comparison(of: Compared, title: str, day: dt.date | None) -> PageDocument:
    """The comparison as it reads now; ``day`` is of publishing, None for a draft."""
    blocks: list[Block] = introduction(of.content)
    blocks.append(_knives(of))
    for part in of.content.parts:
        blocks += _PARTS[part](of)
    shop = of.facts[0].shop
    keys = {row.key for row in of.board.differences if row.grade == "M"}
    how = [how_measured(of.db, facts, keys, people=of.content.show_people) for facts in of.facts]
    told = {row.key for row in of.board.differences}
    summary = summary_of([s.text for s in of.board.verdict.sentences][:2] or list(of.names))
    return PageDocument(
        kind=of.content.kind,
        title=title,
        summary=summary,
        by=of.content.by,
        shop=shop_line(shop),
        published_on=day_text(day),
        blocks=blocks,
        cautions=general(Place.COUNTER),
        how=[h for h in how if h.figures],
        figures=[
            figure
            for facts in of.facts
            for figure in shown(
                facts.knife.piece.id, [f for key, f in facts.figures.items() if key in told]
            )
        ],
        json_ld=dict(
            collection(
                title,
                summary,
                shop.name,
                day_text(day),
                [
                    knife_document(f.knife, shop.currency, {*told, "price", "making"}).model_dump()
                    for f in of.facts
                ],
            )
        ),
    )


def usual_title(names: Sequence[str]) -> str:
    """
    >>> usual_title(["Gyuto 210", "Santoku 165"])
    'Gyuto 210 and Santoku 165 compared'
    """
    return f"{listed(list(names))} compared"


def _knives(of: Compared) -> TableBlock:
    rows = [
        [
            Cell(text=letter),
            Cell(text=name),
            Cell(text=_made_of(knife)),
            Cell(text=facts.figures["price"].text if "price" in facts.figures else ""),
        ]
        for letter, name, knife, facts in zip(
            LETTERS, of.names, of.board.knives, of.facts, strict=False
        )
    ]
    return TableBlock(
        key="knives",
        caption="Compared here, by letter.",
        head=["", "knife", "made of", "price"],
        rows=rows,
        numbers=[3],
    )


def _made_of(knife: BoardKnife) -> str:
    return ", ".join(filter(None, (knife.piece.construction, knife.piece.steel)))


def _verdict(of: Compared) -> list[Block]:
    who = customer(named(of.content.laid).profile.core())
    return [
        heading("verdict", f"Verdict for {who}"),
        *(paragraph(s.text) for s in of.board.verdict.sentences),
    ]


def _overlay(of: Compared, view: View, key: str, title: str, caption: str) -> list[Block]:
    try:
        svg = drawn(of.db, [f.knife.piece.id for f in of.facts], view, ON_SCREEN)
    except Conflict:  # nothing of it is measured
        return []
    letters = ", ".join(f"{a} {name}" for a, name in zip(LETTERS, of.names, strict=False))
    alt = f"{title}: {letters}"
    return [heading(key, title), Drawing(key=key, svg=svg, alt=alt, caption=caption)]


def _outlines(of: Compared) -> list[Block]:
    caption = "Outlines over each other, heels together; the bar is 50 mm. " + _lines(of)
    return _overlay(of, View.ELEVATION, "outlines", "Outlines", caption)


def _sections(of: Compared) -> list[Block]:
    caption = "Sections at the heel over each other, enlarged. " + _lines(of)
    return _overlay(of, View.SECTION, "sections", "Sections", caption)


_PATTERNS = ("solid", "dashed", "dotted", "dash-dot", "long dashes", "dash-dot-dot")


def _lines(of: Compared) -> str:
    """Which line is whose, in words as well as in colour."""
    told = [
        f"{letter} {line}" for letter, line, _ in zip(LETTERS, _PATTERNS, of.names, strict=False)
    ]
    return f"Lines: {', '.join(told)}."


def _differences(of: Compared) -> list[Block]:
    order = {key: n for n, key in enumerate(of.board.verdict.order)}
    told = [r for r in of.board.differences if r.verdict is not Verdict.NOT_MEASURABLE]
    told.sort(key=lambda row: order.get(row.key, len(order)))
    same = [lower_first(r.label) for r in of.board.differences if r not in told]
    letters = list(LETTERS[: len(of.names)])
    blocks: list[Block] = [heading("differences", "What differs")]
    if told:
        blocks.append(
            TableBlock(
                key="differences",
                caption="What differs by more than measuring it allows for, "
                "what matters most first.",
                head=["", *letters, "largest difference"],
                rows=[_row(row) for row in told],
                numbers=list(range(1, len(letters) + 1)),
            )
        )
    if same:
        blocks.append(paragraph(f"Same within measurement: {', '.join(same)}.", "note"))
    return blocks


def _row(row: Difference) -> list[Cell]:
    per_side = row.unit == "dps"
    unit = "°" if per_side else f" {row.unit}" if row.unit else ""
    label = f"{lower_first(row.label)}{', per side' if per_side else ''}"
    cells = [
        Cell(text="not measured")
        if figure is None
        else Cell(text=f"{figure.text}{unit}".replace("-", "−"), value=figure.mean, grade=row.grade)
        for figure in row.values
    ]
    return [Cell(text=label), *cells, Cell(text=row.largest)]


def _force(of: Compared) -> list[Block]:
    food = of.content.food
    name = of.foods.get(food, food)
    curve = next((c for c in of.board.curves if c.food == food and c.stroke == "push"), None)
    svg = None if curve is None else force_chart(curve, name, list(LETTERS[: len(of.names)]))
    rows = [
        [Cell(text=label), *(_predicted(knife, f"force.{key}.push") for knife in of.board.knives)]
        for key, label in of.foods.items()
    ]
    blocks: list[Block] = [heading("force", "Force to cut")]
    if svg:
        alt = f"Force against depth in {name}, a line for each knife"
        caption = f"Likely force of a straight push through {name}. {_lines(of)}"
        blocks.append(Drawing(key="force", svg=svg, alt=alt, caption=caption))
    blocks.append(
        _table("forces", "Predicted force of a straight push, N, limits of 90 %.", of, rows)
    )
    return blocks


def _edge_life(of: Compared) -> list[Block]:
    rows = [
        [
            Cell(text=lower_first(_named(of.board.knives[0], key))),
            *(_predicted(knife, key) for knife in of.board.knives),
        ]
        for key in _EDGE_LIFE
    ]
    caption = "Predicted edge life in the kitchen compared for, limits of 90 %."
    return [heading("edge_life", "Edge life"), _table("edge-life", caption, of, rows)]


def _named(knife: BoardKnife, key: str) -> str:
    return next(p.label for p in knife.predictions if p.key == key)


def _predicted(knife: BoardKnife, key: str) -> Cell:
    p = next(p for p in knife.predictions if p.key == key)
    if p.central is None or p.low is None or p.high is None:
        return Cell(text="not predicted")
    text = interval_text(p.central, p.low, p.high, p.unit)
    return Cell(text=text, value=p.central, grade=p.grade)


def _table(key: str, caption: str, of: Compared, rows: list[list[Cell]]) -> TableBlock:
    letters = list(LETTERS[: len(of.names)])
    numbers = list(range(1, len(letters) + 1))
    return TableBlock(key=key, caption=caption, head=["", *letters], rows=rows, numbers=numbers)


def _pages(of: Compared) -> list[Block]:
    if not of.pages:
        return []
    rows = [[Cell(text=title, href=address)] for title, address in of.pages]
    table = TableBlock(key="pages", caption="Read on", head=["page"], rows=rows)
    return [heading("pages", "More about these knives"), table]


def _glossary(_: Compared) -> list[Block]:
    return glossary()


_PARTS: dict[ComparisonPart, Callable[[Compared], list[Block]]] = {
    "verdict": _verdict,
    "outlines": _outlines,
    "sections": _sections,
    "differences": _differences,
    "force": _force,
    "edge_life": _edge_life,
    "pages": _pages,
    "glossary": _glossary,
}


def names_of(db: Session, shelf: Shelf, laid: LaidIn) -> list[str]:
    """What is compared, by name."""
    knives = shelf.knives(db, list(dict.fromkeys(laid.pieces)))
    models = [k.model for k in knives]
    alone = laid.models or len(set(models)) == len(models)
    return models if alone else [k.piece.name for k in knives]
