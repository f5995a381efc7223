"""when a piece of the shelf changed, for programs that ask what changed since a day"""

import sqlalchemy as sa
from alembic import op

revision = "0036"
down_revision = "0035"
branch_labels = None
depends_on = None


def upgrade() -> None:
    moment = sa.Column(
        "written_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.text("now()")
    )
    op.add_column("shelf", moment)
    op.create_index("ix_shelf_written_at", "shelf", ["written_at"])


def downgrade() -> None:
    op.drop_column("shelf", "written_at")
