"""The Bench beyond readings: what is seen, decisions, photos, repeats, models, instruments."""

from __future__ import annotations

import io
import threading
import uuid
from collections.abc import Iterator
from typing import Any

import pytest
import segno
from fastapi.testclient import TestClient
from PIL import Image
from sqlalchemy import select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import type_b
from maple_rook.store.tables import Observation, Piece
from stations.test_bench import Json, new_piece, reading, state_of, take

PNG = b"\x89PNG\r\n\x1a\n" + b"\x00" * 64


@pytest.fixture
def sheet(api: TestClient) -> int:
    return int(new_piece(api)["id"])


def seen(item: str, value: str, **more: Any) -> Json:
    return {"client_id": str(uuid.uuid4()), "item": item, "value": value, **more}


def observe(api: TestClient, sheet: int, body: Json) -> Json:
    answer = api.post(f"/api/bench/sheets/{sheet}/observations", json=body)
    assert answer.status_code == 201, answer.text
    return state_of(api, sheet)


def of_item(state: Json, item: str) -> list[str]:
    return [o["text"] or o["note"] for o in state["observations"] if o["item"] == item]


def test_what_is_seen_shapes_what_is_asked(api: TestClient, sheet: int) -> None:
    def asked() -> set[str]:
        return {q["key"] for q in state_of(api, sheet)["questions"]}

    assert "core_exposure" not in asked()
    observe(api, sheet, seen("construction", "clad_three"))
    assert {"core_exposure", "hardness_cladding"} <= asked()
    observe(api, sheet, seen("making", "stamped"))
    assert "bolster_proud" not in asked()


def test_an_observation_is_kept_once_and_replaced_never_erased(
    api: TestClient, sheet: int, db: Session
) -> None:
    first = seen("tang", "full")
    observe(api, sheet, first)
    observe(api, sheet, first)
    state = observe(api, sheet, seen("tang", "hidden", replaces=first["client_id"]))
    assert of_item(state, "tang") == ["hidden"]
    kept = db.scalars(select(Observation).where(Observation.sheet_id == sheet)).all()
    assert [o.value for o in kept] == ["full", "hidden"]
    with pytest.raises(DBAPIError, match="append-only"):
        db.execute(text("UPDATE observations SET value = 'partial'"))
    db.rollback()


def test_an_older_tab_never_writes_over_a_newer_one(api: TestClient, sheet: int) -> None:
    first = seen("tang", "full")
    observe(api, sheet, first)
    observe(api, sheet, seen("tang", "hidden", replaces=first["client_id"]))
    late = seen("tang", "partial", replaces=first["client_id"])
    answer = api.post(f"/api/bench/sheets/{sheet}/observations", json=late)
    assert (answer.status_code, answer.json()["type"]) == (409, "conflict")
    assert "entered “hidden” here at another bench" in answer.json()["detail"]
    assert of_item(state_of(api, sheet), "tang") == ["hidden"]


def test_sides_stand_beside_each_other_and_a_withdrawn_one_is_gone(
    api: TestClient, sheet: int
) -> None:
    right = seen("spine_corners", "minor", aspect="right", note="at the pinch")
    observe(api, sheet, right)
    state = observe(api, sheet, seen("spine_corners", "fine", aspect="left"))
    assert sorted(of_item(state, "spine_corners")) == ["fine", "minor"]
    gone = seen("spine_corners", "withdrawn", aspect="right", replaces=right["client_id"])
    assert of_item(observe(api, sheet, gone), "spine_corners") == ["fine"]
    again = observe(api, sheet, seen("spine_corners", "mend", aspect="right"))
    assert sorted(of_item(again, "spine_corners")) == ["fine", "mend before sale"]


