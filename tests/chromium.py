"""Debian's Chromium, and what it is started with where there is no screen and no way out."""

import shutil

EXECUTABLE = shutil.which("chromium-headless-shell") or shutil.which("chromium")
"""The build without windows costs half as much; the whole browser serves as well."""
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]
