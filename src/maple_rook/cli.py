"""The command line: ``./rook`` in a clone, ``maple-rook`` where it is installed."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path
from typing import Annotated, Literal

import typer
from typer.models import CommandInfo

from maple_rook.settings import (
    INSTALLED,
    PROGRAM,
    PROJECT_ROOT,
    Settings,
    WrongSettings,
    from_environment,
)

app = typer.Typer(
    help="Maple Rook: measure knives, keep the record, compare them.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)


def _settings() -> Settings:
    """The settings of this command; wrong ones end it, with what is wrong."""
    try:
        return from_environment()
    except WrongSettings as error:
        typer.echo(f"{error}\nNothing was done.", err=True)
        raise typer.Exit(2) from None


def say(message: str) -> None:
    typer.echo(f"  {message}")


@contextmanager
def _told_plainly() -> Iterator[None]:
    """Failures a person can act on end the command with their message, not a stack trace."""
    from sqlalchemy.exc import OperationalError  # noqa: PLC0415 - commands load what they need

    from maple_rook import front_end, packaging, point_in_time, server  # noqa: PLC0415
    from maple_rook.backup import BackupError  # noqa: PLC0415
    from maple_rook.cluster import ClusterError  # noqa: PLC0415
    from maple_rook.run_files import ServedAlready  # noqa: PLC0415
    from maple_rook.store.archive import NotRestored  # noqa: PLC0415
    from maple_rook.store.database import NewerRecord  # noqa: PLC0415
    from maple_rook.store.picture_store import PictureStoreDown  # noqa: PLC0415

    try:
        yield
    except (
        BackupError,
        ClusterError,
        front_end.FrontEndError,
        packaging.NotPackaged,
        point_in_time.NotRecovered,
        server.Refused,
        ServedAlready,
        NewerRecord,
        NotRestored,
        PictureStoreDown,
    ) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None
    except OperationalError as error:
        said = str(error.orig).strip().splitlines()[-1]
        typer.echo(f"The database does not answer; nothing was changed. It says: {said}", err=True)
        raise typer.Exit(1) from None


def _serve(*, is_demo: bool, browser: bool, workers: int, pieces: int = 0) -> None:
    from maple_rook import front_end, server  # noqa: PLC0415

    with _told_plainly():
        front_end.ensure_built(say)
        server.serve(
            _settings(),
            is_demo=is_demo,
            say=say,
            open_browser=browser,
            pieces=pieces,
            workers=workers,
        )


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

    with _told_plainly():
        server.stop_all(_settings(), say=say)


@app.command()
def status() -> None:
    """Say what runs as whom, how far the shelf is, when it was backed up, and where the data is."""
    from maple_rook import doctor  # noqa: PLC0415

    with _told_plainly():
        for line in doctor.status(_settings()):
            say(line)


@app.command("doctor")
def run_doctor() -> None:
    """Check disk, clock, permissions, versions, and the sums of backups."""
    from maple_rook import doctor  # noqa: PLC0415

    findings = list(doctor.findings(_settings()))
    for finding in findings:
        say(finding.line)
    if not all(finding.well for finding in findings):
        raise typer.Exit(1)


@app.command("reset-demo")
def reset_demo() -> None:
    """Delete the demo shop and load it again."""
    from maple_rook import server  # noqa: PLC0415
    from maple_rook.store.database import connect  # noqa: PLC0415

    settings = _settings()
    with _told_plainly(), server.database(settings, is_demo=True, say=say) as url:
        engine = connect(url)
        server.reset(engine, say=say)
        engine.dispose()
        if settings.database_url is None:  # a server that runs may read the new tables
            server.own_cluster(settings).serving_url(server.DATABASES[True])
    say("The demo shop is as new")


Demo = Annotated[bool, typer.Option("--demo", help="Of the demo shop instead of your own.")]


@app.command()
def archive(
    file: Annotated[Path, typer.Argument(help="The ZIP to write; it must not exist yet.")],
    of_demo: Demo = False,
) -> None:
    """Write the whole shop into one ZIP of JSON and pictures."""
    from maple_rook import operations  # noqa: PLC0415

    if file.exists():
        typer.echo(f"{file} exists already; nothing was written.", err=True)
        raise typer.Exit(1)
    with _told_plainly():
        counts = operations.write_archive(_settings(), file, is_demo=of_demo, say=say)
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
    from maple_rook import operations  # noqa: PLC0415

    with _told_plainly():
        written = operations.write_backup(_settings(), folder, keep=keep, is_demo=of_demo, say=say)
    size = written.file.stat().st_size / 1e6
    say(f"Wrote {written.file} ({size:.1f} MB), and read it back: {written.rows:,} rows")
    for old in written.removed:
        say(f"Removed {old.name}")


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(help="What backup or archive wrote.")],
    replace: Annotated[
        bool, typer.Option("--replace", help="Put the shop that is there aside.")
    ] = False,
    dry_run: Annotated[
        bool, typer.Option("--dry-run", help="Check the file, say what would be done, do nothing.")
    ] = False,
    unchecked: Annotated[
        bool, typer.Option("--unchecked", help="Take a backup whose .sha256 is lost.")
    ] = False,
    another_shop: Annotated[
        bool, typer.Option("--another-shop", help="Take a backup of a shop of another name.")
    ] = False,
) -> None:
    """Make your own shop that of a backup, or an empty one that of an archive."""
    from maple_rook import operations  # noqa: PLC0415

    with _told_plainly():
        asked = operations.Restoring(file, replace, unchecked, another_shop)
        done = operations.restore(_settings(), asked, dry_run=dry_run, say=say)
        if dry_run:
            say("Nothing was changed")
            return
        say(f"Restored {done.what}")
        if done.aside:
            say(f"What was there is kept as the database {done.aside}")


@app.command("base-backup")
def base_backup(
    folder: Annotated[Path, typer.Argument(help="Where base backups are kept.")],
    keep: Annotated[int, typer.Option(help="How many to keep there.", min=1)] = 2,
) -> None:
    """Copy the cluster while it runs, to go back to any minute from; needs a WAL archive."""
    from maple_rook import point_in_time, server  # noqa: PLC0415

    settings = _settings()
    with _told_plainly(), server.database(settings, is_demo=False, say=say):
        made = point_in_time.base_backup(server.own_cluster(settings), folder, keep=keep)
        say(f"Wrote {made}, and verified it")


@app.command()
def recover(
    base: Annotated[Path, typer.Argument(help="A base backup made before the moment.")],
    to: Annotated[
        datetime, typer.Option(help="The moment, as this machine's clock has it, to the second.")
    ],
) -> None:
    """Make all that the cluster holds what it was at a moment; servers have to be stopped."""
    from maple_rook import operations  # noqa: PLC0415

    with _told_plainly():
        aside = operations.recover(_settings(), base, to.astimezone())
    say(f"All is as it was at {to}; what was there is kept in {aside}")


@app.command("move-photographs")
def move_photographs(
    to: Annotated[
        Literal["bucket", "database"], typer.Argument(help="Where they are kept from now on.")
    ],
    of_demo: Demo = False,
) -> None:
    """Move the shop's photographs into the bucket of the settings, or back into the database."""
    from maple_rook import operations  # noqa: PLC0415

    with _told_plainly():
        moved = operations.move_photographs(
            _settings(), into_bucket=to == "bucket", is_demo=of_demo, say=say
        )
    say(f"Moved {moved} photographs")


