"""The command line behind ``./rook``."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated

import typer

from maple_rook.settings import PROJECT_ROOT, Settings

app = typer.Typer(
    help="Maple Rook: measure knives, keep the record, compare them.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)


def say(message: str) -> None:
    typer.echo(f"  {message}")


@contextmanager
def _told_plainly() -> Iterator[None]:
    """Failures a person can act on end the command with their message, not a stack trace."""
    from sqlalchemy.exc import OperationalError  # noqa: PLC0415 - commands load what they need

    from maple_rook import front_end, server  # noqa: PLC0415
    from maple_rook.backup import BackupError  # noqa: PLC0415
    from maple_rook.cluster import ClusterError  # noqa: PLC0415
    from maple_rook.store.archive import NotRestored  # noqa: PLC0415

    try:
        yield
    except (
        BackupError,
        ClusterError,
        front_end.FrontEndError,
        server.Refused,
        NotRestored,
    ) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None
    except OperationalError as error:
        typer.echo(f"The database does not answer; nothing was changed.\n{error.orig}", err=True)
        raise typer.Exit(1) from None


def _serve(*, is_demo: bool, browser: bool, workers: int, pieces: int = 0) -> None:
    from maple_rook import front_end, server  # noqa: PLC0415

    with _told_plainly():
        front_end.ensure_built(say)
        server.serve(
            Settings(), is_demo=is_demo, say=say, open_browser=browser, pieces=pieces,
            workers=workers,
        )  # fmt: skip


Browser = Annotated[bool, typer.Option(help="Open a browser where there is one.")]
Workers = Annotated[int, typer.Option(help="How many processes serve.", min=1, max=64)]


@app.command()
def demo(
    browser: Browser = True,
    workers: Workers = 1,
    pieces: Annotated[
        int,
        typer.Option(
            help="Fill the shelf up to so many pieces, copies of the demo's.", max=200_000
        ),
    ] = 0,
) -> None:
    """Serve the demo shop, setting up whatever is missing."""
    _serve(is_demo=True, browser=browser, pieces=pieces, workers=workers)


@app.command()
def start(browser: Browser = True, workers: Workers = 1) -> None:
    """Serve your own shop, without demo data."""
    _serve(is_demo=False, browser=browser, workers=workers)


@app.command()
def stop() -> None:
    """Stop running servers and their PostgreSQL."""
    from maple_rook import server  # noqa: PLC0415

    server.stop_all(Settings(), say=say)


@app.command()
def status() -> None:
    """Say what runs, and where the data is."""
    from maple_rook import server  # noqa: PLC0415

    settings = Settings()
    servers = server.running_servers(settings)
    for pid, address, _ in servers:
        say(f"Serving at {address} (process {pid})")
    if not servers:
        say("No server runs")
    if settings.database_url:
        say("Database: as MAPLE_ROOK_DATABASE_URL names it")
        return
    cluster = server.own_cluster(settings)
    up = cluster.data.exists() and cluster.running
    say(f"PostgreSQL {f'runs on 127.0.0.1:{cluster.port}' if up else 'is stopped'}")
    say(f"Data: {settings.home}")


@app.command("reset-demo")
def reset_demo() -> None:
    """Throw the demo shop away and load it anew."""
    from maple_rook import server  # noqa: PLC0415
    from maple_rook.store.database import connect  # noqa: PLC0415

    with _told_plainly(), server.database(Settings(), is_demo=True, say=say) as url:
        engine = connect(url)
        server.reset(engine, say=say)
        engine.dispose()
    say("The demo shop is as new")


Demo = Annotated[bool, typer.Option("--demo", help="Of the demo shop instead of your own.")]


@app.command()
def archive(
    file: Annotated[Path, typer.Argument(help="The ZIP to write; it must not exist yet.")],
    of_demo: Demo = False,
) -> None:
    """Write the whole shop into one ZIP of JSON and pictures."""
    from maple_rook import server  # noqa: PLC0415

    if file.exists():
        typer.echo(f"{file} exists already; nothing was written.", err=True)
        raise typer.Exit(1)
    with _told_plainly():
        counts = server.write_archive(Settings(), file, is_demo=of_demo, say=say)
    say(f"Wrote {file}: {counts['pieces']} pieces, {counts['readings']} readings")


@app.command()
def backup(
    folder: Annotated[
        Path | None,
        typer.Argument(help="Where backups are kept; the data folder's own if not said."),
    ] = None,
    keep: Annotated[int, typer.Option(help="How many to keep there.", min=1)] = 14,
    of_demo: Demo = False,
) -> None:
    """Back the shop up while it runs, and verify the backup by restoring it beside the shop."""
    from maple_rook import server  # noqa: PLC0415

    with _told_plainly():
        written = server.write_backup(Settings(), folder, keep=keep, is_demo=of_demo, say=say)
    size = written.file.stat().st_size / 1e6
    say(f"Wrote {written.file} ({size:.1f} MB), and read it back: {written.rows:,} rows")
    for old in written.removed:
        say(f"Removed {old.name}")


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(help="What ./rook backup or ./rook archive wrote.")],
    replace: Annotated[
        bool, typer.Option("--replace", help="Put the shop that is there aside.")
    ] = False,
) -> None:
    """Make your own shop that of a backup, or an empty one that of an archive."""
    from maple_rook import backup as backups  # noqa: PLC0415
    from maple_rook import server  # noqa: PLC0415

    with _told_plainly():
        if file.exists() and backups.is_backup(file):
            aside = server.restore_backup(Settings(), file, replace=replace, say=say)
            say(f"Restored {file.name}")
            if aside:
                say(f"What was there is kept as the database {aside}")
            return
        counts = server.restore_archive(Settings(), file, say=say)
    say(f"Restored {counts['pieces']} pieces, {counts['readings']} readings")


@app.command()
def invite(
    name: Annotated[
        str, typer.Argument(help="Somebody the shop knows, such as a locked-out owner.")
    ],
    of_demo: Demo = False,
) -> None:
    """Print an address at which somebody chooses a new password."""
    from maple_rook import server  # noqa: PLC0415

    with _told_plainly():
        say(server.invitation_link(Settings(), name, is_demo=of_demo, say=say))


@app.command()
def predict(
    blade: Annotated[Path, typer.Argument(help="A JSON file, or - for standard input.")],
    as_json: Annotated[bool, typer.Option("--json", help="Print the API's answer.")] = False,
) -> None:
    """Print every prediction for a blade described in JSON."""
    from maple_rook.stations.predict import command  # noqa: PLC0415

    try:
        text = sys.stdin.read() if str(blade) == "-" else blade.read_text(encoding="utf-8")
        typer.echo(command.predicted_text(text, as_json=as_json))
    except (OSError, UnicodeDecodeError, command.NotPredictable) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from None


_PASS_ON = {"allow_extra_args": True, "ignore_unknown_options": True}


@app.command(context_settings=_PASS_ON)
def test(context: typer.Context) -> None:
    """Run every check and test; ``test core -k hardness`` narrows to pytest on a folder."""
    raise typer.Exit(_test(context.args))


def _test(arguments: list[str]) -> int:
    if arguments:
        chosen = [_test_path(a) for a in arguments]
        if not any(Path(PROJECT_ROOT, a.split("::")[0]).exists() for a in chosen):
            chosen.insert(0, "tests")
        if "tests/browser" in chosen:
            _front_end_steps()
        for room in ("core", "formats"):
            if f"tests/{room}" in chosen:
                chosen.append(f"src/maple_rook/{room}")
        return _run("pytest", chosen)
    steps = [
        ("format", ["ruff", "format", "--check", "--quiet", "."]),
        ("lint", ["ruff", "check", "--quiet", "."]),
        ("types", ["mypy", "--no-error-summary"]),
        ("imports", ["importlinter.cli", "lint"]),
    ]
    for name, command in steps:
        started = time.perf_counter()
        module = "from importlinter.cli import lint_imports_command; lint_imports_command()"
        line = ["-c", module] if name == "imports" else ["-m", *command]
        done = subprocess.run(
            [sys.executable, *line], cwd=PROJECT_ROOT, check=False, text=True,
            stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
        )  # fmt: skip
        if done.returncode != 0:
            typer.echo(done.stdout)
            say(f"{name}: failed")
            return 1
        say(f"{name}: ok ({time.perf_counter() - started:.1f} s)")
    if not _front_end_steps(checks=True):
        return 1
    return _run("pytest", ["-q"])


def _test_path(argument: str) -> str:
    return f"tests/{argument}" if Path(PROJECT_ROOT, "tests", argument).is_dir() else argument


def _run(module: str, arguments: list[str]) -> int:
    return subprocess.run(
        [sys.executable, "-m", module, *arguments], cwd=PROJECT_ROOT, check=False
    ).returncode


def _front_end_steps(*, checks: bool = False) -> bool:
    from maple_rook import front_end, generated  # noqa: PLC0415

    try:
        front_end.ensure_packages(say)
        if checks:
            generated.check_current()
            for name in ("format", "lint", "types"):
                started = time.perf_counter()
                front_end.npm("run", name, "--silent")
                say(f"front end {name}: ok ({time.perf_counter() - started:.1f} s)")
        front_end.ensure_built(say)
    except (front_end.FrontEndError, generated.OutOfDate) as error:
        typer.echo(str(error))
        return False
    return True


@app.command()
def bench() -> None:
    """Run the benchmarks and print a table."""
    from maple_rook import front_end  # noqa: PLC0415

    front_end.ensure_built(say)
    raise typer.Exit(_run("benchmarks", []))


@app.command()
def audit() -> None:
    """Ask the package registries for known faults of every locked package."""
    from maple_rook import front_end  # noqa: PLC0415

    front_end.ensure_packages(say)
    locked = str(PROJECT_ROOT / "requirements" / "dev.txt")
    python = _run("pip_audit", ["--requirement", locked, "--require-hashes", "--disable-pip",
                                "--strict", "--progress-spinner", "off"])  # fmt: skip
    say(f"Python packages: {'no known fault' if python == 0 else 'see above'}")
    try:
        front_end.npm("audit", "--audit-level=high")
        say("JavaScript packages: no grave known fault")
    except front_end.FrontEndError as error:
        typer.echo(str(error))
        raise typer.Exit(1) from None
    raise typer.Exit(python)


@app.command()
def generate() -> None:
    """Write what is generated from the code: OpenAPI types, docs/models, docs/formats."""
    from maple_rook import front_end, generated  # noqa: PLC0415

    front_end.ensure_packages(say)
    for path in generated.write():
        say(f"Wrote {path.relative_to(PROJECT_ROOT)}")


def main() -> None:
    app()


if __name__ == "__main__":
    main()
