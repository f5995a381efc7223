"""Signing in as people do: at the door, by an invitation, in the middle of work."""

from __future__ import annotations

import datetime as dt
import time
import uuid

import pyotp
from at_the_bench import at, begin, readings, stored
from fields import sign_in
from playwright.sync_api import Page, expect
from sqlalchemy import select, update
from sqlalchemy.orm import Session

from maple_rook.demo.people import DEMO_PASSWORD
from maple_rook.store.people_tables import SignIn
from maple_rook.store.tables import Person

SECRET = "grey stones in a row"


def test_the_door_lets_in_who_knows_the_password_to_where_they_wanted(stranger: Page) -> None:
    stranger.goto("/sheet/1")
    sign_in(stranger, "Wil at the bench", "not the password")
    expect(stranger.get_by_role("alert")).to_contain_text("do not match")
    expect(stranger.get_by_label("Password")).to_have_value("")
    sign_in(stranger, "Wil at the bench", DEMO_PASSWORD)
    expect(stranger.get_by_role("heading", level=1, name="Sheet")).to_be_visible()
    expect(stranger.get_by_text("KH-01").first).to_be_visible()
    stranger.get_by_role("link", name="Wil at the bench").click()
    stranger.get_by_role("button", name="Sign out", exact=True).click()
    expect(
        stranger.get_by_role("heading", name="Demo shop: choose who to sign in as")
    ).to_be_visible()


def test_who_reads_is_shown_nothing_to_change(stranger: Page) -> None:
    stranger.goto("/board/foods")
    stranger.get_by_role("button", name="Merle, reading only").click()
    expect(stranger.get_by_role("cell", name="Carrot")).to_be_visible()
    expect(stranger.get_by_role("button", name="Add a food")).to_be_hidden()
    stations = stranger.get_by_role("navigation", name="Stations")
    expect(stations.get_by_role("link", name="Counter")).to_be_visible()
    expect(stations.get_by_role("link", name="Bench")).to_have_count(0)
    stranger.keyboard.press("9")
    expect(stranger.get_by_role("link", name="Yourself")).to_be_visible()
    expect(stranger.get_by_role("link", name="People")).to_have_count(0)


def test_an_owner_invites_and_who_is_invited_comes_in(page: Page, stranger: Page) -> None:
    name = f"Pim {uuid.uuid4().hex[:5]}"
    come_in_by(page, stranger, name)
    expect(stranger.get_by_role("link", name=name)).to_be_visible()
    page.reload()
    row = page.get_by_role("row", name=name)
    expect(row).to_contain_text("just now")
    row.get_by_label(f"Role of {name}").select_option("reader")
    page.goto("/office/changes")
    page.get_by_role("textbox", name="Search").fill(name)
    changed = page.get_by_role("row", name="person changed").first
    expect(changed).to_contain_text("role bench")
    expect(changed).to_contain_text("reader")
    stranger.reload()  # with another role one signs in again
    expect(stranger.get_by_role("button", name="Sign in")).to_be_visible()


def come_in_by(page: Page, stranger: Page, name: str) -> None:
    """Somebody new, invited by the owner's page, in the stranger's."""
    page.goto("/office/people")
    page.get_by_label("Name").fill(name)
    page.get_by_role("button", name="Invite", exact=True).click()
    stranger.goto(page.get_by_label("Address of the invitation").input_value())
    stranger.get_by_label("A password, 12").fill(SECRET)
    stranger.get_by_label("Repeat the password").fill(SECRET)
    stranger.get_by_role("button", name="Join the shop").click()


def test_a_second_step_is_added_asked_for_and_renewed(
    page: Page, stranger: Page, shop: Session
) -> None:
    name = f"Nell {uuid.uuid4().hex[:5]}"
    come_in_by(page, stranger, name)
    stranger.get_by_role("link", name=name).click()
    stranger.get_by_role("button", name="Add a second step").click()
    picture = stranger.get_by_alt_text("QR code for your authenticator app")
    expect(picture).to_be_visible()
    assert picture.evaluate("image => image.naturalWidth") > 100, "it is drawn"
    authenticator = pyotp.TOTP(stranger.locator("code.secret").inner_text())
    now = time.time()
    stranger.get_by_label("Code").fill(authenticator.at(now))
    stranger.keyboard.press("Enter")
    codes = stranger.get_by_label("Recovery codes").input_value().split()
    assert len(codes) == 10
    stranger.get_by_role("button", name="Done").click()
    stranger.get_by_role("button", name="Sign out", exact=True).click()
    sign_in(stranger, name, SECRET)
    stranger.get_by_label("Code from your authenticator").fill(authenticator.at(now + 30))
    stranger.keyboard.press("Enter")
    stranger.get_by_role("link", name=name).click()
    person = select(Person.id).where(Person.name == name).scalar_subquery()
    before = SignIn.made_at - dt.timedelta(hours=1)
    shop.execute(update(SignIn).where(SignIn.person_id == person).values(confirmed_at=before))
    shop.commit()
    stranger.wait_for_timeout(2_100)  # what each process remembers of a sign-in
    stranger.get_by_role("button", name="New recovery codes (10 left)").click()
    again = stranger.get_by_role("dialog", name="Confirm your password")
    again.get_by_label("Password").fill(SECRET)
    stranger.keyboard.press("Enter")
    expect(again).to_be_hidden()
    assert stranger.get_by_label("Recovery codes").input_value().split() != codes


def test_a_sign_in_that_ends_at_the_bench_loses_nothing(stranger: Page, shop: Session) -> None:
    stranger.goto("/rack")
    stranger.get_by_role("button", name="Wil at the bench").click()
    expect(stranger.get_by_role("heading", level=1, name="Rack")).to_be_visible()
    me = stranger.request.get("/api/session").json()["me"]
    stranger.context.set_extra_http_headers({"X-Rook-Token": me["token"]})
    tag = begin(stranger, "weight")
    shop.execute(update(SignIn).where(SignIn.person_id == me["id"]).values(ended_at=SignIn.made_at))
    shop.commit()
    stranger.wait_for_timeout(2_100)  # what each process remembers of a sign-in
    stranger.keyboard.type("186")
    stranger.keyboard.press("Enter")
    again = stranger.get_by_role("dialog", name="Signed out")
    again.get_by_label("Password").fill(DEMO_PASSWORD)
    stranger.context.set_extra_http_headers({})
    stranger.keyboard.press("Enter")
    expect(again).to_be_hidden()
    stored(stranger)
    [reading] = readings(shop, tag)
    assert (reading.typed, reading.person.name) == ("186", "Wil at the bench")
    at(stranger, "edge length")
