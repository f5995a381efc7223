"""Signing in, and what nobody gets in by."""

from __future__ import annotations

import base64
import re
import threading
import time
import uuid
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, contextmanager
from pathlib import Path

import httpx2 as httpx
import pyotp
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, select, text
from uvicorn.middleware.proxy_headers import ProxyHeadersMiddleware

from bench_line import until
from described import described_paths
from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.demo.people import DEMO_PASSWORD, IN_DEMO
from maple_rook.http import known_browsers
from maple_rook.http.authentication import COOKIE, TOKEN_HEADER, page_token
from maple_rook.http.hashing import AT_ONCE, MOST_WAITING
from maple_rook.http.policy import GRAVE
from maple_rook.server import NotYours, prepare
from maple_rook.settings import Settings
from maple_rook.store import attempts, people, two_step
from maple_rook.store.database import sessions
from maple_rook.store.people_tables import Password, SignIn
from maple_rook.store.tables import Person
from shops import shop_engine
from signed_in import key_of

REAL_HASHER = people.HASHER
SECRET = "a strop and three stones"
PATIENCE_S = 60


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
        for weak in (
            "short",
            "bet bet bet bet",
            "aaaaaaaaaaaaaaaa",
            "password1234",
            "grey stones of bet",
            "Test Lane 12",
        ):
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


@pytest.mark.parametrize(("path", "prefix"), [("", "__Host-"), ("/shop", "__Secure-")])
def test_over_tls_the_cookie_is_secure_and_bound_to_the_host_and_path(
    shop: Engine, tmp_path: Path, path: str, prefix: str
) -> None:
    """RFC 6265bis 4.1.3: a prefix with Host wants the path of the whole host."""
    with browser(shop, tmp_path, public_url=f"https://knives.example{path}") as owner:
        opened(owner, shop)
        answer = owner.post("/api/session", json={"name": "Una", "password": SECRET})
        assert answer.headers["set-cookie"].startswith(f"{prefix}{COOKIE}=")
        assert "Secure" in answer.headers["set-cookie"]
        assert f"Path={path}/;" in answer.headers["set-cookie"]


def held_up(shop: Engine) -> int:
    """The seconds that somebody has to wait now, made ten minutes more: machines may be slow."""
    with sessions(shop)() as db:
        waits = text(
            "SELECT round(extract(epoch FROM max(next_at - last_at))) FROM sign_in_attempts"
        )
        found = int(db.scalar(waits) or 0)
        more = "UPDATE sign_in_attempts SET next_at = next_at + interval '10 min'"
        db.execute(text(f"{more} WHERE next_at > last_at + interval '0.5 s'"))
        db.commit()
    return found


def let_on(shop: Engine) -> None:
    with sessions(shop)() as db:
        db.execute(text("UPDATE sign_in_attempts SET next_at = now()"))
        db.commit()