def test_not_applicable_with_a_reason_is_no_longer_missing(api: TestClient, sheet: int) -> None:
    assert "balance_point" in state_of(api, sheet)["required"]
    state = observe(
        api, sheet, seen("balance_point", "not_applicable", note="blade without handle")
    )
    assert "balance_point" not in state["required"]
    refused = api.post(
        f"/api/bench/sheets/{sheet}/observations", json=seen("spine_mid", "not_applicable")
    )
    assert "with a reason" in refused.json()["detail"]


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"item": "wings", "value": "two"}, "item"),
        ({"item": "tang", "value": "sideways"}, "tang"),
        ({"item": "tang", "value": "full", "note": "x" * 500}, "note"),
        ({"item": "tang", "value": "full", "aspect": "above"}, "aspect"),
        ({"item": "weight", "value": "heavy"}, "weight"),
        ({"item": "DROP TABLE", "value": "x"}, "item"),
        ({"item": "tang", "value": "full", "photo_id": 999_999}, ""),
        ({"item": "tang", "note": "a\x00b", "value": "full"}, "note"),
    ],
)
def test_bad_observations_name_the_field(
    api: TestClient, sheet: int, body: Json, field: str
) -> None:
    answer = api.post(
        f"/api/bench/sheets/{sheet}/observations", json={"client_id": str(uuid.uuid4()), **body}
    )
    assert answer.status_code in (404, 422)
    if field:
        assert answer.json()["errors"][0]["field"] == field
    assert state_of(api, sheet)["observations"] == []


def test_a_decision_on_a_check_stands_until_the_figures_change(api: TestClient, sheet: int) -> None:
    for quantity, typed in (("spine_heel", "2.12"), ("spine_mid", "2.60")):
        state = take(api, sheet, reading(quantity, typed))
    (check,) = state["checks"]
    assert (check["key"], check["stands"]) == ("spine_order", False)
    assert state["stops"]["spine"] == "doubtful"
    assert all(check[part] for part in ("wrong", "why", "mend"))
    observe(api, sheet, seen("check.spine_order", "stands", note=check["wrong"]))
    (check,) = state_of(api, sheet)["checks"]
    assert (check["stands"], check["decided_by"]) == (True, "Otta in the office")
    stands = {
        c["key"]: c["stands"] for c in take(api, sheet, reading("spine_mid", "2.80"))["checks"]
    }
    assert stands == {"spine_order": False, "repeats_disagree": False}


def test_an_outlier_is_hinted_at_and_never_dropped(api: TestClient, sheet: int) -> None:
    for typed in ("2.12", "2.13", "2.11", "2.12", "2.41"):
        state = take(api, sheet, reading("spine_heel", typed))
    assert "2.41 stands out from the other 4" in state["hints"]["spine_heel"]
    assert state["figures"]["spine_heel"]["n"] == 5
    assert state["figures"]["spine_heel"]["repeats"] > 0.04


def test_the_hardness_session_corrects_by_the_block_everywhere(api: TestClient) -> None:
    state = new_piece(api)
    sheet = state["id"]
    for typed in ("62.5", "62.5"):
        take(api, sheet, reading("hardness_block", typed))
    take(api, sheet, reading("spine_heel", "2.12"))
    take(api, sheet, reading("height_heel", "46"))
    for along, typed in ((40, "60.5"), (44, "60.5"), (44.5, "60.5")):
        where = {"above_edge_mm": 24, "along_mm": along}
        state = take(api, sheet, reading("hardness", typed, **where))
    session = state["hardness"]
    assert session["error_hrc"] == pytest.approx(0.5)
    assert session["result"]["mean"] == pytest.approx(60.0)
    assert session["verdict"] == "hardened"
    assert any("indents 2 and 3 are 0.5 mm apart" in w for w in session["warnings"])
    assert session["claim"]["verdict"] in ("confirmed", "undecided")
    figures = api.get(f"/api/pieces/{state['piece']['id']}").json()["figures"]
    assert figures["hardness"]["mean"] == pytest.approx(60.0)
    assert "hardness_block" not in figures


def test_a_reading_where_the_blade_is_too_thin_says_nothing_of_hardening(
    api: TestClient, sheet: int
) -> None:
    for quantity, typed in (
        ("spine_heel", "2.12"),
        ("height_heel", "46"),
        ("hardness_block", "62"),
    ):
        take(api, sheet, reading(quantity, typed))
    for _ in range(2):
        state = take(api, sheet, reading("hardness", "44", above_edge_mm=8, confirmed=True))
    assert state["hardness"]["verdict"] == "cannot_be_said"
    assert "too thin" in state["hardness"]["why"]


