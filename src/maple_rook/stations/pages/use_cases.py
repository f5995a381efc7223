"""Pages from draft to published to withdrawn, each step kept."""

from __future__ import annotations

import datetime as dt
import json
import zoneinfo
from collections.abc import Sequence
from typing import NamedTuple, assert_never

from pydantic import TypeAdapter
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.core.cutting.foods import STROKES
from maple_rook.core.edge_life.life_model import Basis
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.wording import lower_first
from maple_rook.core.prediction.model_cards import PREDICTED, card
from maple_rook.core.writing.fields import LiveFigure, Since, check_fields, since_then
from maple_rook.core.writing.parts import PageKind
from maple_rook.core.writing.points import PRICE
from maple_rook.documents.short_codes import Of, short_code
from maple_rook.formats.page.blocks import PageDocument, Shown
from maple_rook.http.policy import Somebody
from maple_rook.http.preconditions import IfMatch, alone, tag_of, version
from maple_rook.http.problems import Conflict
from maple_rook.http.schemas import Choice
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.pages import comparisons, ranges
from maple_rook.stations.pages.building import shown
from maple_rook.stations.pages.facts import COST, facts_of, how_measured
from maple_rook.stations.pages.photographs import of_piece
from maple_rook.stations.pages.reviews import Proposal, review
from maple_rook.stations.pages.schemas import (
    ComparisonContent,
    Content,
    FigureChoice,
    NewPageIn,
    PageIn,
    PageOut,
    PageRow,
    PartDraft,
    RangeContent,
    ReviewContent,
    ReviewPointOut,
    ScaleIn,
    ScaleOut,
    SinceOut,
    StandingOut,
)
from maple_rook.store import pages, records
from maple_rook.store.page_tables import PageDraft, PublishedPage, ScoreScale
from maple_rook.store.publications import on_at, standing_of
from maple_rook.store.tables import Shop

_CONTENT: TypeAdapter[Content] = TypeAdapter(Content)
_PREDICTED = {
    **{key: lower_first(card(key).name) for key in PREDICTED},
    PRICE: "price",
    COST: "cost of owning, a year",
}


def listed(db: Session) -> list[PageRow]:
    """Every page with what was last said of it, the one changed last first."""
    rows = pages.drafts(db)
    standing = pages.standing(db, [row.id for row in rows], documents=False)
    on = pages.are_on(db, [row.id for row in rows])
    return [
        PageRow(
            id=row.id,
            kind=PageKind(row.kind),
            title=row.title,
            address=row.address,
            changed_at=row.changed_at,
            person=row.person.name,
            standing=_standing(standing.get(row.id), on=row.id in on),
        )
        for row in rows
    ]


def _standing(page: PublishedPage | None, *, on: bool) -> StandingOut | None:
    if page is None:
        return None
    return StandingOut(on=on, at=page.recorded_at, by=page.person.name, reason=page.reason)


def begin(db: Session, shelf: Shelf, person: Somebody, asked: NewPageIn) -> PageOut:
    """Begin a page; its address comes from its title and stays.

    Parameters
    ----------
    db : the session the caller commits.
    shelf : the shelf as this process knows it.
    person : who asks.
    asked : what was asked, as it came in.
    """
    title = asked.title or _usual_title(db, shelf, asked.content)
    _check(db, shelf, asked.content)
    alone(db, PageDraft)  # so that no two take one address
    row = PageDraft(
        kind=asked.content.kind,
        title=title[:160],
        address=pages.free_address(db, title),
        content=asked.content.model_dump(mode="json"),
        person_id=person.id,
    )
    db.add(row)
    db.commit()
    return one(db, shelf, row.id)


def _usual_title(db: Session, shelf: Shelf, content: Content) -> str:
    match content:
        case ReviewContent():
            piece = records.pieces(db, [content.piece_id])[0]
            return f"{records.model_name(piece.model)}, measured"
        case ComparisonContent():
            return comparisons.usual_title(comparisons.names_of(db, shelf, content.laid))
        case RangeContent():
            return ranges.usual_title(content)
        case _:
            assert_never(content)


