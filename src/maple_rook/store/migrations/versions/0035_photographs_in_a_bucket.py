"""photographs may be kept in a bucket; pictures are of a kind that pages show, crops within them"""

from alembic import op

revision = "0035"
down_revision = "0034"
branch_labels = None
depends_on = None

_PICTURES = ("photos", "measuring_photos", "photographs")
_SHOWN = "media_type IN ('image/jpeg', 'image/png', 'image/webp')"
_WITHIN = (
    "crop IS NULL OR coalesce(jsonb_path_match(crop, '"
    '$.type() == "array" && $.size() == 4 && $[0] >= 0 && $[1] >= 0 && $[2] >= 0.1'
    " && $[3] >= 0.1 && $[0] + $[2] <= 1.0001 && $[1] + $[3] <= 1.0001', '{}', true), false)"
)


def upgrade() -> None:
    op.alter_column("photographs", "content", nullable=True)
    for table in _PICTURES:
        _check(table, "media_type", _SHOWN, otherwise="media_type = 'image/jpeg'")
    _check("photographs", "crop", _WITHIN, otherwise="crop = NULL")
    op.create_check_constraint(op.f("ck_photographs_content"), "photographs", "length(content) > 0")


def _check(table: str, name: str, condition: str, otherwise: str) -> None:
    """Of all rows: what an earlier release let in from a file does not stop this one's start."""
    op.execute(f"ALTER TABLE {table} DISABLE TRIGGER USER")
    op.execute(f"UPDATE {table} SET {otherwise} WHERE NOT ({condition})")
    op.execute(f"ALTER TABLE {table} ENABLE TRIGGER USER")
    op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, condition)


def downgrade() -> None:
    for name in ("crop", "content"):
        op.drop_constraint(f"ck_photographs_{name}", "photographs")
    for table in _PICTURES:
        op.drop_constraint(f"ck_{table}_media_type", table)
    op.alter_column("photographs", "content", nullable=False)
