"""the audit looks for an earlier reference row by row, so that a long list is linear

As an anti-join it was planned on statistics older than the rows it read: two thousand rows at a
time were compared with every row before them.
"""

from alembic import op

revision = "0034"
down_revision = "0033"
branch_labels = None
depends_on = None

_ANTI_JOIN = ("NOT EXISTS (SELECT 1", ")")
_PROBE = ("(SELECT 1", " LIMIT 1) IS NULL")
"""A scalar subquery is not flattened into a join: each row is one look into ``ix_audit_about_of``.
"""

_REFERENCE = """
CREATE OR REPLACE FUNCTION audit_reference() RETURNS trigger LANGUAGE plpgsql AS $body$
BEGIN
    IF current_setting('maple_rook.audit', true) IS DISTINCT FROM 'off' THEN
        EXECUTE format($say$
            INSERT INTO audit (person_id, act, about, of, named)
            SELECT DISTINCT f.person_id, %1$L, %2$L, f.of, left(coalesce(f.named, ''), 200)
              FROM (SELECT %5$s AS person_id, x.%3$I::text AS of, %4$s AS named
                      FROM rows_there x) f
             WHERE {opened} FROM audit a
                 WHERE a.about = %2$L AND a.of = f.of AND a.act = %1$L
                   AND a.person_id IS NOT DISTINCT FROM f.person_id
                   AND a.at > now() - interval '1 hour'{closed}
        $say$, TG_ARGV[3], TG_TABLE_NAME, TG_ARGV[0], TG_ARGV[1], TG_ARGV[2]);
    END IF;
    RETURN NULL;
END $body$
"""
_READINGS = """
CREATE OR REPLACE FUNCTION audit_readings() RETURNS trigger LANGUAGE plpgsql AS $body$
BEGIN
    IF current_setting('maple_rook.audit', true) IS DISTINCT FROM 'off' THEN
        INSERT INTO audit (person_id, act, about, of, named)
        SELECT f.person_id, 'made', 'readings', f.sheet_id::text, p.tag
          FROM (SELECT DISTINCT x.person_id, x.sheet_id FROM rows_there x) f
          JOIN sheets s ON s.id = f.sheet_id JOIN pieces p ON p.id = s.piece_id
         WHERE {opened} FROM audit a
             WHERE a.about = 'readings' AND a.of = f.sheet_id::text AND a.act = 'made'
               AND a.person_id = f.person_id AND a.at > now() - interval '1 hour'{closed};
    END IF;
    RETURN NULL;
END $body$
"""


def upgrade() -> None:
    _replace(*_PROBE)


def downgrade() -> None:
    _replace(*_ANTI_JOIN)


def _replace(opened: str, closed: str) -> None:
    for function in (_REFERENCE, _READINGS):
        op.execute(function.format(opened=opened, closed=closed))
