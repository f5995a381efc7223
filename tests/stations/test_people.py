"""Signing in, and what nobody gets in by."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx2 as httpx
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, select, text

from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.demo.people import DEMO_PASSWORD, IN_DEMO
from maple_rook.http.authentication import COOKIE, TOKEN_HEADER
from maple_rook.server import NotYours, prepare
from maple_rook.settings import Settings
from maple_rook.store import people
from maple_rook.store.database import sessions
from maple_rook.store.people_tables import Password, SignIn
from maple_rook.store.tables import Person
from shops import shop_engine
from signed_in import key_of

REAL_HASHER = people.HASHER
SECRET = "a strop and three stones"


@pytest.fixture
def shop(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster) as engine:
        yield engine


@contextmanager
def browser(engine: Engine, tmp_path: Path, **settings: object) -> Iterator[TestClient]:
    """A browser at a shop, that nobody is signed in with yet."""
    app = create_app(Settings(web_root=tmp_path, **settings), engine)  # type: ignore[arg-type]
    with TestClient(app, raise_server_exceptions=False) as client:
        yield client


def sign_in(client: TestClient, name: str, password: str = SECRET) -> httpx.Response:
    answer = client.post("/api/session", json={"name": name, "password": password})
    me = client.get("/api/session").json()["me"]
    client.headers[TOKEN_HEADER] = me["token"] if me else ""
    return answer


def opened(client: TestClient, engine: Engine) -> None:
    """The shop set up by its first owner, who is signed in."""
    with sessions(engine)() as db:
        token = people.invite(db, people.first_owner(db).id)
        db.commit()
    body = {"token": token, "password": SECRET, "name": "Una", "shop": "Test Lane", "place": "Here"}
    assert client.post("/api/invitation/accept", json=body).status_code == 204
    sign_in(client, "Una")


def invited(client: TestClient, name: str, role: str) -> str:
    made = client.post("/api/people", json={"name": name, "role": role})
    assert made.status_code == 201, made.text
    return made.json()["token"]


def test_the_first_owner_opens_the_shop_by_the_address_that_start_told(
    shop: Engine, tmp_path: Path
) -> None:
    with browser(shop, tmp_path) as client:
        before = client.get("/api/session").json()
        assert (before["has_owner"], before["me"], before["demo"]) == (False, None, [])
        opened(client, shop)
        after = client.get("/api/session").json()
        assert (after["shop"], after["has_owner"], after["me"]["name"]) == (
            "Test Lane",
            True,
            "Una",
        )
        with sessions(shop)() as db:
            kept = db.scalars(select(Password.hashed)).one()
        assert kept.startswith("$argon2id$")


def test_a_hash_costs_whoever_guesses_what_it_should() -> None:
    """At least 19 MiB twice over: OWASP Password Storage Cheat Sheet, from memory."""
    memory_kib, passes = re.findall(r"\bm=(\d+),t=(\d+)", REAL_HASHER.hash("guess"))[0]
    assert int(memory_kib) >= 19 * 1024
    assert int(passes) >= 2


def test_who_is_invited_chooses_a_password_once(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as other:
        opened(owner, shop)
        first, token = invited(owner, "Bet", "bench"), ""
        person = next(p for p in owner.get("/api/people").json() if p["name"] == "Bet")
        assert person["state"] == "invited"
        token = owner.post(f"/api/people/{person['id']}/invitation").json()["token"]
        accept = {"token": first, "password": SECRET}
        assert other.post("/api/invitation/accept", json=accept).status_code == 410  # replaced
        for weak in ("short", "bet bet bet bet", "aaaaaaaaaaaaaaaa"):
            refused = other.post("/api/invitation/accept", json={"token": token, "password": weak})
            assert refused.status_code == 422, weak
        accept["token"] = token
        assert other.post("/api/invitation/accept", json=accept).status_code == 204
        assert other.get("/api/session").json()["me"]["role"] == "bench"
        assert other.post("/api/invitation/accept", json=accept).status_code in (403, 410)
        with sessions(shop)() as db:
            db.execute(text("UPDATE invitations SET used_at = NULL, expires_at = now()"))
            db.commit()
            assert people.invited_with(db, token) is None


def test_signing_in_changes_the_token_and_signing_out_ends_it(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as thief:
        opened(owner, shop)
        before = owner.cookies[COOKIE]
        thief.cookies.set(COOKIE, "planted-by-somebody", domain="testserver.local")
        assert sign_in(thief, "Una").status_code == 204
        assert thief.cookies[COOKIE] not in ("planted-by-somebody", before)
        cookie = thief.post(
            "/api/session", json={"name": "Una", "password": SECRET}, headers=thief.headers
        ).headers["set-cookie"]
        assert "HttpOnly" in cookie
        assert "SameSite=strict" in cookie
        stolen = owner.cookies[COOKIE]
        assert owner.delete("/api/session").status_code == 204
        thief.cookies.clear()
        thief.cookies.set(COOKIE, stolen, domain="testserver.local")
        assert thief.get("/api/rack").status_code == 401


def test_over_tls_the_cookie_is_secure_and_bound_to_the_host(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path, public_url="https://knives.example") as owner:
        opened(owner, shop)
        answer = owner.post("/api/session", json={"name": "Una", "password": SECRET})
        assert answer.headers["set-cookie"].startswith(f"__Host-{COOKIE}=")
        assert "Secure" in answer.headers["set-cookie"]


def test_attempts_are_throttled_by_name_right_or_wrong(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as guesser:
        opened(owner, shop)
        answers = [sign_in(guesser, "una", f"guess number {n}") for n in range(people.MOST_BY_NAME)]
        assert {a.status_code for a in answers} == {401}
        assert {a.json()["detail"] for a in answers} == {
            sign_in(guesser, "Nobody Here", "guess number 0").json()["detail"]
        }
        late = sign_in(guesser, "Una")
        assert late.status_code == 429
        assert 0 < int(late.headers["retry-after"]) <= people.COUNTED_FOR.total_seconds()
        with sessions(shop)() as db:
            db.execute(text("UPDATE failed_sign_ins SET failed_at = now() - interval '16 min'"))
            db.commit()
        assert sign_in(guesser, "Una").status_code == 204


def test_one_key_is_ended_by_whose_it_is_and_the_others_stay(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as here, browser(shop, tmp_path) as there:
        opened(here, shop)
        made = [here.post("/api/sign-ins", json={"label": x}).json()["key"] for x in ("a", "b")]
        ids = {s["label"]: s["id"] for s in here.get("/api/sign-ins").json()}

        def lets_in(key: str) -> bool:
            there.app.state.entrance.forget()  # type: ignore[attr-defined]
            entry = {"Authorization": f"Bearer {key}"}
            return there.get("/api/rack", headers=entry).status_code == 200

        assert [lets_in(key) for key in made] == [True, True]
        left = here.delete(f"/api/sign-ins/{ids['a']}").json()
        assert (ids["a"] in [s["id"] for s in left], ids["b"] in [s["id"] for s in left]) == (
            False,
            True,
        )
        assert [lets_in(key) for key in made] == [False, True]
        assert here.delete(f"/api/sign-ins/{ids['a']}").status_code == 404  # it is over
        other = key_of(shop, name=another(shop))
        stranger = {"Authorization": f"Bearer {other}"}
        there.cookies.clear()
        refused = there.delete(f"/api/sign-ins/{ids['b']}", headers=stranger)
        assert (refused.status_code, lets_in(made[1])) == (404, True)


def another(shop: Engine) -> str:
    """Somebody else who works here."""
    with sessions(shop)() as db:
        db.add(Person(name="Somebody else", role="bench"))
        db.commit()
    return "Somebody else"


def test_a_changed_password_and_everywhere_end_the_other_browsers(
    shop: Engine, tmp_path: Path
) -> None:
    with browser(shop, tmp_path) as here, browser(shop, tmp_path) as there:
        opened(here, shop)
        sign_in(there, "Una")
        key = here.post("/api/sign-ins", json={"label": "scales"}).json()["key"]
        wrong = here.put("/api/password", json={"old": "no", "new": "another fine password"})
        assert wrong.status_code == 422
        done = here.put("/api/password", json={"old": SECRET, "new": "another fine password"})
        assert done.status_code == 204
        there.app.state.entrance.forget()  # type: ignore[attr-defined] - what two seconds do
        assert there.get("/api/rack").status_code == 401
        assert here.get("/api/rack").status_code == 200
        bearer = {"Authorization": f"Bearer {key}"}
        there.cookies.clear()
        assert there.get("/api/rack", headers=bearer).status_code == 200
        log = here.get("/api/audit").json()["items"]
        assert [(c["about"], c["act"], c["named"]) for c in log[:2]] == [
            ("passwords", "changed", "Una"),
            ("keys", "made", "scales"),
        ]
        assert not any("argon2" in str(c) or key in str(c) for c in log)
        assert here.delete("/api/sign-ins").status_code == 204
        there.app.state.entrance.forget()  # type: ignore[attr-defined]
        assert there.get("/api/rack", headers=bearer).status_code == 401
        assert here.get("/api/rack").status_code == 401


def test_a_sign_in_ends_by_itself(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner:
        opened(owner, shop)
        for column, ago in (("seen_at", "13 hours"), ("expires_at", "1 second")):
            sign_in(owner, "Una")
            assert owner.get("/api/rack").status_code == 200
            with sessions(shop)() as db:
                db.execute(text(f"UPDATE sign_ins SET {column} = now() - interval '{ago}'"))
                db.commit()
            owner.app.state.entrance.forget()  # type: ignore[attr-defined]
            assert owner.get("/api/rack").status_code == 401


def test_nothing_is_done_for_another_site(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner:
        opened(owner, shop)
        food = {
            "label": "jerky",
            "toughness_j_m2": 900,
            "blunting_um": 9,
            "modulus_mpa": 2.0,
            "crush_mpa": 1.0,
            "crush_mm": 1.0,
            "stiffness_n_mm3": 1,
            "friction": 0.4,
            "adhesion_kpa": 0.5,
            "height_mm": 4,
            "width_mm": 30,
            "slice_stiffness": 0.2,
        }
        for forged in (
            {TOKEN_HEADER: ""},
            {TOKEN_HEADER: "0" * 64},
            {"Origin": "https://elsewhere.example"},
            {"Sec-Fetch-Site": "cross-site"},
            {"Sec-Fetch-Site": "same-site"},
        ):
            refused = owner.post("/api/foods", json=food, headers=forged)
            assert (refused.status_code, refused.json()["type"]) == (403, "from-elsewhere"), forged
        ours = {"Origin": "http://testserver", "Sec-Fetch-Site": "same-origin"}
        assert owner.post("/api/foods", json=food, headers=ours).status_code == 201
        login = {"name": "Una", "password": SECRET}
        forged_login = owner.post(
            "/api/session", json=login, headers={"Origin": "http://evil.example"}
        )
        assert forged_login.status_code == 403


def test_keys_act_as_their_person_or_as_less(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as program:
        opened(owner, shop)
        made = {
            role: owner.post("/api/sign-ins", json={"label": "x", "role": role}).json()["key"]
            for role in ("reader", "owner")
        }
        calendar = owner.post("/api/sign-ins", json={"label": "c", "kind": "calendar"}).json()[
            "key"
        ]

        def bearing(key: str) -> dict[str, str]:
            return {"Authorization": f"Bearer {key}"}

        assert program.get("/api/people", headers=bearing(made["owner"])).status_code == 200
        assert program.get("/api/people", headers=bearing(made["reader"])).status_code == 403
        assert program.get("/api/rack", headers=bearing(calendar)).status_code == 401
        address = "/api/upkeep/calendar.ics"
        assert program.get(address, params={"key": calendar}).status_code == 200
        assert program.get(address, params={"key": made["owner"]}).status_code == 200
        assert program.get("/api/rack", params={"key": made["owner"]}).status_code == 401
        again = program.post("/api/sign-ins", json={"label": "y"}, headers=bearing(made["owner"]))
        assert again.status_code == 403  # keys make no keys
        program.cookies.set(COOKIE, made["owner"])
        assert program.get("/api/rack").status_code == 401  # nor are they cookies
        with sessions(shop)() as db:
            assert made["owner"].encode() not in {
                row.token_sha256 for row in db.scalars(select(SignIn))
            }


def test_roles_change_at_once_and_one_owner_stays(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as bench:
        opened(owner, shop)
        token = invited(owner, "Bet", "bench")
        bench.post("/api/invitation/accept", json={"token": token, "password": SECRET})
        una, bet = owner.get("/api/people").json()
        edit = {"name": "Una", "role": "bench"}
        only = owner.put(f"/api/people/{una['id']}", json=edit, headers={"If-Match": una["etag"]})
        assert (only.status_code, only.json()["type"]) == (409, "conflict")
        path, edit = f"/api/people/{bet['id']}", {"name": "Bet", "role": "reader"}
        assert owner.put(path, json=edit).status_code == 428
        assert owner.put(path, json=edit, headers={"If-Match": '"old"'}).status_code == 412
        done = owner.put(path, json=edit, headers={"If-Match": bet["etag"]})
        assert done.json()["role"] == "reader"
        bench.app.state.entrance.forget()  # type: ignore[attr-defined]
        assert bench.get("/api/rack").status_code == 401  # another role: sign in anew
        gone = owner.delete(path, headers={"If-Match": done.json()["etag"]})
        assert gone.json().get("state") == "left", gone.text
        assert sign_in(bench, "Bet").status_code == 401
        changes = owner.get("/api/audit", params={"about": "people", "search": "Bet"}).json()[
            "items"
        ]
        told = [(c["person"], c["act"], c["before"], c["after"]) for c in changes]
        assert ("Una", "changed", {"role": "bench"}, {"role": "reader"}) in told
        assert told[-1][1] == "made"


def test_demo_people_are_in_the_demo_only(engine: Engine, cluster: Cluster, tmp_path: Path) -> None:
    app = create_app(Settings(web_root=tmp_path), engine, IN_DEMO)
    with TestClient(app, raise_server_exceptions=False) as client:
        assert [p["role"] for p in client.get("/api/session").json()["demo"]] == [
            "owner",
            "bench",
            "counter",
            "reader",
        ]
        assert sign_in(client, "Moth who reads", DEMO_PASSWORD).status_code == 204
        assert client.post("/api/bench/pieces/1/sheets").status_code == 403
    with pytest.raises(NotYours, match="demo"):
        prepare(engine, is_demo=False, say=lambda _: None)
    with shop_engine(cluster) as own, sessions(own)() as db:
        assert {p.name for p in db.scalars(select(Person))} == {"Owner"}
        assert db.scalars(select(Password)).all() == []
