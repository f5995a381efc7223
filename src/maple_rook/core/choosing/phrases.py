"""The sentences of verdicts, in one place: what is compared, by how much, and of what.

A per cent figure names its base; a probability is a count of simulations.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from maple_rook.core.choosing.comparing import percent_difference
from maple_rook.core.choosing.criteria import Criterion
from maple_rook.core.measurement.wording import listed


def simulations(share: float) -> str:
    """A probability as a count of simulations; never none and never all.

    >>> simulations(0.004), simulations(0.01), simulations(0.5), simulations(0.999)
    ('fewer than 1 of 100', '1 of 100', '50 of 100', 'more than 99 of 100')
    """
    count = round(100 * share)
    if count < 1:
        return "fewer than 1 of 100"
    return "more than 99 of 100" if count > 99 else f"{count} of 100"


def more_than(value: float, base: float, of: str) -> str:
    """How much more ``value`` is than ``base``, which is of ``of``.

    >>> more_than(167, 100, "B"), more_than(900, 100, "B"), more_than(100.2, 100, "B")
    ('67 % more than B', '9 times as much as B', 'as much as B')
    """
    if value > 4 * base:
        return f"{value / base:.0f} times as much as {of}"
    percent = round(percent_difference(value, base))
    if not percent:
        return f"as much as {of}"
    return f"{abs(percent)} % {'more' if percent > 0 else 'less'} than {of}"


def suits_nobody(who: str) -> str:
    """
    >>> suits_nobody("the galley")
    'None of these suits the galley.'
    """
    return f"None of these suits {who}."


def only_one(who: str, name: str, others: int) -> str:
    """
    >>> only_one("the galley", "A", 1), only_one("the galley", "A", 3)[-25:]
    ('Only A suits the galley; the other is ruled out.', 'the others are ruled out.')
    """
    rest = "the other is" if others == 1 else "the others are"
    return f"Only {name} suits {who}; {rest} ruled out."


def tie(who: str, chances: Mapping[str, float]) -> str:
    """
    >>> tie("Jo", {"A": 0.48, "C": 0.41})
    'For Jo, A and C are too close to call: A is best in 48 of 100 simulations, C in 41 of 100.'
    """
    (first, share), *rest = chances.items()
    told = [f"{first} is best in {simulations(share)} simulations"]
    told += [f"{name} in {simulations(share)}" for name, share in rest]
    return f"For {who}, {listed(sorted(chances))} are too close to call: {', '.join(told)}."


def best(who: str, name: str, share: float, second: str, of_second: float) -> str:
    """
    >>> best("the prep line", "A", 0.81, "B", 0.12)
    'A suits the prep line best: it comes first in 81 of 100 simulations, B in 12 of 100.'
    """
    return (
        f"{name} suits {who} best: it comes first in {simulations(share)} simulations, "
        f"{second} in {simulations(of_second)}."
    )


def ruled_out(name: str, reasons: Sequence[str]) -> str:
    """
    >>> ruled_out("C", ["Not for sale."])
    'C is ruled out. Not for sale.'
    """
    return f"{name} is ruled out. {' '.join(reasons)}"


def decides(one: str, other: str, criterion: Criterion, by: str) -> str:
    """
    >>> decides("A", "B", Criterion.LIFE, "A goes 5.1 months between stones, B 3.2")
    'Between A and B, edge life decides: A goes 5.1 months between stones, B 3.2.'
    """
    return f"Between {one} and {other}, {criterion.label} decides: {by}."


def nothing_decides(one: str, other: str) -> str:
    """
    >>> nothing_decides("A", "B")
    'No single criterion decides between A and B: small differences add up.'
    """
    return f"No single criterion decides between {one} and {other}: small differences add up."


def by_figures(criterion: Criterion, one: str, other: str, figures: tuple[float, float]) -> str:
    """What decides, as a figure of either knife.

    >>> by_figures(Criterion.LIFE, "A", "B", (5.1, 3.2))
    'A goes 5.1 months between stones, B 3.2 (59 % more than B)'
    >>> by_figures(Criterion.EASE, "A", "B", (125, 100))
    "A's cutting ease is 125, B's 100 (25 % more than B)"
    """
    mine, others = figures
    base = more_than(mine, others, other)
    if criterion is Criterion.LIFE:
        return f"{one} goes {mine:.1f} months between stones, {other} {others:.1f} ({base})"
    return f"{one}'s cutting ease is {mine:.0f}, {other}'s {others:.0f} ({base})"


def by_marks(one: str, other: str, marks: tuple[float, float]) -> str:
    """
    >>> by_marks("A", "B", (0.91, 0.6))
    'A rates 91 of 100, B 60'
    """
    return f"{one} rates {round(100 * marks[0])} of 100, {other} {round(100 * marks[1])}"


def other_school(schools: Sequence[str], name: str) -> str:
    """
    >>> other_school(["steel first", "light preferred"], "B")
    'With steel first or light preferred, B would be best.'
    """
    return f"With {listed(schools, 'or')}, {name} would be best."


def every_school(name: str) -> str:
    """
    >>> every_school("A")
    'A stays best whichever school is followed.'
    """
    return f"{name} stays best whichever school is followed."


def would_draw_level(criterion: Criterion, times: float, name: str) -> str:
    """
    >>> would_draw_level(Criterion.EASE, 1.8, "B")
    'B would draw level if cutting ease counted 1.8 times as much.'
    """
    return f"{name} would draw level if {criterion.label} counted {times_text(times)}."


def times_text(times: float) -> str:
    """How much more or less a criterion would have to count.

    >>> times_text(1.8), times_text(0.45)
    ('1.8 times as much', '45 % of what it does')
    """
    return f"{times:.1f} times as much" if times > 1 else f"{100 * times:.0f} % of what it does"


def figure_tie(names: Sequence[str], topic: str) -> str:
    """
    >>> figure_tie(["B", "A"], "cutting ease")
    'In cutting ease A and B cannot be told apart.'
    """
    return f"In {topic} {listed(sorted(names))} cannot be told apart."


def figure_best(
    name: str, superlative: str, beaten: Sequence[str], level: Sequence[str], *, small: bool
) -> str:
    """Who leads in a figure, by how much over each other, and who may match it.

    >>> figure_best("A", "cuts most easily", ["67 % more than C"], ["B"], small=False)
    'A cuts most easily: 67 % more than C; B may match it.'
    >>> figure_best("A", "cuts most easily", ["12 % more than B"], [], small=True)
    'A cuts most easily: 12 % more than B, which few would notice.'
    """
    few = ", which few would notice" if small else ""
    beside = f"; {listed(sorted(level))} may match it" if level else ""
    return f"{name} {superlative}: {', '.join(beaten)}{few}{beside}."


def costs_no_more(better: Sequence[str], worse: Sequence[str]) -> str:
    """
    >>> costs_no_more(["B", "A"], ["C"])
    'A and B cost no more than C and suit at least as well.'
    >>> costs_no_more(["A"], ["B", "C"])
    'A costs no more than B and C and suits at least as well.'
    """
    costs, suits = ("costs", "suits") if len(better) == 1 else ("cost", "suit")
    return (
        f"{listed(sorted(better))} {costs} no more than {listed(sorted(worse))} "
        f"and {suits} at least as well."
    )
