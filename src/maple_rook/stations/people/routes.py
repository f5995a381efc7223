from __future__ import annotations

import datetime as dt
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.responses import StreamingResponse

from maple_rook.formats.csv_table import CSV_TYPE
from maple_rook.http.access import (
    AtTheEntrance,
    CurrentPerson,
    Db,
    LongDb,
    Opener,
    RowId,
    Visitor,
)
from maple_rook.http.authentication import address
from maple_rook.http.downloads import written
from maple_rook.http.preconditions import Seen
from maple_rook.stations.people import auditing, governing, signing_in, two_steps, use_cases
from maple_rook.stations.people.schemas import (
    AskedOfOwnersIn,
    AuditPage,
    BegunOut,
    CodeIn,
    ConfirmIn,
    InvitationIn,
    InvitationOut,
    InvitedOut,
    JoinIn,
    KeyIn,
    KeyOut,
    PasswordIn,
    PersonIn,
    PersonOut,
    RecoveryCodesOut,
    SessionOut,
    SignInIn,
    SignInOut,
    TwoStepOut,
)
from maple_rook.stations.people.signing_in import Comer, Door

router = APIRouter(tags=["people"])


def _browser(request: Request) -> str:
    """What a browser calls itself, for the list of places one is signed in."""
    return "".join(c for c in request.headers.get("user-agent", "") if c.isprintable())[:80]


@router.get("/session")
def session(request: Request, db: Db, visitor: Visitor) -> SessionOut:
    """Who is signed in, and the shop."""
    return use_cases.session(db, visitor, request.app.state.in_demo)


def _door(opener: Opener, entrance: AtTheEntrance) -> Door:
    return Door(opener, entrance.hashing)


def _comer(request: Request, visitor: Visitor, entrance: AtTheEntrance) -> Comer:
    known = entrance.known_browser(request)
    return Comer(address(request), _browser(request), known, visitor)


TheDoor = Annotated[Door, Depends(_door)]
WhoComes = Annotated[Comer, Depends(_comer)]


@router.post("/session", status_code=204)
async def sign_in(
    request: Request,
    answer: Response,
    door: TheDoor,
    comer: WhoComes,
    entrance: AtTheEntrance,
    asked: SignInIn,
) -> None:
    """Sign in with name and password; the sign-in is kept in a cookie no script can read."""
    found = await signing_in.sign_in(door, asked, comer)
    entrance.forget()
    entrance.let_in(request, answer, *found)


@router.post("/session/confirm", status_code=204)
async def confirm(
    door: TheDoor, person: CurrentPerson, entrance: AtTheEntrance, asked: ConfirmIn
) -> None:
    """Give the password again, before what is grave."""
    await signing_in.confirm(door, person, asked.password)
    entrance.forget()


@router.delete("/session", status_code=204)
def sign_out(
    request: Request, answer: Response, db: Db, person: CurrentPerson, entrance: AtTheEntrance
) -> None:
    """Sign out here."""
    use_cases.sign_out(db, person)
    entrance.forget()
    entrance.let_out(request, answer)


@router.delete("/sign-ins", status_code=204)
def sign_out_everywhere(
    request: Request, answer: Response, db: Db, person: CurrentPerson, entrance: AtTheEntrance
) -> None:
    """Sign out everywhere, keys for programs included."""
    use_cases.sign_out_everywhere(db, person)
    entrance.forget()
    entrance.let_out(request, answer)


@router.get("/sign-ins")
def sign_ins(db: Db, person: CurrentPerson) -> list[SignInOut]:
    """Everywhere one is signed in, and one's keys."""
    return use_cases.sign_ins(db, person)


@router.post("/sign-ins", status_code=201)
def make_key(db: Db, person: CurrentPerson, asked: KeyIn) -> KeyOut:
    """A key for a program, or the address of a calendar; shown once."""
    return use_cases.make_key(db, person, asked)


@router.delete("/sign-ins/{sign_in_id}")
def end_sign_in(
    db: Db, person: CurrentPerson, entrance: AtTheEntrance, sign_in_id: RowId
) -> list[SignInOut]:
    """End one of one's own sign-ins or keys."""
    left = use_cases.end_sign_in(db, person, sign_in_id)
    entrance.forget()
    return left


@router.put("/password", status_code=204)
async def change_password(
    door: TheDoor, person: CurrentPerson, entrance: AtTheEntrance, asked: PasswordIn
) -> None:
    """Another password; other browsers are signed out."""
    await signing_in.change_password(door, person, asked)
    entrance.forget()


