"""A day in a shop that uses everything: every operation that writes is found in the audit."""

from __future__ import annotations

import io
import time
import uuid
from collections.abc import Iterator
from typing import Any

import httpx2 as httpx
import numpy as np
import pyotp
import pytest
from fastapi.testclient import TestClient
from PIL import Image
from sqlalchemy import Engine, select, text

from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.demo.people import DEMO_PASSWORD
from maple_rook.http.authentication import TOKEN_HEADER
from maple_rook.http.policy import POLICY
from maple_rook.settings import Settings
from maple_rook.store import people
from maple_rook.store.database import sessions
from maple_rook.store.people_tables import AuditEntry
from maple_rook.store.tables import Person, Piece, Sheet
from shops import shop_engine
from signed_in import key_of
from stations.test_policy import COMPUTED_ONLY, ROUTES

SECRET = "grey stones in a row"
NOTHING_IS_WRITTEN = COMPUTED_ONLY | {
    "bench_photographed_label",
    "photo_measure",
    "instruments_take",
    "people_invitation",
    "people_confirm",
    "people_begin_two_step",
}
"""Read, taken or begun with a body; what comes of it is another operation's."""
ON_A_LINE = {"trials_take_cycle", "cut_trials_take_peak"}
"""Rows of the same tables, from an instrument: it has to be on a line, which others try."""


LATER = {"exchange_run"}
"""Done from the queue, after the answer."""
PATIENCE_S = 60


class Shop:
    """The demo shop, a program and a browser of its owner, and what was done so far."""

    def __init__(self, engine: Engine, program: TestClient, browser: TestClient) -> None:
        self.engine, self.program, self.browser = engine, program, browser
        self.done: set[str] = set()
        self.untold: list[str] = []

    def __call__(self, action: str, *places: object, **more: Any) -> Any:
        """Do an operation that has to succeed, and look for what the log tells of it."""
        method, path = ROUTES[action]
        for place in places:
            start, _, rest = path.partition("{")
            path = f"{start}{place}{rest.partition('}')[2]}"
        client = self.browser if action.startswith("people_") else self.program
        before = self._newest()
        answer: httpx.Response = client.request(method, path, **more)
        assert answer.is_success, (action, answer.status_code, answer.text)
        self.done.add(action)
        deadline = time.monotonic() + (PATIENCE_S if action in LATER else 0)
        while (untold := self._newest() == before) and time.monotonic() < deadline:
            time.sleep(0.1)
        if untold:
            self.untold.append(action)
        return answer.json() if answer.content else None

    def _newest(self) -> int:
        """The newest entry; those there are become old, so that every writer is told again."""
        with sessions(self.engine)() as db:
            db.execute(text("SET LOCAL session_replication_role = replica"))
            db.execute(text("UPDATE audit SET at = at - interval '2 hours'"))
            db.commit()
            return db.scalars(select(AuditEntry.id).order_by(AuditEntry.id.desc())).first() or 0

    def signed(self) -> int:
        """A piece whose sheets are all signed off, so that another one is begun."""
        with sessions(self.engine)() as db:
            is_open = select(Sheet.piece_id).where(Sheet.finished_at.is_(None))
            return db.scalars(select(Piece.id).where(Piece.id.not_in(is_open))).first() or 0

    def sign_in(self, name: str, password: str, **more: object) -> None:
        body = {"name": name, "password": password, **more}
        self.browser.headers[TOKEN_HEADER] = ""
        self.browser.cookies.clear()
        self("people_sign_in", json=body)
        me = self.browser.get("/api/session").json()["me"]
        self.browser.headers[TOKEN_HEADER] = me["token"]


@pytest.fixture(scope="module")
def shop(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shop]:
    with shop_engine(cluster, demo=True) as engine:
        app = create_app(Settings(web_root=tmp_path_factory.mktemp("no-web")), engine)
        with TestClient(app, raise_server_exceptions=False) as program:
            program.headers.update({"Authorization": f"Bearer {key_of(engine)}", "If-Match": "*"})
            browser = TestClient(app, headers={"If-Match": "*"}, raise_server_exceptions=False)
            yield Shop(engine, program, browser)


def once(**more: object) -> dict[str, object]:
    return {"client_id": str(uuid.uuid4()), **more}


