"""``./rook test``: static checks, the front end's own, and pytest, side by side.

What is quick runs first and ends the run if it fails. The rest runs beside pytest: one lane of
checks next to two workers keeps two cores busy while tests wait for pages and databases.
"""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from maple_rook import front_end
from maple_rook.settings import PROJECT_ROOT

Say = Callable[[str], None]
WORKERS = 2
SIDE_BY_SIDE = ("-n", str(WORKERS), "--dist", "loadgroup", "--no-loadscope-reorder")
LONGEST = ("--durations", "20", "--durations-min", "2")
QUICK_FOLDERS = ("tests/core", "tests/reference", "src/maple_rook/core")
ENOUGH_COVERED = 85
_IMPORTS = "from importlinter.cli import lint_imports_command; lint_imports_command()"
_GENERATED = "from maple_rook import generated; generated.check_current()"


@dataclass(frozen=True)
class Step:
    """One check: a Python command line, or a script of web/package.json."""

    name: str
    python: tuple[str, ...] = ()
    npm: tuple[str, ...] = ()


FIRST = (
    Step("format", ("-m", "ruff", "format", "--check", "--quiet", ".")),
    Step("lint", ("-m", "ruff", "check", "--quiet", ".")),
)
BESIDE = (
    Step("front end tests", npm=("run", "test", "--silent")),
    Step("imports", ("-c", _IMPORTS)),
    Step("types", ("-m", "mypy", "--no-error-summary")),
    Step("front end types", npm=("run", "types", "--silent")),
    Step("front end lint", npm=("run", "lint", "--silent")),
    Step("front end format", npm=("run", "format", "--silent")),
)
GENERATED = Step("generated files", ("-c", _GENERATED))
"""Not of the inner loop: it builds the application to describe it."""


@dataclass(frozen=True)
class Done:
    """A step that was run: how long it took, and what it said if it failed."""

    name: str
    seconds: float
    failure: str | None = None


def run_all(say: Say, *, quick: bool = False, coverage: bool = False) -> int:
    """Every check and test, or those of the inner loop; 0 if nothing failed."""
    if failure := _npm_failure(partial(front_end.ensure_packages, say)):
        say(failure)
        return 1
    done = list(_each(FIRST, say))
    if any(step.failure is not None for step in done):
        return 1
    with (
        tempfile.TemporaryDirectory(prefix="maple-rook-covered-") as folder,
        ThreadPoolExecutor(1) as lane,
    ):
        covered = Path(folder) if coverage else None
        beside = lane.submit(lambda: list(_beside(say, build=not quick, covered=covered)))
        done.append(_pytest(quick=quick, covered=covered))
        done += beside.result()
        if covered:
            _say_covered(say, covered)
    say("What took longest:")
    for step in sorted(done, key=lambda step: -step.seconds)[:6]:
        say(f"  {step.name:<17} {_time_text(step.seconds):>12}")
    failed = [step.name for step in done if step.failure is not None]
    say(f"Failed: {', '.join(failed)}" if failed else "Nothing failed")
    return 1 if failed else 0


def _beside(say: Say, *, build: bool, covered: Path | None) -> Iterator[Done]:
    if build:  # browser tests wait for it
        build_it = partial(front_end.ensure_built, lambda _: None)
        yield _timed("build", partial(_npm_failure, build_it), say)
    for step in (*BESIDE, GENERATED) if build else BESIDE:
        if covered and step.name == "front end tests":
            more = ("--coverage", f"--coverage.reportsDirectory={covered}")
            step = Step(step.name, npm=(*step.npm, "--", *more))  # noqa: PLW2901
        yield from _each([step], say)


def _each(steps: Iterable[Step], say: Say) -> Iterator[Done]:
    for step in steps:
        yield _timed(step.name, partial(_failure, step), say)


def _failure(step: Step) -> str | None:
    """What a step says where it fails."""
    if step.npm:
        return _npm_failure(partial(front_end.npm, *step.npm))
    done = subprocess.run(
        [sys.executable, *step.python],
        cwd=PROJECT_ROOT,
        check=False,
        text=True,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
    )
    return done.stdout if done.returncode else None


def _npm_failure(work: Callable[[], object]) -> str | None:
    try:
        work()
    except front_end.FrontEndError as error:
        return str(error)
    return None


