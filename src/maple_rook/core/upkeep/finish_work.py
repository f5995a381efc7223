"""From faults seen at the Bench to repairs in order, and what the shelf may say of the knife.

Fixes, grits and times are common practice, without a published source.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.observations import ITEMS, SIDES
from maple_rook.core.upkeep.cautions import FINISH, HANDLING

SANDING = "Eye protection and dust control; edge taped; blade kept cool; wipe the grit away."
FILING = "Eye protection; blade clamped, edge taped; file away from the edge."
SEALING = "Food-safe sealant only, cured fully; dry the joint first; wash before food use."
STONING = "Blade on a steady base, fingers behind the edge; keep it wet and cool."


class Shelf(Labelled):
    """What the shelf may say of a piece."""

    READY = "ready"
    NEEDS_WORK = "needs_work"
    RETURN = "return", "return to maker"
    OPEN = "no_verdict", "no verdict yet"
    KEPT = "not_for_sale"


@dataclass(frozen=True)
class Fault:
    """What was seen: item, side, how bad, and the note; the severities are the Bench's."""

    item: str
    aspect: str
    severity: str
    note: str = ""

    @property
    def label(self) -> str:
        side = SIDES.get(self.aspect, "") if self.aspect else ""
        name = ITEMS[self.item].label if self.item in ITEMS else self.item
        return f"{name}, {side}" if side else name


@dataclass(frozen=True)
class Method:
    """How a fault is repaired: grits in order, materials, minutes, and what to mind."""

    what: str
    place: int
    grits: tuple[int, ...]
    materials: tuple[str, ...]
    minutes: float
    caution: str
    recheck: str


@dataclass(frozen=True)
class Repair:
    """A fault with its mend; one that goes back to the maker has no minutes."""

    fault: Fault
    method: Method
    returns: bool


_PAPER = "wet-and-dry paper"
METHODS: dict[str, Method] = {
    "straightness": Method(
        "Return it: a warp steers and leaves gaps.",
        0,
        (),
        (),
        0.0,
        HANDLING,
        "Look from heel to tip along the edge.",
    ),
    "bolster_proud": Method(
        "File the bolster back below the edge line, then smooth the file marks.",
        1,
        (240, 600),
        ("second-cut file", _PAPER),
        25.0,
        FILING,
        "Edge on the board: no light at the heel.",
    ),
    "edge_line": Method(
        "Take the hump, or a shallow hollow, out on a flat stone, then sharpen.",
        2,
        (220, 1000, 3000),
        ("flat stones",),
        30.0,
        STONING,
        "Edge on the board: no light anywhere.",
    ),
    "tip": Method(
        "Draw the tip true from the spine side on a stone.",
        2,
        (400, 1000),
        ("flat stones",),
        10.0,
        STONING,
        "Tip true, not rounded.",
    ),
    "bevel_evenness": Method(
        "Even the bevel at the next sharpening, a little more on the narrow "
        "face; leave the ratio as ground unless the owner asks.",
        3,
        (1000, 3000),
        ("flat stones",),
        20.0,
        STONING,
        "Band of even width, heel to tip.",
    ),
    "rivets": Method(
        "Paper the rivet flush with the scale.",
        4,
        (400, 800),
        (_PAPER,),
        5.0,
        SANDING,
        "Fingertip across: flush, no burr.",
    ),
    "handle_joints": Method(
        "Paper the step away; a gap is sealed.",
        4,
        (400, 800),
        (_PAPER, "food-safe epoxy"),
        8.0,
        SANDING,
        "Nail across: no step, no gap.",
    ),
    "spine_corners": Method(
        "Ease the corners of the spine where the finger pinches.",
        5,
        (600, 1200),
        (_PAPER,),
        6.0,
        SANDING,
        "Finger along the spine: no corner.",
    ),
    "choil_corners": Method(
        "Ease the corners behind the heel.",
        5,
        (600, 1200),
        (_PAPER,),
        4.0,
        SANDING,
        "Finger behind the heel: no corner.",
    ),
    "etching": Method(
        "Smooth the etching or stamp; steel wool does nothing.",
        5,
        (600, 1200),
        (_PAPER,),
        8.0,
        SANDING,
        "Smooth to the finger.",
    ),
    "lacquer": Method(
        "Clean the lacquer off the edge, then touch the edge up and judge it.",
        6,
        (3000,),
        ("food-safe solvent", "soft cloth", "fine stone"),
        10.0,
        STONING,
        "Drop of water spreads at the edge.",
    ),
    "tang_joint": Method(
        "Seal the tang opening once all sanding is done.",
        7,
        (),
        ("food-safe wax, epoxy or silicone",),
        10.0,
        SEALING,
        "No opening for water.",
    ),
    "packaging": Method(
        "Sheath or guard, box, label beside the blade and not on it.",
        8,
        (),
        ("sheath or edge guard", "box"),
        3.0,
        HANDLING,
        "Edge and tip guarded.",
    ),
}
"""How each fault is repaired; ``place`` is its order: first what decides, last what stays dry."""
_OTHER = Method("Mend as written at the sign-off.", 6, (), (), 15.0, FINISH, "As written.")
_SPOTS = {"edge_line": ("hump", "hollow"), "lacquer": ("over_edge",)}
"""Items of the sheet that are faults by what they say, not by a severity."""
SEVERE = ("minor", "mend", "reject")
TELLING = (*SEVERE, *(value for values in _SPOTS.values() for value in values), "return")
"""Values on a sheet that may ask for work."""


