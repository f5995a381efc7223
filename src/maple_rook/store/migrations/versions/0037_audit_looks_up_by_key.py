"""the audit of readings looks a sheet's piece up by its key, so that an import after one that was
rolled back is linear too

Statistics of a table whose rows were rolled back say that it holds none. A join planned by them
worked the new readings out anew for every sheet there is, and the look for an earlier reference
went by the index on the person, who is the same in every row.
"""

from alembic import op

revision = "0037"
down_revision = "0036"
branch_labels = None
depends_on = None

_JOINED = (
    "p.tag",
    "JOIN sheets s ON s.id = f.sheet_id JOIN pieces p ON p.id = s.piece_id",
    "=",
)
_LOOKED_UP = (
    "(SELECT p.tag FROM pieces p"
    " WHERE p.id = (SELECT s.piece_id FROM sheets s WHERE s.id = f.sheet_id))",
    "",
    "IS NOT DISTINCT FROM",
)
"""Scalar subqueries are not flattened into joins: each row is one look by each primary key. The
comparison of persons is one that no index is for, as in ``audit_reference``.
"""

_READINGS = """
CREATE OR REPLACE FUNCTION audit_readings() RETURNS trigger LANGUAGE plpgsql AS $body$
BEGIN
    IF current_setting('maple_rook.audit', true) IS DISTINCT FROM 'off' THEN
        INSERT INTO audit (person_id, act, about, of, named)
        SELECT f.person_id, 'made', 'readings', f.sheet_id::text, {tag}
          FROM (SELECT DISTINCT x.person_id, x.sheet_id FROM rows_there x) f {joins}
         WHERE (SELECT 1 FROM audit a
             WHERE a.about = 'readings' AND a.of = f.sheet_id::text AND a.act = 'made'
               AND a.person_id {same} f.person_id
               AND a.at > now() - interval '1 hour' LIMIT 1) IS NULL;
    END IF;
    RETURN NULL;
END $body$
"""


def upgrade() -> None:
    _replace(*_LOOKED_UP)


def downgrade() -> None:
    _replace(*_JOINED)


def _replace(tag: str, joins: str, same: str) -> None:
    op.execute(_READINGS.format(tag=tag, joins=joins, same=same))
