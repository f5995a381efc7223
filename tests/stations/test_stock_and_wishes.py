"""Where a piece is, what that changes, and wishes that wait for a knife."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text

Json = dict[str, Any]
NARROW: Json = {"budget": 60, "skill": "learning", "buyer": "gift"}
"""A customer of whom every knife but one is over the price or used."""


@pytest.fixture(scope="module")
def ids(api: TestClient) -> dict[str, int]:
    rows = api.get("/api/rack", params={"limit": 60}).json()["rows"]
    return {row["piece"]["tag"]: row["piece"]["id"] for row in rows}


def move(api: TestClient, piece: int, **to: object) -> Json:
    seen = api.get(f"/api/pieces/{piece}").json()["stock"]
    answer = api.put(f"/api/pieces/{piece}/stock", json=to, headers={"If-Match": seen["etag"]})
    assert answer.status_code == 200, answer.text
    moved: Json = answer.json()
    return moved


def offered(api: TestClient, **profile: object) -> list[str]:
    found = api.post("/api/counter/advice", json=profile).json()
    return [offer["piece"]["tag"] for offer in found["offers"]]


def racked(api: TestClient, **asked: object) -> set[str]:
    rows = api.get("/api/rack", params={"limit": 60, **asked}).json()["rows"]
    return {row["piece"]["tag"] for row in rows}


def test_what_is_sold_leaves_counter_and_rack_and_stays_in_the_record(
    api: TestClient, ids: dict[str, int]
) -> None:
    piece = ids["QS-17"]
    plans = api.get("/api/upkeep/plans").json()
    before = api.post("/api/counter/advice", json={}).json()["considered"]
    assert "QS-17" in offered(api, **NARROW)
    sold = move(api, piece, state="sold", on="2026-11-02", customer="a lodger")
    assert (sold["state"], sold["on"], sold["customer"]) == ("sold", "2026-11-02", "a lodger")
    assert "QS-17" not in offered(api, **NARROW)
    assert api.post("/api/counter/advice", json={}).json()["considered"] == before - 1
    assert "QS-17" not in racked(api)
    assert racked(api, stock="sold") == {"QS-17"}
    assert "QS-17" in {row["tag"] for row in api.get("/api/v1/pieces").json()["items"]}
    assert api.get(f"/api/pieces/{piece}").json()["figures"]["hardness"]
    assert api.get("/api/upkeep/plans").json() == plans
    assert api.get(f"/api/pieces/{piece}/care").status_code == 200
    move(api, piece, state="on_shelf")
    assert "QS-17" in racked(api)


def test_a_sold_piece_still_tells_of_its_model(api: TestClient, ids: dict[str, int]) -> None:
    laid = {"pieces": [ids["KH-01"], ids["HS-24"]], "models": True}
    before = api.post("/api/board", json=laid).json()["knives"][0]["pieces"]
    move(api, ids["KH-02"], state="sold")
    assert api.post("/api/board", json=laid).json()["knives"][0]["pieces"] == before
    assert "KH-02" in before
    move(api, ids["KH-02"], state="on_shelf")


def test_a_reserved_piece_is_shown_and_not_offered(api: TestClient, ids: dict[str, int]) -> None:
    move(api, ids["QS-17"], state="reserved", customer="cookery school")
    found = api.post("/api/counter/advice", json=NARROW).json()
    assert found["offers"] == []
    [said] = [k["reasons"] for k in found["ruled_out"] if k["tag"] == "QS-17"]
    assert said == ["Reserved."]
    card = api.post("/api/counter/card", json={"piece_id": ids["QS-17"], "profile": NARROW})
    assert card.status_code == 200, "it goes home with whom it waits for"
    assert "QS-17" in racked(api)
    move(api, ids["QS-17"], state="on_shelf")


def test_a_move_says_which_version_it_saw_and_no_day_ahead(
    api: TestClient, ids: dict[str, int]
) -> None:
    address = f"/api/pieces/{ids['QS-17']}/stock"
    unseen = {"If-Match": ""}
    assert api.put(address, json={"state": "sold"}, headers=unseen).status_code == 428
    stale = {"If-Match": '"stale"'}
    assert api.put(address, json={"state": "sold"}, headers=stale).status_code == 412
    now = {"If-Match": api.get(f"/api/pieces/{ids['QS-17']}").json()["stock"]["etag"]}
    ahead = {"state": "sold", "on": "2100-01-01"}
    assert api.put(address, json=ahead, headers=now).status_code == 422


def test_the_audit_says_that_a_piece_was_sold_and_not_to_whom(
    api: TestClient, ids: dict[str, int], engine: Engine
) -> None:
    move(api, ids["QS-17"], state="sold", customer="somebody by name")
    with engine.connect() as connection:
        after = connection.scalar(
            text("SELECT after::text FROM audit WHERE about = 'pieces' ORDER BY id DESC LIMIT 1")
        )
        told = connection.scalar(text("SELECT string_agg(after::text, ' ') FROM audit"))
    assert '"stock": "sold"' in after
    assert "somebody by name" not in told
    move(api, ids["QS-17"], state="on_shelf")


def test_a_wish_waits_until_a_knife_that_answers_it_is_in_stock(
    api: TestClient, ids: dict[str, int]
) -> None:
    move(api, ids["QS-17"], state="sold")
    nothing = api.post("/api/counter/advice", json=NARROW).json()
    assert nothing["offers"] == []
    wanted = {r["label"]: (r["low"], r["high"]) for r in nothing["wanted"]["ranges"]}
    assert wanted["edge length"] == (150, 210)
    assert wanted["price"] == (None, 60)
    asked = {"label": "the smallest purse", "profile": NARROW}
    [wish] = api.post("/api/counter/wishes", json=asked).json()
    assert wish["matches"] == []
    assert wish["wanted"] == nothing["wanted"]
    move(api, ids["QS-17"], state="on_shelf")
    [wish] = api.get("/api/counter/wishes").json()
    assert [k["tag"] for k in wish["matches"]] == ["QS-17"]
    assert api.get(f"/api/pieces/{ids['QS-17']}").json()["wished_for"] == ["the smallest purse"]
    assert api.get(f"/api/pieces/{ids['KH-01']}").json()["wished_for"] == []
    assert api.delete(f"/api/counter/wishes/{wish['id']}").json() == []
    assert api.delete(f"/api/counter/wishes/{wish['id']}").status_code == 404


def test_a_knife_not_hardened_is_not_ready_whatever_was_signed(
    api: TestClient, ids: dict[str, int]
) -> None:
    """44 HRC goes back to the maker, on the Sheet and among the work as on the Rack."""
    piece = ids["TT-16"]
    assert api.get(f"/api/pieces/{piece}").json()["shelf"] == "return"
    assert api.get(f"/api/pieces/{piece}/work").json()["shelf"] == "return"
    answer = api.post("/api/counter/card", json={"piece_id": piece, "profile": {}})
    assert answer.status_code == 409
    assert "not hardened, 44 HRC" in answer.json()["detail"]


def test_which_of_two_or_both(api: TestClient, ids: dict[str, int]) -> None:
    def pair(one: str, other: str, **profile: object) -> Json:
        asked = {"pieces": [ids[one], ids[other]], "profile": profile}
        answer = api.post("/api/counter/pair", json=asked)
        assert answer.status_code == 200, answer.text
        found: Json = answer.json()
        return found

    both = pair("KH-01", "KH-15")
    assert both["take"] == [ids["KH-01"], ids["KH-15"]]
    assert both["both"] > max(both["alone"])
    one = pair("DF-23", "BF-16", motion="rock")
    assert one["take"] == [ids["DF-23"]]
    assert "has the edge for a hand that rocks" in one["words"]
    gyuto, petty = (
        {"knife_type": "gyuto", "length_mm": 210},
        {"knife_type": "petty", "length_mm": 140},
    )
    beside = pair("KH-01", "KH-15", owned=[gyuto])
    assert beside["take"] == [ids["KH-15"]]
    neither = pair("KH-01", "KH-15", owned=[gyuto, petty])
    assert neither["take"] == []
    assert neither["words"].startswith("Neither:")
    turned = pair("KH-15", "KH-01")
    assert set(turned["take"]) == set(both["take"])
    same = {"pieces": [ids["KH-01"], ids["KH-01"]]}
    assert api.post("/api/counter/pair", json=same).status_code == 422
