"""The first draft of a write-up: what was measured and seen, in sentences with live figures.

Nothing is said that the record does not hold: what was not measured is named as not measured, and
a part the record says nothing of is empty.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.measurement.wording import listed, lower_first
from maple_rook.core.upkeep.finish_work import Shelf
from maple_rook.core.writing.fields import LiveFigure
from maple_rook.core.writing.parts import WriteUpPart
from maple_rook.core.writing.points import ToldClaim

STONE = "Between stones, in a home kitchen, we expect {months_to_stone}."
BALANCE = "The balance point is {balance_point} from the heel, minus being toward the handle."
EASE = "Predicted cutting ease is {cutting_ease}, an ordinary knife being 100."
UNCERTAINTY = (
    "± is the expanded uncertainty U, k = 2: the true value lies inside in about 95 of 100 cases. "
    "Predictions are given as limits of 90 % with a likely value."
)
_GUARD = ("packaging",)
_TRIALS = ("cut_onion", "cut_carrot", "cut_root", "cut_tomato", "cut_protein", "cut_other")
_SEVERITY = {
    "fine": "fine",
    "minor": "a small fault",
    "mend": "to mend before sale",
    "reject": "a reason to return it",
}


@dataclass(frozen=True)
class SeenFact:
    """What was seen of one item: its stop, the value as a code and in words, and a note."""

    item: str
    label: str
    stop: str
    value: str
    text: str
    note: str = ""

    @property
    def said(self) -> str:
        return f"{self.text} ({self.note})" if self.text and self.note else self.text or self.note


@dataclass(frozen=True)
class Facts:
    """What a draft is written from.

    ``figures`` are those the record has, by key; ``missing`` names what the routine asks for and
    not measured; ``work`` is what is to be repaired.
    """

    name: str
    kind: str
    condition: str
    grind: str
    construction: str = ""
    steel: str = ""
    figures: Mapping[str, LiveFigure] = field(default_factory=dict)
    seen: Sequence[SeenFact] = ()
    claims: Sequence[ToldClaim] = ()
    what_for: str = ""
    not_for: str = ""
    cautions: Sequence[str] = ()
    shelf: Shelf = Shelf.OPEN
    work: Sequence[str] = ()
    missing: Sequence[str] = ()
    measured_on: Sequence[str] = ()
    instruments: Sequence[str] = ()

    def has(self, *keys: str) -> bool:
        return all(key in self.figures for key in keys)

    def of(self, stop: str) -> list[SeenFact]:
        return [s for s in self.seen if s.stop == stop]

    def item(self, key: str) -> SeenFact | None:
        return next((s for s in self.seen if s.item == key), None)


def draft(facts: Facts) -> dict[WriteUpPart, list[str]]:
    """Paragraphs by part, in order; live figures stand in braces. A part may be empty."""
    return {part: [p for p in _WRITTEN[part](facts) if p] for part in WriteUpPart}


def _is(facts: Facts, template: str, *keys: str) -> str:
    """A sentence, where the record has its figures."""
    return template if facts.has(*keys) else ""


def _together(*sentences: str) -> str:
    return " ".join(filter(None, sentences))


def _glance(f: Facts) -> list[str]:
    made = "; ".join(filter(None, (f.construction, f.steel and f"steel {f.steel}")))
    first = _together(
        f"{f.name} is a {f.condition} {f.kind} with a {f.grind} grind.",
        f"Construction: {made}." if made else "",
        _is(f, "The edge is {edge_length} long.", "edge_length"),
        _is(f, "It weighs {weight}.", "weight"),
        _is(f, "Hardness is {hardness}.", "hardness"),
        _is(f, "It costs {price}.", "price"),
    )
    second = _together(
        _is(f, EASE, "cutting_ease"),
        _is(
            f, "Between stones, in a home kitchen, we expect {months_to_stone}.", "months_to_stone"
        ),
    )
    return [first, f.what_for, second]


def _arrival(f: Facts) -> list[str]:
    packed = f.item("packaging")
    copied = f.item("claims_copied")
    lines = []
    if packed:
        lines.append(f"Packaging: {_told(packed)}.")
    if copied and copied.value == "no_box":
        lines.append("It came without a box.")
    elif copied and copied.value == "none_printed":
        lines.append("Nothing measurable is printed on the box.")
    lacquer = f.item("lacquer")
    if lacquer and lacquer.value != "none":
        lines.append(f"Lacquer: {lacquer.said}.")
    return [_together(*lines)]


def _told(seen: SeenFact) -> str:
    text = _SEVERITY.get(seen.value, seen.text)
    return f"{text} ({seen.note})" if seen.note else text


def _hand(f: Facts) -> list[str]:
    seen = f.of("balance")
    return [
        _together(
            _is(f, "It weighs {weight}.", "weight"),
            _is(f, BALANCE, "balance_point"),
            _is(f, "The handle is {handle_length} long.", "handle_length"),
            _is(f, "Around the handle we measure {handle_circumference}.", "handle_circumference"),
            _is(f, "Knuckle room is {knuckle_room}.", "knuckle_room"),
        ),
        _seen_as_list(seen),
    ]


def _seen_as_list(seen: Sequence[SeenFact]) -> str:
    """Items in one sentence, as the Bench names them."""
    said = [f"{s.label}: {s.said}" for s in seen if s.said]
    return f"{_upper('; '.join(said))}." if said else ""


def _upper(text: str) -> str:
    return text[:1].upper() + text[1:]


def _blade(f: Facts) -> list[str]:
    return [
        _together(
            _is(f, "The blade is {height_heel} tall at the heel.", "height_heel"),
            _spine(f),
        ),
        _together(
            _is(f, "The edge is ground at {edge_angle}.", "edge_angle"),
            _is(f, "Behind the edge it is {thickness_behind_edge} thick.", "thickness_behind_edge"),
            _is(f, "One millimetre up it is {thickness_1mm} thick.", "thickness_1mm"),
            _is(f, "Asymmetry of the bevel: {asymmetry}.", "asymmetry"),
            _is(f, "Hardness is {hardness}.", "hardness"),
        ),
        *(
            f"The box says {c.label} {c.printed}: {_of_claim(c)}."
            for c in f.claims
            if c.verdict is not ClaimVerdict.UNDECIDED
        ),
    ]


def _spine(f: Facts) -> str:
    if f.has("spine_heel", "spine_mid", "spine_tip"):
        return (
            "The spine goes from {spine_heel} at the heel over {spine_mid} in the middle to "
            "{spine_tip} near the tip."
        )
    return _is(f, "The spine is {spine_heel} thick at the heel.", "spine_heel")


def _of_claim(claim: ToldClaim) -> str:
    if claim.verdict is ClaimVerdict.CONFIRMED:
        return f"it measures {claim.measured}, within what is printed"
    return f"it measures {claim.measured}, {claim.statement}"


def _board(f: Facts) -> list[str]:
    forces = [
        f"{figure.label.partition(', ')[0]} {{{key}}}"
        for key, figure in f.figures.items()
        if key.startswith("force.") and key.endswith(".push")
    ]
    trials = [s for s in f.seen if s.item in _TRIALS and s.said]
    return [
        _is(f, EASE, "cutting_ease"),
        f"Predicted force of a straight push: {'; '.join(forces)}." if forces else "",
        f"In test cuts: {'; '.join(f'{s.label}, {s.said}' for s in trials)}." if trials else "",
        _is(f, "Predicted food release is {release}; at 100 nothing would stick.", "release"),
    ]


def _sharpness(f: Facts) -> list[str]:
    parts = [s for s in f.seen if s.item == "sharpness_parts" and s.said]
    return [
        _together(
            _is(f, "Out of the box it scored {sharpness_score} for sharpness.", "sharpness_score"),
            _is(f, "It cut the test line at {sharpness_force}.", "sharpness_force"),
            _is(f, "It cut the test paper at {paper_cut_force}.", "paper_cut_force"),
        ),
        f"Along the edge: {'; '.join(s.said for s in parts)}." if parts else "",
    ]


def _finish(f: Facts) -> list[str]:
    seen = [s for s in f.of("finish") if s.item not in _GUARD]
    fine = [s.label for s in seen if s.value == "fine"]
    other = [s for s in seen if s.value in ("minor", "mend", "reject")]
    return [
        f"Without a fault: {listed(fine)}." if fine else "",
        *(f"{_upper(s.label)}: {_told(s)}." for s in other),
    ]


def _edge_life(f: Facts) -> list[str]:
    return [
        _together(
            _is(f, "Between rods, in a home kitchen, we expect {days_to_rod}.", "days_to_rod"),
            _is(f, "Between stones we expect {months_to_stone}.", "months_to_stone"),
            _is(f, "On the card test we predict {card_test}.", "card_test"),
        ),
        "These are predictions from hardness, steel and edge angle, not a test of this knife."
        if f.has("months_to_stone")
        else "",
    ]


def _value(f: Facts) -> list[str]:
    value = f.item("value")
    return [
        _together(
            _is(f, "It costs {price}.", "price"),
            _is(f, "Owning it costs {cost_of_year} a year.", "cost_of_year"),
            f"For the price we call it {value.said}." if value and value.said else "",
        )
    ]


def _suits(f: Facts) -> list[str]:
    suits, unsuited = f.item("suits"), f.item("not_for")
    return [
        f.what_for,
        f"It suits: {suits.said}." if suits and suits.said else "",
        f.not_for,
        f"It does not suit: {unsuited.said}." if unsuited and unsuited.said else "",
    ]


def _first_use(f: Facts) -> list[str]:
    to_mend = f.item("to_mend")
    work = [lower_first(w) for w in f.work]
    if to_mend and to_mend.note and not work:
        work = [lower_first(to_mend.note)]
    told = {
        Shelf.RETURN: "This one goes back to the maker",
        Shelf.NEEDS_WORK: "Before it is used",
    }.get(f.shelf, "To look at")
    return [
        f"{told}: {'; '.join(work)}." if work else "",
        "Wash it before first use.",
        *f.cautions,
    ]


def _method(f: Facts) -> list[str]:
    days = f"Measured on {listed(list(f.measured_on))}" if f.measured_on else ""
    used = f" with {listed(list(f.instruments))}" if f.instruments else ""
    return [
        f"{days}{used}." if days else "Nothing was measured yet.",
        UNCERTAINTY,
        f"Not measured: {', '.join(f.missing)}." if f.missing else "",
    ]


_WRITTEN: dict[WriteUpPart, Callable[[Facts], list[str]]] = {
    WriteUpPart.GLANCE: _glance,
    WriteUpPart.ARRIVAL: _arrival,
    WriteUpPart.HAND: _hand,
    WriteUpPart.BLADE: _blade,
    WriteUpPart.BOARD: _board,
    WriteUpPart.SHARPNESS: _sharpness,
    WriteUpPart.FINISH: _finish,
    WriteUpPart.EDGE_LIFE: _edge_life,
    WriteUpPart.VALUE: _value,
    WriteUpPart.SUITS: _suits,
    WriteUpPart.FIRST_USE: _first_use,
    WriteUpPart.METHOD: _method,
}
