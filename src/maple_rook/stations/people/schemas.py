from __future__ import annotations

import datetime as dt
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, StringConstraints, WithJsonSchema

from maple_rook.core.labelled import Labelled
from maple_rook.http import passwords
from maple_rook.http.policy import ROLES, May, Role
from maple_rook.http.schemas import ShortText, Strict, one_line, storable

Name = ShortText
Currency = Annotated[
    str,
    StringConstraints(strip_whitespace=True, min_length=1, max_length=12),
    AfterValidator(one_line),
]
Secret = Annotated[str, StringConstraints(max_length=passwords.MOST), AfterValidator(storable)]
Token = Annotated[str, StringConstraints(min_length=1, max_length=100), AfterValidator(storable)]


def _given(role: Role) -> Role:
    if not ROLES[role].given:
        raise ValueError("one of " + ", ".join(_GIVEN))
    return role


_GIVEN = [role.value for role, facts in ROLES.items() if facts.given]
GivenRole = Annotated[
    Role, AfterValidator(_given), WithJsonSchema({"type": "string", "enum": _GIVEN})
]

KeyKind = Literal["program", "calendar"]


Code = Annotated[str, StringConstraints(strip_whitespace=True, min_length=6, max_length=20)]


class SignInIn(Strict):
    """``code`` is of the authenticator, or one for recovery, where a person has a second step."""

    name: Name
    password: Secret
    code: Code | None = None


class ConfirmIn(Strict):
    password: Secret


class CodeIn(Strict):
    code: Code


class TwoStepOut(BaseModel):
    """Whether one signs in in two steps; ``asked`` where the shop wants it of its owners."""

    since: dt.datetime | None
    codes_left: int
    asked: bool


class BegunOut(BaseModel):
    """What an authenticator is shown: the address as a QR code (a data address), its secret."""

    secret: str
    address: str
    picture: str


class RecoveryCodesOut(BaseModel):
    """Codes that stand in for the authenticator, each once; they are shown only now."""

    codes: list[str]


class AskedOfOwnersIn(Strict):
    """Whether owners have to sign in in two steps."""

    asked: bool


class DemoPersonOut(BaseModel):
    """Somebody of the demo shop, whom anybody may be."""

    name: str
    role: Role
    password: str


class RoleOut(BaseModel):
    """A role with what it may in words; ``given`` to people of the shop."""

    key: Role
    in_words: str
    given: bool


class SelfOut(BaseModel):
    """Who is signed in; ``token`` goes with what this page writes."""

    id: int
    name: str
    role: Role
    may: list[May]
    token: str
    owes_second_step: bool


class SessionOut(BaseModel):
    """The shop and who is signed in; ``demo`` lists the people of a demo."""

    shop: str
    demo: list[DemoPersonOut]
    has_owner: bool
    roles: list[RoleOut]
    me: SelfOut | None


class InvitationIn(Strict):
    token: Token


class InvitationOut(BaseModel):
    """For whom it is; ``first`` where there is no owner yet, who then names the shop."""

    name: str
    role: Role
    shop: str
    first: bool


class JoinIn(Strict):
    """A password chosen; whoever is first also says their name and the shop's."""

    token: Token
    password: Secret
    name: Name | None = None
    shop: ShortText | None = None
    place: ShortText | None = None
    currency: Currency | None = None


class PasswordIn(Strict):
    old: Secret
    new: Secret


class SignInOut(BaseModel):
    """Somewhere one is signed in."""

    id: int
    kind: str
    label: str
    role: Role | None
    made_at: dt.datetime
    seen_at: dt.datetime
    here: bool


class KeyIn(Strict):
    """A key for a program, or the address of a calendar; ``role`` narrows what it may."""

    label: ShortText
    kind: KeyKind = "program"
    role: GivenRole | None = None


class KeyOut(BaseModel):
    """A key; it is shown only now."""

    key: str
    sign_ins: list[SignInOut]


class PersonState(Labelled):
    ACTIVE = "active"
    INVITED = "invited"
    CANNOT = "cannot", "cannot sign in"
    LEFT = "left"


class PersonOut(BaseModel):
    id: int
    name: str
    role: Role
    state: PersonState
    seen_at: dt.datetime | None
    etag: str


class InvitedOut(BaseModel):
    """Somebody invited; ``token`` goes into the address they are given, and is shown only now."""

    person: PersonOut
    token: str
    days: int


class PersonIn(Strict):
    name: Name
    role: GivenRole


class AuditOut(BaseModel):
    """One change: who, when, of what, from what to what."""

    id: int
    at: dt.datetime
    person: str
    act: str
    about: str
    of: str
    named: str
    before: dict[str, Any] | None
    after: dict[str, Any] | None


class AuditPage(BaseModel):
    """Changes, the newest first; ``next`` is where the page after begins."""

    items: list[AuditOut]
    next: int | None
    about: list[str]
    people: list[str]
