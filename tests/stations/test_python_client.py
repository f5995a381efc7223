"""The Python client that is generated from the API: its wheel installed, typed, used."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

from maple_rook import client_package
from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.settings import PROJECT_ROOT, Settings
from served import served
from shops import shop_engine
from signed_in import key_of

EXAMPLE = PROJECT_ROOT / "docs/examples/with_the_typed_client.py"


@pytest.fixture(scope="module")
def installed(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder with what the client's wheel holds; httpx and attrs are the generator's own."""
    wheel = client_package.build_client(tmp_path_factory.mktemp("wheel"))
    folder = tmp_path_factory.mktemp("installed")
    pip = [sys.executable, "-m", "pip", "install", "--quiet", "--no-deps", "--target"]
    subprocess.run([*pip, str(folder), str(wheel)], check=True)
    return folder


def test_an_empty_shop_is_filled_and_judged_with_it(
    installed: Path, cluster: Cluster, tmp_path: Path
) -> None:
    with (
        shop_engine(cluster) as engine,
        served(create_app(Settings(web_root=tmp_path), engine)) as at,
    ):
        done = subprocess.run(
            [str(client_package.TOOLS / "bin" / "python"), str(EXAMPLE), at],
            env={
                **os.environ,
                "MAPLE_ROOK_KEY": key_of(engine),
                "PYTHONPATH": str(installed),
            },
            check=False,
            capture_output=True,
            text=True,
        )
    assert done.returncode == 0, done.stderr
    assert "'readings': 18" in done.stdout
    assert "T-1 cutting_ease" in done.stdout
    assert done.stdout.splitlines()[-1].endswith(".")


@pytest.mark.parametrize("fault", ["", "client.no_such_name", 'CompareIn(tags="KH-01")'])
def test_a_program_that_uses_it_is_type_checked(
    installed: Path, tmp_path: Path, fault: str
) -> None:
    """The example is clean when checked strictly; a name or type that is wrong is found."""
    program = tmp_path / "program.py"
    text = EXAMPLE.read_text()
    program.write_text(f"{text}\nclient = AuthenticatedClient('', token='')\nprint({fault})\n")
    done = subprocess.run(
        [
            *(sys.executable, "-m", "mypy", "--strict", "--no-incremental"),
            *("--config-file", os.devnull, "--follow-imports", "silent"),
            *("--python-executable", str(client_package.TOOLS / "bin" / "python")),
            str(program),
        ],
        env={**os.environ, "MYPYPATH": str(installed)},
        cwd=tmp_path,
        check=False,
        capture_output=True,
        text=True,
    )
    assert (done.returncode == 0) is (fault == ""), done.stdout
    assert done.stdout.count("error:") == (1 if fault else 0), done.stdout
