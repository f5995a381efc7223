"""Instruments over the API: a reading taken and stored once, and every failure told by name."""

from __future__ import annotations

import socket
import uuid
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine

from bench_line import Line, until
from maple_rook.instruments import link as links
from maple_rook.instruments.link import NO_GREETING
from maple_rook.instruments.stand_ins import StandIn
from signed_in import key_of
from stations.test_bench import Json, new_piece, state_of


@pytest.fixture
def caliper(api: TestClient, line: Line, on_line: dict[str, int]) -> Iterator[StandIn]:
    """A steady caliper that is ready, whatever line went wrong in the test before."""
    until(lambda: state(api, on_line["caliper"]) == "ready")
    found = line.instruments["caliper"]
    found.noise = found.zero = 0.0
    found.specimen["spine_heel"] = 2.13
    yield found
    found.mode = "steady"


def state(api: TestClient, number: int) -> str:
    return next(str(i["state"]) for i in api.get("/api/instruments").json() if i["id"] == number)


def take(api: TestClient, number: int, quantity: str = "spine_heel") -> Json:
    answer = api.post(f"/api/instruments/{number}/take", json={"quantity": quantity})
    assert answer.status_code == 200, answer.text
    taken: Json = answer.json()
    return taken


@pytest.mark.usefixtures("caliper")
def test_a_reading_is_taken_then_stored_with_its_instrument(
    api: TestClient, on_line: dict[str, int]
) -> None:
    sheet = new_piece(api)["id"]
    taken = take(api, on_line["caliper"])
    assert taken["typed"] == "2.13 mm"
    body = {
        "client_id": taken["client_id"],
        "quantity": "spine_heel",
        "typed": taken["typed"],
        "instrument_id": taken["instrument_id"],
        "method": "instrument",
    }
    for _ in range(2):
        assert api.post(f"/api/bench/sheets/{sheet}/readings", json=body).status_code == 201
    (reading,) = state_of(api, sheet)["readings"]
    assert (reading["method"], reading["instrument"]) == ("instrument", taken["name"])


@pytest.mark.usefixtures("caliper")
def test_each_reading_has_an_id_of_its_own(api: TestClient, on_line: dict[str, int]) -> None:
    ids = {take(api, on_line["caliper"])["client_id"] for _ in range(5)}
    assert len(ids) == 5


def test_a_caliper_set_to_inches_is_read_in_inches(
    api: TestClient, on_line: dict[str, int], caliper: StandIn
) -> None:
    caliper.mode = "other-unit"
    assert take(api, on_line["caliper"])["typed"] == "0.084 in"


@pytest.mark.parametrize(
    ("mode", "status", "says"),
    [
        ("wrong-unit", 422, "a length"),
        ("moving", 400, "still moving"),
        ("garbled", 400, "a line that does not follow the protocol"),
        ("long-line", 400, "a line over 512 bytes"),
        ("dropout", 400, "no reading within"),
    ],
)
def test_a_failing_instrument_is_named_in_the_problem(
    api: TestClient,
    on_line: dict[str, int],
    caliper: StandIn,
    monkeypatch: pytest.MonkeyPatch,
    mode: str,
    status: int,
    says: str,
) -> None:
    monkeypatch.setattr(links, "ANSWER_S", 0.4)
    until(lambda: state(api, on_line["caliper"]) == "ready")  # whatever it did before
    caliper.mode = mode
    answer = api.post(
        f"/api/instruments/{on_line['caliper']}/take", json={"quantity": "spine_heel"}
    )
    assert answer.status_code == status
    assert answer.headers["content-type"] == "application/problem+json"
    assert says in answer.json()["detail"]
    assert "caliper" in answer.json()["detail"]


def test_an_instrument_asked_for_what_it_cannot_measure_says_so(
    api: TestClient, on_line: dict[str, int]
) -> None:
    answer = api.post(f"/api/instruments/{on_line['scale']}/take", json={"quantity": "spine_heel"})
    assert answer.status_code == 400
    assert "does not measure spine_heel" in answer.json()["detail"]


def test_an_instrument_whose_address_is_wrong_is_not_reached(api: TestClient) -> None:
    body = {
        "name": f"lost {uuid.uuid4().hex[:5]}",
        "kind": "scale",
        "resolution": 0.1,
        "mpe": 0.3,
        "address": "127.0.0.1:1",
    }
    number = api.post("/api/instruments", json=body).json()["id"]

    def shown() -> Json:
        found: Json = next(i for i in api.get("/api/instruments").json() if i["id"] == number)
        return found

    until(lambda: "no answer from 127.0.0.1:1" in shown()["words"])
    assert shown()["state"] == "not_reached"
    api.put(f"/api/instruments/{number}", json={**body, "retired": True})
    answer = api.post(f"/api/instruments/{number}/take", json={"quantity": "weight"})
    assert "type the reading" in answer.json()["detail"]


