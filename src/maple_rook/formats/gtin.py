"""Numbers on bar codes: GTIN-8, -12, -13 and -14, held to their check digit.

References
----------
.. [1] GS1 General Specifications, section 7.9 (check digit, modulo 10).
"""

from __future__ import annotations

from stdnum import ean
from stdnum.exceptions import ValidationError

from maple_rook.core.errors import InvalidValue

LENGTHS = (8, 12, 13, 14)


def gtin(text: str) -> str:
    """The number without spaces and hyphens; empty where there is none [1]_.

    >>> gtin("4 006381 333931"), gtin("")
    ('4006381333931', '')

    Raises
    ------
    InvalidValue
        For another length, other characters, or a check digit that does not fit.
    """
    if not text.strip():
        return ""
    accepted = f"{', '.join(map(str, LENGTHS))} digits, the last of them the check digit"
    try:
        number = str(ean.validate(text))
    except ValidationError:
        raise InvalidValue("gtin", text, accepted) from None
    if len(number) not in LENGTHS:
        raise InvalidValue("gtin", text, accepted)
    return number
