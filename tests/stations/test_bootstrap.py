"""``rook`` on a machine where something is missing."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from maple_rook import cli
from maple_rook.settings import PROJECT_ROOT

TOOLS = ("bash", "env", "readlink", "dirname", "id", "cat", "sh", "grep")


@pytest.fixture
def bare_machine() -> Iterator[Path]:
    """A checkout's ``rook`` alone, and a PATH with the plainest tools: no Chromium on it."""
    made = Path(tempfile.mkdtemp(prefix="bare machine "))
    made.chmod(0o755)
    (made / "checkout").mkdir()
    (made / "path").mkdir()
    shutil.copy(PROJECT_ROOT / "rook", made / "checkout" / "rook")
    for tool in TOOLS:
        (made / "path" / tool).symlink_to(str(shutil.which(tool)))
    if Path("/usr/bin/python3").exists():
        (made / "path" / "python3").symlink_to("/usr/bin/python3")
    yield made
    shutil.rmtree(made, ignore_errors=True)


def as_ordinary_user(*words: str) -> list[str]:
    """The command line run by someone who is not root."""
    return ["runuser", "-u", "nobody", "--", *words] if os.geteuid() == 0 else list(words)


def test_an_ordinary_user_is_told_the_exact_command_and_nothing_is_begun(
    bare_machine: Path,
) -> None:
    checkout = bare_machine / "checkout"
    before = sorted(p.name for p in checkout.iterdir())
    done = subprocess.run(
        as_ordinary_user(
            "/usr/bin/env", f"PATH={bare_machine / 'path'}", str(checkout / "rook"), "test"
        ),
        capture_output=True,
        text=True,
        check=False,
        cwd="/",
    )
    assert done.returncode == 3, done.stderr
    assert "Debian packages are missing" in done.stderr
    assert "chromium" in done.stderr
    assert 'sudo sh -c "apt-get update && apt-get install -y ' in done.stderr
    assert sorted(p.name for p in checkout.iterdir()) == before


def test_rook_is_one_executable_and_ci_calls_nothing_else() -> None:
    assert os.access(PROJECT_ROOT / "rook", os.X_OK)
    lines = (PROJECT_ROOT / ".ci" / "run").read_text().splitlines()
    assert [line for line in lines if line.startswith("exec")] == ["exec ./rook test"]


@pytest.mark.parametrize("lock", ["runtime", "dev"])
def test_every_pinned_package_has_a_hash_and_no_address(lock: str) -> None:
    text = (PROJECT_ROOT / "requirements" / f"{lock}.txt").read_text()
    entries = [part for part in text.split("\n") if part and part[0].isalpha()]
    assert entries
    for entry in entries:
        assert "==" in entry
        assert entry.endswith("\\"), f"{entry} has no hash"
    assert "://" not in text


def test_the_front_ends_lock_names_no_address() -> None:
    assert '"resolved"' not in (PROJECT_ROOT / "web" / "package-lock.json").read_text()


def test_rook_prepares_only_for_commands_that_exist() -> None:
    lines = (PROJECT_ROOT / "rook").read_text().splitlines()
    prepared = [line for line in lines if re.search(r"\) .*(=yes|requirements=dev)", line)]
    labels = [line.split(")")[0].split(" in ")[-1] for line in prepared]
    named = {word for label in labels for word in re.findall(r"[a-z-]+", label)}
    commands = {
        command.name or command.callback.__name__
        for command in cli.app.registered_commands
        if command.callback
    }
    assert {"test", "bench", "start", "generate"} <= named
    assert named <= commands
