"""traced edges, and the shop's foods"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

_TIME = postgresql.TIMESTAMP(timezone=True)


def upgrade() -> None:
    op.create_table(
        "edge_traces",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("client_id", sa.Uuid(), nullable=False),
        sa.Column("sheet_id", sa.Integer(), nullable=False),
        sa.Column("source", sa.String(length=12), nullable=False),
        sa.Column("given", sa.Text(), nullable=False),
        sa.Column("points", postgresql.JSONB(), nullable=False),
        sa.Column("taken_at", _TIME, nullable=False),
        sa.Column("recorded_at", _TIME, server_default=sa.text("now()"), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_edge_traces_person_id_people")
        ),
        sa.ForeignKeyConstraint(
            ["sheet_id"], ["sheets.id"], name=op.f("fk_edge_traces_sheet_id_sheets")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_edge_traces")),
        sa.UniqueConstraint("client_id", name=op.f("uq_edge_traces_client_id")),
    )
    op.create_index(op.f("ix_edge_traces_sheet_id"), "edge_traces", ["sheet_id"], unique=False)
    op.execute(
        "CREATE TRIGGER edge_traces_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON edge_traces "
        "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
    )
    op.create_table(
        "foods",
        sa.Column("key", sa.String(length=40), nullable=False),
        sa.Column("label", sa.String(length=80), nullable=False),
        sa.Column("toughness_j_m2", sa.Double(), nullable=False),
        sa.Column("blunting_um", sa.Double(), nullable=False),
        sa.Column("stiffness_n_mm3", sa.Double(), nullable=False),
        sa.Column("friction", sa.Double(), nullable=False),
        sa.Column("height_mm", sa.Double(), nullable=False),
        sa.Column("width_mm", sa.Double(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("key", name=op.f("pk_foods")),
    )


def downgrade() -> None:
    op.drop_table("foods")
    op.drop_table("edge_traces")
