"""Disclosure of where a reviewed knife came from and who gains by the review.

What has to be told follows common practice of reviewers; local law may ask for more.
"""

from __future__ import annotations

from dataclasses import dataclass

from maple_rook.core.labelled import Labelled


class Obtained(Labelled):
    """How the knife came to who writes about it."""

    BOUGHT = "bought", "bought at the usual price"
    STOCK = "stock", "from the shop's own stock"
    LENT = "lent", "lent, and goes back"
    GIVEN = "given", "given, and is kept"


@dataclass(frozen=True)
class Disclosure:
    """Answers to what readers ask of a reviewer; None or empty where not answered yet.

    ``by`` is who sold, lent or gave it; ``paid_by`` who paid for the review, where it was paid.
    """

    obtained: Obtained | None = None
    by: str = ""
    paid: bool | None = None
    paid_by: str = ""
    seen_first: bool | None = None
    seen_by: str = ""
    links_earn: bool | None = None

    @property
    def missing(self) -> list[str]:
        """What is not answered, as a person would ask for it.

        >>> Disclosure(Obtained.STOCK, paid=False, seen_first=False, links_earn=False).missing
        []
        >>> Disclosure(Obtained.LENT).missing[0]
        'who lent or gave the knife'
        """
        asked = []
        if self.obtained is None:
            asked.append("how the knife was obtained")
        elif self.obtained in (Obtained.LENT, Obtained.GIVEN) and not self.by:
            asked.append("who lent or gave the knife")
        if self.paid is None:
            asked.append("whether anyone paid for the review")
        elif self.paid and not self.paid_by:
            asked.append("who paid for the review")
        if self.seen_first is None:
            asked.append("whether anyone saw the review before readers")
        elif self.seen_first and not self.seen_by:
            asked.append("who saw the review first")
        if self.links_earn is None:
            asked.append("whether links earn money")
        return asked

    @property
    def sentences(self) -> list[str]:
        """The disclosure as readers see it; only for one that misses nothing.

        >>> lent = Disclosure(Obtained.LENT, "the maker", False, "", True, "the maker", False)
        >>> lent.sentences[0], lent.sentences[2]
        ('This knife was lent to us by the maker and goes back.', \
'The maker saw this review before it was published.')
        """
        assert self.obtained is not None
        return [self._origin(self.obtained), self._payment(), self._seen(), self._links()]

    def _origin(self, obtained: Obtained) -> str:
        match obtained:
            case Obtained.BOUGHT:
                of = f" from {self.by}" if self.by else ""
                return f"We bought this knife{of} at the usual price."
            case Obtained.STOCK:
                return "This knife is from our own stock, and we sell it."
            case Obtained.LENT:
                return f"This knife was lent to us by {self.by} and goes back."
            case Obtained.GIVEN:
                return f"This knife was given to us by {self.by}, and we keep it."

    def _payment(self) -> str:
        if self.paid:
            return f"{_sentence(self.paid_by)} paid for this review."
        return "Nobody paid for this review."

    def _seen(self) -> str:
        if self.seen_first:
            return f"{_sentence(self.seen_by)} saw this review before it was published."
        return "Nobody outside saw this review before it was published."

    def _links(self) -> str:
        if self.links_earn:
            return "Links on this page may earn us money."
        return "No link on this page earns us money."


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:]
