"""A review of one knife: the draft, the author's words, points, scores and the disclosure."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence, Set
from typing import Any

from sqlalchemy.orm import Session

from maple_rook.answers.drawings import ON_SCREEN, View, drawn
from maple_rook.core.upkeep.cautions import Place, cautions
from maple_rook.core.writing.draft import draft
from maple_rook.core.writing.fields import filled
from maple_rook.core.writing.parts import WriteUpPart
from maple_rook.core.writing.points import Point
from maple_rook.documents.knife_document import knife_document
from maple_rook.formats.json_ld import review as review_ld
from maple_rook.formats.page.blocks import (
    Block,
    Bullets,
    Cell,
    Drawing,
    PageDocument,
    Paragraph,
    PhotoBlock,
    TableBlock,
)
from maple_rook.http.problems import Conflict
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.pages.building import (
    day_text,
    heading,
    introduction,
    paragraphs,
    runs,
    said_in,
    shop_line,
    shown,
    summary_of,
)
from maple_rook.stations.pages.facts import PageFacts, draft_facts, how_measured, proposed
from maple_rook.stations.pages.photographs import blocks_of, of_piece
from maple_rook.stations.pages.schemas import ReviewContent, ReviewPointIn
from maple_rook.store.page_tables import ScoreScale

_DRAWN = {
    "outline": (WriteUpPart.GLANCE, View.ELEVATION, "Outline with dimensions in mm"),
    "section": (WriteUpPart.BLADE, View.SECTION, "Section at the heel, enlarged"),
}


class Proposal:
    """What the record proposes for a review: paragraphs by part, and points."""

    def __init__(self, db: Session, shelf: Shelf, facts: PageFacts) -> None:
        self.facts = facts
        self.points: list[Point] = proposed(db, shelf, facts)
        self.parts: dict[WriteUpPart, list[str]] = draft(draft_facts(db, facts))


def review(
    db: Session,
    content: ReviewContent,
    title: str,
    of: Proposal,
    scales: Mapping[int, ScoreScale],
    day: dt.date | None,
) -> PageDocument:
    """The review as it reads now.

    Parameters
    ----------
    db : the session the caller commits.
    content : what was chosen and written.
    title : of the page.
    of : what the record proposes.
    scales : the shop's, by number.
    day : on which it is published; None for a draft.
    """
    facts = of.facts
    photographs = _photographs(db, content)
    blocks: list[Block] = [*photographs[:1], *introduction(content)]
    for part in content.parts:
        if part.shown:
            blocks += _part(db, content, part.part, part.text, of)
        if part.part is WriteUpPart.GLANCE:
            blocks += _points(content, of) + _scores(content, scales)
    if photographs[1:]:
        blocks += [heading("pictures", "Photographs"), *photographs[1:]]
    said = [facts.figures[key] for key in said_in(blocks) if key in facts.figures]
    measured = how_measured(db, facts, {figure.key for figure in said}, people=content.show_people)
    disclosure = content.disclosure.core()
    summary = summary_of([b.text for b in blocks if isinstance(b, Paragraph)][:2])
    return PageDocument(
        kind=content.kind,
        title=title,
        summary=summary,
        by=content.by,
        shop=shop_line(facts.shop),
        published_on=day_text(day),
        blocks=blocks,
        disclosure=[] if disclosure.missing else disclosure.sentences,
        cautions=_cautions(content, facts),
        how=[measured] if measured.figures else [],
        figures=shown(facts.knife.piece.id, said),
        json_ld=_linked(content, title, of, scales, summary, day, {f.key for f in said}),
    )


def _photographs(db: Session, content: ReviewContent) -> list[PhotoBlock]:
    """The first leads the page, the others follow its parts."""
    return blocks_of(of_piece(db, content.piece_id)) if content.photographs else []


def _part(
    db: Session, content: ReviewContent, part: WriteUpPart, own: str | None, of: Proposal
) -> list[Block]:
    texts = of.parts[part] if own is None else paragraphs(own)
    blocks: list[Block] = [
        Paragraph(runs=runs(filled(text, of.facts.figures)), tone="text" if own is None else "own")
        for text in texts
    ]
    for key in content.drawings:
        where, view, caption = _DRAWN[key]
        if where is part and (drawing := _drawing(db, of.facts, key, view, caption)):
            blocks.insert(0, drawing)
    return [heading(part.value, part.label), *blocks] if blocks else []


def _drawing(db: Session, facts: PageFacts, key: str, view: View, caption: str) -> Drawing | None:
    try:
        svg = drawn(db, [facts.knife.piece.id], view, ON_SCREEN)
    except Conflict:  # nothing of it is measured
        return None
    return Drawing(key=key, svg=svg, alt=f"{caption} of {facts.knife.model}", caption=caption)


def chosen_points(content: ReviewContent, of: Proposal) -> list[ReviewPointIn]:
    """Points as the author left them, or as they are proposed."""
    if content.points is not None:
        return content.points
    return [ReviewPointIn(key=p.key, good=p.good, text=p.text) for p in of.points]


def _points(content: ReviewContent, of: Proposal) -> list[Block]:
    points = chosen_points(content, of)
    blocks: list[Block] = []
    for good, key, name in ((True, "for", "For"), (False, "against", "Against")):
        items = [runs(filled(p.text, of.facts.figures)) for p in points if p.good is good]
        if items:
            tone = "for" if good else "against"
            blocks += [heading(key, name), Bullets(items=items, tone=tone)]
    return blocks


def _scores(content: ReviewContent, scales: Mapping[int, ScoreScale]) -> list[Block]:
    if not content.scores:
        return []
    rows = [
        [
            Cell(text=scales[s.scale_id].name),
            Cell(text=f"{s.value:g} of {scales[s.scale_id].highest}", value=s.value),
            Cell(text=s.why),
            Cell(text=scales[s.scale_id].criteria),
        ]
        for s in content.scores
    ]
    table = TableBlock(
        key="scores",
        caption="Scores are the author's judgement, by the criteria stated.",
        head=["scale", "score", "why", "criteria"],
        rows=rows,
        numbers=[1],
    )
    return [heading("scores", "Scores"), table]


def _cautions(content: ReviewContent, facts: PageFacts) -> list[str]:
    """The cautions, unless the part that has them is shown as drafted."""
    told = any(
        p.part is WriteUpPart.FIRST_USE and p.shown and p.text is None for p in content.parts
    )
    return [] if told else cautions(facts.knife.blade, Place.COUNTER)


def _linked(
    content: ReviewContent,
    title: str,
    of: Proposal,
    scales: Mapping[int, ScoreScale],
    summary: str,
    day: dt.date | None,
    said: Set[str],
) -> dict[str, Any]:
    """The review as linked data, with the figures that the page says and no others."""
    facts = of.facts
    doc = knife_document(facts.knife, facts.shop.currency, {*said, "making"})
    points = chosen_points(content, of)
    return review_ld(
        doc.model_dump(),
        title=title,
        by=content.by or facts.shop.name,
        publisher=facts.shop.name,
        summary=summary,
        day=day_text(day),
        scores=[
            (scales[s.scale_id].name, s.value, scales[s.scale_id].highest) for s in content.scores
        ],
        positive=_said(points, of, good=True),
        negative=_said(points, of, good=False),
    )


def _said(points: Sequence[ReviewPointIn], of: Proposal, *, good: bool) -> list[str]:
    return [
        "".join(w.text for w in filled(p.text, of.facts.figures)) for p in points if p.good is good
    ]
