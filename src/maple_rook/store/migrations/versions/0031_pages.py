"""pages that the shop writes and publishes, and the scales it scores by"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0031"
down_revision = "0030"
branch_labels = None
depends_on = None

_SEEN = {
    "made": ("INSERT", "NEW TABLE AS now_there"),
    "changed": ("UPDATE", "OLD TABLE AS was_there NEW TABLE AS now_there"),
    "removed": ("DELETE", "OLD TABLE AS was_there"),
}
_TITLE = "(SELECT d.title FROM page_drafts d WHERE d.id = x.draft_id)"


def _audit(table: str, acts: tuple[str, ...], named: str, hidden: str) -> None:
    for act in acts:
        event, seen = _SEEN[act]
        op.execute(
            f"CREATE TRIGGER {table}_{act} AFTER {event} ON {table} REFERENCING {seen} "
            f"FOR EACH STATEMENT EXECUTE FUNCTION audit_{act}('id', '{named}', '{hidden}')"
        )


def _now(name: str) -> sa.Column[Any]:
    return sa.Column(
        name,
        postgresql.TIMESTAMP(timezone=True),
        server_default=sa.text("now()"),
        nullable=False,
    )


def upgrade() -> None:
    op.create_table(
        "page_drafts",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("kind", sa.String(12), nullable=False),
        sa.Column("title", sa.String(160), nullable=False),
        sa.Column("address", sa.String(80), nullable=False),
        sa.Column("content", postgresql.JSONB(), nullable=False),
        _now("recorded_at"),
        _now("changed_at"),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "kind IN ('review', 'comparison', 'range')", name=op.f("ck_page_drafts_kind")
        ),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_page_drafts_person_id_people")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_page_drafts")),
        sa.UniqueConstraint("address", name=op.f("uq_page_drafts_address")),
    )
    op.create_table(
        "published_pages",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("draft_id", sa.Integer(), nullable=False),
        sa.Column("document", postgresql.JSONB(), nullable=True),
        sa.Column("reason", sa.String(200), nullable=False, server_default=""),
        _now("recorded_at"),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["draft_id"], ["page_drafts.id"], name=op.f("fk_published_pages_draft_id_page_drafts")
        ),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_published_pages_person_id_people")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_published_pages")),
    )
    op.create_index(op.f("ix_published_pages_draft_id"), "published_pages", ["draft_id"])
    op.create_table(
        "score_scales",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("highest", sa.Integer(), nullable=False),
        sa.Column("criteria", sa.Text(), nullable=False),
        sa.Column("retired", sa.Boolean(), nullable=False, server_default=sa.text("false")),
        sa.CheckConstraint("highest BETWEEN 2 AND 100", name=op.f("ck_score_scales_highest")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_score_scales")),
        sa.UniqueConstraint("name", name=op.f("uq_score_scales_name")),
    )
    op.execute(
        "CREATE TRIGGER published_pages_append_only BEFORE UPDATE OR DELETE OR TRUNCATE"
        " ON published_pages FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
    )
    _audit("page_drafts", ("made", "changed", "removed"), "x.title", "{content}")
    _audit("published_pages", ("made",), _TITLE, "{document}")
    _audit("score_scales", ("made", "changed", "removed"), "x.name", "{}")


def downgrade() -> None:
    for table in ("score_scales", "published_pages", "page_drafts"):
        op.drop_table(table)