def picture() -> bytes:
    held = io.BytesIO()
    grey = np.random.default_rng(1).integers(0, 255, (700, 900), dtype=np.uint8)
    Image.fromarray(grey).save(held, "PNG")
    return held.getvalue()


def at_the_bench(shop: Shop) -> int:
    """A piece entered and measured; its sheet signed off; its number."""
    entered = shop("bench_enter_piece", json={"tag": "AUD-1", "model_id": 1})
    piece = shop.program.get("/api/rack", params={"search": "AUD-1"}).json()["rows"][0]["piece"][
        "id"
    ]
    sheet = entered["id"]
    shop("bench_begin_sheet", shop.signed())
    reading = once(quantity="weight", typed="186 g")
    shop("bench_take_reading", sheet, json=reading)
    shop("bench_void_reading", reading["client_id"], json={"reason": "slip"})
    shop("bench_restore_reading", reading["client_id"])
    lengths = {"distance": 300, "apart": 346}
    shop("bench_take_by_method", sheet, "laser", json=once(given=lengths))
    shop("bench_observe", sheet, json=once(item="rivets", value="minor"))
    shop("bench_trace_edge", sheet, json=once(source="columns", text="0 0\n100 0\n200 12"))
    shop("bench_keep_photo", sheet, uuid.uuid4(), content=picture())
    shop("bench_add_claim", sheet, json={"quantity": "spine_heel", "printed": "2.4 mm"})
    query = {"sheet_id": sheet, "client_id": str(uuid.uuid4())}
    thrown = shop("photo_keep", params=query, content=picture())
    shop("photo_throw_away", thrown["id"])
    taken = shop("photo_by_stand_in", json=once(sheet_id=1 * sheet, view="side"))
    shop("photo_accept", taken["id"], json=once(how={}))
    shop("bench_sign_off", sheet)
    return int(piece)


def in_trials(shop: Shop, piece: int) -> None:
    trial = shop("trials_begin", json=once(piece_id=piece, kind="card"))["id"]
    shop("trials_add_points", trial, json={"points": [once(x=1, value=50.0)]})
    shop("trials_describe", trial, json={"grit": "1000"})
    shop("trials_set_aside", trial, json={"reason": "wrong card"})
    shop("trials_store_prediction", piece, json={"note": "before"})
    session = shop("cut_trials_begin", json=once(cuts=[]))["id"]
    cut = once(piece_id=1, food="onion", force_n=[30.0])
    made = shop("cut_trials_add_cuts", session, json={"cuts": [cut]})
    shop("cut_trials_set_aside", made["tried"][0]["id"], json={"reason": "slipped"})


def at_the_counter(shop: Shop, piece: int) -> None:
    shop("sheet_move_stock", piece, json={"state": "reserved"})
    saved = shop("board_save_comparison", json={"pieces": [piece, 1], "name": "two"})
    shop("board_put_comparison_away", saved["id"], json={"away": True})
    customer = {"label": "cook A", "profile": {"hand": "left"}}
    kept = shop("counter_keep_customer", json=customer)
    shop("counter_forget_customer", kept[0]["id"])
    wishes = shop("counter_keep_wish", json=customer)
    shop("counter_forget_wish", wishes[0]["id"])


def at_the_desk(shop: Shop, piece: int) -> None:
    told = {"obtained": "stock", "paid": False, "seen_first": False, "links_earn": False}
    content = {"kind": "review", "piece_id": piece, "disclosure": told}
    page = shop("pages_begin", json={"content": content})
    shop("pages_change", page["id"], json={"title": "another", "content": content})
    shop("pages_publish", page["id"])
    shop("pages_withdraw", page["id"], json={"reason": "sold"})
    rows = shop("pages_keep_photograph", piece, uuid.uuid4(), content=picture())
    shop("pages_change_photograph", rows[0]["id"], json={"alt": "from the side"})
    two = shop("pages_keep_photograph", piece, uuid.uuid4(), content=picture())
    shop("pages_order_photographs", piece, json={"ids": [row["id"] for row in reversed(two)]})
    shop("pages_drop_photograph", rows[0]["id"])
    draft = shop("pages_begin", json={"content": content})
    shop("pages_discard", draft["id"])
    shop("pages_open_feed")
    shop("pages_close_feed")
    scale = {"name": "value", "highest": 10, "criteria": "10: nothing better for the price"}
    made = shop("pages_add_scale", json=scale)
    shop("pages_change_scale", made["id"], json={**scale, "retired": True})


