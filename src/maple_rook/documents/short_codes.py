"""Short names of pages and knives, for addresses that are printed or typed."""

from __future__ import annotations

from enum import StrEnum

_DIGITS = "0123456789abcdefghijklmnopqrstuvwxyz"
_MOST = 2**31 - 1


class Of(StrEnum):
    """What a code is of."""

    PAGE = "p"
    KNIFE = "k"


def short_code(of: Of, number: int) -> str:
    """A letter for what it is of, and its number in base 36.

    >>> short_code(Of.PAGE, 1), short_code(Of.KNIFE, 1295)
    ('p1', 'kzz')
    """
    text = ""
    while number:
        number, digit = divmod(number, 36)
        text = _DIGITS[digit] + text
    return f"{of.value}{text}"


def of_code(code: str) -> tuple[Of, int]:
    """What a code is of, and its number.

    >>> of_code("kzz")
    (<Of.KNIFE: 'k'>, 1295)
    """
    return Of(code[0]), min(int(code[1:], 36), _MOST)
