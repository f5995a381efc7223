"""composition ranges, aliases and a shop's own grades"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for column in (
        sa.Column("ranges", postgresql.JSONB(), server_default="{}", nullable=False),
        sa.Column("aliases", postgresql.JSONB(), server_default="[]", nullable=False),
        sa.Column("carbide_relative_u", sa.Double(), server_default="0.25", nullable=False),
        sa.Column("own", sa.Boolean(), server_default="false", nullable=False),
    ):
        op.add_column("steels", column)


def downgrade() -> None:
    for name in ("own", "carbide_relative_u", "aliases", "ranges"):
        op.drop_column("steels", name)
