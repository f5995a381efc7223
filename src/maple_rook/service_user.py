"""Serving as an unprivileged user when started by root, which only watches PostgreSQL."""

from __future__ import annotations

import os
import pwd
import signal
import subprocess
import sys
import traceback
from collections.abc import Callable
from pathlib import Path

from maple_rook.settings import PACKAGE, Settings

ROOT = "root"
Say = Callable[[str], None]


def service_user(settings: Settings, say: Say) -> pwd.struct_passwd | None:
    """The user to serve as; None for the present user.

    The user is made where there is none. One that cannot read the application is no use, which is
    said.
    """
    if os.geteuid() != 0 or settings.run_as == ROOT:
        return None
    user = _known(settings.run_as) or _made(settings.run_as, say)
    if user is None:
        say(f"⚠ Serving as root: there is no user {settings.run_as}, and none could be made.")
        return None
    unreadable = _unreadable(user, settings)
    if unreadable is not None:
        say(
            f"⚠ Serving as root: the user {user.pw_name} cannot read {unreadable}. Python and "
            "the application have to lie where everybody can read them, /opt for example."
        )
        return None
    return user


def _known(name: str) -> pwd.struct_passwd | None:
    try:
        return pwd.getpwnam(name)
    except KeyError:
        return None


def _made(name: str, say: Say) -> pwd.struct_passwd | None:
    command = ["useradd", "--system", "--no-create-home", "--shell", "/usr/sbin/nologin", name]
    try:
        subprocess.run(command, check=True, capture_output=True)
    except (OSError, subprocess.CalledProcessError):
        return None
    say(f"Made the system user {name}, as whom the server runs")
    return _known(name)


def _unreadable(user: pwd.struct_passwd, settings: Settings) -> Path | None:
    """The first of what the server reads that its user may not."""
    needed = [
        Path(os.__file__),
        Path(sys.executable).resolve(),
        Path(sys.prefix, "pyvenv.cfg"),
        PACKAGE / "app.py",
    ]
    index = settings.web_root / "index.html"
    for path in [*needed, index] if index.exists() else needed:
        looked = subprocess.run(
            ["test", "-r", str(path)],
            check=False,
            user=user.pw_uid,
            group=user.pw_gid,
            extra_groups=[],
        )
        if looked.returncode != 0:
            return path
    return None


def become(user: pwd.struct_passwd) -> None:
    """Be the user from now on, for good, with none of root's groups."""
    os.setgroups([])
    os.setgid(user.pw_gid)
    os.setuid(user.pw_uid)
    os.environ["HOME"] = "/nonexistent"


def run_as(user: pwd.struct_passwd, work: Callable[[], None], meanwhile: Callable[[], None]) -> int:
    """Do the work in a child that is the user; its exit status once it ended.

    Signals to end are passed on to it. ``meanwhile`` is called here once the child runs.
    """
    sys.stdout.flush()
    child = os.fork()
    if child == 0:
        status = 1
        try:
            become(user)
            work()
            status = 0
        except BaseException:
            traceback.print_exc()
        finally:
            sys.stdout.flush()
            sys.stderr.flush()
            os._exit(status)
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, lambda got, _: os.kill(child, got))
    meanwhile()
    _, ended = os.waitpid(child, 0)
    return os.waitstatus_to_exitcode(ended)
