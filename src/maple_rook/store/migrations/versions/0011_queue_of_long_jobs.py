"""the queue of long jobs, and files that wait to be brought in"""

import sqlalchemy as sa
from alembic import op
from procrastinate.schema import SchemaManager
from sqlalchemy.dialects import postgresql

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

QUEUE = "jobs"
"""Schema of the queue's own tables: procrastinate's, of the release that is pinned. Another release
brings its changes in a revision of its own.
"""


def upgrade() -> None:
    op.execute(f"CREATE SCHEMA {QUEUE}")
    op.execute(f"SET LOCAL search_path TO {QUEUE}")
    driver = op.get_bind().connection.driver_connection
    assert driver is not None
    driver.execute(SchemaManager.get_schema())  # as it is: with parameters, its % would be ours
    op.execute("SET LOCAL search_path TO DEFAULT")
    json = postgresql.JSONB()
    op.create_table(
        "import_files",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("file", sa.String(200), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("source", sa.String(80), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("for_good", sa.Boolean(), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("problem", sa.Text(), nullable=False),
        sa.Column("cancelled", sa.Boolean(), nullable=False),
        sa.Column("asked", json, nullable=True),
        sa.Column("report", sa.LargeBinary(), nullable=True),
        sa.Column(
            "recorded_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_import_files_person_id_people")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_import_files")),
    )
    op.create_table(
        "import_parts",
        sa.Column("file_id", sa.String(32), nullable=False),
        sa.Column("number", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(
            ["file_id"],
            ["import_files.id"],
            ondelete="CASCADE",
            name=op.f("fk_import_parts_file_id_import_files"),
        ),
        sa.PrimaryKeyConstraint("file_id", "number", name=op.f("pk_import_parts")),
    )


def downgrade() -> None:
    op.drop_table("import_parts")
    op.drop_table("import_files")
    op.execute(f"DROP SCHEMA {QUEUE} CASCADE")
