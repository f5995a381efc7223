"""numbers of bar codes, and the key of the shop's product feed"""

import sqlalchemy as sa
from alembic import op

revision = "0033"
down_revision = "0032"
branch_labels = None
depends_on = None

_SEEN = {
    "made": ("INSERT", "NEW TABLE AS now_there"),
    "changed": ("UPDATE", "OLD TABLE AS was_there NEW TABLE AS now_there"),
    "removed": ("DELETE", "OLD TABLE AS was_there"),
}


def upgrade() -> None:
    op.add_column(
        "knife_models", sa.Column("gtin", sa.String(14), nullable=False, server_default="")
    )
    op.add_column(
        "shop", sa.Column("feed_key_sha256", sa.String(64), nullable=False, server_default="")
    )
    _audit("{logo,feed_key_sha256}")


def downgrade() -> None:
    _audit("{logo}")
    op.drop_column("shop", "feed_key_sha256")
    op.drop_column("knife_models", "gtin")


def _audit(hidden: str) -> None:
    """The audit says that the key was changed, and does not hold it."""
    for act, (event, seen) in _SEEN.items():
        op.execute(f"DROP TRIGGER shop_{act} ON shop")
        op.execute(
            f"CREATE TRIGGER shop_{act} AFTER {event} ON shop REFERENCING {seen} "
            f"FOR EACH STATEMENT EXECUTE FUNCTION audit_{act}('id', 'x.name', '{hidden}')"
        )
