"""The process that works the shelf out beside the server's own, where much waits.

Started by the server's task, and ended by it. Pieces are held while they are calculated, so the two
never do the same one.
"""

from __future__ import annotations

import os
import time

from maple_rook.settings import Settings
from maple_rook.shelf.projection import CHUNK, Shelf
from maple_rook.store import shelf as shelf_store
from maple_rook.store.database import connect, sessions

NICER = 10
"""It gives way to whoever is served meanwhile."""


def help_out(url: str) -> None:
    """Calculate chunk after chunk until nothing waits, or the person who asked for it is gone."""
    engine, asked_by = connect(url), os.getppid()
    opener = sessions(engine)
    shelf = Shelf(opener=opener)
    while os.getppid() == asked_by:
        with opener() as db:
            if not shelf_store.behind(db, shelf.model_version(db)):
                break
            done = shelf.work_out(db, CHUNK)
        if not done:  # others hold what is left
            time.sleep(0.2)
    engine.dispose()


if __name__ == "__main__":
    os.nice(NICER)
    address = Settings().database_url
    assert address is not None
    help_out(address)
