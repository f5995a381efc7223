"""a measured reading by an unknown instrument states its own uncertainty"""

from alembic import op

revision = "0028"
down_revision = "0027"
branch_labels = None
depends_on = None

_KINDS = "kind IN ('measured', 'estimated', 'told')"
_NAMED = f"{_KINDS} AND (kind <> 'measured' OR instrument_id IS NOT NULL)"
_NAMED_OR_STATED = (
    f"{_KINDS} AND (kind <> 'measured' OR instrument_id IS NOT NULL"
    " OR standard_uncertainty IS NOT NULL)"
)


def upgrade() -> None:
    _check(_NAMED_OR_STATED)


def downgrade() -> None:
    _check(_NAMED)


def _check(condition: str) -> None:
    op.drop_constraint(op.f("ck_readings_kind"), "readings")
    op.create_check_constraint(op.f("ck_readings_kind"), "readings", condition)
