"""Names that look like one another though their letters differ."""

from __future__ import annotations

import unicodedata
from functools import cache

from confusable_homoglyphs import confusables


def skeleton(name: str) -> str:
    """A name with every letter replaced by what it is mistaken for; case and spacing do not count.

    By Unicode Technical Standard 39, section 4: names are confusable whose skeletons are the same.

    >>> skeleton("Раul") == skeleton("paul")  # the first begins with two Cyrillic letters
    True
    >>> skeleton("Una") == skeleton("Uma")
    False
    """
    plain = unicodedata.normalize("NFD", " ".join(name.casefold().split()))
    return unicodedata.normalize("NFD", "".join(_prototype(c) for c in plain)).casefold()


@cache
def _prototype(letter: str) -> str:
    """The plainest of the letters that look alike: ASCII before others, then by code point."""
    found = confusables.is_confusable(letter, greedy=True)
    alike = [str(h["c"]) for of in found or () for h in of["homoglyphs"]]
    return min([letter, *alike], key=lambda c: (not c.isascii(), len(c), c.casefold()))