@app.command()
def invite(
    name: Annotated[
        str, typer.Argument(help="Somebody the shop knows, such as a locked-out owner.")
    ],
    of_demo: Demo = False,
) -> None:
    """Print an address at which somebody chooses a new password."""
    from maple_rook import operations  # noqa: PLC0415

    with _told_plainly():
        say(operations.invitation_link(_settings(), name, is_demo=of_demo, say=say))


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


@app.command("test", context_settings=_PASS_ON)
def run_tests(
    context: typer.Context,
    quick: Annotated[
        bool, typer.Option("--quick", help="The inner loop: static checks, core, front end.")
    ] = False,
    coverage: Annotated[
        bool, typer.Option("--coverage", help="Report test coverage by package.")
    ] = False,
) -> None:
    """Run every check and test; ``test core -k hardness`` narrows to pytest on a folder."""
    from maple_rook import suite  # noqa: PLC0415

    if context.args:
        raise typer.Exit(suite.run_some(context.args, say))
    raise typer.Exit(suite.run_all(say, quick=quick, coverage=coverage))


def _run(module: str, arguments: list[str], *paths: str) -> int:
    """Run a module of the clone; ``paths`` are folders of the clone that it imports from."""
    found = [*(str(PROJECT_ROOT / path) for path in paths), os.environ.get("PYTHONPATH", "")]
    environment = {**os.environ, "PYTHONPATH": os.pathsep.join(filter(None, found))}
    return subprocess.run(
        [sys.executable, "-m", module, *arguments],
        cwd=PROJECT_ROOT,
        env=environment,
        check=False,
    ).returncode


