"""A typed Python client of ``/api/v1``, generated from the API's own description.

The generator wants other versions of packages than the application does, so it has a virtual
environment of its own (``requirements/client.txt``), made when it is first needed.
"""

from __future__ import annotations

import hashlib
import json
import re
import shutil
import sys
import tempfile
from pathlib import Path
from typing import Any

from maple_rook import __version__
from maple_rook.app import create_app
from maple_rook.packaging import run
from maple_rook.settings import PROJECT_ROOT, Settings

NAME = "maple_rook_client"
TOOLS = PROJECT_ROOT / ".venv" / "client-tools"
REQUIREMENTS = PROJECT_ROOT / "requirements" / "client.txt"
README = PROJECT_ROOT / "docs" / "formats" / "python-client.md"
_V1 = "/api/v1/"
_REFERENCE = re.compile(r'#/components/(\w+)/([^"/]+)"')
_CONFIG = {
    "project_name_override": NAME.replace("_", "-"),
    "package_name_override": NAME,
    "package_version_override": __version__,
    "content_type_overrides": {
        "application/zip": "application/octet-stream",
        "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet": (
            "application/octet-stream"
        ),
    },
    "post_hooks": [],
}


def description() -> dict[str, Any]:
    """The API's description (OpenAPI 3.1), of ``/api/v1`` alone."""
    whole = create_app(Settings(public_url=None), None).openapi()
    paths = {path: routes for path, routes in whole["paths"].items() if path.startswith(_V1)}
    for routes in paths.values():
        for route in routes.values():
            route["operationId"] = route["operationId"].removeprefix("v1_")
            route["tags"] = ["shop"]
    needed: set[tuple[str, str]] = set()
    found = _referred(paths)
    while found:
        needed |= found
        found = {
            deeper for room, name in found for deeper in _referred(whole["components"][room][name])
        } - needed
    components = {
        room: {n: part for n, part in parts.items() if (room, n) in needed}
        for room, parts in whole["components"].items()
    }
    components["securitySchemes"] = {"key": whole["components"]["securitySchemes"]["key"]}
    return {**whole, "paths": paths, "components": components}


def _referred(part: object) -> set[tuple[str, str]]:
    return set(_REFERENCE.findall(json.dumps(part)))


def tools() -> Path:
    """The folder of the generator's programs, installed first where it is not."""
    wanted = hashlib.sha256(REQUIREMENTS.read_bytes()).hexdigest()
    installed = TOOLS / "installed"
    if not installed.exists() or installed.read_text() != wanted:
        shutil.rmtree(TOOLS, ignore_errors=True)
        run(sys.executable, "-m", "venv", str(TOOLS))
        quiet = ("--quiet", "--disable-pip-version-check", "--no-input")
        pip = (str(TOOLS / "bin" / "python"), "-m", "pip", "install", *quiet)
        run(*pip, "--require-hashes", "-r", str(REQUIREMENTS))
        installed.write_text(wanted)
    return TOOLS / "bin"


def build_client(folder: Path) -> Path:
    """Generate the client and build its wheel into a folder."""
    folder.mkdir(parents=True, exist_ok=True)
    programs = tools()
    with tempfile.TemporaryDirectory(prefix="maple-rook-client-") as held:
        stage = Path(held)
        said, config, made = stage / "openapi.json", stage / "config.json", stage / "made"
        said.write_text(json.dumps(description()))
        config.write_text(json.dumps(_CONFIG))
        run(
            *(str(programs / "openapi-python-client"), "generate", "--meta", "setup"),
            *("--path", str(said), "--config", str(config), "--output-path", str(made)),
            "--fail-on-warning",
        )
        shutil.copy(README, made / "README.md")
        run(
            *(str(programs / "python"), "-m", "pip", "wheel", "--quiet", "--no-deps"),
            *("--no-build-isolation", "--wheel-dir", str(stage / "built"), str(made)),
        )
        [wheel] = (stage / "built").glob("*.whl")
        return Path(shutil.move(wheel, folder / wheel.name))