def in_upkeep(shop: Shop, piece: int) -> None:
    done = shop("upkeep_write", piece, json=once(care="stone", done_on="2026-11-20"))
    shop("upkeep_strike", done["log"][0]["id"], json={"reason": "another knife"})
    plans = shop("upkeep_begin_plan", piece, json=once(label="cook A", begun_on="2026-11-20"))
    shop("upkeep_end_plan", plans[0]["id"], json={"ended": True})
    work = shop("upkeep_order", piece, json=once())
    repair = work["orders"][0]["repairs"][0]["id"]
    shop("upkeep_happened", repair, json=once(kind="done", minutes=5))
    shop("upkeep_keep_photo", repair, uuid.uuid4(), content=picture())
    wanted = {"angle_per_side_deg": 14}
    shop("upkeep_order_reprofile", 1, json=once(wanted=wanted, owner_accepts=True))
    now = shop.program.get("/api/upkeep/workshop").json()
    body = {key: now[key] for key in ("spacers", "stones", "hourly_rate", "limits")}
    shop("upkeep_change_workshop", json={**body, "hourly_rate": 41.0})


def in_the_office(shop: Shop) -> None:
    settings = shop.program.get("/api/shop/settings").json()
    chosen = ("has_logo", "languages", "currencies", "time_zones", "etag")
    settings = {key: value for key, value in settings.items() if key not in chosen}
    shop("shop_change_settings", json={**settings, "paper": "Letter"})
    shop("shop_change_logo", content=picture())
    shop("shop_drop_logo")
    scale = {"name": "scale 9", "kind": "scale", "resolution": 0.1, "mpe": 0.3}
    number = shop("instruments_enter", json=scale)["id"]
    shop("instruments_mend", number, json={**scale, "serial": "7"})
    foods = shop.program.get("/api/foods").json()["foods"]
    food = {k: v for k, v in foods[0].items() if k in FOOD}
    shop("foods_add_food", json={**food, "label": "quince"})
    shop("foods_change_food", "quince", json={**food, "label": "quince", "height_mm": 61.0})
    shop("foods_drop_food", "quince")
    shop("foods_change_food", foods[0]["key"], json={**food, "height_mm": food["height_mm"] + 1})
    shop("foods_restore_foods")
    grade = {"designation": "X99Test", "composition": {"C": 0.99}, "usual_hrc": [58, 62]}
    shop("steels_add_grade", json=grade)
    shop(
        "office_set_coefficients",
        json={"changes": {"notice_length_mm": 9.0}, "note": "we see less"},
    )
    study = {
        **once(quantity="spine_heel", people=["Ada", "Ben"], pieces=["one", "two"]),
        "instrument_id": next(
            row["instrument_id"]
            for row in shop.program.get("/api/repeatability").json()["rows"]
            if row["quantity"] == "spine_heel"
        ),
        "readings": [[["2.20", "2.30"], ["1.90", "2.00"]], [["2.40", "2.50"], ["2.10", "2.20"]]],
    }
    shop("office_study", json=study)
    adopt = {k: study[k] for k in ("quantity", "instrument_id")}
    shop("office_adopt", json=once(**adopt, own=True))
    task = shop("tasks_ask", json={"kind": "photos"})
    shop("tasks_stop", task["id"])


FOOD = (
    *("label", "toughness_j_m2", "blunting_um", "modulus_mpa", "crush_mpa", "crush_mm"),
    *("stiffness_n_mm3", "friction", "adhesion_kpa", "height_mm", "width_mm", "slice_stiffness"),
)


def across_the_border(shop: Shop, piece: int) -> None:
    shop("exchange_publish", piece, json={"on": True, "shown": ["drawing"]})
    content = "tag,maker,line,type,size,weight g\nAUD-2,Kesterby,Harbour,gyuto,210,186\n"
    found = shop("exchange_open_file", params={"name": "l.csv"}, content=content)
    tables = [
        {
            "kind": t["kind"],
            "origin": "ours",
            "columns": [{"field": c["field"], "unit": c["unit"]} for c in t["columns"]],
        }
        for t in found["tables"]
    ]
    asked = {"source": "s", "measured_on": "2026-11-20", "tables": tables, "for_good": True}
    shop("exchange_run", found["id"], json=asked)
    other = shop("exchange_open_file", params={"name": "m.csv"}, content=content)
    shop("exchange_stop", other["id"])
    for kind, rows in BULK.items():
        shop(f"v1_{kind}_bulk", json={"rows": rows, "measured_on": "2026-11-20"})


