"""A photo of 12 megapixels measured, in a separate process, beside opening the same file."""

from __future__ import annotations

import io
import json
import subprocess
import sys
import time
from collections.abc import Iterator
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from PIL import Image

from benchmarks.page import peak_memory_mb
from benchmarks.rows import Row
from benchmarks.timing import median_ms
from maple_rook.core.geometry.outline import outline
from maple_rook.core.geometry.scale_card import CARDS, View
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.photo import specimen
from maple_rook.photo.picture import picture
from maple_rook.photo.side_view import Lying
from maple_rook.photo.stand_in import Shot, photograph
from maple_rook.photo.taking import find_card, trace_side
from maple_rook.settings import PROJECT_ROOT

WIDTH_PX, HEIGHT_PX = 4000, 3000
AGAIN = 3


def _measured(content: bytes) -> None:
    """From the file to every figure with its uncertainty."""
    lying = Lying()
    view = trace_side(find_card(picture(content), View.SIDE), lying, 100.0)
    figures = view.figures(view.proposed, lying)
    assert abs(figures["edge_length"].value - 215) < 2


def _opened(content: bytes) -> None:
    with Image.open(io.BytesIO(content)) as found:
        np.asarray(found.convert("RGB"))


def _timed(path: str) -> list[float]:
    """Milliseconds to open and to measure, and the peak memory of the process in MB."""
    content = Path(path).read_bytes()
    started = time.perf_counter()
    _measured(content)
    first = 1000 * (time.perf_counter() - started)
    peak = peak_memory_mb()
    took = median_ms(partial(_measured, content), AGAIN)
    return [median_ms(partial(_opened, content), AGAIN), first, took, peak]


def rows() -> Iterator[Row]:
    figures = {"edge_length": Figure(215.0, 0.2), "height_heel": Figure(48.0, 0.1)}
    made = Blade(figures, knife_type="gyuto", nominal_mm=215.0)
    knife = specimen.lying(made, outline(figures, "gyuto", 215.0), bolster=False)
    shot = Shot(tilt_deg=12.0, width_px=WIDTH_PX, height_px=HEIGHT_PX)
    with TemporaryDirectory() as folder:
        path = Path(folder) / "photo.jpg"
        path.write_bytes(photograph(CARDS["a4"], knife, shot))
        done = subprocess.run(
            [sys.executable, "-m", "benchmarks.photo", str(path)],
            cwd=PROJECT_ROOT,
            capture_output=True,
            text=True,
            check=True,
        )
    opened, first, took, peak = json.loads(done.stdout)
    yield Row("A photo of 12 megapixels, only opened", opened, "ms", 1.0)
    yield Row("  measured, first time (under 2 s)", first, "ms", first / opened)
    yield Row("  measured again", took, "ms", took / opened)
    yield Row("  peak memory (at most 600 MB)", peak, "MB")


if __name__ == "__main__":
    sys.stdout.write(json.dumps(_timed(sys.argv[1])))
