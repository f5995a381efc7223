"""foods say how they are crushed beside the edge, how they stick, and how a slice falls away"""

import sqlalchemy as sa
from alembic import op

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None

_BEFORE = ("toughness_j_m2", "blunting_um", "stiffness_n_mm3", "friction", "height_mm", "width_mm")
_ADDED = ("modulus_mpa", "crush_mpa", "crush_mm", "adhesion_kpa", "slice_stiffness")
# The foods as they were shipped before, and as they are from now on.
_SHIPPED = {
    "tomato": (500, 3, 0.002, 0.15, 60, 50),
    "onion": (250, 8, 0.006, 0.20, 60, 60),
    "carrot": (400, 15, 0.05, 0.25, 30, 28),
    "squash": (600, 15, 0.06, 0.30, 90, 90),
    "fish": (300, 5, 0.0015, 0.20, 40, 60),
    "cheese": (20, 10, 0.008, 0.50, 40, 60),
}
_NOW = {
    "tomato": (40, 1, 0.002, 0.15, 50, 60, 0.30, 0.25, 0.5, 0.2, 0.1),
    "onion": (180, 6, 0.006, 0.20, 35, 65, 0.8, 0.6, 0.8, 0.3, 0.15),
    "carrot": (350, 12, 0.06, 0.25, 28, 28, 2.0, 1.2, 1.0, 0.5, 0.2),
    "squash": (500, 12, 0.035, 0.30, 45, 60, 1.6, 1.0, 1.2, 0.8, 0.3),
    "fish": (100, 3, 0.0015, 0.20, 35, 60, 0.04, 0.05, 2.0, 0.6, 0.05),
    "cheese": (20, 10, 0.006, 0.30, 40, 60, 0.25, 0.15, 1.5, 4.0, 0.4),
}
_FOODS = sa.table(
    "foods",
    sa.column("key"),
    *(sa.column(name) for name in (*_BEFORE, *_ADDED)),
    sa.column("estimated"),
)


def upgrade() -> None:
    """A food as it was shipped becomes what is shipped now.

    The shop's own values stay; what they say nothing of is taken from the food that presses the
    sides most alike, and marked.
    """
    for name in _ADDED:
        op.add_column("foods", sa.Column(name, sa.Double(), nullable=True))
    op.add_column(
        "foods",
        sa.Column("estimated", sa.Boolean(), nullable=False, server_default=sa.text("false")),
    )
    connection = op.get_bind()
    columns = [_FOODS.c[name] for name in _BEFORE]
    for key, *values in connection.execute(sa.select(_FOODS.c.key, *columns)).all():
        row = _FOODS.update().where(_FOODS.c.key == key)
        if key in _SHIPPED and tuple(values) == tuple(map(float, _SHIPPED[key])):
            as_now = dict(zip((*_BEFORE, *_ADDED), _NOW[key], strict=True))
            connection.execute(row.values(**as_now, estimated=False))
            continue
        like = key if key in _NOW else min(_NOW, key=lambda k: abs(_NOW[k][2] - values[2]))
        taken = dict(zip(_ADDED, _NOW[like][len(_BEFORE) :], strict=True))
        connection.execute(row.values(**taken, estimated=True))
    for name in _ADDED:
        op.alter_column("foods", name, existing_type=sa.Double(), nullable=False)


def downgrade() -> None:
    for name in ("estimated", *reversed(_ADDED)):
        op.drop_column("foods", name)
