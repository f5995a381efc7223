"""What is tried at every door of the web: each is refused, and nothing comes of it."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

import pytest
import structlog
from fastapi.testclient import TestClient
from sqlalchemy import Engine, func, select

from maple_rook.app import create_app
from maple_rook.settings import Settings
from maple_rook.store.database import sessions
from maple_rook.store.tables import Piece
from signed_in import bearing, key_of

INJECTIONS = (
    "'; DROP TABLE pieces; --",
    "' OR 1=1 --",
    "%' UNION SELECT hashed FROM passwords --",
    "$$; DELETE FROM readings; $$",
    "\\'; --",
)


@pytest.fixture
def pages(engine: Engine, tmp_path: Path) -> TestClient:
    """The application with a front end and a file beside it that is nobody's business."""
    root = tmp_path / "dist"
    (root / "assets").mkdir(parents=True)
    (root / "index.html").write_text('<meta content="nonce-of-this-page"><div id="app"></div>')
    (root / "assets" / "a.js").write_text("1")
    (tmp_path / "secret.txt").write_text("SECRET OF THE SHOP")
    return TestClient(create_app(Settings(web_root=root), engine), raise_server_exceptions=False)


@pytest.mark.parametrize(
    "path",
    [
        "/assets/../../secret.txt",
        "/assets/..%2f..%2fsecret.txt",
        "/../secret.txt",
        "/..%2fsecret.txt",
        "/assets/%2e%2e/%2e%2e/secret.txt",
        "/k-fonts/..%2f..%2fsecret.txt.ttf",
        "//etc/passwd",
        "/assets//etc/passwd",
        "/icon.svg/../../secret.txt",
    ],
)
def test_no_path_leads_out_of_what_is_served(pages: TestClient, path: str) -> None:
    answer = pages.get(path)
    assert "SECRET" not in answer.text
    assert "root:" not in answer.text
    assert answer.status_code in (200, 404, 422)


@pytest.mark.parametrize("text", INJECTIONS)
def test_sql_in_a_field_is_only_text(api: TestClient, engine: Engine, text: str) -> None:
    with sessions(engine)() as db:
        before = db.scalar(select(func.count()).select_from(Piece))
    for path, params in (
        ("/api/rack", {"search": text}),
        ("/api/claims", {"search": text}),
        ("/api/audit", {"search": text, "about": text, "person": text}),
        ("/api/v1/pieces", {"search": text}),
    ):
        answer = api.get(path, params=params)  # type: ignore[arg-type]
        assert answer.status_code == 200, (path, answer.text)
        assert "argon2" not in answer.text
    assert api.get("/api/rack", params={"sort": text}).status_code == 422
    assert api.get("/api/v1/pieces", params={"where": f"{text}:1:2"}).status_code == 422
    with sessions(engine)() as db:
        assert db.scalar(select(func.count()).select_from(Piece)) == before


def test_no_address_may_hold_what_the_database_cannot_look_for(api: TestClient) -> None:
    tried = 0
    for path, methods in api.get("/api/openapi.json").json()["paths"].items():
        placed = re.sub(r"{(\w+)}", "1", path)
        parameters = methods.get("get", {}).get("parameters", [])
        for name in (p["name"] for p in parameters if p["in"] == "query"):
            tried += 1
            answer = api.get(placed, params={name: "a\0b"})
            assert answer.status_code == 422, (path, name, answer.text)
    assert tried > 60
    for path in ("/api/imports/a%00b", "/api/v1/pieces/a%00b", "/k/a%00b"):
        refused = api.get(path)
        assert refused.status_code == 422
        assert refused.json()["errors"][0]["accepted"] == "text without NUL characters"


def test_a_page_runs_no_script_but_its_own_and_sits_in_no_frame(pages: TestClient) -> None:
    first, second = pages.get("/rack"), pages.get("/rack")
    policy = first.headers["content-security-policy"]
    for directive in (
        "default-src 'none'",
        "script-src 'self'",
        "frame-ancestors 'none'",
        "base-uri 'none'",
        "form-action 'self'",
    ):
        assert directive in policy.split("; "), directive
    assert "unsafe-eval" not in policy
    assert "script-src 'self' 'unsafe-inline'" not in policy
    nonce = policy.split("'nonce-")[1].split("'")[0]
    assert nonce in first.text
    assert nonce not in second.headers["content-security-policy"]  # another for every page
    for answer in (first, pages.get("/api/rack"), pages.get("/assets/a.js")):
        assert answer.headers["x-content-type-options"] == "nosniff"
        assert answer.headers["referrer-policy"] == "same-origin"
    assert (
        pages.get("/api/rack").headers["content-security-policy"].startswith("default-src 'none'")
    )


def test_bodies_and_files_over_their_limit_are_refused(api: TestClient) -> None:
    piece = api.post("/api/bench/pieces/1/sheets").json()["id"]
    observation = f"/api/bench/sheets/{piece}/observations"
    too_large = api.post(observation, content=b"x" * 4_000_001)
    assert (too_large.status_code, too_large.json()["type"]) == (413, "too-large")

    def endless() -> object:
        for _ in range(5_000):
            yield b"x" * 1_000

    assert api.post(observation, content=endless()).status_code == 413  # type: ignore[arg-type]


