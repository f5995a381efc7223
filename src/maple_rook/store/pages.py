"""Drafts of pages and what of them is published."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session, defer, joinedload

from maple_rook.store.page_tables import PageDraft, PublishedPage, ScoreScale
from maple_rook.store.records import NotFound

_LONGEST_SLUG = 60


def drafts(db: Session) -> list[PageDraft]:
    """Every draft, what was changed last first."""
    query = select(PageDraft).options(joinedload(PageDraft.person))
    return list(db.scalars(query.order_by(PageDraft.changed_at.desc(), PageDraft.id.desc())))


def standing(
    db: Session, draft_ids: Sequence[int], *, documents: bool = True
) -> dict[int, PublishedPage]:
    """What was last said of these drafts' pages, published or withdrawn; the others are left out.

    ``documents`` are read along unless only who and when is asked for.
    """
    query = (
        select(PublishedPage)
        .options(joinedload(PublishedPage.person))
        .where(PublishedPage.draft_id.in_(list(draft_ids)))
        .ext(distinct_on(PublishedPage.draft_id))
        .order_by(PublishedPage.draft_id, PublishedPage.id.desc())
    )
    if not documents:
        query = query.options(defer(PublishedPage.document, raiseload=True))
    return {page.draft_id: page for page in db.scalars(query)}


def are_on(db: Session, draft_ids: Sequence[int]) -> set[int]:
    """Those of the drafts whose page stands."""
    newest = (
        select(PublishedPage.draft_id, PublishedPage.document.is_not(None))
        .where(PublishedPage.draft_id.in_(list(draft_ids)))
        .ext(distinct_on(PublishedPage.draft_id))
        .order_by(PublishedPage.draft_id, PublishedPage.id.desc())
    )
    return {draft for draft, on in db.execute(newest) if on}


def at_address(db: Session, address: str) -> PublishedPage:
    """What stands at an address; a page that was withdrawn is nowhere.

    Its document is read when it is asked for.
    """
    newest = (
        select(PublishedPage, PublishedPage.document.is_not(None))
        .join(PageDraft)
        .options(defer(PublishedPage.document))
        .where(PageDraft.address == address)
        .order_by(PublishedPage.id.desc())
        .limit(1)
    )
    found = db.execute(newest).one_or_none()
    if found is None or not found[1]:
        raise NotFound("page", address)
    page: PublishedPage = found[0]
    return page


def published(db: Session, most: int) -> list[PublishedPage]:
    """The pages that stand, the newest first."""
    newest = (
        select(PublishedPage.id)
        .ext(distinct_on(PublishedPage.draft_id))
        .order_by(PublishedPage.draft_id, PublishedPage.id.desc())
    )
    query = (
        select(PublishedPage)
        .options(joinedload(PublishedPage.draft))
        .where(PublishedPage.id.in_(newest), PublishedPage.document.is_not(None))
        .order_by(PublishedPage.id.desc())
        .limit(most)
    )
    return list(db.scalars(query))


def scales(db: Session) -> list[ScoreScale]:
    """The shop's scales in the order in which they were made, retired ones too."""
    return list(db.scalars(select(ScoreScale).order_by(ScoreScale.id)))


def slug(text: str, otherwise: str) -> str:
    """A text as a part of an address: small letters, digits and hyphens.

    >>> slug("Été: gyuto 210 · KH/01", "page")
    'ete-gyuto-210-kh-01'
    """
    plain = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().lower()
    short = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:_LONGEST_SLUG].strip("-")
    return short or otherwise


def free_address(db: Session, title: str) -> str:
    """An address made of a title that no other draft has."""
    wanted = slug(title, "page")
    taken = set(db.scalars(select(PageDraft.address).where(PageDraft.address.startswith(wanted))))
    numbered = (f"{wanted}-{n}" for n in range(2, len(taken) + 3))
    return wanted if wanted not in taken else next(a for a in numbered if a not in taken)