def test_attempts_are_throttled_right_or_wrong(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as guesser:
        opened(owner, shop)
        answers = [sign_in(guesser, "una", f"guess number {n}") for n in range(attempts.FREE)]
        assert {a.status_code for a in answers} == {401}
        assert {a.json()["detail"] for a in answers} == {
            sign_in(guesser, "Nobody Here", "guess number 0").json()["detail"]
        }
        waits = []
        for _ in range(3):
            waits.append(held_up(shop))
            late = sign_in(guesser, "Una")
            assert late.status_code == 429, "right or wrong"
            assert 590 < int(late.headers["retry-after"]) <= 605
            let_on(shop)
            assert sign_in(guesser, "Una", "another guess").status_code == 401
        assert waits == [1, 2, 4], "each wait is twice the one before"
        let_on(shop)
        assert sign_in(guesser, "Una").status_code == 204


def test_guesses_at_once_are_counted_before_they_are_looked_at(
    shop: Engine, tmp_path: Path
) -> None:
    """So many at once that all of them ask before the first is answered."""
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as crowd:
        opened(owner, shop)
        crowd.cookies.clear()

        def guess(number: int) -> int:
            body = {"name": "Una", "password": f"guess number {number}"}
            return crowd.post("/api/session", json=body).status_code

        with ThreadPoolExecutor(60) as pool:
            told = Counter(pool.map(guess, range(60)))
        assert set(told) == {401, 429}
        assert told[401] <= attempts.FREE + 4, "one more after 1, 3, 7 and 15 s"


def test_strangers_lock_nobody_out_of_a_browser_they_signed_in_with(
    shop: Engine, tmp_path: Path
) -> None:
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as stranger:
        opened(owner, shop)
        assert owner.delete("/api/session").status_code == 204
        for _ in range(attempts.FREE):
            sign_in(stranger, "Una", "a guess of many")
        assert held_up(shop) == 1
        assert sign_in(stranger, "Una").status_code == 429
        assert sign_in(owner, "Una").status_code == 204
        known = owner.cookies[known_browsers.COOKIE]
        forged = known_browsers.written(known_browsers.KnownBrowser("mine", (1,)), b"another key")
        for cookie, expected in ((forged, 429), (known[:-3], 429), (known, 204)):
            stranger.cookies.clear()
            stranger.cookies.set(known_browsers.COOKIE, cookie, domain="testserver.local")
            stranger.headers[TOKEN_HEADER] = ""
            assert sign_in(stranger, "Una").status_code == expected


def test_the_address_of_a_client_is_what_a_trusted_proxy_says(shop: Engine, tmp_path: Path) -> None:
    """Behind one proxy everybody would else share one address, and its lock."""
    app = create_app(Settings(web_root=tmp_path), shop)

    def attempts_until_locked(trusted: str) -> int:
        served = ProxyHeadersMiddleware(app, trusted_hosts=trusted)
        with TestClient(served, client=("10.1.2.3", 50000)) as client:  # type: ignore[arg-type]
            for n in range(50):
                said = {"X-Forwarded-For": f"198.51.100.{n}"}  # RFC 5737: for documentation
                body = {"name": f"nobody {n}", "password": "a guess"}
                if client.post("/api/session", json=body, headers=said).status_code == 429:
                    return n
        return 50

    assert attempts_until_locked("10.1.2.0/24") == 50
    locked = attempts_until_locked("127.0.0.1") - attempts.FREE_BY_ADDRESS
    assert 0 <= locked <= 4, "one more after 1, 3, 7 and 15 s"


def test_a_crowd_at_the_door_takes_no_connection_and_is_told_at_once(
    shop: Engine, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """More sign-ins than are hashed: those beyond the line are refused, who is in goes on."""
    may_go_on, begun = threading.Event(), threading.Semaphore(0)

    def slowly(password: str, _: str | None) -> tuple[bool, None]:
        begun.release()
        assert may_go_on.wait(PATIENCE_S), password
        return False, None

    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as crowd:
        opened(owner, shop)
        crowd.app.state.entrance = owner.app.state.entrance  # type: ignore[attr-defined]
        engine = crowd.app.state.sessions.kw["bind"]  # type: ignore[attr-defined]
        monkeypatch.setattr(people, "fits", slowly)

        def come(number: int) -> int:
            body = {"name": f"nobody {number}", "password": "a guess"}
            return crowd.post("/api/session", json=body).status_code

        room = AT_ONCE + MOST_WAITING
        with ThreadPoolExecutor(room + 8) as pool, ExitStack() as stack:
            stack.callback(may_go_on.set)
            asked = [pool.submit(come, n) for n in range(room + 8)]
            until(lambda: sum(f.done() for f in asked) == 8)
            refused = [f.result() for f in asked if f.done()]
            assert begun.acquire(timeout=PATIENCE_S)
            until(lambda: engine.pool.checkedout() == 0)
            assert owner.get("/api/people").status_code == 200
            may_go_on.set()
            others = [f.result() for f in asked]
        assert set(refused) == {429}
        assert Counter(others)[401] == room


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
        other = key_of(shop, kind=people.BROWSER, name=another(shop))
        there.cookies.clear()
        there.cookies.set(COOKIE, other)
        stranger = {TOKEN_HEADER: page_token(other)}
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
        assert [(c["about"], c["act"], c["named"]) for c in log[:4]] == [
            ("keys", "used", "scales, for the first time"),
            ("passwords", "changed", "Una"),
            ("passwords", "failed", "Una"),
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
        other = program.get(address, params={"key": made["owner"]})
        assert other.status_code == 401, "addresses end up in logs: calendars' keys only"
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
        assert bench.get("/api/rack").status_code == 401  # another role: sign in again
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
        assert sign_in(client, "Merle, reading only", DEMO_PASSWORD).status_code == 204
        assert client.post("/api/bench/pieces/1/sheets").status_code == 403
    with pytest.raises(NotYours, match="demo"):
        prepare(engine, is_demo=False, say=lambda _: None)
    with shop_engine(cluster) as own, sessions(own)() as db:
        assert {p.name for p in db.scalars(select(Person))} == {"Owner"}
        assert db.scalars(select(Password)).all() == []


@pytest.mark.parametrize("narrowed", ["reader", "owner"])
def test_no_key_settles_its_owners_password_keys_or_sign_ins(
    shop: Engine, tmp_path: Path, narrowed: str
) -> None:
    """However narrow or wide it is: who has found one can lock nobody out with it."""
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as program:
        opened(owner, shop)
        asked = {"label": "scales", "role": narrowed}
        key = owner.post("/api/sign-ins", json=asked).json()["key"]
        other = owner.post("/api/sign-ins", json={"label": "other"}).json()
        ids = [s["id"] for s in other["sign_ins"]]
        program.headers["Authorization"] = f"Bearer {key}"
        changed = {"old": SECRET, "new": "another fine password"}
        for answer in (
            program.put("/api/password", json=changed),
            program.get("/api/sign-ins"),
            program.post("/api/sign-ins", json={"label": "more"}),
            *(program.delete(f"/api/sign-ins/{n}") for n in ids),
            program.delete("/api/sign-ins"),
            program.delete("/api/session"),
        ):
            assert (answer.status_code, answer.json()["type"]) == (403, "not-permitted")
        assert program.get("/api/rack").status_code == 200
        bearer = {"Authorization": f"Bearer {other['key']}"}
        assert program.get("/api/rack", headers=bearer).status_code == 200


def test_a_wrong_password_is_guessed_no_quicker_by_who_is_in(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner:
        opened(owner, shop)
        guess = {"old": "a guess of many", "new": "another fine password"}
        tried = [owner.put("/api/password", json=guess) for _ in range(attempts.FREE - 2)]
        again = {"password": "a guess"}
        tried += [owner.post("/api/session/confirm", json=again) for _ in range(2)]
        assert [a.status_code for a in tried] == [422] * attempts.FREE
        assert held_up(shop) == 1
        assert owner.post("/api/session/confirm", json=again).status_code == 429
        right = owner.put("/api/password", json={**guess, "old": SECRET})
        assert right.status_code == 429, "right or wrong"


def test_what_is_grave_asks_for_the_password_again(shop: Engine, tmp_path: Path) -> None:
    routes = {
        found["operationId"]: (method, path.replace("{person_id}", "999999"))
        for path, methods in described_paths().items()
        for method, found in methods.items()
    }
    with browser(shop, tmp_path) as owner:
        opened(owner, shop)
        with sessions(shop)() as db:
            db.execute(text("UPDATE sign_ins SET confirmed_at = now() - interval '1 hour'"))
            db.commit()
        owner.app.state.entrance.forget()  # type: ignore[attr-defined]
        for action in GRAVE:
            asked = owner.request(*routes[action])
            assert (asked.status_code, asked.json()["type"]) == (403, "password-needed"), action
        wrong = owner.post("/api/session/confirm", json={"password": "not the one"})
        assert wrong.status_code == 422
        assert owner.request(*routes["people_end_two_step"]).status_code == 403
        assert owner.post("/api/session/confirm", json={"password": SECRET}).status_code == 204
        for action in GRAVE - {"people_sign_out_everywhere"}:
            assert owner.request(*routes[action]).status_code != 403, action


def test_signing_in_in_two_steps(shop: Engine, tmp_path: Path) -> None:
    """Each code counts once, and wrong ones count as guesses."""
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as thief:
        opened(owner, shop)
        begun = owner.post("/api/two-step").json()
        assert begun["picture"].startswith("data:image/svg+xml")
        shown = pyotp.parse_uri(begun["address"])
        assert isinstance(shown, pyotp.TOTP)
        assert (shown.secret, shown.name, shown.issuer) == (begun["secret"], "Una", "Test Lane")
        assert owner.post("/api/two-step/confirm", json={"code": "000000"}).status_code == 422
        assert sign_in(thief, "Una").status_code == 204, "not on before it is confirmed"
        now = time.time()
        codes = owner.post("/api/two-step/confirm", json={"code": shown.at(now)}).json()["codes"]
        thief.app.state.entrance.forget()  # type: ignore[attr-defined] - what two seconds do
        assert thief.get("/api/people").status_code == 401, "other browsers are signed out"

        def comes(code: str | None) -> tuple[int, str]:
            thief.cookies.clear()
            body = {"name": "Una", "password": SECRET, "code": code}
            answer = thief.post("/api/session", json=body)
            return answer.status_code, "" if answer.status_code == 204 else answer.json()["type"]

        assert comes(None) == (401, "code-needed")
        assert comes(shown.at(now)) == (401, "not-them"), "a code counts once"
        assert comes(shown.at(now + 30)) == (204, "")
        assert comes(shown.at(now + 300)) == (401, "not-them")
        assert comes(codes[0].lower().replace("-", " ")) == (204, "")
        assert comes(codes[0]) == (401, "not-them")
        assert owner.get("/api/two-step").json()["codes_left"] == len(codes) - 1
        while (said := comes("123456")) == (401, "not-them"):
            pass
        assert said == (429, "too-many")
        assert owner.delete("/api/two-step").status_code == 204
        changes = owner.get("/api/audit", params={"about": "two-step sign-in"}).json()["items"]
        assert [c["act"] for c in changes] == ["removed", "made"]
        assert begun["secret"] not in owner.get("/api/audit.csv").text


@pytest.mark.parametrize(
    ("second", "code"),
    [(59, "287082"), (1111111109, "081804"), (1234567890, "005924"), (20000000000, "353130")],
)
def test_codes_are_those_of_rfc_6238(second: int, code: str) -> None:
    """Appendix B, SHA-1, of eight digits the last six; the secret is its ASCII 1234…7890."""
    secret = base64.b32encode(b"12345678901234567890").decode()
    address = two_step.address(secret, "Una", "Test Lane")
    assert pyotp.parse_uri(address).at(second) == code  # type: ignore[call-arg]


def test_owners_may_have_to_sign_in_in_two_steps(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as other:
        opened(owner, shop)
        token = invited(owner, "Bet", "owner")
        join = {"token": token, "password": SECRET}
        assert other.post("/api/invitation/accept", json=join).status_code == 204
        sign_in(other, "Bet")
        asked = {"asked": True}
        assert owner.put("/api/two-step/owners", json=asked).status_code == 409, "oneself first"
        secret = owner.post("/api/two-step").json()["secret"]
        owner.post("/api/two-step/confirm", json={"code": pyotp.TOTP(secret).now()})
        assert owner.put("/api/two-step/owners", json=asked).json()["asked"] is True
        assert owner.delete("/api/two-step").status_code == 409
        other.app.state.entrance.forget()  # type: ignore[attr-defined]
        kept_out = other.get("/api/rack")
        assert (kept_out.status_code, kept_out.json()["type"]) == (403, "second-step-needed")
        assert other.get("/api/session").json()["me"]["owes_second_step"] is True
        secret = other.post("/api/two-step").json()["secret"]
        code = {"code": pyotp.TOTP(secret).now()}
        assert other.post("/api/two-step/confirm", json=code).status_code == 200
        assert other.get("/api/rack").status_code == 200


@pytest.mark.parametrize(
    "name", ["Una\u202eteB", "Una\u200b", "Una\nBet", "\u0406an", "una", "U\u0578a", "Una\u00ad"]
)
def test_no_name_hides_what_it_is_or_looks_like_anothers(
    shop: Engine, tmp_path: Path, name: str
) -> None:
    with browser(shop, tmp_path) as owner:
        opened(owner, shop)
        invited(owner, "Ian", "bench")
        refused = owner.post("/api/people", json={"name": name, "role": "bench"})
        assert refused.status_code == 422, refused.text
        assert owner.post("/api/people", json={"name": "Iris", "role": "bench"}).status_code == 201


def test_no_answer_that_tells_a_secret_is_kept(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner:
        opened(owner, shop)
        once = {"Idempotency-Key": str(uuid.uuid4())}
        body = {"name": "Bet", "role": "bench"}
        made = owner.post("/api/people", json=body, headers=once)
        again = owner.post("/api/people", json=body, headers=once)
        assert (made.status_code, again.status_code) == (201, 409)
        assert again.json()["type"] == "done-already"
        with sessions(shop)() as db:
            kept = db.scalars(text("SELECT answer FROM request_keys")).all()
        assert kept == [None]


def test_signing_in_and_keys_are_written_down(shop: Engine, tmp_path: Path) -> None:
    with browser(shop, tmp_path) as owner, browser(shop, tmp_path) as program:
        opened(owner, shop)
        sign_in(program, "Una", "a guess")
        sign_in(program, "hunter-two typed in the wrong field", "a guess")
        key = owner.post("/api/sign-ins", json={"label": "scales"}).json()["key"]
        for _ in range(3):
            program.get("/api/rack", headers={"Authorization": f"Bearer {key}"})
        changes = owner.get("/api/audit").json()["items"]
        told = [(c["about"], c["act"], c["named"], c["person"]) for c in changes]
        assert ("sign-ins", "made", "Una, from testclient", "Una") in told
        assert ("sign-ins", "failed", "Una, from testclient", "the shop itself") in told
        nobody = "a name nobody has, from testclient"
        assert ("sign-ins", "failed", nobody, "the shop itself") in told
        assert told.count(("keys", "used", "scales, for the first time", "Una")) == 1
        assert "hunter" not in owner.get("/api/audit.csv").text
