"""Photographs kept in a bucket: a storage that speaks S3 (moto's), and what happens without it."""

from __future__ import annotations

import io
import uuid
from collections.abc import Iterator
from pathlib import Path

import boto3
import pytest
from fastapi.testclient import TestClient
from moto.server import ThreadedMotoServer
from PIL import Image
from pydantic import SecretStr, ValidationError
from sqlalchemy import Engine, text

from maple_rook import operations
from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.server import Refused
from maple_rook.settings import Settings
from maple_rook.store import archive
from maple_rook.store.database import sessions
from maple_rook.store.picture_store import Bucket, PictureStoreDown, bucket_of
from shops import shop_engine
from signed_in import bearing, key_of

KEPT_WHERE = "SELECT count(*) FILTER (WHERE content IS NULL), count(content) FROM photographs"


@pytest.fixture(scope="module")
def storage() -> Iterator[str]:
    server = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)
    server.start()
    _, port = server.get_host_and_port()
    yield f"http://127.0.0.1:{port}"
    server.stop()


@pytest.fixture
def settings(storage: str, tmp_path: Path) -> Settings:
    bucket = f"photographs-{uuid.uuid4().hex}"
    client(storage).create_bucket(Bucket=bucket)
    return Settings(
        web_root=tmp_path,
        s3_endpoint=storage,
        s3_bucket=bucket,
        s3_key_id="key",
        s3_secret=SecretStr("secret"),
    )


def client(storage: str) -> object:
    return boto3.client(
        "s3",
        endpoint_url=storage,
        region_name="us-east-1",
        aws_access_key_id="key",
        aws_secret_access_key="secret",
    )


@pytest.fixture(scope="module")
def engine(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster, demo=True) as engine:
        yield engine


def served(settings: Settings, engine: Engine) -> TestClient:
    api = TestClient(create_app(settings, engine), raise_server_exceptions=False)
    bearing(api, key_of(engine))
    return api


def jpeg(shade: int) -> bytes:
    held = io.BytesIO()
    Image.new("RGB", (1200, 800), (shade, shade, shade)).save(held, "JPEG")
    return held.getvalue()


def added(api: TestClient, shade: int) -> dict:
    path = f"/api/pieces/1/photographs/{uuid.uuid4()}"
    sent = api.put(path, content=jpeg(shade))
    assert sent.status_code == 201, sent.text
    return sent.json()[-1]


def where(engine: Engine) -> tuple[int, int]:
    with engine.connect() as db:
        in_bucket, in_database = db.execute(text(KEPT_WHERE)).one()
        return in_bucket, in_database


def test_a_photograph_lives_in_the_bucket_and_in_every_archive(
    settings: Settings, engine: Engine, cluster: Cluster, tmp_path: Path
) -> None:
    in_bucket, in_database = where(engine)
    with served(settings, engine) as api:
        row = added(api, 90)
        assert where(engine) == (in_bucket + 1, in_database)
        shown = api.get(f"/api/photographs/{row['id']}/480.jpeg")
        assert Image.open(io.BytesIO(shown.content)).getpixel((10, 10)) == (90, 90, 90)
        packed = tmp_path / "shop.zip"
        packed.write_bytes(api.get("/api/v1/archive.zip").content)
    # restored where no bucket is set, the database has it
    with shop_engine(cluster) as elsewhere:
        with sessions(elsewhere)() as db:
            archive.restore_archive(db, packed)
        assert where(elsewhere) == (0, in_bucket + in_database + 1)
    _forget_those_in_the_bucket(engine)


def test_without_its_bucket_a_photograph_is_refused_and_nothing_is_stored(
    settings: Settings, engine: Engine, tmp_path: Path
) -> None:
    with served(settings, engine) as api:
        row = added(api, 91)
    before = where(engine)
    gone = settings.model_copy(update={"s3_bucket": "another"})
    with served(gone, engine) as api:
        refused = api.put(f"/api/pieces/1/photographs/{uuid.uuid4()}", content=jpeg(92))
        assert refused.status_code == 503
        assert "Nothing was stored" in refused.json()["detail"]
        unseen = api.get(f"/api/photographs/{row['id']}/960.webp")
        assert (unseen.status_code, unseen.json()["title"]) == (503, "Photographs unavailable")
        assert api.get("/api/pieces/1/photographs").status_code == 200
    assert where(engine) == before
    with served(Settings(web_root=tmp_path), engine) as api:
        unset = api.get(f"/api/photographs/{row['id']}/960.webp")
        assert "MAPLE_ROOK_S3_BUCKET" in unset.json()["detail"]
        assert api.get("/api/v1/archive.zip").status_code == 503
    _forget_those_in_the_bucket(engine)


def test_an_object_that_somebody_changed_is_not_shown(settings: Settings, storage: str) -> None:
    bucket = bucket_of(settings)
    assert isinstance(bucket, Bucket)
    digest = "9f86d081884c7d659a2feaa0c55ad015a3bf4f1b2b0b822cd15d6c15b0f00a08"
    bucket.put(digest, b"test", "image/jpeg")  # the digest of "test" (FIPS 180-4 implementations)
    assert bucket.get(digest) == b"test"
    key = f"photographs/{digest}"
    client(storage).put_object(Bucket=settings.s3_bucket, Key=key, Body=b"tost")
    with pytest.raises(PictureStoreDown, match="not as it was stored"):
        bucket.get(digest)


def test_photographs_move_into_a_bucket_and_back(settings: Settings, cluster: Cluster) -> None:
    with shop_engine(cluster) as engine:
        at = {"database_url": engine.url.render_as_string(hide_password=False)}
        settings = settings.model_copy(update=at)
        in_database = Settings(web_root=settings.web_root)
        with served(in_database, engine) as api:
            model = {"maker": "Test Smithy", "line": "One", "knife_type": "gyuto", "nominal": "210"}
            api.post("/api/bench/pieces", json={"tag": "T", "model": model})
            first = added(api, 40)
            added(api, 41)
        moving = {"is_demo": False, "say": lambda _: None}
        with pytest.raises(Refused, match="nothing was moved"):
            operations.move_photographs(
                in_database.model_copy(update=at), into_bucket=True, **moving
            )
        assert operations.move_photographs(settings, into_bucket=True, **moving) == 2
        assert where(engine) == (2, 0)
        with served(settings, engine) as api:
            assert api.get(f"/api/photographs/{first['id']}/960.jpeg").status_code == 200
        assert operations.move_photographs(settings, into_bucket=False, **moving) == 2
        assert where(engine) == (0, 2)
        assert operations.move_photographs(settings, into_bucket=False, **moving) == 0


def test_a_bucket_that_is_half_set_is_refused_at_the_start() -> None:
    with pytest.raises(ValidationError, match="MAPLE_ROOK_S3_KEY_ID and MAPLE_ROOK_S3_SECRET"):
        Settings(s3_endpoint="https://objects.example", s3_bucket="photographs")


def _forget_those_in_the_bucket(engine: Engine) -> None:
    with engine.begin() as db:
        db.execute(text("DELETE FROM photographs WHERE content IS NULL"))
