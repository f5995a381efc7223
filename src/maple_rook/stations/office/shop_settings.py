"""What the shop settles for itself: names, money, units, paper, words of its cards."""

from __future__ import annotations

import zoneinfo
from typing import Annotated, Literal
from urllib.parse import urlsplit

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import AfterValidator, BaseModel, StringConstraints
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.card_words import CARD_WORDS
from maple_rook.formats.incoming.money import codes
from maple_rook.formats.logo import logo_png
from maple_rook.http.access import CurrentPerson, Db
from maple_rook.http.preconditions import Seen, version
from maple_rook.http.schemas import Choice, StorableText, Strict, one_line, picture_answer
from maple_rook.store import people
from maple_rook.store.tables import Shop

router = APIRouter(prefix="/shop", tags=["shop"])
PNG = "image/png"
OPENED_WITHIN_S = 20.0


ShopName = Annotated[
    str,
    StringConstraints(strip_whitespace=True, min_length=1, max_length=120),
    AfterValidator(one_line),
]
Line = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=120), AfterValidator(one_line)
]
Money = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=12), AfterValidator(one_line)
]
Address = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=200), AfterValidator(one_line)
]
Words = Annotated[StorableText, StringConstraints(strip_whitespace=True, max_length=300)]
Key = Annotated[str, StringConstraints(max_length=64)]


class ShopSettingsIn(Strict):
    """All of it; ``currency`` is an ISO 4217 code or a word of the shop's own."""

    name: ShopName
    place: Line = ""
    currency: Money = ""
    units: Literal["metric", "imperial"] = "metric"
    paper: Literal["A4", "Letter"] = "A4"
    language: Key = "en"
    public_address: Address = ""
    opening_words: Words = ""
    time_zone: Key = "UTC"


class ShopSettingsOut(BaseModel):
    """The settings as they stand, and what can be chosen."""

    name: str
    place: str
    currency: str
    units: Literal["metric", "imperial"]
    paper: Literal["A4", "Letter"]
    language: str
    public_address: str
    opening_words: str
    time_zone: str
    has_logo: bool
    languages: list[Choice]
    currencies: list[str]
    time_zones: list[str]
    etag: str


def _shop(db: Session) -> Shop:
    return db.scalars(select(Shop)).one()


def _out(shop: Shop) -> ShopSettingsOut:
    return ShopSettingsOut(
        **{name: getattr(shop, name) for name in ShopSettingsIn.model_fields},
        has_logo=shop.logo is not None,
        languages=[Choice(key=key, label=of.language) for key, of in CARD_WORDS.items()],
        currencies=sorted(codes()),
        time_zones=sorted(zoneinfo.available_timezones()),
        etag=version(shop),
    )


@router.get("/settings")
def settings(db: Db, _: CurrentPerson) -> ShopSettingsOut:
    """The shop's settings."""
    return _out(_shop(db))


@router.put("/settings")
def change_settings(db: Db, _: CurrentPerson, seen: Seen, asked: ShopSettingsIn) -> ShopSettingsOut:
    """Change the shop's settings."""
    shop = _shop(db)
    seen.check(shop)
    if asked.language not in CARD_WORDS:
        raise InvalidValue("language", asked.language, ", ".join(CARD_WORDS))
    if asked.time_zone not in zoneinfo.available_timezones():
        raise InvalidValue("time_zone", asked.time_zone, "a zone such as Europe/Lisbon")
    _check_address(asked.public_address)
    for name, value in asked.model_dump().items():
        setattr(shop, name, value)
    db.commit()
    return _out(shop)


def _check_address(address: str) -> None:
    if not address:
        return
    parts = urlsplit(address)
    if parts.scheme not in ("http", "https") or not parts.hostname or parts.query or parts.fragment:
        accepted = "an address such as https://shop.example"
        raise InvalidValue("public_address", address, accepted)


@router.get(
    "/logo",
    response_class=Response,
    responses={200: {"content": {PNG: {}}}, 204: {"description": "The shop has no logo."}},
)
def logo(db: Db, _: CurrentPerson) -> Response:
    """The shop's logo; nothing where it has none."""
    content = _shop(db).logo
    if content is None:
        return Response(status_code=204)
    answer = picture_answer(content, PNG)
    answer.headers["Cache-Control"] = "private, no-cache"
    return answer


@router.put("/logo", status_code=204)
async def change_logo(request: Request, db: Db, _: CurrentPerson) -> None:
    """Give the shop a logo: the picture as the body, at most 2 MB."""
    apart = request.app.state.apart  # whatever a picture does, it does it to no server
    content = await run_in_threadpool(apart.run, OPENED_WITHIN_S, logo_png, await request.body())
    await run_in_threadpool(_keep_logo, db, content)


def _keep_logo(db: Session, content: bytes | None) -> None:
    shop = _shop(db)
    act = "removed" if content is None else "changed" if shop.logo else "made"
    shop.logo = content
    people.write_down(db, "logo", act, shop.id, shop.name)
    db.commit()


@router.delete("/logo", status_code=204)
def drop_logo(db: Db, _: CurrentPerson) -> None:
    """Remove the logo."""
    _keep_logo(db, None)