def test_one_press_without_a_block_judges_no_maker(api: TestClient, sheet: int) -> None:
    """29 HRC read once says: press again; it contradicts no claim, and is kept and shown."""
    api.post(f"/api/bench/sheets/{sheet}/claims", json={"quantity": "hardness", "printed": "58-60"})
    state = take(api, sheet, reading("hardness", "29", confirmed=True))
    session = state["hardness"]
    assert session["verdict"] == "cannot_be_said"
    assert "far below a hardened edge" in session["why"]
    assert session["claim"]["verdict"] == "undecided"
    assert "no reference block" in session["claim"]["statement"]
    assert state["figures"]["hardness"]["mean"] == 29


def test_an_estimate_is_kept_as_typed_with_its_width_and_gives_way_to_a_reading(
    api: TestClient, sheet: int
) -> None:
    api.post(f"/api/bench/sheets/{sheet}/claims", json={"quantity": "weight", "printed": "150 g"})
    state = take(api, sheet, reading("weight", "180-200"))
    figure = state["figures"]["weight"]
    assert (figure["mean"], figure["expanded"], figure["kind"]) == (190, 10, "estimated")
    assert [(r["typed"], r["kind"], r["instrument"]) for r in state["readings"]] == [
        ("180-200", "estimated", "")
    ]
    (claim,) = (c for c in state["claims"] if c["quantity"] == "weight")
    assert (claim["verdict"], "judges no claim" in claim["statement"]) == ("undecided", True)
    weighed = take(api, sheet, reading("weight", "186 g"))["figures"]["weight"]
    assert (weighed["mean"], weighed["n"], weighed["kind"]) == (186, 1, "measured")


def test_it_predicts_with_its_width_and_says_so(api: TestClient) -> None:
    state = new_piece(api)
    for quantity, typed in (
        *(("spine_heel", "2.20"), ("height_heel", "46"), ("edge_length", "210 mm")),
        *(("thickness_behind_edge", "0.30"), ("edge_angle", "about 15")),
        ("hardness", "~60"),
    ):
        take(api, state["id"], reading(quantity, typed))
    piece = api.get(f"/api/pieces/{state['piece']['id']}").json()
    card = next(p for p in piece["predictions"] if p["key"] == "card_test")
    assert "Estimated, not measured: edge angle, hardness." in card["notes"]
    told = {c["value"] for p in piece["predictions"] for c in p["contributions"]}
    assert "15 ± 2° per side, estimated" in told
    assert piece["figures"]["edge_angle"]["kind"] == "estimated"


def test_a_spine_is_read_anywhere_each_place_for_itself(api: TestClient, sheet: int) -> None:
    for quantity, typed in (
        *(("edge_length", "210.0 mm"), ("spine_heel", "2.40")),
        *(("spine_at", "1.9 at 3 in from the tip"), ("spine_at", "0.80 at 10 mm from the tip")),
        ("spine_at", "0.82 at 10 mm from the tip"),
    ):
        state = take(api, sheet, reading(quantity, typed, confirmed=True))
    near, far = (state["figures"][f"spine_at@{mm} mm from tip"] for mm in ("10", "76.2"))
    assert (near["mean"], near["n"], far["mean"]) == (pytest.approx(0.81), 2, 1.9)
    assert state["outline"]["taper"] == [[0.0, 2.4], [133.8, 1.9], [200.0, 0.81]]


def test_uncertainty_follows_from_how_finely_it_was_typed(api: TestClient, sheet: int) -> None:
    """GUM (JCGM 100:2008, 4.3.7): a step of an eighth of an inch is 3.175 mm over sqrt(12)."""
    take(api, sheet, reading("handle_length", "4 7/8 in"))
    state = take(api, sheet, reading("spine_heel", "2.13"))
    u = state["figures"]["handle_length"]["instrument"]
    assert u == pytest.approx((3.175**2 / 12 + 0.5**2 / 3) ** 0.5, rel=1e-6)
    fine = state["figures"]["spine_heel"]["instrument"]
    assert fine == pytest.approx((0.01**2 / 12 + 0.03**2 / 3) ** 0.5, rel=1e-6)


