"""Photos at the Bench: kept, measured, taken over once, and provable afterwards."""

from __future__ import annotations

import csv
import io
import uuid
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image
from sqlalchemy import Engine, select, text
from sqlalchemy.exc import DBAPIError

from maple_rook.cluster import Cluster
from maple_rook.photo.picture import MOST_BYTES
from maple_rook.store import records
from maple_rook.store.database import sessions
from maple_rook.store.photo_tables import MeasuringPhoto
from shops import given, run, shop_api, shop_engine

HEIGHTS = ("height_heel", "height_mid", "height_front")


@pytest.fixture
def sheet(api: TestClient) -> dict[str, Any]:
    """A sheet of a piece of its own, of a model nobody else touches."""
    model = {
        "maker": "Photo Works",
        "line": uuid.uuid4().hex[:8],
        "knife_type": "santoku",
        "nominal": "170 mm",
    }
    entered = api.post("/api/bench/pieces", json={"tag": uuid.uuid4().hex[:8], "model": model})
    assert entered.status_code == 201, entered.text
    return entered.json()


def by_camera(api: TestClient, sheet_id: int, shot: str = "straight", view: str = "side") -> dict:
    asked = {"client_id": str(uuid.uuid4()), "sheet_id": sheet_id, "shot": shot, "view": view}
    taken = api.post("/api/photos/stand-in", json=asked)
    assert taken.status_code == 201, taken.text
    return taken.json()


def measured(api: TestClient, photo: dict, **how: object) -> dict[str, Any]:
    answer = api.post(f"/api/photos/{photo['id']}/measure", json=how)
    assert answer.status_code == 200, answer.text
    return answer.json()


def values(found: dict) -> dict[str, dict]:
    return {v["quantity"]: v for v in found["values"]}


def accepted(api: TestClient, photo: dict, **asked: object) -> Any:
    body = {"client_id": str(uuid.uuid4()), "how": {}, "keep_edge": False, **asked}
    return api.post(f"/api/photos/{photo['id']}/accept", json=body)


def read(api: TestClient, sheet_id: int, quantity: str, typed: str) -> None:
    body = {"client_id": str(uuid.uuid4()), "quantity": quantity, "typed": typed}
    stored = api.post(f"/api/bench/sheets/{sheet_id}/readings", json=body)
    assert stored.status_code == 201, stored.text


def test_from_photo_to_readings_profile_and_back(api: TestClient, sheet: dict) -> None:
    photo = by_camera(api, sheet["id"], "tilted")
    found = measured(api, photo, ruler_mm=100.0)
    assert found["refused"] is None
    assert found["card"]["tilt_deg"] == pytest.approx(19, abs=1)
    seen = values(found)
    assert seen["edge_length"]["value"] == pytest.approx(170, abs=seen["edge_length"]["expanded"])
    assert all(v["proposed"] and v["on_sheet"] is None for v in seen.values())
    chosen = ["edge_length", *HEIGHTS, "tip_height"]
    taken = accepted(api, photo, how={"ruler_mm": 100.0}, quantities=chosen, keep_edge=True)
    assert taken.status_code == 201, taken.text
    assert set(taken.json()["readings"]) == set(chosen)

    now = api.get(f"/api/bench/sheets/{sheet['id']}").json()
    assert {r["method"] for r in now["readings"]} == {"photo"}
    assert now["edge_traced"]
    for key in chosen:
        figure = now["figures"][key]
        assert figure["mean"] == pytest.approx(seen[key]["value"], abs=0.051)
        assert figure["expanded"] == pytest.approx(seen[key]["expanded"], rel=1e-3)
    piece = now["piece"]["id"]
    shape = api.get(f"/api/pieces/{piece}").json()
    assert shape["profile"]["inferred"] is False
    assert shape["profile"]["tip_height_mm"] == pytest.approx(seen["tip_height"]["value"], abs=0.1)

    read(api, sheet["id"], "spine_heel", "3.4 mm")  # what is learned later does not change it
    proof = taken.json()["id"]
    again = api.get(f"/api/photos/{photo['id']}/measurements/{proof}/again").json()
    assert again == {"same": True, "method": 1, "differs": {}}


