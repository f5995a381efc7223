"""Pages that stand at an address, read and rendered once by each process: they never change."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from cachetools import LRUCache
from fastapi import Request, Response
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook import __version__
from maple_rook.documents.figure_text import shop_base
from maple_rook.documents.short_codes import Of, short_code
from maple_rook.formats.page.blocks import PageDocument
from maple_rook.http.preconditions import tag_of
from maple_rook.store import pages
from maple_rook.store.page_tables import PublishedPage
from maple_rook.store.tables import Shop

FRESH = "public, no-cache"
"""A page may be kept, and is asked for again each time: a withdrawn one is gone at once."""
DOCUMENTS_KEPT = 64
ANSWERS_KEPT_BYTES = 16_000_000


@dataclass(frozen=True)
class Answer:
    """What is sent: its content, of what kind it is, and what its page may do."""

    content: bytes
    media_type: str
    policy: str | None = None

    @classmethod
    def of(cls, content: bytes | str, media_type: str, policy: str | None = None) -> Answer:
        return cls(content.encode() if isinstance(content, str) else content, media_type, policy)

    def sent(self, tag: str) -> Response:
        headers = {"ETag": tag, "Cache-Control": FRESH}
        if self.policy:
            headers["Content-Security-Policy"] = self.policy
        return Response(self.content, media_type=self.media_type, headers=headers)


class PageMemory:
    """Documents and answers of published pages that were asked for lately."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._documents: LRUCache[int, PageDocument] = LRUCache(DOCUMENTS_KEPT)
        self._answers: LRUCache[str, Answer] = LRUCache(
            ANSWERS_KEPT_BYTES, getsizeof=lambda answer: len(answer.content)
        )

    def document(self, page: PublishedPage) -> PageDocument:
        """The document of a page; it must not be changed."""
        with self._lock:
            known = self._documents.get(page.id)
        if known is None:
            known = PageDocument.model_validate(page.document)
            with self._lock:
                self._documents[page.id] = known
        return known

    def answer(self, tag: str, make: Callable[[], Answer]) -> Answer:
        """The answer of an entity tag, made where it is not known."""
        with self._lock:
            known = self._answers.get(tag)
        if known is None:
            known = make()
            if len(known.content) <= ANSWERS_KEPT_BYTES:
                with self._lock:
                    self._answers[tag] = known
        return known


def memory_of(request: Request) -> PageMemory:
    found: PageMemory = request.app.state.page_memory
    return found


class Standing:
    """A page that stands at an address, and how it is addressed."""

    def __init__(self, memory: PageMemory, db: Session, base: str, address: str) -> None:
        self._memory = memory
        self.page: PublishedPage = pages.at_address(db, address)
        self.shop: Shop = db.scalars(select(Shop)).one()
        root = shop_base(self.shop, base)
        self.url = f"{root}p/{address}"
        self.short = f"{root}m/{short_code(Of.PAGE, self.page.draft_id)}"
        self.feed = f"{root}p/feed.atom"

    @cached_property
    def document(self) -> PageDocument:
        return self._memory.document(self.page)

    def answer(
        self, known: str | None, of: tuple[object, ...], make: Callable[[], Answer]
    ) -> Response:
        """An answer as it was made for the page, or that the asker has it already.

        Parameters
        ----------
        known : entity tags that the asker has, as its ``If-None-Match`` says.
        of : what is asked for; another page, address or release is another answer besides.
        make : makes it.
        """
        tag = tag_of(self.page.id, self.url, __version__, *of)
        return unchanged(tag, known) or self._memory.answer(tag, make).sent(tag)


def unchanged(tag: str, known: str | None) -> Response | None:
    """That it is as it was, where the asker has it already."""
    if not known or tag not in [t.strip().removeprefix("W/") for t in known.split(",")]:
        return None
    return Response(status_code=304, headers={"ETag": tag, "Cache-Control": FRESH})