def test_an_instrument_that_turns_out_to_be_another_is_not_trusted(
    api: TestClient, line: Line
) -> None:
    body = {
        "name": f"mislabelled {uuid.uuid4().hex[:5]}",
        "kind": "scale",
        "resolution": 0.1,
        "mpe": 0.3,
        "address": line.addresses["caliper"],
    }
    number = api.post("/api/instruments", json=body).json()["id"]

    def words() -> str:
        found = next(i for i in api.get("/api/instruments").json() if i["id"] == number)
        return str(found["words"])

    until(lambda: "a greeting of a caliper" in words())
    api.put(f"/api/instruments/{number}", json={**body, "retired": True})


def test_a_line_that_is_no_instruments_is_quoted_nowhere(api: TestClient) -> None:
    """Whatever else listens there: nobody reads its greeting through the shop."""
    with socket.create_server(("127.0.0.1", 0)) as other:
        body = {
            "name": f"probe {uuid.uuid4().hex[:5]}",
            "kind": "scale",
            "resolution": 0.1,
            "mpe": 0.3,
            "address": f"127.0.0.1:{other.getsockname()[1]}",
        }
        number = api.post("/api/instruments", json=body).json()["id"]
        for greeting in (b"SSH-2.0-secret of another service\n", b"x" * 5_000, b"PONG secret\n"):
            opened, _ = other.accept()
            with opened:
                opened.sendall(greeting)
                until(lambda: opened.recv(100) == b"")  # noqa: B023 - at once
            found = next(i for i in api.get("/api/instruments").json() if i["id"] == number)
            assert found["words"].endswith(NO_GREETING)
            assert found["state"] == "garbled"
        api.put(f"/api/instruments/{number}", json={**body, "retired": True})


def test_only_an_owner_connects_instruments_and_only_to_machines_that_are_named(
    api: TestClient, engine: Engine
) -> None:
    bench = {"Authorization": f"Bearer {key_of(engine, 'bench')}"}
    body = {"name": f"at {uuid.uuid4().hex[:5]}", "kind": "scale", "resolution": 0.1, "mpe": 0.3}
    placed = {**body, "address": "127.0.0.1:22"}
    assert api.post("/api/instruments", json=placed, headers=bench).status_code == 403
    made = api.post("/api/instruments", json=body, headers=bench)
    assert made.status_code == 201
    path = f"/api/instruments/{made.json()['id']}"
    assert api.put(path, json=placed, headers=bench).status_code == 403
    for elsewhere in ("169.254.169.254:80", "database.example:5432", "[fe80::1]:80"):
        refused = api.put(path, json={**body, "address": elsewhere})
        assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "address")
    own = api.put(path, json={**placed, "retired": True})
    assert own.status_code == 200
    kept = api.put(path, json={**placed, "retired": True, "serial": "7"}, headers=bench)
    assert kept.status_code == 200, "who mends the rest leaves the address"


def test_the_kind_of_an_instrument_with_readings_does_not_change(
    api: TestClient, on_line: dict[str, int]
) -> None:
    body = {"name": "was a caliper", "kind": "scale", "resolution": 0.01, "mpe": 0.03}
    answer = api.put(f"/api/instruments/{on_line['caliper']}", json=body)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "kind"


def test_the_scale_under_the_board_holds_the_peak_of_a_cut(
    api: TestClient, line: Line, on_line: dict[str, int]
) -> None:
    until(lambda: state(api, on_line["scale"]) == "ready")
    line.instruments["scale"].specimen["cut_load"] = 3059.0
    begun = api.post("/api/cut-trials", json={"client_id": str(uuid.uuid4()), "source": "scale"})
    cuts = f"/api/cut-trials/{begun.json()['id']}"
    knife = api.get("/api/rack", params={"search": "KH-01"}).json()["rows"][0]["piece"]["id"]
    asked = {"piece_id": knife, "food": "carrot", "lot": "of the tenth"}
    assert api.post(f"{cuts}/peak", json=asked).status_code == 201
    assert api.post(f"{cuts}/peak", json={**asked, "food": "mango"}).status_code == 422
    [cut] = api.get(cuts).json()["tried"]
    assert cut["peak_n"] == pytest.approx(30.0, rel=0.01)  # 3.059 kg at standard gravity
    assert (cut["lot"], cut["left_out"]) == ("of the tenth", "")