def test_a_note_and_a_photo_go_with_a_reading(api: TestClient, sheet: int) -> None:
    photo = api.put(f"/api/bench/sheets/{sheet}/photos/{uuid.uuid4()}", content=PNG).json()["id"]
    state = take(api, sheet, reading("weight", "186 g", note="guard on", photo_id=photo))
    assert [(r["note"], r["photo_id"]) for r in state["readings"]] == [("guard on", photo)]
    other = new_piece(api)["id"]
    refused = api.post(
        f"/api/bench/sheets/{other}/readings", json=reading("weight", "186 g", photo_id=photo)
    )
    assert (refused.status_code, "a photo of this sheet" in refused.text) == (422, True)


def test_what_is_the_same_for_a_model_is_offered_from_its_other_pieces(api: TestClient) -> None:
    first, second = new_piece(api), new_piece(api)
    observe(api, first["id"], seen("tang", "hidden"))
    observe(api, first["id"], seen("tip", "minor", aspect=""))
    usual = state_of(api, second["id"])["usual"]
    assert usual["tang"] == {"value": "hidden", "text": "hidden", "tag": first["piece"]["tag"]}
    assert "tip" not in usual
    assert "tang" not in {o["item"] for o in state_of(api, second["id"])["observations"]}


def test_a_reading_off_the_foot_of_scale_c_is_refused_with_the_scale_to_use(
    api: TestClient, sheet: int
) -> None:
    answer = api.post(f"/api/bench/sheets/{sheet}/readings", json=reading("hardness", "12"))
    assert answer.status_code == 422
    assert "read scale B" in answer.json()["detail"]
    soft = take(api, sheet, reading("hardness_b", "85"))
    assert soft["figures"]["hardness_b"]["mean"] == 85


def test_photos_are_kept_with_the_sheet_once(api: TestClient, sheet: int) -> None:
    key = uuid.uuid4()
    address = f"/api/bench/sheets/{sheet}/photos/{key}"
    first, again = (api.put(address, content=PNG) for _ in range(2))
    assert first.json() == again.json()
    number = first.json()["id"]
    state = observe(api, sheet, seen("rivets", "minor", photo_id=number))
    assert state["observations"][0]["photo_id"] == number
    shown = api.get(f"/api/bench/photos/{number}")
    assert (shown.content, shown.headers["content-type"]) == (PNG, "image/png")


@pytest.mark.parametrize(
    ("content", "says"),
    [(b"", "a JPEG, PNG or WebP"), (b"<svg onload='x'>", "a JPEG"), (PNG * 50_000, "at most 3 MB")],
)
def test_what_is_no_photo_is_refused(
    api: TestClient, sheet: int, content: bytes, says: str
) -> None:
    answer = api.put(f"/api/bench/sheets/{sheet}/photos/{uuid.uuid4()}", content=content)
    assert answer.status_code == 422
    assert says in answer.json()["detail"]


def test_a_claim_is_copied_once_and_not_changed(api: TestClient) -> None:
    model = {
        "maker": "Test Smithy",
        "line": uuid.uuid4().hex[:6],
        "knife_type": "gyuto",
        "nominal": "210 mm",
    }
    sheet = new_piece(api, model_id=None, model=model)["id"]
    address = f"/api/bench/sheets/{sheet}/claims"
    for _ in range(2):
        state = api.post(address, json={"quantity": "hardness", "printed": "62±2"}).json()
    assert [c["printed"] for c in state["claims"]] == ["62±2"]
    other = api.post(address, json={"quantity": "hardness", "printed": "60 HRC"})
    assert (other.status_code, "62±2" in other.json()["detail"]) == (409, True)