def _timed(name: str, work: Callable[[], str | None], say: Say) -> Done:
    started = time.perf_counter()
    failure = work()
    took = time.perf_counter() - started
    if failure is not None:
        say(f"\n{failure}")
    say(f"{name}: {'ok' if failure is None else 'failed'} ({took:.1f} s)")
    return Done(name, took, failure)


def _pytest(*, quick: bool, covered: Path | None) -> Done:
    """Pytest speaks for itself while it runs."""
    line = [sys.executable, "-m", "pytest", "-q", "--instafail", *SIDE_BY_SIDE, *LONGEST]
    line += QUICK_FOLDERS if quick else ()
    if covered:
        line += ["--cov=maple_rook", "--cov-report=", f"--cov-report=json:{covered}/python.json"]
    started = time.perf_counter()
    code = subprocess.run(line, cwd=PROJECT_ROOT, check=False).returncode
    return Done("pytest", time.perf_counter() - started, "see above" if code else None)


def _say_covered(say: Say, folder: Path) -> None:
    """One line for each package: lines covered by pytest, by the front end's own tests."""
    for title, file in (
        ("Python, by pytest", "python.json"),
        ("Front end, .ts by vitest", "coverage-summary.json"),
    ):
        if not (folder / file).exists():
            say(f"Lines covered, {title}: not known, the tests did not come to their end")
            continue
        say(f"Lines covered, {title}:")
        for package, covered, lines in packages(json.loads((folder / file).read_text())):
            percent = 100 * covered / max(lines, 1)
            mark = "" if percent >= ENOUGH_COVERED else f"   under {ENOUGH_COVERED} %"
            say(f"  {package:<28} {percent:5.1f} % of {lines:,}{mark}")


def packages(report: dict[str, object]) -> list[tuple[str, int, int]]:
    """Covered and all lines of each package, from a report of coverage.py or of vitest."""
    found: dict[str, tuple[int, int]] = {}
    for path, covered, lines in _files(report):
        package = _package(path)
        before = found.get(package, (0, 0))
        found[package] = before[0] + covered, before[1] + lines
    return [(package, *found[package]) for package in sorted(found) if found[package][1]]


def _files(report: dict[str, object]) -> Iterator[tuple[str, int, int]]:
    files = report.get("files")
    if isinstance(files, dict):
        for path, file in files.items():
            summary = file["summary"]
            yield path, summary["covered_lines"], summary["num_statements"]
        return
    for path, file in report.items():
        if path != "total" and isinstance(file, dict):
            yield path, file["lines"]["covered"], file["lines"]["total"]


def _package(path: str) -> str:
    """The package of a file: its folder below `maple_rook` or the front end's sources."""
    _, _, below = path.replace("\\", "/").rpartition("/maple_rook/" if ".py" in path else "/src/")
    folders = (below or path).split("/")[:-1]
    deep = 2 if folders and folders[0] in ("core", "stations") else 1
    return "/".join(folders[:deep]) or "."


def _time_text(seconds: float) -> str:
    minutes, rest = divmod(round(seconds), 60)
    return f"{minutes} min {rest:02} s" if minutes else f"{rest} s"


def run_some(arguments: Sequence[str], say: Say) -> int:
    """Pytest on what was named: a package, a file, a word; in one process unless told ``-n 2``."""
    chosen = [_path(argument) for argument in arguments]
    if not any(Path(PROJECT_ROOT, name.split("::")[0]).exists() for name in chosen):
        chosen.insert(0, "tests")
    in_browser = any(name.startswith("tests/browser") for name in chosen)
    if in_browser and (failure := _npm_failure(partial(front_end.ensure_built, say))):
        say(failure)
        return 1
    for package in ("core", "formats"):
        if f"tests/{package}" in chosen:
            chosen.append(f"src/maple_rook/{package}")
    line = [sys.executable, "-m", "pytest", *chosen]
    return subprocess.run(line, cwd=PROJECT_ROOT, check=False).returncode


def _path(argument: str) -> str:
    named = Path(PROJECT_ROOT, "tests", argument.split("::", maxsplit=1)[0])
    return f"tests/{argument}" if named.exists() else argument
