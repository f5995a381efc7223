"""An application served over a port of its own, in a thread; and a line to it that can be held."""

from __future__ import annotations

import contextlib
import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

import uvicorn
from fastapi import FastAPI

from maple_rook.cluster import free_port
from maple_rook.http.patience import served_with


@contextmanager
def served(app: FastAPI) -> Iterator[str]:
    """Address of the application, once it answers."""
    port = free_port()
    how = served_with(host="127.0.0.1", port=port, timeout_graceful_shutdown=2)
    config = uvicorn.Config(app, **how)
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(timeout=30)


class Held:
    """A line to a port on this machine that passes everything on, except while it is held."""

    def __init__(self, to: int) -> None:
        self._to = to
        self._flows = threading.Event()
        self._flows.set()
        self._socket = socket.create_server(("127.0.0.1", 0))
        self.port: int = self._socket.getsockname()[1]
        threading.Thread(target=self._accept, daemon=True).start()

    @contextmanager
    def hold(self) -> Iterator[None]:
        self._flows.clear()
        try:
            yield
        finally:
            self._flows.set()

    def close(self) -> None:
        self._flows.set()
        self._socket.close()

    def _accept(self) -> None:
        with contextlib.suppress(OSError):
            while True:
                here, _ = self._socket.accept()
                there = socket.create_connection(("127.0.0.1", self._to))
                for source, sink in ((here, there), (there, here)):
                    threading.Thread(target=self._pass, args=(source, sink), daemon=True).start()

    def _pass(self, source: socket.socket, sink: socket.socket) -> None:
        with contextlib.suppress(OSError):
            while chunk := source.recv(65536):
                self._flows.wait()
                sink.sendall(chunk)
        for end in (source, sink):
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
