"""what is stored of closed lists is a code: words for people belong to their labels"""

import json
from collections.abc import Iterable
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None

_KINDS = ("feeler gauge", "hardness tester", "angle gauge", "edge tester", "card tester")
_INSTRUMENTS = {kind: kind.replace(" ", "_") for kind in (*_KINDS, "reference block")}
_TRIALS = {
    "card test": "card",
    "line-cut series": "line",
    "cuts to failure": "count",
    "kitchen log": "kitchen",
}
_RODS = {"no rod from 62 HRC": "none", "ceramic, very lightly": "light"}
COLUMNS: dict[tuple[str, str], dict[str, str]] = {
    ("instruments", "kind"): _INSTRUMENTS,
    ("trials", "kind"): _TRIALS,
    ("upkeep_plans", "rods"): _RODS,
    ("upkeep_log", "care"): {"bolster filed": "file_bolster"},
    ("work_events", "kind"): {"re-check": "recheck"},
}
_VERDICTS = {
    "not measurable": "not_measurable",
    "undecided, measure more": "undecided",
    "not measured": "not_measured",
}
_FOODS = {
    "all foods alike": "all_round",
    "dense roots": "roots",
    "fish and thin slices": "slicing",
}
_CRITERIA = {
    "cutting ease": "ease",
    "edge life": "life",
    "board fit": "board",
    "food release": "release",
}
ANSWERS: dict[str, dict[str, str]] = {
    "size": {"the main knife": "main", "small work": "small", "long slices": "long"},
    "motion": {
        "rocks": "rock",
        "pushes and chops": "push",
        "long slices": "slice",
        "a bit of each": "any",
    },
    "hand": {"shared by both": "both"},
    "grip": {"pinches the blade": "pinch", "holds the handle": "handle"},
    "bone": {
        "no bone": "none",
        "round bones, through joints": "around",
        "through small bones": "through",
    },
    "care": {
        "washed and dried at once": "wiped",
        "sometimes left wet": "wet",
        "bolster filed": "file_bolster",
    },
    "tools": {"a rod": "rod", "brought to the shop": "service"},
    "heft": {"no matter": "either"},
    "school": {"geometry first": "geometry", "steel first": "steel"},
    "rods": _RODS,
    "ratio": {
        "as each was recorded": "recorded",
        "bevel widths": "width",
        "a division of the angle": "angle",
    },
    "board": {"soft wood or rubber": "soft", "wood or plastic": "wood", "glass or stone": "glass"},
    "technique": {"twists and scrapes": "rough"},
    "job": _FOODS,
    "cuts": _FOODS,
    "edge": {"fresh from the stone": "fresh", "some weeks old": "used", "kitchen-dull": "dull"},
    "verdict": _VERDICTS,
    "criterion": _CRITERIA,
    "evidence": {f"criterion.{old}": f"criterion.{new}" for old, new in _CRITERIA.items()},
}
DOCUMENTS = (
    ("customers", "job"),
    ("comparisons", "asked"),
    ("comparisons", "answered"),
    ("kept_predictions", "made_with"),
    ("trial_protocols", "protocol"),
    ("upkeep_plans", "kitchen"),
)


def _key_of(table: str, column: str) -> list[str]:
    found = sa.inspect(op.get_bind()).get_pk_constraint(table)["constrained_columns"]
    assert found, (table, column)
    return list(found)


def _said(document: Any, words: dict[str, dict[str, str]], key: str = "") -> Any:
    if isinstance(document, str):
        return words.get(key, {}).get(document, document)
    if isinstance(document, list):
        return [_said(part, words, key) for part in document]
    if isinstance(document, dict):
        return {name: _said(part, words, name) for name, part in document.items()}
    return document


def _change(
    columns: dict[tuple[str, str], dict[str, str]], words: dict[str, dict[str, str]]
) -> None:
    tables = dict.fromkeys(table for table, _ in (*columns, *DOCUMENTS))
    for table in tables:  # not a change of anybody's, and not what was measured
        op.execute(f"ALTER TABLE {table} DISABLE TRIGGER USER")
    for (table, column), codes in columns.items():
        for old, new in codes.items():
            op.execute(
                sa.text(f"UPDATE {table} SET {column} = :new WHERE {column} = :old").bindparams(
                    old=old, new=new
                )
            )
    for table, column in DOCUMENTS:
        _change_documents(table, column, words)
    for table in tables:
        op.execute(f"ALTER TABLE {table} ENABLE TRIGGER USER")


def _change_documents(table: str, column: str, words: dict[str, dict[str, str]]) -> None:
    key = _key_of(table, column)
    named = ", ".join(key)
    where = " AND ".join(f"{name} = :{name}" for name in key)
    rows: Iterable[Any] = (
        op.get_bind().execute(sa.text(f"SELECT {named}, {column} FROM {table}")).all()
    )
    for *of, document in rows:
        changed = _said(document, words)
        if changed != document:
            op.execute(
                sa.text(
                    f"UPDATE {table} SET {column} = CAST(:now AS jsonb) WHERE {where}"
                ).bindparams(now=json.dumps(changed), **dict(zip(key, of, strict=True)))
            )


def upgrade() -> None:
    _change(COLUMNS, ANSWERS)
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")


def downgrade() -> None:
    def back(codes: dict[str, str]) -> dict[str, str]:
        return {new: old for old, new in codes.items()}

    _change(
        {column: back(codes) for column, codes in COLUMNS.items()},
        {key: back(codes) for key, codes in ANSWERS.items()},
    )
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")