def test_a_repeat_sheet_tells_wear_from_another_hand(api: TestClient, db: Session) -> None:
    worn = db.scalars(select(Piece.id).where(Piece.tag == "DL-25")).one()
    sheets = api.get(f"/api/pieces/{worn}").json()["sheets"]
    earlier, later = sheets[0]["id"], sheets[-1]["id"]
    told = api.get(f"/api/bench/sheets/{later}/against/{earlier}").json()
    rows = {r["key"]: r for r in told["rows"]}
    assert rows["thickness_behind_edge"]["difference"] > 0.05
    assert rows["edge_length"]["verdict"] == "not_measurable"
    assert "moved as sharpening moves" in told["words"]
    other = new_piece(api)["id"]
    answer = api.get(f"/api/bench/sheets/{other}/against/{earlier}")
    assert (answer.status_code, "different pieces" in answer.json()["detail"]) == (409, True)


def test_a_model_is_a_statistic_over_its_pieces(api: TestClient, db: Session) -> None:
    model = db.scalars(select(Piece.model_id).where(Piece.tag == "HS-24")).one()
    told = api.get(f"/api/bench/models/{model}/statistics").json()
    weight = next(r for r in told["rows"] if r["key"] == "weight")
    assert weight["n"] == told["pieces"] == 2
    assert weight["needed"] > 2
    assert weight["next_half_width"] > weight["mean_half_width"] > 0
    finer = api.get(f"/api/bench/models/{model}/statistics", params={"precision": 0.25}).json()
    finer_weight = next(r for r in finer["rows"] if r["key"] == "weight")
    assert finer_weight["wanted"] == pytest.approx(weight["wanted"] / 2)
    assert finer_weight["needed"] > weight["needed"]


def test_the_shop_sees_how_long_a_sheet_takes(api: TestClient) -> None:
    told = api.get("/api/bench").json()
    assert told["timed_sheets"] >= 15
    assert 60 < told["median_s"] < 600


def test_readings_at_once_from_many_benches_are_each_kept_once(api: TestClient, sheet: int) -> None:
    bodies = [reading("spine_heel", "2.12") for _ in range(24)]

    def send(some: list[Json]) -> None:
        for body in some:
            for _ in range(2):
                api.post(f"/api/bench/sheets/{sheet}/readings", json=body)

    benches = [threading.Thread(target=send, args=(bodies[i::6],)) for i in range(6)]
    for bench in benches:
        bench.start()
    for bench in benches:
        bench.join()
    kept = state_of(api, sheet)["readings"]
    assert {r["client_id"] for r in kept} == {b["client_id"] for b in bodies}
    assert sorted(r["replicate"] for r in kept) == list(range(1, 25))


# --- instruments -----------------------------------------------------------------------------


@pytest.fixture
def block(api: TestClient) -> Iterator[Json]:
    body = {
        "name": f"block {uuid.uuid4().hex[:6]}",
        "kind": "reference_block",
        "resolution": 0,
        "mpe": 0.4,
        "certified": 58.2,
    }
    made = api.post("/api/instruments", json=body)
    assert made.status_code == 201, made.text
    yield made.json()
    api.put(f"/api/instruments/{made.json()['id']}", json={**body, "retired": True})


def test_an_instrument_brings_its_own_resolution_and_error(api: TestClient, sheet: int) -> None:
    body = {
        "name": f"fine caliper {uuid.uuid4().hex[:6]}",
        "kind": "caliper",
        "resolution": 0.001,
        "mpe": 0.002,
        "calibration_due": "2026-01-31",
    }
    made = api.post("/api/instruments", json=body).json()
    assert made["overdue_days"] > 0
    state = take(api, sheet, reading("spine_heel", "2.123", instrument_id=made["id"]))
    found = state["figures"]["spine_heel"]
    assert found["instrument"] == pytest.approx(type_b(0.001, 0.002))
    assert found["repeats"] == QUANTITIES["spine_heel"].repeatability
    assert state["readings"][0]["instrument"] == body["name"]


def retire(api: TestClient, *instruments: Json, retired: bool = True) -> None:
    known = ("name", "kind", "resolution", "mpe", "certified", "calibration_due")
    for instrument in instruments:
        body = {key: instrument[key] for key in known if instrument.get(key) is not None}
        answer = api.put(f"/api/instruments/{instrument['id']}", json={**body, "retired": retired})
        assert answer.status_code == 200, answer.text


