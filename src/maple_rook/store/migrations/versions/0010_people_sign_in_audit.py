"""people who sign in, requests that create once, what was changed by whom"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

_PIECE = "(SELECT p.tag FROM pieces p WHERE p.id = {}.piece_id)"
_MODEL = "(SELECT m.line || ' ' || m.nominal_mm FROM knife_models m WHERE m.id = {}.model_id)"
_READING = (
    "(SELECT p.tag || ' ' || r.quantity || ' ' || r.typed FROM readings r"
    " JOIN sheets s ON s.id = r.sheet_id JOIN pieces p ON p.id = s.piece_id"
    " WHERE r.id = {}.reading_id)"
)
AUDITED = {
    "shop": ("id", "{}.name", []),
    "people": ("id", "{}.name", []),
    "instruments": ("id", "{}.name", []),
    "makers": ("id", "{}.name", []),
    "steels": ("id", "{}.designation", []),
    "knife_models": ("id", "{}.line || ' ' || {}.nominal_mm", []),
    "claims": ("id", _MODEL, []),
    "pieces": ("id", "{}.tag", []),
    "sheets": ("id", _PIECE, []),
    "foods": ("key", "{}.label", []),
    "customers": ("id", "''", ["label", "job"]),
    "reading_voids": ("reading_id", _READING, []),
    "coefficient_sets": ("id", "{}.note", []),
    "workshop_sets": ("id", "''", []),
    "publications": ("id", _PIECE, []),
    "imports": ("id", "{}.file", ["columns"]),
}
"""By table: its key, what people call a row, and columns that are nobody's business later."""

FUNCTION = """
CREATE FUNCTION audit_{act}() RETURNS trigger LANGUAGE plpgsql AS $body$
BEGIN
    IF current_setting('maple_rook.audit', true) IS DISTINCT FROM 'off' THEN
        EXECUTE format($say$
            INSERT INTO audit (person_id, act, about, of, named, before, after)
            SELECT nullif(current_setting('maple_rook.person', true), '')::integer,
                   '{act}', %L, x.%I::text, left(coalesce(%s, ''), 200), {before}, {after}
              FROM {source}
        $say$, TG_TABLE_NAME, TG_ARGV[0], TG_ARGV[1]{hidden});
    END IF;
    RETURN NULL;
END $body$
"""
_DIFFERS = """(SELECT jsonb_object_agg(e.key, e.value)
                     FROM jsonb_each(to_jsonb({one}) - %L::text[]) e
                    WHERE e.value IS DISTINCT FROM to_jsonb({other}) -> e.key)"""


def _functions() -> None:
    once, twice = (
        ", TG_ARGV[2]",
        ", TG_ARGV[2], TG_ARGV[2], TG_ARGV[0], TG_ARGV[0], TG_ARGV[2], TG_ARGV[2]",
    )
    op.execute(
        FUNCTION.format(
            act="made",
            before="NULL",
            after="to_jsonb(x) - %L::text[]",
            source="now_there x",
            hidden=once,
        )
    )
    op.execute(
        FUNCTION.format(
            act="removed",
            before="to_jsonb(x) - %L::text[]",
            after="NULL",
            source="was_there x",
            hidden=once,
        )
    )
    op.execute(
        FUNCTION.format(
            act="changed",
            before=_DIFFERS.format(one="o", other="x"),
            after=_DIFFERS.format(one="x", other="o"),
            source="was_there o JOIN now_there x ON x.%I = o.%I"
            " WHERE to_jsonb(o) - %L::text[] <> to_jsonb(x) - %L::text[]",
            hidden=twice,
        )
    )


def _audit(table: str, key: str, named: str, hidden: list[str]) -> None:
    for act, event, seen in (
        ("made", "INSERT", "NEW TABLE AS now_there"),
        ("changed", "UPDATE", "OLD TABLE AS was_there NEW TABLE AS now_there"),
        ("removed", "DELETE", "OLD TABLE AS was_there"),
    ):
        called = named.replace("{}", "x").replace("'", "''")
        columns = "{" + ",".join(hidden) + "}"
        op.execute(
            f"CREATE TRIGGER {table}_{act} AFTER {event} ON {table} REFERENCING {seen} "
            f"FOR EACH STATEMENT EXECUTE FUNCTION audit_{act}('{key}', '{called}', '{columns}')"
        )


def _refuse(name: str, what: str) -> None:
    op.execute(
        f"CREATE TRIGGER {name}_append_only BEFORE {what} ON {name} "
        "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
    )


