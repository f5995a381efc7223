"""Where the files of photographs are kept: in the database, or in a bucket reached by S3."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from typing import TYPE_CHECKING, Protocol

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from maple_rook.core.errors import MapleRookError
from maple_rook.settings import Settings
from maple_rook.store.photo_tables import Photograph

if TYPE_CHECKING:
    from mypy_boto3_s3.client import S3Client

CONNECT_S, READ_S = 5, 20
"""How long a bucket may take to answer, each try."""


class PictureStoreDown(MapleRookError):
    """A photograph is kept in a bucket that did not give or take it."""


class PictureStore(Protocol):
    """Files by the SHA-256 of their content, in hexadecimal digits."""

    def put(self, digest: str, content: bytes, media_type: str) -> None: ...

    def get(self, digest: str) -> bytes: ...


class Bucket:
    """A bucket of any storage that speaks S3; objects are ``photographs/`` and the digest.

    Parameters
    ----------
    endpoint : address of the storage.
    name : of the bucket, which exists.
    region : as the storage calls it.
    key_id, secret : of who may read and write there.
    """

    def __init__(self, endpoint: str, name: str, region: str, key_id: str, secret: str) -> None:
        self._name = name
        self._client = _client(endpoint, region, key_id, secret)

    def put(self, digest: str, content: bytes, media_type: str) -> None:
        from botocore.exceptions import BotoCoreError, ClientError  # noqa: PLC0415 - see _client

        try:
            self._client.put_object(
                Bucket=self._name, Key=_key(digest), Body=content, ContentType=media_type
            )
        except (BotoCoreError, ClientError) as error:
            raise PictureStoreDown(
                f"The bucket {self._name} did not take it ({error}). Nothing was stored."
            ) from None

    def get(self, digest: str) -> bytes:
        from botocore.exceptions import BotoCoreError, ClientError  # noqa: PLC0415 - see _client

        try:
            content = self._client.get_object(Bucket=self._name, Key=_key(digest))["Body"].read()
        except (BotoCoreError, ClientError) as error:
            raise PictureStoreDown(
                f"The bucket {self._name} did not give a photograph ({error})."
            ) from None
        if hashlib.sha256(content).hexdigest() != digest:
            raise PictureStoreDown(
                f"{_key(digest)} in the bucket {self._name} is not as it was stored."
            )
        return content


def bucket_of(settings: Settings) -> Bucket | None:
    """The bucket that the settings name; None where photographs are kept in the database."""
    if settings.s3_endpoint and settings.s3_bucket and settings.s3_key_id and settings.s3_secret:
        secret = settings.s3_secret.get_secret_value()
        return Bucket(
            settings.s3_endpoint,
            settings.s3_bucket,
            settings.s3_region,
            settings.s3_key_id,
            secret,
        )
    return None


def _key(digest: str) -> str:
    return f"photographs/{digest}"


def _client(endpoint: str, region: str, key_id: str, secret: str) -> S3Client:
    import boto3  # noqa: PLC0415 - half a second that shops without a bucket need not wait
    from botocore.config import Config  # noqa: PLC0415

    retries = Config(
        connect_timeout=CONNECT_S,
        read_timeout=READ_S,
        retries={"total_max_attempts": 3, "mode": "standard"},
    )
    return boto3.client(
        "s3",
        endpoint_url=endpoint,
        region_name=region,
        aws_access_key_id=key_id,
        aws_secret_access_key=secret,
        config=retries,
    )


def content_of(db: Session, photograph_id: int, bucket: PictureStore | None) -> bytes | None:
    """The file of a photograph from where it is kept; None where there is no such photograph."""
    query = select(Photograph.digest, Photograph.content).where(Photograph.id == photograph_id)
    found = db.execute(query).one_or_none()
    if found is None:
        return None
    return found.content if found.content is not None else from_bucket(found.digest, bucket)


def from_bucket(digest: str, bucket: PictureStore | None) -> bytes:
    """A file that the database does not hold."""
    if bucket is None:
        raise PictureStoreDown(
            "The photograph is kept in a bucket, and no setting names one (MAPLE_ROOK_S3_BUCKET)."
        )
    return bucket.get(digest)


def move(db: Session, bucket: PictureStore, *, into_bucket: bool) -> Iterator[int]:
    """Move every photograph to one place, each in a separate transaction; their numbers.

    Those moved out of the bucket stay there as well: a backup made before still needs them.
    """
    held = Photograph.content.is_not(None) if into_bucket else Photograph.content.is_(None)
    for key in db.scalars(select(Photograph.id).where(held).order_by(Photograph.id)).all():
        row = db.execute(
            select(Photograph.digest, Photograph.media_type, Photograph.content).where(
                Photograph.id == key
            )
        ).one()
        content = None
        if not into_bucket:
            content = bucket.get(row.digest)
        elif row.content is not None:
            bucket.put(row.digest, row.content, row.media_type)
            bucket.get(row.digest)  # it is let go of here only once it can be had there
        db.execute(update(Photograph).where(Photograph.id == key).values(content=content))
        db.commit()
        yield key