def test_the_traced_spine_draws_the_knife_and_measured_heights_still_count(
    api: TestClient, engine: Engine, sheet: dict
) -> None:
    photo = by_camera(api, sheet["id"])
    accepted(api, photo, quantities=["edge_length", "height_heel"], keep_edge=True)
    with sessions(engine)() as db:
        blade = records.blade_of(db, sheet["piece"]["id"])
        assert blade.traced is not None
        assert blade.traced.spine is not None
        before = float(blade.lines().spine(np.array(0.5)))
    read(api, sheet["id"], "height_mid", "41.0 mm")
    with sessions(engine)() as db:
        lines = records.blade_of(db, sheet["piece"]["id"]).lines()
        middle = np.array(0.5)
        assert float(lines.spine(middle) - lines.edge(middle)) == pytest.approx(41.0, abs=0.01)
        assert float(lines.spine(middle)) != pytest.approx(before, abs=0.01)


def test_an_instrument_goes_before_a_photo_and_disagreement_is_shown(
    api: TestClient, sheet: dict
) -> None:
    photo = by_camera(api, sheet["id"])
    true = values(measured(api, photo))["height_heel"]["value"]
    read(api, sheet["id"], "height_heel", f"{true + 3:.2f} mm")
    read(api, sheet["id"], "edge_length", "170 mm")
    seen = values(measured(api, photo))
    assert seen["edge_length"]["verdict"] == "agree"
    odd = seen["height_heel"]
    assert (odd["verdict"], odd["proposed"], odd["on_sheet_from"]) == ("differ", False, "caliper")
    assert odd["difference"] == pytest.approx(-3, abs=0.02)
    assert 0 < odd["difference_expanded"] < 1
    accepted(api, photo, quantities=["height_heel"])
    figure = api.get(f"/api/bench/sheets/{sheet['id']}").json()["figures"]["height_heel"]
    assert figure["mean"] == pytest.approx(true + 3, abs=0.01)
    assert figure["n"] == 1


def test_moved_points_change_what_is_measured(api: TestClient, sheet: dict) -> None:
    photo = by_camera(api, sheet["id"])
    first = measured(api, photo)
    points = first["points"]
    per_mm = first["card"]["px_per_mm"]
    x, y = points["tip"]
    tip = [x - 5 * per_mm, y]
    shorter = measured(api, photo, points={"tip": tip})
    before, after = values(first), values(shorter)
    assert before["edge_length"]["value"] - after["edge_length"]["value"] == pytest.approx(
        5.0, abs=0.5
    )
    assert after["height_heel"]["value"] == pytest.approx(before["height_heel"]["value"], abs=0.1)
    assert shorter["points"]["heel"] == points["heel"]  # what was not moved is as it is found
    x, y = points["edge"][1]
    dent = [None, [x, y - 1.0 * per_mm], *[None] * 5]  # the edge pulled in near the heel
    dented = measured(api, photo, points={"edge": dent})
    assert values(dented)["edge_gap"]["value"] > 0.4
    assert dented["points"]["edge"][1] == pytest.approx(dent[1], abs=0.01)
    assert dented["points"]["tip"] == points["tip"]
    nonsense = {"heel": points["tip"], "tip": points["tip"]}
    lost = measured(api, photo, points=nonsense)
    assert not lost["values"]
    assert "do not form a blade" in lost["notes"][0]
    assert lost["points"]["heel"] == points["tip"]  # still there, to be moved back
    assert accepted(api, photo, how={"points": nonsense}, keep_edge=True).status_code == 422
    places = measured(api, photo, at_mm=[12.5, 80.0])["heights"]
    assert {12.5, 80.0} <= {h["at_mm"] for h in places}


