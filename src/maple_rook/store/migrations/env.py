"""Alembic's entry: run the migrations on the connection that was handed over."""

from alembic import context

from maple_rook.store import (  # noqa: F401 - they are of the metadata
    choice_tables,
    exchange_tables,
    people_tables,
    photo_tables,
    trial_tables,
    upkeep_tables,
)
from maple_rook.store.tables import Base

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=Base.metadata,
    compare_type=True,
)
with context.begin_transaction():
    context.run_migrations()
