"""Documents held against the HTML standard, as the npm package html-validate knows it."""

from __future__ import annotations

import tempfile
from pathlib import Path

from maple_rook import front_end


def check_html(*documents: str) -> None:
    """Raises with what is not as the standard says; documents are numbered from 0."""
    with tempfile.TemporaryDirectory() as folder:
        paths = [Path(folder) / f"{n}.html" for n in range(len(documents))]
        for path, document in zip(paths, documents, strict=True):
            path.write_text(document, encoding="utf-8")
        front_end.npm("run", "--silent", "html", "--", *map(str, paths))