@router.get("/two-step")
def two_step(db: Db, person: CurrentPerson) -> TwoStepOut:
    """Whether one signs in in two steps."""
    return two_steps.state(db, person)


@router.post("/two-step")
def begin_two_step(db: Db, person: CurrentPerson) -> BegunOut:
    """Begin to add a second step: what the authenticator is shown."""
    return two_steps.begin(db, person)


@router.post("/two-step/confirm")
def confirm_two_step(
    db: Db, person: CurrentPerson, entrance: AtTheEntrance, asked: CodeIn
) -> RecoveryCodesOut:
    """Add it by the first code; answers with codes for recovery."""
    codes = two_steps.confirm(db, person, asked.code)
    entrance.forget()
    return codes


@router.post("/two-step/codes")
def new_recovery_codes(db: Db, person: CurrentPerson) -> RecoveryCodesOut:
    """New codes for recovery in the place of those before."""
    return two_steps.new_codes(db, person)


@router.delete("/two-step", status_code=204)
def end_two_step(db: Db, person: CurrentPerson, entrance: AtTheEntrance) -> None:
    """Sign in in one step again."""
    two_steps.end(db, person)
    entrance.forget()


@router.put("/two-step/owners")
def ask_two_steps(
    db: Db, person: CurrentPerson, entrance: AtTheEntrance, asked: AskedOfOwnersIn
) -> TwoStepOut:
    """Ask two steps of all owners, or no longer."""
    state = two_steps.ask_of_owners(db, person, asked.asked)
    entrance.forget()
    return state


@router.post("/invitation")
def invitation(db: Db, asked: InvitationIn) -> InvitationOut:
    """For whom an invitation is."""
    return use_cases.invitation(db, asked.token)


@router.post("/invitation/accept", status_code=204)
async def join(
    request: Request,
    answer: Response,
    door: TheDoor,
    comer: WhoComes,
    entrance: AtTheEntrance,
    asked: JoinIn,
) -> None:
    """Choose a password by an invitation, and be signed in; the first owner names the shop."""
    found = await signing_in.join(door, asked, comer)
    entrance.forget()
    entrance.let_in(request, answer, *found)


@router.get("/people")
def people(db: Db, _: CurrentPerson) -> list[PersonOut]:
    """Everybody the record names."""
    return governing.listed(db)


@router.post("/people", status_code=201)
def invite(db: Db, _: CurrentPerson, asked: PersonIn) -> InvitedOut:
    """Invite somebody; the token goes into the address they are given."""
    return governing.invite(db, asked)


@router.put("/people/{person_id}")
def change_person(
    db: Db, _: CurrentPerson, entrance: AtTheEntrance, seen: Seen, person_id: RowId, asked: PersonIn
) -> PersonOut:
    """Another name or role."""
    changed = governing.change(db, person_id, asked, seen)
    entrance.forget()
    return changed


@router.post("/people/{person_id}/invitation", status_code=201)
def invite_again(db: Db, _: CurrentPerson, person_id: RowId) -> InvitedOut:
    """A new invitation, with which a new password is chosen."""
    return governing.invite_again(db, person_id)


@router.delete("/people/{person_id}")
def send_away(
    db: Db, person: CurrentPerson, entrance: AtTheEntrance, seen: Seen, person_id: RowId
) -> PersonOut:
    """Somebody leaves: they sign in no more, and what they wrote stays."""
    left = governing.send_away(db, person, person_id, seen)
    entrance.forget()
    return left


def asked_of_audit(
    search: Annotated[str, Query(max_length=200)] = "",
    about: Annotated[str, Query(max_length=40)] = "",
    person: Annotated[str, Query(max_length=80)] = "",
    since: dt.date | None = None,
    until: dt.date | None = None,
) -> auditing.Asked:
    """Which changes are listed.

    Parameters
    ----------
    search : words looked for.
    about : table.
    person : number of who changed it.
    since : first day.
    until : last day.


    """
    return auditing.Asked(search, about, person, since, until)


AuditQuery = Annotated[auditing.Asked, Depends(asked_of_audit)]


@router.get("/audit")
def audit(
    db: Db,
    _: CurrentPerson,
    asked: AuditQuery,
    before: Annotated[int | None, Query(ge=1, le=2**62)] = None,
) -> AuditPage:
    """Who changed what from what to what, the newest first."""
    return auditing.page(db, asked, before)


@router.get("/audit.csv", response_class=StreamingResponse)
def audit_table(db: LongDb, _: CurrentPerson, asked: AuditQuery) -> StreamingResponse:
    """The same as CSV, all of it."""
    return written(auditing.table(db, asked), CSV_TYPE, "changes.csv")
