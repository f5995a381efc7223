"""What was calculated for a knife when it was on the Board before."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Generic, TypeVar
from weakref import WeakKeyDictionary

from maple_rook.comparing.laid import Laid
from maple_rook.shelf.knife import ShelfKnife

T = TypeVar("T")


class Before(Generic[T]):
    """The last results for each knife, for as long as the knife stays as it is.

    The shelf makes a new :class:`ShelfKnife` of a piece once anything is written of it, so the
    old one takes what was known of it along. A model's blade is made again for every look and is
    calculated every time.
    """

    def __init__(self) -> None:
        self._known: WeakKeyDictionary[ShelfKnife, tuple[object, T]] = WeakKeyDictionary()

    def of(
        self,
        knives: Sequence[Laid],
        rests_on: object,
        work_out: Callable[[Sequence[Laid]], Sequence[T]],
    ) -> list[T]:
        """What is known of each knife, in their order; those that are not known together.

        Parameters
        ----------
        knives : what lies on the Board.
        rests_on : everything else the result rests on; compared with ``==``.
        work_out : of some knives, in their order.
        """
        found: Mapping[int, T] = {
            i: known[1]
            for i, of in enumerate(knives)
            if _own(of) and (known := self._known.get(of.knife)) and known[0] == rests_on
        }
        missing = [i for i in range(len(knives)) if i not in found]
        if missing:
            made = work_out([knives[i] for i in missing])
            found = {**found, **dict(zip(missing, made, strict=True))}
            for i in filter(lambda i: _own(knives[i]), missing):
                self._known[knives[i].knife] = rests_on, found[i]
        return [found[i] for i in range(len(knives))]


def _own(of: Laid) -> bool:
    return of.blade is of.knife.blade
