"""what a shop settles for itself: units, paper, words of its cards, logo, address, time zone"""

import sqlalchemy as sa
from alembic import op

revision = "0030"
down_revision = "0029"
branch_labels = None
depends_on = None

_TEXTS = {
    "units": (8, "metric"),
    "paper": (8, "A4"),
    "language": (8, "en"),
    "public_address": (200, ""),
    "opening_words": (300, ""),
    "time_zone": (64, "UTC"),
}
_SEEN = {
    "made": ("INSERT", "NEW TABLE AS now_there"),
    "changed": ("UPDATE", "OLD TABLE AS was_there NEW TABLE AS now_there"),
    "removed": ("DELETE", "OLD TABLE AS was_there"),
}


def upgrade() -> None:
    for name, (length, usual) in _TEXTS.items():
        op.add_column(
            "shop", sa.Column(name, sa.String(length), nullable=False, server_default=usual)
        )
    op.add_column("shop", sa.Column("logo", sa.LargeBinary(), nullable=True))
    op.create_check_constraint(op.f("ck_shop_units"), "shop", "units IN ('metric', 'imperial')")
    op.create_check_constraint(op.f("ck_shop_paper"), "shop", "paper IN ('A4', 'Letter')")
    _audit("{logo}")


def downgrade() -> None:
    _audit("{}")
    for name in ("units", "paper"):
        op.drop_constraint(op.f(f"ck_shop_{name}"), "shop")
    for name in (*_TEXTS, "logo"):
        op.drop_column("shop", name)


def _audit(hidden: str) -> None:
    """The audit says that the logo was changed, and does not hold it."""
    for act, (event, seen) in _SEEN.items():
        op.execute(f"DROP TRIGGER shop_{act} ON shop")
        op.execute(
            f"CREATE TRIGGER shop_{act} AFTER {event} ON shop REFERENCING {seen} "
            f"FOR EACH STATEMENT EXECUTE FUNCTION audit_{act}('id', 'x.name', '{hidden}')"
        )