def _moment(name: str, *, now: bool = False, optional: bool = False) -> sa.Column[object]:
    return sa.Column(
        name,
        postgresql.TIMESTAMP(timezone=True),
        nullable=optional,
        server_default=sa.text("now()") if now else None,
    )


def _person(table: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint(
        ["person_id"], ["people.id"], name=op.f(f"fk_{table}_person_id_people")
    )


def _token_table(name: str, *columns: sa.Column[object]) -> None:
    """A table of tokens, each kept as its SHA-256 only."""
    op.create_table(
        name,
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("token_sha256", sa.LargeBinary(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        _moment("made_at", now=True),
        *columns,
        _person(name),
        sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{name}")),
        sa.UniqueConstraint("token_sha256", name=op.f(f"uq_{name}_token_sha256")),
    )
    op.create_index(op.f(f"ix_{name}_person_id"), name, ["person_id"])


def upgrade() -> None:
    op.execute("UPDATE people SET role = 'bench' WHERE role NOT IN ('elsewhere')")
    op.execute("UPDATE people SET role = 'owner' WHERE id = (SELECT min(id) FROM people)")
    op.add_column("people", sa.Column("left_on", sa.Date(), nullable=True))
    op.create_check_constraint(
        op.f("ck_people_role"),
        "people",
        "role IN ('owner', 'bench', 'counter', 'reader', 'elsewhere')",
    )
    op.create_table(
        "passwords",
        sa.Column("person_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("hashed", sa.String(200), nullable=False),
        _moment("changed_at", now=True),
        _person("passwords"),
        sa.PrimaryKeyConstraint("person_id", name=op.f("pk_passwords")),
    )
    _token_table(
        "sign_ins",
        sa.Column("kind", sa.String(12), nullable=False),
        sa.Column("label", sa.String(80), nullable=False),
        sa.Column("role", sa.String(40), nullable=True),
        _moment("seen_at", now=True),
        _moment("expires_at", optional=True),
        _moment("ended_at", optional=True),
    )
    _token_table("invitations", _moment("expires_at"), _moment("used_at", optional=True))
    op.create_table(
        "failed_sign_ins",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("name_sha256", sa.LargeBinary(), nullable=False),
        sa.Column("address", sa.String(64), nullable=False),
        _moment("failed_at", now=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_failed_sign_ins")),
    )
    for column in ("name", "address"):
        named = f"{column}_sha256" if column == "name" else column
        op.create_index(f"ix_failed_sign_ins_{column}", "failed_sign_ins", [named, "failed_at"])
    op.create_table(
        "request_keys",
        sa.Column("person_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("key", sa.Uuid(), nullable=False),
        sa.Column("asked_sha256", sa.LargeBinary(), nullable=False),
        sa.Column("status", sa.Integer(), nullable=True),
        sa.Column("media_type", sa.String(80), nullable=True),
        sa.Column("answer", sa.LargeBinary(), nullable=True),
        _moment("recorded_at", now=True),
        _person("request_keys"),
        sa.PrimaryKeyConstraint("person_id", "key", name=op.f("pk_request_keys")),
    )
    op.create_index("ix_request_keys_recorded_at", "request_keys", ["recorded_at"])
    json = postgresql.JSONB()
    op.create_table(
        "audit",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        _moment("at", now=True),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("act", sa.String(12), nullable=False),
        sa.Column("about", sa.String(40), nullable=False),
        sa.Column("of", sa.String(80), nullable=False),
        sa.Column("named", sa.Text(), server_default="", nullable=False),
        sa.Column("before", json, nullable=True),
        sa.Column("after", json, nullable=True),
        _person("audit"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_audit")),
    )
    op.create_index(op.f("ix_audit_person_id"), "audit", ["person_id"])
    op.create_index("ix_audit_about_of", "audit", ["about", "of"])
    _refuse("audit", "UPDATE OR DELETE OR TRUNCATE")
    _functions()
    for table, (key, named, hidden) in AUDITED.items():
        _audit(table, key, named, hidden)


def downgrade() -> None:
    for table in AUDITED:
        for act in ("made", "changed", "removed"):
            op.execute(f"DROP TRIGGER {table}_{act} ON {table}")
    for act in ("made", "changed", "removed"):
        op.execute(f"DROP FUNCTION audit_{act}()")
    for table in (
        "audit",
        "request_keys",
        "failed_sign_ins",
        "invitations",
        "sign_ins",
        "passwords",
    ):
        op.drop_table(table)
    op.drop_constraint(op.f("ck_people_role"), "people")
    op.drop_column("people", "left_on")
