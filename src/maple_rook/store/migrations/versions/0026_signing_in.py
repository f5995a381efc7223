"""attempts to sign in counted as they begin, sign-in in two steps, keys that sign cookies"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0026"
down_revision = "0025"
branch_labels = None
depends_on = None


def _moment(name: str, *, now: bool = False, optional: bool = False) -> sa.Column[object]:
    return sa.Column(
        name,
        postgresql.TIMESTAMP(timezone=True),
        nullable=optional,
        server_default=sa.text("now()") if now else None,
    )


def upgrade() -> None:
    op.drop_table("failed_sign_ins")
    op.create_table(
        "sign_in_attempts",
        sa.Column("bucket", sa.LargeBinary(), nullable=False),
        sa.Column("failures", sa.Integer(), nullable=False),
        _moment("last_at"),
        _moment("next_at"),
        sa.PrimaryKeyConstraint("bucket", name=op.f("pk_sign_in_attempts")),
    )
    op.create_index(op.f("ix_sign_in_attempts_last_at"), "sign_in_attempts", ["last_at"])
    op.create_table(
        "signing_keys",
        sa.Column("purpose", sa.String(40), nullable=False),
        sa.Column("secret", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("purpose", name=op.f("pk_signing_keys")),
    )
    op.create_table(
        "two_step",
        sa.Column("person_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("secret", sa.String(64), nullable=False),
        sa.Column("last_step", sa.BigInteger(), nullable=False, server_default="0"),
        _moment("confirmed_at", optional=True),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_two_step_person_id_people")
        ),
        sa.PrimaryKeyConstraint("person_id", name=op.f("pk_two_step")),
    )
    op.create_table(
        "recovery_codes",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column("code_sha256", sa.LargeBinary(), nullable=False),
        _moment("used_at", optional=True),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_recovery_codes_person_id_people")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recovery_codes")),
    )
    op.create_index(op.f("ix_recovery_codes_person_id"), "recovery_codes", ["person_id"])
    op.add_column("sign_ins", _moment("confirmed_at", now=True))
    op.add_column("sign_ins", _moment("used_at", optional=True))
    # keys of before were used, for all anybody knows
    op.execute("UPDATE sign_ins SET used_at = seen_at, confirmed_at = made_at")
    op.add_column(
        "shop",
        sa.Column("owners_in_two_steps", sa.Boolean(), nullable=False, server_default="false"),
    )
    # some of them are invitations, in the clear
    op.execute("UPDATE request_keys SET answer = NULL, status = NULL")


def downgrade() -> None:
    op.drop_column("shop", "owners_in_two_steps")
    op.drop_column("sign_ins", "used_at")
    op.drop_column("sign_ins", "confirmed_at")
    for table in ("recovery_codes", "two_step", "signing_keys", "sign_in_attempts"):
        op.drop_table(table)
    op.create_table(
        "failed_sign_ins",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("name_sha256", sa.LargeBinary(), nullable=False),
        sa.Column("address", sa.String(64), nullable=False),
        _moment("failed_at", now=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_failed_sign_ins")),
    )
    for name, column in (("name", "name_sha256"), ("address", "address")):
        op.create_index(
            op.f(f"ix_failed_sign_ins_{name}"), "failed_sign_ins", [column, "failed_at"]
        )
