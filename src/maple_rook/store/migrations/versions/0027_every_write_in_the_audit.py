"""rows that are only ever added stand in the audit by reference, once an hour for each writer"""

from alembic import op

revision = "0027"
down_revision = "0026"
branch_labels = None
depends_on = None

_OF_PIECE = "(SELECT p.tag FROM pieces p WHERE p.id = x.piece_id)"
_OF_SHEET = (
    "(SELECT p.tag FROM sheets s JOIN pieces p ON p.id = s.piece_id WHERE s.id = x.sheet_id)"
)
_OF_TRIAL = (
    "(SELECT p.tag FROM trials t JOIN pieces p ON p.id = t.piece_id WHERE t.id = x.trial_id)"
)
_OF_PLAN = (
    "(SELECT p.tag FROM upkeep_plans u JOIN pieces p ON p.id = u.piece_id WHERE u.id = x.plan_id)"
)
_NOBODY, _WRITER = "''", "x.person_id"
_ASKING = "nullif(current_setting('maple_rook.person', true), '')::integer"
REFERRED_TO = {
    "observations": ("sheet_id", _OF_SHEET, _WRITER),
    "photos": ("sheet_id", _OF_SHEET, _WRITER),
    "measuring_photos": ("sheet_id", _OF_SHEET, _WRITER),
    "edge_traces": ("sheet_id", _OF_SHEET, _WRITER),
    "photo_measurements": ("photo_id", _NOBODY, _WRITER),
    "trials": ("piece_id", _OF_PIECE, _WRITER),
    "trial_points": ("trial_id", _OF_TRIAL, _WRITER),
    "trial_protocols": ("trial_id", _OF_TRIAL, _WRITER),
    "trial_marks": ("trial_id", _OF_TRIAL, _WRITER),
    "cut_sessions": ("id", _NOBODY, _WRITER),
    "cuts": ("session_id", _NOBODY, _WRITER),
    "cut_marks": ("cut_id", _NOBODY, _WRITER),
    "stored_predictions": ("piece_id", _OF_PIECE, _WRITER),
    "comparisons": ("id", "x.name", _WRITER),
    "comparison_marks": ("comparison_id", _NOBODY, _WRITER),
    "upkeep_plans": ("piece_id", _OF_PIECE, _WRITER),
    "upkeep_plan_marks": ("plan_id", _OF_PLAN, _WRITER),
    "upkeep_log": ("piece_id", _OF_PIECE, _WRITER),
    "upkeep_voids": ("done_id", _NOBODY, _WRITER),
    "work_orders": ("piece_id", _OF_PIECE, _WRITER),
    "work_events": ("repair_id", _NOBODY, _WRITER),
    "repairs": ("order_id", _NOBODY, _ASKING),
    "import_files": ("id", "x.file", _WRITER),
    "tasks": ("kind", _NOBODY, _WRITER),
}
"""By table: what its rows are referred to by, what people call that, and who wrote."""
_ALSO_REMOVED = ("measuring_photos", "import_files")

_FUNCTION = """
CREATE FUNCTION audit_reference() RETURNS trigger LANGUAGE plpgsql AS $body$
BEGIN
    IF current_setting('maple_rook.audit', true) IS DISTINCT FROM 'off' THEN
        EXECUTE format($say$
            INSERT INTO audit (person_id, act, about, of, named)
            SELECT DISTINCT f.person_id, %1$L, %2$L, f.of, left(coalesce(f.named, ''), 200)
              FROM (SELECT %5$s AS person_id, x.%3$I::text AS of, %4$s AS named
                      FROM rows_there x) f
             WHERE NOT EXISTS (
                SELECT 1 FROM audit a
                 WHERE a.about = %2$L AND a.of = f.of AND a.act = %1$L
                   AND a.person_id IS NOT DISTINCT FROM f.person_id
                   AND a.at > now() - interval '1 hour')
        $say$, TG_ARGV[3], TG_TABLE_NAME, TG_ARGV[0], TG_ARGV[1], TG_ARGV[2]);
    END IF;
    RETURN NULL;
END $body$
"""

_OF_READINGS = """
CREATE FUNCTION audit_readings() RETURNS trigger LANGUAGE plpgsql AS $body$
BEGIN
    IF current_setting('maple_rook.audit', true) IS DISTINCT FROM 'off' THEN
        INSERT INTO audit (person_id, act, about, of, named)
        SELECT f.person_id, 'made', 'readings', f.sheet_id::text, p.tag
          FROM (SELECT DISTINCT x.person_id, x.sheet_id FROM rows_there x) f
          JOIN sheets s ON s.id = f.sheet_id JOIN pieces p ON p.id = s.piece_id
         WHERE NOT EXISTS (
            SELECT 1 FROM audit a
             WHERE a.about = 'readings' AND a.of = f.sheet_id::text AND a.act = 'made'
               AND a.person_id = f.person_id AND a.at > now() - interval '1 hour');
    END IF;
    RETURN NULL;
END $body$
"""
"""The same for readings, planned once: a person waits for it."""


def _quoted(text: str) -> str:
    return "'" + text.replace("'", "''") + "'"


def upgrade() -> None:
    op.execute(_FUNCTION)
    op.execute(_OF_READINGS)
    op.execute(
        "CREATE TRIGGER readings_referred_to AFTER INSERT ON readings "
        "REFERENCING NEW TABLE AS rows_there "
        "FOR EACH STATEMENT EXECUTE FUNCTION audit_readings()"
    )
    for table, (key, named, person) in REFERRED_TO.items():
        _refer(table, f"{table}_referred_to", "INSERT", "NEW", (key, named, person, "made"))
    for table in _ALSO_REMOVED:
        key, named, _ = REFERRED_TO[table]
        name = f"{table}_removal_referred_to"
        _refer(table, name, "DELETE", "OLD", (key, named, _ASKING, "removed"))


def _refer(table: str, name: str, event: str, seen: str, told: tuple[str, ...]) -> None:
    op.execute(
        f"CREATE TRIGGER {name} AFTER {event} ON {table} REFERENCING {seen} TABLE AS rows_there "
        f"FOR EACH STATEMENT EXECUTE FUNCTION audit_reference({', '.join(map(_quoted, told))})"
    )


def downgrade() -> None:
    for table in ("readings", *REFERRED_TO):
        op.execute(f"DROP TRIGGER {table}_referred_to ON {table}")
    for table in _ALSO_REMOVED:
        op.execute(f"DROP TRIGGER {table}_removal_referred_to ON {table}")
    op.execute("DROP FUNCTION audit_reference()")
    op.execute("DROP FUNCTION audit_readings()")