def test_without_a_card_two_points_do_with_wide_intervals(api: TestClient, sheet: dict) -> None:
    photo = by_camera(api, sheet["id"])
    with_card = measured(api, photo)
    heel, tip = with_card["points"]["heel"], with_card["points"]["tip"]
    known = {"first": heel, "second": tip, "apart_mm": 170.0}
    assert measured(api, photo, known=known)["refused"]  # with its card the photo is not plain
    cut = Image.open(io.BytesIO(api.get(f"/api/photos/{photo['id']}/image").content))
    left, top = int(heel[0]) - 160, int(heel[1]) - 520
    plain = cut.crop((left, top, int(tip[0]) + 60, int(heel[1]) + 120))
    held = io.BytesIO()
    plain.save(held, "PNG")
    sent = api.post(
        "/api/photos",
        content=held.getvalue(),
        params={"sheet_id": sheet["id"], "client_id": str(uuid.uuid4())},
    )
    assert sent.status_code == 201, sent.text
    moved = {"first": [heel[0] - left, heel[1] - top], "second": [tip[0] - left, tip[1] - top]}
    found = measured(api, sent.json(), known={**moved, "apart_mm": 170.0})
    assert found["refused"] is None, found["refused"]
    edge = values(found)["edge_length"]
    assert edge["value"] == pytest.approx(170, abs=edge["expanded"])
    assert edge["expanded"] > 1.5 * values(with_card)["edge_length"]["expanded"]
    assert found["card"] is None
    assert any("Without a card" in note for note in found["notes"])


@pytest.mark.parametrize(
    ("shot", "trouble"),
    [
        ("blurred", "blurred"),
        ("glare", "glare"),
        ("cut off", "card_cut_off"),
        ("too oblique", "too_oblique"),
    ],
)
def test_a_spoilt_photo_says_so_and_gives_nothing(
    api: TestClient, sheet: dict, shot: str, trouble: str
) -> None:
    photo = by_camera(api, sheet["id"], shot)
    found = measured(api, photo)
    assert found["refused"]["trouble"] == trouble
    assert found["refused"]["change"]
    assert not found["values"]
    refused = accepted(api, photo, quantities=["edge_length"])
    assert refused.status_code == 409
    assert found["refused"]["change"] in refused.json()["detail"]
    left = api.delete(f"/api/photos/{photo['id']}")
    assert left.status_code == 200
    assert left.json() == []


def test_from_the_heel_what_cannot_be_resolved_is_no_reading(api: TestClient, sheet: dict) -> None:
    for quantity, typed in (
        ("spine_heel", "2.4 mm"),
        ("height_heel", "46 mm"),
        ("edge_length", "170 mm"),
        ("thickness_behind_edge", "0.12 mm"),
        ("edge_angle", "14"),
    ):
        read(api, sheet["id"], quantity, typed)
    photo = by_camera(api, sheet["id"], view="heel")
    found = measured(api, photo, ruler_mm=50.0)
    assert found["refused"] is None
    assert "thickness behind the edge" in found["end"]["unresolved"]
    assert "full flat" in found["end"]["verdict"]
    seen = values(found)
    assert set(seen) == {"thickness_5mm", "thickness_10mm"}
    unknown = accepted(api, photo, quantities=["thickness_behind_edge"])
    assert unknown.status_code == 422
    assert accepted(api, photo, keep_edge=True).status_code == 422
    taken = accepted(api, photo, how={"ruler_mm": 50.0}, quantities=["thickness_10mm"])
    assert taken.status_code == 201
    now = api.get(f"/api/bench/sheets/{sheet['id']}").json()
    reading = next(r for r in now["readings"] if r["quantity"] == "thickness_10mm")
    assert (reading["station"], reading["along_mm"]) == ("heel", 0.0)


def test_once_however_often_it_is_sent(api: TestClient, sheet: dict) -> None:
    photo = by_camera(api, sheet["id"])
    client_id = str(uuid.uuid4())
    first, second = (
        accepted(api, photo, client_id=client_id, quantities=["edge_length"], keep_edge=True)
        for _ in range(2)
    )
    assert first.json() == second.json()
    now = api.get(f"/api/bench/sheets/{sheet['id']}").json()
    assert len(now["readings"]) == 1
    kept = api.get(f"/api/photos/{photo['id']}/image").content
    sent = [
        api.post(
            "/api/photos", content=kept, params={"sheet_id": sheet["id"], "client_id": client_id}
        )
        for _ in range(2)
    ]
    assert sent[0].json()["id"] == sent[1].json()["id"]