def _check(db: Session, shelf: Shelf, content: Content) -> None:
    """Refuse what cannot be shown: unknown figures, scores off their scale."""
    if isinstance(content, ComparisonContent):
        records.pieces(db, content.laid.pieces)
    if not isinstance(content, ReviewContent):
        return
    records.pieces(db, [content.piece_id])
    foods, _ = shelf.models(Basis.CALIBRATED)
    forces = {f"force.{food.key}.{stroke}": food.label for food in foods for stroke in STROKES}
    known = {key: q.label for key, q in QUANTITIES.items()} | _PREDICTED | forces
    for text in (*(p.text for p in content.parts), *(p.text for p in content.points or ())):
        check_fields(text or "", known)
    scales = {scale.id: scale for scale in pages.scales(db)}
    for score in content.scores:
        scale = scales.get(score.scale_id)
        if scale is None:
            accepted = ", ".join(str(key) for key in scales) or "a scale made before"
            raise InvalidValue("scale_id", str(score.scale_id), accepted)
        if score.value > scale.highest:
            raise InvalidValue("value", f"{score.value:g}", f"0 to {scale.highest}, {scale.name}")


def one(db: Session, shelf: Shelf, draft_id: int) -> PageOut:
    """A page to work on, with what the record proposes for it."""
    row = records.get(db, PageDraft, "page", draft_id)
    content = _CONTENT.validate_python(row.content)
    newest = pages.standing(db, [draft_id]).get(draft_id)
    stands = newest if newest is not None and newest.document is not None else None
    proposal = None
    if isinstance(content, ReviewContent):
        proposal = Proposal(db, shelf, facts_of(db, shelf, [content.piece_id])[0])
    document = _built(db, shelf, row, content, proposal, None)
    published = None if stands is None else PageDocument.model_validate(stands.document)
    return PageOut(
        id=row.id,
        kind=PageKind(row.kind),
        title=row.title,
        address=row.address,
        short=short_code(Of.PAGE, row.id),
        content=content,
        standing=_standing(newest, on=stands is not None),
        changed=published is not None and _differs(published, document),
        missing=missing(db, content),
        since=[] if published is None else _since(published, document),
        parts=[]
        if proposal is None
        else [
            PartDraft(part=part, label=part.label, draft="\n\n".join(texts))
            for part, texts in proposal.parts.items()
        ],
        figures=[] if proposal is None else _choices(proposal),
        points=[]
        if proposal is None
        else [
            ReviewPointOut(key=p.key, good=p.good, text=p.text, evidence=list(p.evidence))
            for p in proposal.points
        ],
        scales=scales(db),
        columns=[Choice(key=key, label=q.label) for key, q in QUANTITIES.items()],
        etag=_version(row),
    )


def _version(row: PageDraft) -> str:
    """Of a draft; JSON comes back from the database with its keys in another order."""
    return tag_of(row.id, row.title, json.dumps(row.content, sort_keys=True))


def _choices(proposal: Proposal) -> list[FigureChoice]:
    return [
        FigureChoice(key=f.key, label=f.label, text=f.text, grade=f.grade)
        for f in proposal.facts.figures.values()
    ]


def _differs(published: PageDocument, now: PageDocument) -> bool:
    """Whether publishing again would change the page, its day apart."""
    leaving = {"published_on", "json_ld"}
    return published.model_dump(exclude=leaving) != now.model_dump(exclude=leaving)


def _since(published: PageDocument, now: PageDocument) -> list[SinceOut]:
    """Figures of the published page that the record has otherwise now."""
    current = {(f.piece_id, f.key): f for f in now.figures}
    found: list[Since] = []
    for figure in published.figures:
        today = current.get((figure.piece_id, figure.key))
        if today is not None:
            found += since_then([_live(figure)], {figure.key: _live(today)})
    return [SinceOut.of(since) for since in found]


def _live(figure: Shown) -> LiveFigure:
    return LiveFigure(
        figure.key, figure.label, figure.text, "", figure.unit, figure.central, figure.expanded
    )


def missing(db: Session, content: Content) -> list[str]:
    """What has to be there before the page can be published."""
    if not isinstance(content, ReviewContent):
        return []
    photographs = of_piece(db, content.piece_id) if content.photographs else []
    unsaid = [f"what photograph {n} shows" for n, row in enumerate(photographs, 1) if not row.alt]
    return [*content.disclosure.core().missing, *unsaid]


