"""docs/data-model.md: every table with its columns and what it refers to, from the tables."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Iterator

from sqlalchemy import Table

from maple_rook import store
from maple_rook.store.tables import Base

_HEAD = """# Data model

Made by `./rook generate` from the tables in `src/maple_rook/store`. Tables of the record are only
ever added to; a trigger refuses updates and deletes. Who wrote a row (`person_id`) is left out of
the diagram.
"""


def page() -> str:
    """The page: a diagram of what refers to what, and a section for every table."""
    tables = _tables()
    lines = [_HEAD, "```mermaid", "erDiagram", *_relations(tables), "```", ""]
    for table in tables:
        lines += [f"## {table.name}", "", *_described(table), *_columns(table), ""]
    return "\n".join(lines).rstrip() + "\n"


def _tables() -> list[Table]:
    for module in pkgutil.iter_modules(store.__path__):
        if module.name == "tables" or module.name.endswith("_tables"):
            importlib.import_module(f"{store.__name__}.{module.name}")
    return sorted(Base.metadata.tables.values(), key=lambda table: table.name)


def _relations(tables: list[Table]) -> Iterator[str]:
    for table in tables:
        keys = (key for key in table.foreign_keys if key.column.table.name != "people")
        for key in sorted(keys, key=lambda key: key.parent.name):
            several = "|o--o{" if key.parent.nullable else "||--o{"
            yield f"    {key.column.table.name} {several} {table.name} : {key.parent.name}"


def _described(table: Table) -> Iterator[str]:
    """The first paragraph of the docstring of the class that is mapped to a table."""
    for mapper in Base.registry.mappers:
        if mapper.local_table is table and mapper.class_.__doc__:
            yield " ".join(mapper.class_.__doc__.split("\n\n")[0].split())
            yield ""


def _columns(table: Table) -> Iterator[str]:
    yield "| column | type | |"
    yield "| --- | --- | --- |"
    for column in table.columns:
        refers = ", ".join(f"to {key.column.table.name}" for key in column.foreign_keys)
        notes = [
            "key" if column.primary_key else "",
            refers,
            "may be missing" if column.nullable else "",
        ]
        yield f"| {column.name} | {column.type} | {', '.join(filter(None, notes))} |"