MODEL = {"maker": "Kesterby", "line": "Audit", "knife_type": "gyuto", "nominal_mm": 210}
BULK: dict[str, list[dict[str, object]]] = {
    "models": [{**MODEL, "grind": "full_flat"}],
    "pieces": [{**MODEL, "tag": "AUD-3"}],
    "claims": [{**MODEL, "quantity": "weight", "printed": "190 g"}],
    "readings": [{"tag": "AUD-3", "quantity": "weight", "typed": "187 g"}],
    "profiles": [
        {"tag": "AUD-3", "key": "one", "x_mm": x, "y_mm": y}
        for x, y in ((0, 0), (100, 0), (200, 12))
    ],
    "trials": [{"tag": "AUD-3", "trial_kind": "card", "x": 1, "value": 50.0}],
}


def mended(shop: Shop) -> None:
    made = [
        shop("bench_enter_piece", json={"tag": tag, "model": {**NEW, "line": line}})
        for tag, line in (("M-1", "Twice"), ("M-2", "Once"))
    ]
    one, other = (sheet["piece"]["id"] for sheet in made)
    models = shop.program.get("/api/mending").json()["models"]
    first, second = (
        next(m for m in models if f" {line} " in m["name"]) for line in ("Twice", "Once")
    )
    done = shop("mending_change_piece", one, json={"note": "a chip at the tip"})
    shop("mending_undo", done["amendment_id"])
    shop("mending_change_model", first["id"], json={"finish": "brushed"})
    shop("mending_merge_models", first["id"], json={"into": second["id"]})
    shop("mending_merge_pieces", one, json={"into": other})
    shop("mending_set_aside", made[1]["id"], json={"reason": "another knife"})
    shop("mending_change_maker", second["maker_id"], json={"name": "Mended Smithy"})
    into = next(m["maker_id"] for m in models if m["maker_id"] != second["maker_id"])
    shop("mending_merge_makers", second["maker_id"], json={"into": into})


NEW = {"maker": "Audit Smithy", "knife_type": "gyuto", "nominal": "210"}


def who_works_here(shop: Shop) -> None:
    owner = "Otta in the office"
    shop.sign_in(owner, DEMO_PASSWORD)
    made = shop("people_make_key", json={"label": "scales"})
    shop("people_end_sign_in", next(s["id"] for s in made["sign_ins"] if s["label"] == "scales"))
    invited = shop("people_invite", json={"name": "Nell", "role": "bench"})["person"]["id"]
    shop("people_change_person", invited, json={"name": "Nell", "role": "counter"})
    shop("people_invite_again", invited)
    shop("people_send_away", invited)
    shop("people_change_password", json={"old": DEMO_PASSWORD, "new": SECRET})
    shop("people_confirm", json={"password": SECRET})
    totp = pyotp.TOTP(shop("people_begin_two_step")["secret"])
    codes = shop("people_confirm_two_step", json={"code": totp.now()})["codes"]
    shop("people_ask_two_steps", json={"asked": True})
    shop("people_ask_two_steps", json={"asked": False})
    shop("people_new_recovery_codes")
    shop("people_end_two_step")
    assert codes
    shop("people_sign_out_everywhere")
    shop.sign_in(owner, SECRET)
    shop("people_sign_out")
    with sessions(shop.engine)() as db:
        token = people.invite(
            db, db.scalars(select(Person.id).where(Person.name == "Wil at the bench")).one()
        )
        db.commit()
    shop("people_join", json={"token": token, "password": SECRET})


def test_each_operation_that_writes_is_told(shop: Shop) -> None:
    piece = at_the_bench(shop)
    in_trials(shop, piece)
    at_the_counter(shop, piece)
    at_the_desk(shop, piece)
    in_upkeep(shop, piece)
    in_the_office(shop)
    across_the_border(shop, piece)
    mended(shop)
    who_works_here(shop)
    writing = {action for action, (method, _) in ROUTES.items() if method != "get"} & set(POLICY)
    assert writing - NOTHING_IS_WRITTEN - ON_A_LINE - shop.done == set()
    assert set(shop.untold) <= NOTHING_IS_WRITTEN