def document_of(db: Session, shelf: Shelf, draft_id: int) -> tuple[PageDraft, PageDocument]:
    """A draft and the page as it would read now."""
    row = records.get(db, PageDraft, "page", draft_id)
    content = _CONTENT.validate_python(row.content)
    return row, _built(db, shelf, row, content, None, None)


def _built(
    db: Session,
    shelf: Shelf,
    row: PageDraft,
    content: Content,
    proposal: Proposal | None,
    day: dt.date | None,
) -> PageDocument:
    match content:
        case ReviewContent():
            of = proposal or Proposal(db, shelf, facts_of(db, shelf, [content.piece_id])[0])
            known = {scale.id: scale for scale in pages.scales(db)}
            return review(db, content, row.title, of, known, day)
        case ComparisonContent():

            def read_on(ids: Sequence[int]) -> list[tuple[str, str]]:
                return _about(db, ids, row.id)

            of_these = comparisons.compared(db, shelf, content, read_on)
            return comparisons.comparison(of_these, row.title, day)
        case RangeContent():
            shop = db.scalars(select(Shop)).one()
            addresses = on_at(db)
            links = {piece: f"/k/{address}" for piece, address in addresses.items()}
            links |= {piece: f"/p/{of.address}" for piece, of in reviews(db).items()}
            return ranges.range_page(db, shelf, content, row.title, shop, links, day)
        case _:
            assert_never(content)


class Reviewed(NamedTuple):
    """The review that stands of a piece."""

    draft_id: int
    title: str
    address: str


def reviews(db: Session) -> dict[int, Reviewed]:
    """The newest review that stands of each piece that has one."""
    query = select(PageDraft).where(PageDraft.kind == PageKind.REVIEW.value).order_by(PageDraft.id)
    rows = list(db.scalars(query))
    on = pages.are_on(db, [row.id for row in rows])
    return {
        int(row.content["piece_id"]): Reviewed(row.id, row.title, row.address)
        for row in rows
        if row.id in on
    }


def pictures_of(db: Session, draft_id: int) -> list[str]:
    """The photographs of a page that stands, by version."""
    document = PageDocument.model_validate(pages.standing(db, [draft_id])[draft_id].document)
    return [photo.version for photo in document.photographs()]


def _about(db: Session, piece_ids: Sequence[int], but: int) -> list[tuple[str, str]]:
    """Published reviews and pages of these pieces, but not the page itself."""
    written, addresses = reviews(db), on_at(db, piece_ids)
    names = records.piece_names(db, piece_ids)
    found = []
    for piece in piece_ids:
        if piece in written and written[piece].draft_id != but:
            found.append((written[piece].title, f"/p/{written[piece].address}"))
        if piece in addresses:
            found.append((f"{names[piece][1]}: figures", f"/k/{addresses[piece]}"))
    return found


def change(db: Session, shelf: Shelf, draft_id: int, asked: PageIn, seen: IfMatch) -> PageOut:
    """Leave the draft as it is asked for; what is published stays as it is.

    Parameters
    ----------
    db : the session the caller commits.
    shelf : the shelf as this process knows it.
    draft_id : number of the draft.
    asked : what was asked, as it came in.
    seen : the version of it that the writer had in sight.
    """
    row = records.get(db, PageDraft, "page", draft_id, lock=True)
    seen.check_tag(_version(row))
    if asked.content.kind != row.kind:
        raise InvalidValue("kind", asked.content.kind, row.kind)
    _check(db, shelf, asked.content)
    row.title = asked.title
    row.content = asked.content.model_dump(mode="json")
    row.changed_at = func.now()
    db.commit()
    return one(db, shelf, draft_id)


def discard(db: Session, draft_id: int, seen: IfMatch) -> None:
    """Delete a draft that was never published."""
    row = records.get(db, PageDraft, "page", draft_id, lock=True)
    seen.check_tag(_version(row))
    if pages.standing(db, [draft_id], documents=False):
        raise Conflict("This page was published, so its draft is kept; withdraw the page instead.")
    db.delete(row)
    db.commit()