def entities() -> bytes:
    """A workbook whose entities name each other over and over."""
    held = io.BytesIO()
    nested = "".join(f'<!ENTITY e{n} "{f"&e{n - 1};" * 10}">' for n in range(1, 10))
    with zipfile.ZipFile(held, "w") as packed:
        for name in ("[Content_Types].xml", "xl/workbook.xml", "xl/worksheets/sheet1.xml"):
            packed.writestr(name, f'<!DOCTYPE a [<!ENTITY e0 "x">{nested}]><a>&e9;</a>')
    return held.getvalue()


def bomb() -> bytes:
    """A workbook of a few MB that unpacks to two thousand."""
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as packed:
        packed.writestr("[Content_Types].xml", "<Types/>")
        with packed.open("xl/worksheets/sheet1.xml", "w", force_zip64=True) as member:
            for _ in range(2_000):
                member.write(b" " * 1_000_000)
    return held.getvalue()


@pytest.mark.parametrize(
    ("name", "content"),
    [
        ("bomb.xlsx", bomb),
        ("cut.xlsx", lambda: b"PK\x03\x04" + b"\0" * 40),
        ("entities.xlsx", entities),
        ("no.json", lambda: b"[" * 200_000),
        ("text.csv", lambda: b"\xff\xfe\x00\xd8" * 50),
    ],
)
def test_malformed_uploads_are_refused_with_a_reason(
    api: TestClient, name: str, content: object
) -> None:
    answer = api.post("/api/imports", params={"name": name}, content=content())  # type: ignore[operator]
    assert answer.status_code in (400, 413, 422), answer.text
    assert answer.json()["detail"]


def test_what_is_no_picture_is_never_kept_as_one(api: TestClient) -> None:
    sheet = api.post("/api/bench/pieces/1/sheets").json()["id"]
    for content in (b"<svg onload='alert(1)'/>", b"GIF89a", b"\x89PNG\r\n\x1a\n" + b"\0" * 60):
        asked = {"sheet_id": sheet, "client_id": "6f0d2f52-5c0e-4a5e-9f62-2c9a8f0b7a99"}
        answer = api.post("/api/photos", params=asked, content=content)
        assert answer.status_code in (400, 413, 415, 422), answer.text


def test_the_last_day_there_is_has_no_day_after_it(api: TestClient) -> None:
    for day in ("0001-01-01", "9999-12-31"):
        for path in ("/api/audit", "/api/audit.csv"):
            assert api.get(path, params={"since": day, "until": day}).status_code == 200
    everything = api.get("/api/audit", params={"until": "9999-12-31"}).json()
    assert everything["items"] == api.get("/api/audit").json()["items"]


@pytest.mark.parametrize("path", ["/api/board", "/api/predict", "/api/bench/sheets/1/readings"])
@pytest.mark.parametrize(
    "body", [b'{"pieces": [%s]}' % (b"9" * 5_000), b"{", b"\xff", b'"\\ud800"']
)
def test_what_is_no_json_is_refused_in_words(api: TestClient, path: str, body: bytes) -> None:
    """RFC 8259 sets no limit to a number's digits; a reader of them has one."""
    answer = api.post(path, content=body, headers={"Content-Type": "application/json"})
    assert (answer.status_code, answer.json()["type"]) == (422, "invalid-value"), answer.text
    assert "parsing" not in answer.text


def test_too_many_requests_are_told_to_wait(engine: Engine, tmp_path: Path) -> None:
    app = create_app(Settings(web_root=tmp_path, requests_per_minute=50), engine)
    with TestClient(app, raise_server_exceptions=False) as client:
        answers = [client.get("/api/session").status_code for _ in range(8)]
        assert answers[:5] == [200] * 5
        assert answers[-1] == 429
        bearing(client, key_of(engine))
        assert client.get("/api/catalogue").status_code == 200  # who is signed in has more


def test_nothing_secret_is_written_to_the_log(
    engine: Engine, tmp_path: Path, capfd: pytest.CaptureFixture[str]
) -> None:
    app = create_app(Settings(web_root=tmp_path, log_level="debug", log_format="json"), engine)
    key = key_of(engine)
    try:
        with TestClient(app, raise_server_exceptions=False) as client:
            client.post("/api/session", json={"name": "Wil at the bench", "password": "hunter-two"})
            client.get("/api/upkeep/calendar.ics", params={"key": key})
            client.get(
                "/api/rack", headers={"Authorization": f"Bearer {key}", "X-Request-ID": "a b"}
            )
            answer = client.get("/api/rack", headers={"X-Request-ID": "from-the-proxy-1"})
            assert answer.headers["x-request-id"] == "from-the-proxy-1"
    finally:
        create_app(Settings(web_root=tmp_path), engine)  # logs as the other tests do
        structlog.contextvars.clear_contextvars()
    logged = capfd.readouterr().err
    assert '"request_id": "from-the-proxy-1"' in logged
    assert '"a b"' not in logged
    assert "calendar.ics" in logged
    for secret in (key, "hunter-two", "argon2"):
        assert secret not in logged
