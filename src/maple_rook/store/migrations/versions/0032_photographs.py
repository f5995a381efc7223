"""photographs of knives for readers, and the sizes pages show them in"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0032"
down_revision = "0031"
branch_labels = None
depends_on = None

_SEEN = {
    "made": ("INSERT", "NEW TABLE AS now_there"),
    "changed": ("UPDATE", "OLD TABLE AS was_there NEW TABLE AS now_there"),
    "removed": ("DELETE", "OLD TABLE AS was_there"),
}
_TAG = "(SELECT p.tag FROM pieces p WHERE p.id = x.piece_id)"


def upgrade() -> None:
    op.create_table(
        "photographs",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("client_id", sa.Uuid(), nullable=False),
        sa.Column("piece_id", sa.Integer(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("alt", sa.String(300), nullable=False, server_default=""),
        sa.Column("caption", sa.String(300), nullable=False, server_default=""),
        sa.Column("credit", sa.String(120), nullable=False, server_default=""),
        sa.Column("crop", postgresql.JSONB(), nullable=True),
        sa.Column("media_type", sa.String(20), nullable=False),
        sa.Column("digest", sa.String(64), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("width_px", sa.Integer(), nullable=False),
        sa.Column("height_px", sa.Integer(), nullable=False),
        sa.Column("dropped", sa.Boolean(), nullable=False, server_default=sa.text("false")),
        sa.Column(
            "recorded_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.CheckConstraint("width_px > 0 AND height_px > 0", name=op.f("ck_photographs_size")),
        sa.ForeignKeyConstraint(
            ["piece_id"], ["pieces.id"], name=op.f("fk_photographs_piece_id_pieces")
        ),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_photographs_person_id_people")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_photographs")),
        sa.UniqueConstraint("client_id", name=op.f("uq_photographs_client_id")),
    )
    op.create_index(op.f("ix_photographs_piece_id"), "photographs", ["piece_id"])
    op.create_table(
        "web_pictures",
        sa.Column("key", sa.String(80), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("key", name=op.f("pk_web_pictures")),
    )
    for act, (event, seen) in _SEEN.items():
        op.execute(
            f"CREATE TRIGGER photographs_{act} AFTER {event} ON photographs REFERENCING {seen} "
            f"FOR EACH STATEMENT EXECUTE FUNCTION audit_{act}('id', '{_TAG}', '{{content}}')"
        )


def downgrade() -> None:
    op.drop_table("web_pictures")
    op.drop_table("photographs")
