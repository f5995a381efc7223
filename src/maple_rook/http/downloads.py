"""Exports: written in full first, so that sending them holds no connection.

However slowly somebody fetches one, the session it was read with is free by then.
"""

from __future__ import annotations

import tempfile
from collections.abc import Iterable, Iterator
from typing import IO

from fastapi.responses import StreamingResponse

IN_MEMORY = 1_000_000
"""Bytes up to which nothing is written to the disk."""
_PART = 65_536


def written(lines: Iterable[str], media_type: str, name: str) -> StreamingResponse:
    """What the lines make up, to be saved under a name."""
    held = tempfile.SpooledTemporaryFile(IN_MEMORY, prefix="maple-rook-")  # noqa: SIM115 - sent later
    try:
        for line in lines:
            held.write(line.encode())
        size = held.tell()
        held.seek(0)
    except BaseException:
        held.close()
        raise
    headers = {
        "Content-Disposition": f'attachment; filename="{name}"',
        "Content-Length": str(size),
    }
    return StreamingResponse(_parts(held), media_type=media_type, headers=headers)


def _parts(held: IO[bytes]) -> Iterator[bytes]:
    with held:
        while part := held.read(_PART):
            yield part
