"""Debian's Chromium, and what it is started with where there is no screen and no way out."""

EXECUTABLE = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]
