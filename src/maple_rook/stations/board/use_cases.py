"""Observations in which the knives on the Board differ."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence

from sqlalchemy.orm import Session

from maple_rook.answers.history import observations_of_pieces
from maple_rook.comparing.laid import pieces_of_models
from maple_rook.comparing.schemas import SeenRow
from maple_rook.core.measurement.observations import ITEMS
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.store import records


def seen_differences(
    db: Session, piece_ids: Sequence[int], *, models: bool = False
) -> list[SeenRow]:
    """Observations in which the knives differ, or that were made of one only.

    Of ``models`` what was seen of their pieces counts, with how many of them.
    """
    knives = [[key] for key in piece_ids]
    if models:
        of = {p.id: p.model_id for p in records.pieces(db, piece_ids)}
        pieces = pieces_of_models(db, set(of.values()))
        knives = [pieces[of[key]] for key in piece_ids]
    every = [key for keys in knives for key in keys]
    records.pieces(db, list(dict.fromkeys(every)))
    standing = observations_of_pieces(db, every)
    texts: dict[tuple[str, str], dict[int, str]] = {}
    labels: dict[tuple[str, str], str] = {}
    for piece_id, seen in standing.items():
        for o in seen:
            at = (o.item, o.aspect)
            texts.setdefault(at, {})[piece_id] = ", ".join(filter(None, (o.text, o.note)))
            side = ITEMS[o.item].aspects.get(o.aspect, "") if o.aspect and o.item in ITEMS else ""
            labels[at] = f"{o.label}, {side}" if side else o.label
    order = {key: n for n, key in enumerate((*QUANTITIES, *ITEMS))}
    rows = [
        SeenRow(item=at[0], label=labels[at], texts=[_of_pieces(said, keys) for keys in knives])
        for at, said in sorted(texts.items(), key=lambda row: (order.get(row[0][0], 0), row[0][1]))
    ]
    return [row for row in rows if len(set(row.texts)) > 1]


def _of_pieces(said: Mapping[int, str], pieces: Sequence[int]) -> str | None:
    """What was seen of a knife's pieces, the commonest first; how many where they are not at one.

    >>> _of_pieces({1: "fine", 2: "minor", 3: "fine"}, [1, 2, 3])
    'fine (2 of 3), minor (1 of 3)'
    """
    seen = Counter(said[key] for key in pieces if key in said)
    if len(seen) < 2:
        return next(iter(seen), None)
    told = seen.total()
    return ", ".join(f"{text} ({n} of {told})" for text, n in seen.most_common())