def test_what_was_taken_over_stays(api: TestClient, engine: Engine, sheet: dict) -> None:
    photo = by_camera(api, sheet["id"])
    accepted(api, photo, quantities=["edge_length"])
    kept = api.delete(f"/api/photos/{photo['id']}")
    assert kept.status_code == 409
    for change in (
        "UPDATE measuring_photos SET view = 'heel'",
        "DELETE FROM photo_measurements",
        "UPDATE photo_measurements SET method = 2",
    ):
        with sessions(engine)() as db, pytest.raises(DBAPIError):
            db.execute(text(change))
    api.post(f"/api/bench/sheets/{sheet['id']}/sign-off")
    assert accepted(api, photo, quantities=["tip_height"]).status_code == 409
    late = {"client_id": str(uuid.uuid4()), "sheet_id": sheet["id"]}
    assert api.post("/api/photos/stand-in", json=late).status_code == 409
    assert values(measured(api, photo))["tip_height"]["value"] > 0  # to look at, for good


def test_where_a_photo_was_taken_never_reaches_the_record(
    api: TestClient, engine: Engine, sheet: dict
) -> None:
    notes = Image.Exif()
    notes.get_ifd(0x8825)[2] = (54.0, 30.0, 12.5)
    notes[0x013B] = "Somebody by name"
    held = io.BytesIO()
    Image.new("RGB", (900, 700), (90, 120, 150)).save(held, "JPEG", exif=notes)
    sent = api.post(
        "/api/photos",
        content=held.getvalue(),
        params={"sheet_id": sheet["id"], "client_id": str(uuid.uuid4())},
    )
    assert sent.status_code == 201, sent.text
    with sessions(engine)() as db:
        content = db.scalar(
            select(MeasuringPhoto.content).where(MeasuringPhoto.id == sent.json()["id"])
        )
    assert content is not None
    assert b"Somebody" not in content
    assert not Image.open(io.BytesIO(content)).getexif().get_ifd(0x8825)
    assert measured(api, sent.json())["refused"]["trouble"] == "no_card"


def test_bodies_that_are_no_photo(api: TestClient, sheet: dict) -> None:
    params = {"sheet_id": sheet["id"], "client_id": str(uuid.uuid4())}
    for body, status in ((b"", 422), (b"<svg/>", 422), (bytes(MOST_BYTES + 1), 413)):
        assert api.post("/api/photos", params=params, content=body).status_code == status
    missing = {**params, "sheet_id": 2**31 - 1}
    assert api.post("/api/photos", params=missing, content=b"x").status_code == 404
    for path in ("measure", "accept"):
        body = {"client_id": str(uuid.uuid4()), "how": {}} if path == "accept" else {}
        assert api.post(f"/api/photos/999999/{path}", json=body).status_code == 404
    assert api.get("/api/photos/cards/a5.pdf").status_code == 422
    pdf = api.get("/api/photos/cards/a4.pdf")
    assert pdf.content.startswith(b"%PDF")


def test_readings_of_photos_travel_with_their_uncertainty(
    api: TestClient, cluster: Cluster, sheet: dict, tmp_path: Path
) -> None:
    photo = by_camera(api, sheet["id"])
    accepted(api, photo, quantities=["height_heel"])
    lines = csv.DictReader(io.StringIO(api.get("/api/v1/readings.csv").text))
    tag = sheet["piece"]["tag"]
    row = next(r for r in lines if r["tag"] == tag and r["method"] == "photo")
    own = values(measured(api, photo))["height_heel"]["expanded"] / 2
    assert float(row["u"]) == pytest.approx(own, abs=1e-5)
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as other:
        instrument = {"name": row["instrument"], "kind": "camera", "resolution": 0.01, "mpe": 0.5}
        assert other.post("/api/instruments", json=instrument).status_code == 201
        model = {"maker": "Elsewhere", "line": "One", "knife_type": "santoku", "nominal": "170 mm"}
        other.post("/api/bench/pieces", json={"tag": row["tag"], "model": model})
        held = io.StringIO()
        table = csv.DictWriter(held, list(row))
        table.writeheader()
        table.writerow(row)
        assert run(other, given(other, held.getvalue()))["added"]["readings"] == 1
        with sessions(engine)() as db:
            piece = records.pieces(db)[0]
            figure = records.figures(db, [piece.id])[piece.id]["height_heel"]
        assert figure.standard_uncertainty == pytest.approx(own, abs=1e-5)
        # the simulated camera is the demo's alone
        asked = {"client_id": str(uuid.uuid4()), "sheet_id": 1}
        assert other.post("/api/photos/stand-in", json=asked).status_code == 409
