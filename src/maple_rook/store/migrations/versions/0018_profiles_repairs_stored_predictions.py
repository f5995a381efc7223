"""one word per thing: a customer's profile, repairs, stored predictions, the mix of foods"""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None

TABLES = {"work_jobs": "repairs", "kept_predictions": "stored_predictions"}
COLUMNS = (("customers", "job", "profile"), ("work_events", "job_id", "repair_id"))
CONSTRAINTS = {
    "repairs": (
        ("pk_work_jobs", "pk_repairs"),
        ("fk_work_jobs_order_id_work_orders", "fk_repairs_order_id_work_orders"),
        ("fk_work_jobs_seen_id_observations", "fk_repairs_seen_id_observations"),
    ),
    "work_events": (("fk_work_events_job_id_work_jobs", "fk_work_events_repair_id_repairs"),),
    "stored_predictions": (
        ("pk_kept_predictions", "pk_stored_predictions"),
        *(
            (f"fk_kept_predictions_{of}", f"fk_stored_predictions_{of}")
            for of in (
                "piece_id_pieces",
                "trial_id_trials",
                "coefficients_id_coefficient_sets",
                "person_id_people",
            )
        ),
    ),
}
INDEXES = (
    ("ix_work_jobs_order_id", "ix_repairs_order_id"),
    ("ix_work_events_job_id", "ix_work_events_repair_id"),
    ("ix_kept_predictions_piece_id", "ix_stored_predictions_piece_id"),
)
SEQUENCES = (
    ("work_jobs_id_seq", "repairs_id_seq"),
    ("kept_predictions_id_seq", "stored_predictions_id_seq"),
    ("long_jobs_id_seq", "tasks_id_seq"),
)
TRIGGERS = (
    ("repairs", "work_jobs_append_only", "repairs_append_only"),
    ("stored_predictions", "kept_predictions_append_only", "stored_predictions_append_only"),
)
_SHELF = """
CREATE OR REPLACE FUNCTION shelf_by_work_events_insert() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO shelf_stale (piece_id)
    SELECT DISTINCT touched.id FROM (SELECT o.piece_id FROM now_there x
        JOIN {repairs} j ON j.id = x.{repair_id} JOIN work_orders o ON o.id = j.order_id)
        touched(id)
     WHERE NOT EXISTS (SELECT FROM shelf_stale told WHERE told.piece_id = touched.id
                          AND told.xmin = pg_current_xact_id()::xid);
    RETURN NULL;
END $$
"""
_AUDITED = (("made", "INSERT", "NEW"), ("removed", "DELETE", "OLD"), ("changed", "UPDATE", "BOTH"))
_SEEN = {
    "NEW": "NEW TABLE AS now_there",
    "OLD": "OLD TABLE AS was_there",
    "BOTH": "OLD TABLE AS was_there NEW TABLE AS now_there",
}
DOCUMENTS = (
    ("customers", "profile", {"cuts": "food_mix"}),
    ("comparisons", "asked", {"job": "profile", "cuts": "food_mix"}),
    ("stored_predictions", "made_with", {"job": "food_mix"}),
    ("trial_protocols", "protocol", {"job": "food_mix"}),
    ("upkeep_plans", "kitchen", {"job": "food_mix"}),
)


def _audit_customers(hidden: str) -> None:
    """What is audited of a customer names no more than that something changed."""
    for what, on, seen in _AUDITED:
        op.execute(f"DROP TRIGGER customers_{what} ON customers")
        op.execute(
            f"CREATE TRIGGER customers_{what} AFTER {on} ON customers "
            f"REFERENCING {_SEEN[seen]} FOR EACH STATEMENT "
            f"EXECUTE FUNCTION audit_{what}('id', '''''', '{{label,{hidden}}}')"
        )


def _called(document: Any, names: dict[str, str]) -> Any:
    if isinstance(document, list):
        return [_called(part, names) for part in document]
    if isinstance(document, dict):
        return {names.get(key, key): _called(part, names) for key, part in document.items()}
    return document


def _rename_in(table: str, column: str, names: dict[str, str]) -> None:
    key = sa.inspect(op.get_bind()).get_pk_constraint(table)["constrained_columns"]
    where = " AND ".join(f"{name} = :{name}" for name in key)
    op.execute(f"ALTER TABLE {table} DISABLE TRIGGER USER")
    rows = op.get_bind().execute(sa.text(f"SELECT {', '.join(key)}, {column} FROM {table}")).all()
    for *of, document in rows:
        changed = _called(document, names)
        if changed != document:
            now = {"now": json.dumps(changed), **dict(zip(key, of, strict=True))}
            update = f"UPDATE {table} SET {column} = CAST(:now AS jsonb) WHERE {where}"
            op.execute(sa.text(update).bindparams(**now))
    op.execute(f"ALTER TABLE {table} ENABLE TRIGGER USER")


def upgrade() -> None:
    for old, new in TABLES.items():
        op.rename_table(old, new)
    for table, old, new in COLUMNS:
        op.alter_column(table, old, new_column_name=new)
    for table, renamed in CONSTRAINTS.items():
        for old, new in renamed:
            op.execute(f"ALTER TABLE {table} RENAME CONSTRAINT {old} TO {new}")
    for old, new in INDEXES:
        op.execute(f"ALTER INDEX {old} RENAME TO {new}")
    for old, new in SEQUENCES:
        op.execute(f"ALTER SEQUENCE {old} RENAME TO {new}")
    for table, old, new in TRIGGERS:
        op.execute(f"ALTER TRIGGER {old} ON {table} RENAME TO {new}")
    op.execute(_SHELF.format(repairs="repairs", repair_id="repair_id"))
    _audit_customers("profile")
    for table, column, names in DOCUMENTS:
        _rename_in(table, column, names)


def downgrade() -> None:
    for table, column, names in DOCUMENTS:
        _rename_in(table, column, {new: old for old, new in names.items()})
    for table, old, new in TRIGGERS:
        op.execute(f"ALTER TRIGGER {new} ON {table} RENAME TO {old}")
    for old, new in SEQUENCES:
        op.execute(f"ALTER SEQUENCE {new} RENAME TO {old}")
    for old, new in INDEXES:
        op.execute(f"ALTER INDEX {new} RENAME TO {old}")
    for table, renamed in CONSTRAINTS.items():
        for old, new in renamed:
            op.execute(f"ALTER TABLE {table} RENAME CONSTRAINT {new} TO {old}")
    for table, old, new in reversed(COLUMNS):
        op.alter_column(table, new, new_column_name=old)
    for old, new in TABLES.items():
        op.rename_table(new, old)
    op.execute(_SHELF.format(repairs="work_jobs", repair_id="job_id"))
    _audit_customers("job")