@app.command(context_settings=_PASS_ON, add_help_option=False)
def bench(context: typer.Context) -> None:
    """Run the benchmarks, or parts of them; ``bench --help`` names those."""
    from maple_rook import front_end  # noqa: PLC0415

    front_end.ensure_built(say)
    raise typer.Exit(_run("benchmarks", context.args, "tests", "tests/faults"))


@app.command()
def audit() -> None:
    """Look for known weaknesses: in our own code, and in every locked package."""
    from maple_rook import front_end  # noqa: PLC0415

    front_end.ensure_packages(say)
    own = _run("bandit", ["--quiet", "--configfile", "pyproject.toml", "--recursive", "src"])
    say(f"Our own Python: {'nothing found' if own == 0 else 'see above'}")
    locked = str(PROJECT_ROOT / "requirements" / "dev.txt")
    python = _run(
        "pip_audit",
        [
            "--requirement",
            locked,
            "--require-hashes",
            "--disable-pip",
            "--strict",
            "--progress-spinner",
            "off",
        ],
    )
    say(f"Python packages: {'no known fault' if python == 0 else 'not known; see above'}")
    javascript = 0
    try:
        front_end.npm("audit", "--audit-level=high")
        say("JavaScript packages: no grave known fault")
    except front_end.FrontEndError as error:
        typer.echo(str(error))
        say("JavaScript packages: not known; see above")
        javascript = 1
    raise typer.Exit(max(own, python, javascript))


@app.command()
def generate() -> None:
    """Write what is generated from the code: OpenAPI types, docs/models, docs/formats."""
    from maple_rook import front_end, generated  # noqa: PLC0415

    front_end.ensure_packages(say)
    for path in generated.write():
        say(f"Wrote {path.relative_to(PROJECT_ROOT)}")


@app.command()
def package(
    folder: Annotated[Path, typer.Argument(help="Where it is put.")] = Path("dist"),
    deb: Annotated[bool, typer.Option("--deb", help="A Debian package instead.")] = False,
    client: Annotated[
        bool, typer.Option("--client", help="A Python client of the API instead.")
    ] = False,
) -> None:
    """Build a wheel with the front end inside, which installs without a clone."""
    from maple_rook import client_package, front_end, packaging  # noqa: PLC0415

    if deb and client:
        raise typer.BadParameter("--deb or --client, not both")
    with _told_plainly():
        if client:
            say(f"Wrote {client_package.build_client(folder)}")
            return
        front_end.ensure_built(say)
        build = packaging.build_deb if deb else packaging.build_wheel
        say(f"Wrote {build(folder)}")


IN_A_CLONE = {"test", "bench", "audit", "generate", "package"}
"""What needs the sources of everything, which an installed package has not."""


def _called(command: CommandInfo) -> str:
    return command.name or (command.callback.__name__ if command.callback else "")


if INSTALLED:
    app.registered_commands = [c for c in app.registered_commands if _called(c) not in IN_A_CLONE]


def main() -> None:
    app(prog_name=PROGRAM)


if __name__ == "__main__":
    main()
