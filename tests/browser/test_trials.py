"""Trials, calibration and coefficients as a person works with them, in a real browser."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.trials import cuts_of_cycles
from maple_rook.store.tables import Piece


@pytest.fixture
def ids(shop: Session) -> dict[str, int]:
    return {piece.tag: piece.id for piece in shop.scalars(select(Piece))}


def interval(page: Page, piece: int, name: str) -> tuple[float, float]:
    """The 90 % interval a sheet shows for a prediction."""
    page.goto(f"/sheet/{piece}")
    row = page.get_by_role("button", name=re.compile(f"^Why: {re.escape(name)}"))
    expect(row).to_be_visible()
    low, high = re.search(r"([\d.]+) to ([\d.]+)", row.inner_text()).groups()  # type: ignore[union-attr]
    return float(low), float(high)


CARD = "Edge retention on the card test (TCC)"


def state_protocol(page: Page, angle: str) -> None:
    page.get_by_label("Edge prepared how").fill("whetstones, deburred on a strop")
    page.get_by_label("Angle, ° per side").fill(angle)
    page.get_by_label("Grit").fill("1000")


def test_a_file_with_two_bad_rows_is_imported_and_the_prediction_narrows(
    page: Page, ids: dict[str, int], tmp_path: Path
) -> None:
    paring = ids["TH-08"]
    low, high = interval(page, paring, CARD)
    likely = (low * high) ** 0.5
    cuts = [f"{i};{cut:.2f}" for i, cut in enumerate(cuts_of_cycles(0.2 * likely, likely), 1)]
    rows = [*cuts[:30], "pause;card changed", *cuts[30:], "60;0,4"]
    file = tmp_path / "paring.csv"
    file.write_text("cycle;cut_mm\n" + "\n".join(rows).replace(".", ","))

    page.get_by_role("link", name="Start a trial of this knife").click()
    expect(page.get_by_role("combobox", name="Knife")).to_have_value(re.compile("TH-08"))
    state_protocol(page, "15")
    page.get_by_label("from a file").check()
    page.locator("input[type=file]").set_input_files(file)
    told = page.get_by_role("form", name="A new trial").get_by_role("status")
    expect(told).to_contain_text("60 rows can be stored, 2 cannot")
    expect(told.get_by_role("listitem").nth(0)).to_contain_text("line 32 pause;card changed")
    expect(told.get_by_role("listitem").nth(1)).to_contain_text("cycle 60 again")
    page.get_by_role("button", name="Start with 60 points").click()

    trial = page.get_by_role("region", name="The trial")
    expect(trial.get_by_role("heading", name="TH-08, card test")).to_be_visible()
    expect(trial.get_by_role("row", name=re.compile("TCC"))).to_contain_text("inside")
    expect(trial).not_to_contain_text("Left out")
    narrow_low, narrow_high = interval(page, paring, CARD)
    assert narrow_high / narrow_low < high / low

    page.goto("/trials")
    page.get_by_role("button", name="TH-08", exact=True).click()
    trial.get_by_label("Set aside because").fill("the card was damp")
    trial.get_by_role("button", name="Set aside").click()
    expect(trial).to_contain_text("Left out of calibration: the card was damp")
    assert interval(page, paring, CARD) == (low, high)


def test_published_and_calibrated_are_switched_everywhere_and_kept(
    page: Page, ids: dict[str, int]
) -> None:
    knife = ids["KH-01"]
    calibrated = interval(page, knife, CARD)
    switch = page.get_by_role("group", name="Predictions computed")
    expect(switch.get_by_label("calibrated")).to_be_checked()
    row = page.get_by_role("button", name=re.compile(f"^Why: {re.escape(CARD)}"))
    expect(row).to_contain_text("From this knife's own card test")
    switch.get_by_label("published").check()
    expect(row).not_to_contain_text("own card test")
    published = interval(page, knife, CARD)
    assert published[1] / published[0] > calibrated[1] / calibrated[0]

    row.click()
    why = page.get_by_role("dialog", name="Why this number")
    expect(why).to_contain_text("Computed as published")
    expect(why).to_contain_text(re.compile(r"Try next: a card test .* narrows by about \d+ %"))
    why.get_by_role("link", name="predicted against observed").click()
    expect(page.get_by_role("heading", name=re.compile("predicted, published$"))).to_be_visible()
    expect(page.get_by_role("img", name="Observed against predicted, published")).to_be_visible()
    switch.get_by_label("calibrated").check()
    expect(page.get_by_role("img", name="Observed against predicted, calibrated")).to_be_visible()
    before_and_after = page.get_by_role("region", name="Before and after")
    expect(before_and_after).to_contain_text("What to try next")
    assert interval(page, knife, CARD) == calibrated


def test_a_knife_that_is_not_hardened_is_promised_nothing(page: Page, ids: dict[str, int]) -> None:
    page.goto(f"/sheet/{ids['TT-16']}")
    expect(page.get_by_text("Not hardened.")).to_be_visible()
    for name in ("Months to the stone", "Days to the rod"):
        row = page.get_by_role("button", name=re.compile(f"^Why: {name}"))
        expect(row).to_contain_text("it will not hold an edge; no interval is promised")
    trials = page.get_by_role("region", name="Edge trials")
    expect(trials).to_contain_text("38 of 60 cycles")
    trials.get_by_role("link", name="card test").click()
    trial = page.get_by_role("region", name="The trial")
    expect(trial).to_contain_text("Left out of calibration: 38 of 60 cycles")
    page.get_by_role("link", name="Calibration").click()
    expect(page.get_by_role("row", name=re.compile("DG-20"))).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("TT-16"))).to_have_count(0)
    expect(page.get_by_role("region", name="Before and after")).to_contain_text("TT-16")


def test_a_tester_is_run_stopped_and_taken_up_again(page: Page, ids: dict[str, int]) -> None:
    page.goto(f"/trials?new=1&piece={ids['QP-18']}")
    state_protocol(page, "15.5")
    page.get_by_label("run on a tester").check()
    page.get_by_role("button", name="Start the trial").click()
    trial = page.get_by_role("region", name="The trial")
    run = trial.get_by_role("button", name="Run the cycles")
    run.click()
    expect(trial.get_by_text(re.compile(r"^\d+ points$"))).to_be_visible()
    trial.get_by_role("button", name="Stop after this cycle").click()
    expect(run).to_be_visible()
    expect(trial).to_contain_text(re.compile(r"Left out of calibration: \d+ of 60 cycles"))
    run.click()
    expect(trial.get_by_text("60 points")).to_be_visible(timeout=60_000)
    expect(trial.get_by_role("row", name=re.compile("TCC"))).to_be_visible()
    expect(run).to_be_disabled()
    trial.get_by_label("Set aside because").fill("of a test")
    trial.get_by_role("button", name="Set aside").click()
    expect(trial).to_contain_text("of a test")


def test_a_log_of_a_kitchen_is_written_day_by_day(page: Page, ids: dict[str, int]) -> None:
    page.goto(f"/trials?new=1&piece={ids['PM-27']}")
    page.locator(".v-select", has_text="Kind").click()
    page.get_by_role("option", name="kitchen log").click()
    page.get_by_role("button", name="Start the trial").click()
    trial = page.get_by_role("region", name="The trial")
    expect(trial).to_contain_text("neither rod nor stone yet")
    for day, event in (("0", "start"), ("9", "rod"), ("20", "rod")):
        trial.get_by_role("textbox", name="day").fill(day)
        trial.get_by_role("button", name=event, exact=True).click()
        expect(trial.get_by_role("textbox", name="day")).to_have_value("")
    expect(trial.get_by_role("row", name=re.compile("days to the rod"))).to_contain_text("2 seen")
    page.reload()
    expect(trial.get_by_role("row", name=re.compile("days to the rod"))).to_contain_text("2 seen")


def test_a_coefficient_is_changed_with_a_reason_and_restored(
    page: Page, ids: dict[str, int]
) -> None:
    knife = ids["KH-01"]
    page.goto("/trials/calibration")
    page.get_by_label("published").check()
    low, _ = interval(page, knife, "Days to the rod")
    page.keyboard.press("9")
    field = page.get_by_label("days at 59 HRC and 15° per side")
    field.fill("0")
    expect(page.get_by_text("⚠ 0.1 to 200")).to_be_visible()
    field.fill("24")
    page.get_by_label("Why").fill("our cooks are gentle")
    page.get_by_role("button", name="Set 1 changed").click()
    version = page.get_by_role("row", name=re.compile("our cooks are gentle"))
    expect(version).to_contain_text("days at 59 HRC and 15° per side 24")
    assert interval(page, knife, "Days to the rod")[0] > 2 * low
    page.goto("/office")
    page.get_by_role("button", name="Fill in published values").click()
    page.get_by_label("Why").fill("back again")
    page.get_by_role("button", name="Set 1 changed").click()
    expect(page.get_by_role("row", name=re.compile("back again"))).to_contain_text("nothing")
    assert interval(page, knife, "Days to the rod")[0] == low


def test_a_kept_prediction_comes_out_the_same(page: Page, ids: dict[str, int]) -> None:
    page.goto(f"/sheet/{ids['BF-16']}")
    kept = page.get_by_role("region", name="Stored predictions")
    kept.get_by_role("heading").click()
    kept.get_by_label("Store what is predicted now, for").fill("the shelf card")
    kept.get_by_role("button", name="Store these predictions").click()
    row = kept.get_by_role("row", name=re.compile("the shelf card"))
    row.get_by_role("button", name="recalculate").click()
    expect(row).to_contain_text("Reproduced exactly")


def test_a_series_is_typed_described_and_drawn_beside_others(
    page: Page, ids: dict[str, int]
) -> None:
    page.goto(f"/trials?new=1&piece={ids['OK-21']}")
    page.locator(".v-select", has_text="Kind").click()
    page.get_by_role("option", name="line-cut series").click()
    page.get_by_role("button", name="Start the trial").click()
    trial = page.get_by_role("region", name="The trial")
    expect(trial).to_contain_text("not stated: how the edge was prepared, the angle, the grit")
    for cuts, force in (
        ("0", "170"),
        ("20", "0.46 x"),
        ("20", "210"),
        ("40", "265"),
        ("60", "330"),
    ):
        trial.get_by_role("textbox", name="cuts before").fill(cuts)
        trial.get_by_role("textbox", name="force on the line, gf").fill(force)
        keep = trial.get_by_role("button", name="Store", exact=True)
        if not force.isdigit():
            expect(keep).to_be_disabled()
            continue
        keep.click()
        expect(trial.get_by_role("textbox", name="force on the line, gf")).to_have_value("")
    half = trial.get_by_role("row", name=re.compile("exponential")).get_by_role("cell").nth(2)
    assert 55 < float(half.inner_text().split()[0]) < 70
    trial.get_by_role("button", name="change").click()
    trial.get_by_label("Edge prepared how").fill("whetstones")
    trial.get_by_label("Angle, ° per side").fill("15,5")
    trial.get_by_label("Grit").fill("1000")
    trial.get_by_label("What is cut").fill("sisal")
    trial.get_by_role("button", name="Save the protocol").click()
    expect(trial).to_contain_text("angle 15.5° per side")
    expect(trial).not_to_contain_text("Left out")
    trial.get_by_text("4 points").click()
    trial.get_by_role("button", name="Strike cuts before 60").click()
    expect(trial.get_by_text("3 points")).to_be_visible()
    expect(trial).to_contain_text("3 forces: 4 or more show a decline")
    chart = page.get_by_role("img", name="Decline of the edge")
    expect(chart).to_contain_text("PK-21")
    page.get_by_role("button", name=re.compile("^Draw PK-21")).click()
    expect(chart).not_to_contain_text("PK-21")


def test_the_boards_course_follows_published_or_calibrated(page: Page) -> None:
    page.goto("/board?hand=1.7")
    saw = page.get_by_role("img", name="Sharpness over 180 days")
    calibrated = saw.locator("path").first.get_attribute("d")
    page.get_by_role("group", name="Predictions computed").get_by_label("published").check()
    expect(saw.locator("path").first).not_to_have_attribute("d", calibrated or "")


def test_a_cut_trial_is_imported_and_its_food_replaces_the_assumed_one(
    page: Page, ids: dict[str, int], tmp_path: Path
) -> None:
    file = tmp_path / "cuts.csv"
    cuts = [(tag, d, 17 + 0.5 * d) for tag in ("KH-01", "PM-21", "BF-16") for d in range(3, 36, 4)]
    lines = [f"{tag};onion;bag of the tenth;{d};{force}" for tag, d, force in cuts]
    lines += ["ZZ-99;onion;;3;9", "KH-01;onion;;3;soft"]
    file.write_text("\n".join(["knife;food;lot;depth mm;force N", *lines]))

    page.goto("/trials")
    page.get_by_role("link", name="Cut trials").click()
    page.get_by_role("button", name="New cut trial").click()
    page.locator("input[type=file]").set_input_files(file)
    told = page.get_by_role("form", name="A new cut trial").get_by_role("status")
    expect(told).to_contain_text("3 of 4 cuts can be stored, 1 line cannot be read")
    expect(told).to_contain_text("no piece has the tag ZZ-99")
    page.get_by_role("button", name="Store 3 cuts").click()

    session = page.get_by_role("region", name=re.compile("^Session of"))
    expect(session.get_by_role("img", name="Force against depth, half onion")).to_be_visible()
    expect(session.get_by_role("row")).to_have_count(4)
    page.get_by_role("link", name="Foods, before and after").click()
    foods = page.get_by_role("region", name="Foods before and after")
    expect(foods).to_contain_text("half onion 3 knives, 3 cuts")
    page.goto(f"/sheet/{ids['PM-21']}")
    row = page.get_by_role("button", name=re.compile("^Why: half onion, straight push"))
    expect(row).to_be_visible()
    row.click()
    why = page.get_by_role("dialog", name="Why this number")
    expect(why).to_contain_text("Foods from cut trials of this shop (3 knives).")

    page.goto("/trials/cuts")
    for button in ("KH-01", "PM-21", "BF-16"):
        page.get_by_role("button", name=f"Set aside {button} in half onion").click()
        again = page.get_by_role("button", name=f"Count again {button} in half onion")
        expect(again).to_be_visible()
    expect(session.get_by_text("does not count: set aside")).to_have_count(3)
