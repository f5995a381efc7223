"""Maple Rook installed from its wheel: no clone beside it, the front end inside."""

from __future__ import annotations

import configparser
import email
import os
import re
import subprocess
import sys
from collections.abc import Callable
from importlib.metadata import version
from pathlib import Path

import httpx2 as httpx
import pytest
from packaging.requirements import Requirement

from maple_rook import front_end
from maple_rook.cli import app
from maple_rook.cluster import Cluster, free_port
from maple_rook.packaging import (
    CONF,
    DEBIAN,
    DOCS,
    PLACED,
    SCRIPTS,
    build_wheel,
    control_of,
    pinned,
)
from maple_rook.settings import PROJECT_ROOT, Settings
from shops import new_shop

READY = re.compile(r"ready at (http://[\d.:]+)")


@pytest.fixture(scope="module")
def installed(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder with what the wheel holds; its packages are those of the tests."""
    front_end.ensure_built(lambda _: None)
    folder = tmp_path_factory.mktemp("installed")
    wheel = build_wheel(tmp_path_factory.mktemp("wheel"))
    pip = [sys.executable, "-m", "pip", "install", "--quiet", "--no-deps", "--target"]
    subprocess.run([*pip, str(folder), str(wheel)], check=True)
    return folder


@pytest.fixture
def environment(installed: Path, cluster: Cluster, tmp_path: Path) -> dict[str, str]:
    clean = {k: v for k, v in os.environ.items() if not k.startswith(("MAPLE_ROOK_", "PYTHON"))}
    return {
        **clean,
        "PYTHONPATH": str(installed),
        "PYTHONUNBUFFERED": "1",
        "MAPLE_ROOK_DATABASE_URL": cluster.url(new_shop(cluster)),
        "MAPLE_ROOK_HOME": str(tmp_path / "home"),
        "MAPLE_ROOK_PORT": str(free_port()),
        "MAPLE_ROOK_RUN_AS": "root",
    }


@pytest.fixture
def command(installed: Path) -> Callable[..., list[str]]:
    """The program as an installation has it, whose name is not that of the package."""

    def line(*words: str) -> list[str]:
        return [sys.executable, str(installed / "bin" / "maple-rook"), *words]

    return line


def test_an_installed_shop_is_served_with_its_screens_until_it_is_stopped(
    command: Callable[..., list[str]], environment: dict[str, str], tmp_path: Path
) -> None:
    process = subprocess.Popen(
        command("start", "--no-browser"),
        env=environment,
        cwd=tmp_path,
        text=True,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
    )
    try:
        assert process.stdout is not None
        said = []
        for line in process.stdout:
            said.append(line)
            if found := READY.search(line):
                break
        else:
            pytest.fail("".join(said))
        with httpx.Client(base_url=found[1], timeout=30) as shop:
            page = shop.get("/rack").text
            assets = re.findall(r'(?:src|href)="(/assets/[^"]+)"', page)
            assert len(assets) >= 2
            assert {shop.get(path).status_code for path in assets} == {200}
            assert shop.get("/api/health/ready").status_code == 200

        def told(word: str) -> str:
            how = {"env": environment, "cwd": tmp_path, "text": True, "capture_output": True}
            return subprocess.run(command(word), check=True, **how).stdout

        assert f"at {found[1]}" in told("status")
        assert f"Stopped the server at {found[1]}" in told("stop")
        assert process.wait(timeout=60) == 0
        assert "No server runs" in told("status")
    finally:
        process.terminate()
        process.wait(timeout=60)
        process.stdout.close()


def test_an_installed_program_has_no_commands_of_a_clone(
    command: Callable[..., list[str]], environment: dict[str, str], tmp_path: Path
) -> None:
    def said(*words: str) -> str:
        return subprocess.run(
            command(*words),
            env=environment,
            cwd=tmp_path,
            check=False,
            text=True,
            capture_output=True,
        ).stdout

    told = said("--help")
    assert "doctor" in told
    assert "audit" not in told
    assert "maple-rook backup makes one" in said("doctor")


def test_the_debian_package_says_what_policy_asks() -> None:
    """Debian Policy 5.3 (fields of a control file), 5.6.12 (versions), 10.7 (configuration)."""
    control = email.message_from_string(control_of("amd64", 1000))
    needed = {"Package", "Version", "Architecture", "Maintainer", "Description"}
    assert needed <= set(control)
    assert re.fullmatch(r"[0-9][A-Za-z0-9.+~]*", control["Version"])
    release = control["Version"].partition("~")[0]
    older = ["dpkg", "--compare-versions", control["Version"], "le", release]
    assert subprocess.run(older, check=False).returncode == 0  # a release replaces what led to it
    for name in (*PLACED, *SCRIPTS):
        assert (DEBIAN / name).is_file()
        if name == "maple-rook.sh" or name in SCRIPTS:
            subprocess.run(["sh", "-n", str(DEBIAN / name)], check=True)
    assert all((PROJECT_ROOT / name).is_file() for name in DOCS)
    assert CONF.startswith("etc/")


def test_the_units_run_commands_that_there_are_as_the_user_of_the_shop() -> None:
    known = {c.name or c.callback.__name__ for c in app.registered_commands if c.callback}
    program = f"/{PLACED['maple-rook.sh'][0]}"
    for name in ("maple-rook.service", "maple-rook-backup.service"):
        unit = configparser.ConfigParser(strict=False, interpolation=None)
        unit.optionxform = str  # type: ignore[assignment,method-assign]
        unit.read(DEBIAN / name)
        started, command, *_ = unit["Service"]["ExecStart"].split()
        assert (started, command in known) == (program, True)
        assert unit["Service"]["User"] == "maple-rook"
        assert unit["Service"]["EnvironmentFile"] == f"-/{CONF}"
    settings = {f"MAPLE_ROOK_{field.upper()}" for field in Settings.model_fields}
    named = re.findall(r"^(?:# )?(MAPLE_ROOK_\w+)=", (DEBIAN / "maple-rook.conf").read_text(), re.M)
    assert named
    assert set(named) <= settings


def test_the_wheel_asks_for_what_was_tested() -> None:
    asked = [Requirement(pin) for pin in pinned()]
    here = [one for one in asked if one.marker is None or one.marker.evaluate()]
    assert len(here) > 40
    for one in here:
        assert str(one.specifier) == f"=={version(one.name)}", one
    assert not any(one.name.startswith("nodejs") for one in asked)