def publish(db: Session, shelf: Shelf, person: Somebody, draft_id: int, seen: IfMatch) -> PageOut:
    """Publish the draft as it reads now; all of it or, where something is missing, nothing.

    Parameters
    ----------
    db : the session the caller commits.
    shelf : the shelf as this process knows it.
    person : who asks.
    draft_id : number of the draft.
    seen : the version of it that the writer had in sight.
    """
    row = records.get(db, PageDraft, "page", draft_id, lock=True)
    seen.check_tag(_version(row))
    content = _CONTENT.validate_python(row.content)
    if lacking := missing(db, content):
        raise Conflict(f"Not published yet. State first: {', '.join(lacking)}.")
    document = _built(db, shelf, row, content, None, today(db))
    db.add(
        PublishedPage(
            draft_id=row.id, document=document.model_dump(mode="json"), person_id=person.id
        )
    )
    db.commit()
    return one(db, shelf, draft_id)


def today(db: Session) -> dt.date:
    """The day in the shop's time zone."""
    zone = db.scalars(select(Shop.time_zone)).one()
    return dt.datetime.now(zoneinfo.ZoneInfo(zone)).date()


def withdraw(db: Session, shelf: Shelf, person: Somebody, draft_id: int, reason: str) -> PageOut:
    """Take a page down; its draft, and what was published, are kept.

    Parameters
    ----------
    db : the session the caller commits.
    shelf : the shelf as this process knows it.
    person : who asks.
    draft_id : number of the draft.
    reason : why, for the list of pages.
    """
    row = records.get(db, PageDraft, "page", draft_id, lock=True)
    if row.id not in pages.are_on(db, [row.id]):
        raise Conflict("This page is not published.")
    db.add(PublishedPage(draft_id=row.id, document=None, reason=reason, person_id=person.id))
    db.commit()
    return one(db, shelf, draft_id)


def scales(db: Session) -> list[ScaleOut]:
    """The shop's scales."""
    return [_scale(row) for row in pages.scales(db)]


def _scale(row: ScoreScale) -> ScaleOut:
    return ScaleOut(
        id=row.id,
        name=row.name,
        highest=row.highest,
        criteria=row.criteria,
        retired=row.retired,
        etag=version(row),
    )


def add_scale(db: Session, asked: ScaleIn) -> ScaleOut:
    """Make a scale."""
    _check_name(db, asked.name, None)
    row = ScoreScale(**asked.model_dump())
    db.add(row)
    db.commit()
    return _scale(row)


def change_scale(db: Session, scale_id: int, asked: ScaleIn, seen: IfMatch) -> ScaleOut:
    """Change or retire a scale; scores that were published stay as they were."""
    row = records.get(db, ScoreScale, "scale", scale_id, lock=True)
    seen.check(row)
    _check_name(db, asked.name, scale_id)
    for name, value in asked.model_dump().items():
        setattr(row, name, value)
    db.commit()
    return _scale(row)


def _check_name(db: Session, name: str, but: int | None) -> None:
    same = select(ScoreScale.id).where(func.lower(ScoreScale.name) == name.lower())
    if db.scalar(same) not in (None, but):
        raise Conflict(f"There is a scale called {name} already.")


def knife_measured(db: Session, shelf: Shelf, piece_id: int) -> tuple[PageDocument, str]:
    """How the figures on a knife's own page were measured, and the page's address.

    As the record has it now, like that page; nowhere where the page is off.
    """
    standing = standing_of(db, piece_id)
    if standing is None or not standing.on:
        raise records.NotFound("page", piece_id)
    facts = facts_of(db, shelf, [piece_id])[0]
    told = [facts.figures[key] for key in standing.shown if key in facts.figures]
    measured = how_measured(db, facts, {figure.key for figure in told}, people=False)
    document = PageDocument(
        kind="knife",
        title=facts.knife.model,
        summary="",
        by="",
        shop=facts.shop.name,
        published_on=today(db).isoformat(),
        blocks=[],
        how=[measured] if measured.figures else [],
        figures=shown(piece_id, told),
    )
    return document, standing.address
