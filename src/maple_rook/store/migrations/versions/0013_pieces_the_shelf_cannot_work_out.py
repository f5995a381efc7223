"""pieces that cannot be worked out are put aside, so that the others are"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    named = op.f("fk_shelf_aside_piece_id_pieces")
    op.create_table(
        "shelf_aside",
        sa.Column("piece_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("reckoned", sa.String(16), nullable=False),
        sa.Column("why", sa.Text(), nullable=False),
        sa.Column(
            "since",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.ForeignKeyConstraint(["piece_id"], ["pieces.id"], name=named, ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("piece_id", name=op.f("pk_shelf_aside")),
    )


def downgrade() -> None:
    op.drop_table("shelf_aside")
