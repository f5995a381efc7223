"""Behind nginx and Caddy with the files that the docs have: TLS, large files, event streams."""

from __future__ import annotations

import os
import re
import ssl
import subprocess
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx2 as httpx
import pytest
from shop_under_fire import ServedShop

from maple_rook import front_end
from maple_rook.cluster import free_port, temporary_cluster
from maple_rook.settings import PROJECT_ROOT

FILES = PROJECT_ROOT / "docs" / "proxies"
PATIENCE_S = 30


def certificate(folder: Path) -> tuple[Path, Path]:
    """A certificate for localhost that its own key has signed."""
    made, key = folder / "localhost.pem", folder / "localhost.key"
    subprocess.run(
        [
            *("openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2"),
            *("-subj", "/CN=localhost", "-addext", "subjectAltName=DNS:localhost"),
            *("-keyout", str(key), "-out", str(made)),
        ],
        check=True,
        capture_output=True,
    )
    return made, key


def nginx(folder: Path, port: int, shop_port: int, path: str) -> list[str]:
    made, key = certificate(folder)
    site = (FILES / "nginx.conf").read_text()
    if path:  # a site of its own has what is below the path in the place of its locations
        below = (FILES / "nginx-below-a-path.conf").read_text()
        site = f"{site.partition('    location /')[0]}{below}}}"
    for said, here in (
        ("listen 443 ssl", f"listen 127.0.0.1:{port} ssl"),
        ("/etc/ssl/knives.example.pem", str(made)),
        ("/etc/ssl/knives.example.key", str(key)),
        ("knives.example", "localhost"),
        ("127.0.0.1:8420", f"127.0.0.1:{shop_port}"),
    ):
        assert said in site
        site = site.replace(said, here)
    (folder / "site.conf").write_text(site)
    temporary = "".join(
        f"{kind}_temp_path {folder}/{kind};"
        for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    conf = folder / "nginx.conf"
    conf.write_text(
        f"daemon off; pid {folder}/pid; error_log {folder}/error.log; events {{}}"
        f" http {{ access_log off; {temporary} include {folder}/site.conf; }}"
    )
    return ["nginx", "-c", str(conf), "-p", str(folder), "-e", str(folder / "error.log")]


def caddy(folder: Path, port: int, shop_port: int, path: str) -> list[str]:
    made, key = certificate(folder)
    site = (FILES / ("Caddyfile-below-a-path" if path else "Caddyfile")).read_text()
    for said, here in (
        ("knives.example {", f"https://localhost:{port} {{\n\ttls {made} {key}"),
        ("127.0.0.1:8420", f"127.0.0.1:{shop_port}"),
    ):
        assert said in site
        site = site.replace(said, here)
    conf = folder / "Caddyfile"
    conf.write_text("{\n\tadmin off\n\tauto_https disable_redirects\n}\n" + site)
    return ["caddy", "run", "--config", str(conf), "--adapter", "caddyfile"]


@contextmanager
def running(command: list[str], folder: Path, address: str) -> Iterator[httpx.Client]:
    """The proxy, and a client that trusts its certificate alone."""
    environment = {**os.environ, "HOME": str(folder), "XDG_DATA_HOME": str(folder)}
    with (folder / "said").open("w") as said:
        proxy = subprocess.Popen(command, env=environment, stdout=said, stderr=said)
    try:
        trusted = ssl.create_default_context(cafile=str(folder / "localhost.pem"))
        with httpx.Client(base_url=address, verify=trusted, timeout=PATIENCE_S) as client:
            deadline = time.monotonic() + PATIENCE_S
            while not _answers(client):
                assert proxy.poll() is None, (folder / "said").read_text()
                assert time.monotonic() < deadline, (folder / "said").read_text()
                time.sleep(0.1)
            yield client
    finally:
        proxy.kill()  # Caddy told to end waits for streams that are open
        proxy.wait(timeout=PATIENCE_S)


def _answers(client: httpx.Client) -> bool:
    try:
        return client.get("api/health/ready").status_code == 200
    except httpx.TransportError:
        return False


@pytest.mark.parametrize("path", ["", "/shop"])
@pytest.mark.parametrize("proxy", [nginx, caddy])
def test_a_shop_behind_a_proxy_with_the_file_of_the_docs(
    proxy: Callable[[Path, int, int, str], list[str]], path: str, tmp_path: Path
) -> None:
    front_end.ensure_built(lambda _: None)
    port = free_port()
    origin = f"https://localhost:{port}"
    address = f"{origin}{path}"
    settings = {"MAPLE_ROOK_PUBLIC_URL": address, "MAPLE_ROOK_TRUSTED_PROXIES": "127.0.0.1"}
    with temporary_cluster() as cluster:
        shop = ServedShop(cluster, tmp_path / "home", settings=settings)
        try:
            command = proxy(tmp_path, port, shop.port, path)
            with running(command, tmp_path, address) as client:
                page = client.get("rack")
                assert page.headers["content-type"].startswith("text/html")
                for file in re.findall(r' (?:src|href)="([^"]+)"', page.text):
                    assert file.startswith(f"{path}/"), file
                    assert "text/html" not in client.get(f"{origin}{file}").headers["content-type"]
                assert f'href="{address}/p/feed.atom"' in client.get("p/feed.atom").text
                headers = {"Authorization": f"Bearer {shop.key}", "Origin": origin}
                _a_large_file(client, headers)
                _an_event_at_once(client, headers)
        finally:
            shop.kill()


def _a_large_file(client: httpx.Client, headers: dict[str, str]) -> None:
    """More than either proxy, or any other route of the shop, takes where it is not told to."""
    note = "measured twice on the same morning " * 5
    lines = (f"L-{n},Kesterby,Harbour,gyuto,210,{note}" for n in range(60_000))
    content = ("tag,maker,line,type,size,note\n" + "\n".join(lines)).encode()
    assert len(content) > 10_000_000
    answer = client.post(
        "api/imports", params={"name": "large.csv"}, content=content, headers=headers
    )
    assert answer.status_code == 201, answer.text
    assert answer.json()["size"] == len(content)


def _an_event_at_once(client: httpx.Client, headers: dict[str, str]) -> None:
    model = {"maker": "Test Smithy", "line": "One", "knife_type": "gyuto", "nominal": "210"}
    began = client.post(
        "api/bench/pieces", json={"tag": "T", "model": model}, headers=headers
    ).json()
    reading = {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186 g"}
    with client.stream("GET", "api/instruments/events", headers=headers) as heard:
        lines = heard.iter_lines()
        path = f"api/bench/sheets/{began['id']}/readings"
        assert client.post(path, json=reading, headers=headers).status_code == 201
        told = next(line for line in lines if line.startswith("data:") and "sheet" in line)
    assert f'"sheet_id":{began["id"]}' in told.replace(" ", "")