def test_a_reading_without_an_instrument_is_of_one_in_use(api: TestClient, sheet: int) -> None:
    """A retired instrument's error has no part in a new reading's uncertainty."""
    calipers = [
        i for i in api.get("/api/instruments").json() if i["kind"] == "caliper" and not i["retired"]
    ]
    rough = {"name": f"rough caliper {uuid.uuid4().hex[:6]}", "kind": "caliper"}
    made = api.post("/api/instruments", json={**rough, "resolution": 0.5, "mpe": 0.5}).json()
    try:
        retire(api, *calipers)
        state = take(api, sheet, reading("spine_heel", "2.12"))
        assert state["readings"][0]["instrument"] == rough["name"]
        retire(api, made)
        answer = api.post(f"/api/bench/sheets/{sheet}/readings", json=reading("spine_heel", "2.14"))
        assert answer.status_code == 422
        assert "Every caliper of the shop is retired" in answer.json()["detail"]
    finally:
        retire(api, *calipers, retired=False)


def test_a_block_reading_names_its_block(api: TestClient, sheet: int, block: Json) -> None:
    state = take(api, sheet, reading("hardness_block", "58.7", reference_id=block["id"]))
    assert state["hardness"]["certified_hrc"] == pytest.approx(58.2)
    assert state["hardness"]["block_name"] == block["name"]


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"kind": "ruler"}, "kind"),
        ({"resolution": -1}, "resolution"),
        ({"mpe": "NaN"}, "mpe"),
        ({"certified": 60}, "certified value"),
        ({"kind": "reference_block"}, "certified value"),
        ({"address": "example.org:80"}, "address"),
        ({"name": "bench scale 1 g"}, "name"),
        ({"calibration_due": "soon"}, "calibration_due"),
    ],
)
def test_a_bad_instrument_is_refused_by_field(api: TestClient, changes: Json, field: str) -> None:
    body = {"name": "a caliper", "kind": "caliper", "resolution": 0.01, "mpe": 0.03, **changes}
    answer = api.post("/api/instruments", json=body)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field


def test_a_reading_of_another_kind_of_instrument_is_refused(api: TestClient, sheet: int) -> None:
    scale = next(i for i in api.get("/api/instruments").json() if i["kind"] == "scale")
    answer = api.post(
        f"/api/bench/sheets/{sheet}/readings",
        json=reading("spine_heel", "2.12", instrument_id=scale["id"]),
    )
    assert answer.status_code == 422
    assert "a caliper for spine at heel" in answer.json()["detail"]


def test_asking_an_instrument_that_is_on_no_line_says_to_type(api: TestClient) -> None:
    answer = api.post("/api/instruments/1/take", json={"quantity": "weight"})
    assert answer.status_code == 400
    assert "type the reading" in answer.json()["detail"]


def test_a_label_opens_its_piece_by_tag_page_or_picture(api: TestClient) -> None:
    """A QR code (ISO/IEC 18004) as a shelf label prints it, photographed askew."""
    begun = new_piece(api)
    piece, tag = begun["piece"]["id"], begun["piece"]["tag"]
    found = api.get("/api/bench/label", params={"code": f" {tag.lower()} "}).json()
    assert (found["piece_id"], found["tag"], found["sheet_id"]) == (piece, tag, begun["id"])
    assert api.get("/api/bench/label", params={"code": "nobody's"}).status_code == 404
    code = io.BytesIO()
    segno.make_qr(tag, error="m").save(code, kind="png", scale=14, border=8)
    shown = Image.open(code).convert("RGB").rotate(7, expand=True, fillcolor="white")
    code = io.BytesIO()
    shown.resize((900, 900)).save(code, format="JPEG", quality=70)
    assert api.post("/api/bench/label", content=code.getvalue()).json()["piece_id"] == piece
    blank = io.BytesIO()
    Image.new("RGB", (800, 800), "white").save(blank, format="JPEG")
    refused = api.post("/api/bench/label", content=blank.getvalue())
    assert (refused.status_code, "QR or bar code" in refused.text) == (422, True)
