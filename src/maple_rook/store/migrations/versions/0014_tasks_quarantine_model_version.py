"""long jobs are tasks, pieces put aside are quarantined, and what they rest on a model version"""

from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

TABLES = (("long_jobs", "tasks"), ("shelf_aside", "shelf_quarantine"))
COLUMNS = (
    ("shelf", "reckoned", "model_version"),
    ("shelf_quarantine", "reckoned", "model_version"),
)
CONSTRAINTS = (
    ("tasks", "pk_long_jobs", "pk_tasks"),
    ("tasks", "ck_long_jobs_state", "ck_tasks_state"),
    ("tasks", "fk_long_jobs_person_id_people", "fk_tasks_person_id_people"),
    ("shelf_quarantine", "pk_shelf_aside", "pk_shelf_quarantine"),
    (
        "shelf_quarantine",
        "fk_shelf_aside_piece_id_pieces",
        "fk_shelf_quarantine_piece_id_pieces",
    ),
)
INDEXES = (
    ("ix_long_jobs_kind", "ix_tasks_kind"),
    ("ix_shelf_reckoned", "ix_shelf_model_version"),
)


def upgrade() -> None:
    for old, new in TABLES:
        op.rename_table(old, new)
    for table, old, new in COLUMNS:
        op.alter_column(table, old, new_column_name=new)
    for table, old, new in CONSTRAINTS:
        op.execute(f"ALTER TABLE {table} RENAME CONSTRAINT {old} TO {new}")
    for old, new in INDEXES:
        op.execute(f"ALTER INDEX {old} RENAME TO {new}")


def downgrade() -> None:
    for old, new in INDEXES:
        op.execute(f"ALTER INDEX {new} RENAME TO {old}")
    for table, old, new in CONSTRAINTS:
        op.execute(f"ALTER TABLE {table} RENAME CONSTRAINT {new} TO {old}")
    for table, old, new in reversed(COLUMNS):
        op.alter_column(table, new, new_column_name=old)
    for old, new in reversed(TABLES):
        op.rename_table(new, old)
