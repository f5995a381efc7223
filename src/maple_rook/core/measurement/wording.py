"""Numbers in words, with only the digits their interval supports."""

from __future__ import annotations

import math
from collections.abc import Sequence


def decimals_for(width: float) -> int:
    """Decimals that show an interval of this width with two digits at most.

    >>> decimals_for(7.0), decimals_for(0.4), decimals_for(160)
    (0, 1, -1)
    """
    if width <= 0 or not math.isfinite(width):
        return 2
    return max(-3, min(4, -math.floor(math.log10(width / 2.5))))


def lower_first(text: str) -> str:
    """A heading as it stands within a sentence or a table.

    >>> lower_first("Months to the stone")
    'months to the stone'
    """
    return text[:1].lower() + text[1:]


def listed(words: Sequence[str], last: str = "and") -> str:
    """Words one after the other, the last after a word of its own.

    >>> listed(["A"]), listed(["A", "B"], "or"), listed(["A", "B", "C"])
    ('A', 'A or B', 'A, B and C')
    """
    return f" {last} ".join([", ".join(words[:-1]), words[-1]]) if len(words) > 1 else words[0]


def percent_text(share: float) -> str:
    """A share of one in whole per cent, with the space that ISO 80000-1 asks for.

    >>> percent_text(0.43)
    '43 %'
    """
    return f"{100 * share:.0f} %"


def rounded_text(value: float, decimals: int) -> str:
    """A value rounded to decimals, which may be negative for tens and hundreds; halves go up.

    The browser rounds by the same rule, so that a figure reads alike on screens and in files.

    >>> rounded_text(2.25, 1), rounded_text(157, -1)
    ('2.3', '160')
    """
    if not math.isfinite(value):
        return str(value)
    step = 10.0**decimals
    text = f"{math.floor(value * step + 0.5) / step:.{max(decimals, 0)}f}"
    return text.lstrip("-") if float(text) == 0 else text


def range_text(low: float, high: float) -> str:
    """Limits with the digits their distance supports.

    >>> range_text(2.98, 6.63), range_text(0.41, 0.78)
    ('3 to 7', '0.4 to 0.8')
    """
    decimals = decimals_for(high - low)
    return f"{rounded_text(low, decimals)} to {rounded_text(high, decimals)}"


def interval_text(central: float, low: float, high: float, unit: str) -> str:
    """A prediction as a person says it.

    >>> interval_text(23.41, 19.9, 27.2, "N")
    '20 to 27 N, likely 23'
    """
    likely = rounded_text(central, decimals_for(high - low))
    return f"{range_text(low, high)}{' ' if unit else ''}{unit}, likely {likely}"