_NOTHING = ("", "nothing", "nothing to mend", "none", "no", "nil", "n/a", "all fine")


def faults(seen: Iterable[tuple[str, str, str, str]]) -> list[Fault]:
    """The faults among what stands on a sheet: (item, aspect, value, note) each.

    >>> faults([("rivets", "left", "mend", "burr"), ("tip", "", "fine", "")])[0].label
    'rivets, left'
    """
    found = []
    for item, aspect, value, note in seen:
        if item in METHODS and value in SEVERE:
            found.append(Fault(item, aspect, value, note))
        elif value in _SPOTS.get(item, ()):
            found.append(Fault(item, aspect, "mend", note or value.replace("_", " ")))
        elif item == "to_mend" and asks_for_work(note):
            found.append(Fault(item, aspect, "mend", note))
    return found


def asks_for_work(note: str) -> bool:
    """Whether a note of what is to mend names anything.

    >>> asks_for_work("ease the spine"), asks_for_work("Nothing."), asks_for_work(" - ")
    (True, False, False)
    """
    return note.strip(" .-–—").casefold() not in _NOTHING


def repairs(found: Sequence[Fault]) -> list[Repair]:
    """A repair for every fault, in the order of work: what goes back first, sealing last."""
    made = [_repair(fault) for fault in found]
    return sorted(made, key=lambda j: (not j.returns, j.method.place))


def _repair(fault: Fault) -> Repair:
    method = METHODS.get(fault.item, _OTHER)
    returns = fault.severity == "reject" or (
        fault.item == "straightness" and fault.severity == "mend"
    )
    return Repair(fault, method, returns)


def shelf_state(verdict: str | None, open_faults: Sequence[Fault]) -> Shelf:
    """What the shelf says: a reject or a verdict to return goes back, open mends need work.

    A minor fault alone does not keep a knife off the shelf. A knife to be sold "after the work
    named" is ready once none of it is open.

    >>> shelf_state("after_work", [Fault("rivets", "", "mend")]).value
    'needs_work'
    """
    if verdict == "return" or any(_repair(f).returns for f in open_faults):
        return Shelf.RETURN
    if any(f.severity == "mend" or verdict == "after_work" for f in open_faults):
        return Shelf.NEEDS_WORK
    if verdict == "keep":
        return Shelf.KEPT
    return Shelf.READY if verdict in ("sell", "after_work") else Shelf.OPEN


_UNSAFE = ("crack", "loose", "broken", "snapped", "splinter")
"""Words of a note that name a danger to the hand, however lightly the fault was marked."""


@dataclass(frozen=True)
class FinishState:
    """What the shop found of a piece: its state, the work named, and faults that are a danger."""

    shelf: Shelf = Shelf.OPEN
    work: tuple[str, ...] = ()
    minutes: float = 0.0
    unsafe: tuple[str, ...] = ()

    def unhardened(self, hrc: float) -> FinishState:
        """The same piece where its hardness says that it was not hardened: it goes back."""
        return replace(self, shelf=Shelf.RETURN, work=(f"not hardened, {hrc:.0f} HRC", *self.work))

    @classmethod
    def of(cls, verdict: str | None, open_faults: Sequence[Fault]) -> FinishState:
        """From the sign-off and the faults that stand; minor ones ask for no work.

        >>> FinishState.of("sell", [Fault("rivets", "", "minor", "front rivet loose")]).unsafe
        ('rivets: front rivet loose',)
        """
        state = shelf_state(verdict, open_faults)
        returned = state is Shelf.RETURN
        named = [f for f in open_faults if returned or f.severity != "minor"]
        unsafe = [f for f in open_faults if any(word in f.note.casefold() for word in _UNSAFE)]
        return cls(
            state,
            tuple(_told(f) for f in named),
            sum(_repair(f).method.minutes for f in named),
            tuple(_told(f) for f in unsafe),
        )


def _told(fault: Fault) -> str:
    return f"{fault.label}: {fault.note}" if fault.note else fault.label


def cost(minutes: float, hourly_rate: float) -> float:
    """What the bench time costs, minutes / 60 x rate.

    >>> cost(90, 40)
    60.0
    """
    return minutes / 60 * hourly_rate
