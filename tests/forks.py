"""Processes forked from one that has the application loaded, so that a start costs little."""

from __future__ import annotations

import os
from multiprocessing import get_context
from multiprocessing.context import ForkServerContext

from maple_rook.settings import PROJECT_ROOT

SOURCES = str(PROJECT_ROOT / "src")
LOADED = ["maple_rook.cli", "maple_rook.server", "photo_survey"]


def forks() -> ForkServerContext:
    os.environ["PYTHONPATH"] = os.pathsep.join([SOURCES, str(PROJECT_ROOT / "tests")])
    context = get_context("forkserver")
    context.set_forkserver_preload(LOADED)
    return context
