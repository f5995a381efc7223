"""Who may do what: every action of the API in one place; what is not here is denied.

An action is the name of a route's operation, as in the API's description. A test holds the table
against the routes both ways.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from fastapi.routing import APIRoute

from maple_rook.core.labelled import Labelled


class Role(StrEnum):
    """What a person is in the shop; of ``elsewhere`` are names that came with files."""

    OWNER = "owner"
    BENCH = "bench"
    COUNTER = "counter"
    READER = "reader"
    ELSEWHERE = "elsewhere"


class May(Labelled):
    """What can be allowed."""

    COME = "come"
    """Anybody may, without signing in."""
    SELF = "self"
    """One's own password, keys and sign-ins; only in a browser, never with a key."""
    LOOK = "look"
    """Read the record, compute with it, take single cards and drawings."""
    ADVISE = "advise"
    """Keep customers' profiles, comparisons and predictions; plan and log upkeep."""
    MEASURE = "measure"
    """Write measurements, trials, work; foods, instruments, grades of the bench."""
    PAGE = "page"
    """The rows of the record as they were written, page by page."""
    TAKE_OUT = "take_out"
    """The whole record as a file."""
    BRING_IN = "bring_in"
    """Many rows at once, from files or programs."""
    SET = "set"
    """What counts for everybody: coefficients, workshop, what is shown in public."""
    GOVERN = "govern"
    """People, and who changed what."""


_ANYBODY = {May.COME, May.SELF, May.LOOK}


@dataclass(frozen=True)
class RoleFacts:
    """What a role allows, the same in words, and whether somebody can be given it."""

    permitted: frozenset[May]
    in_words: str
    given: bool = True


ROLES: dict[Role, RoleFacts] = {
    Role.OWNER: RoleFacts(frozenset(May), "everything: people, coefficients, the whole record"),
    Role.BENCH: RoleFacts(
        frozenset(_ANYBODY | {May.ADVISE, May.MEASURE, May.PAGE, May.TAKE_OUT, May.BRING_IN}),
        "measures, corrects, imports and exports",
    ),
    Role.COUNTER: RoleFacts(
        frozenset(_ANYBODY | {May.ADVISE}), "advises: customers, comparisons, plans of upkeep"
    ),
    Role.READER: RoleFacts(frozenset(_ANYBODY), "looks at everything and changes nothing"),
    Role.ELSEWHERE: RoleFacts(
        frozenset({May.COME}), "a name from a file; signs in nowhere", given=False
    ),
}

_ACTIONS = {
    May.COME: "people_session people_sign_in people_invitation people_join health_alive "
    "health_ready",
    May.SELF: "people_sign_out people_sign_out_everywhere people_change_password people_sign_ins "
    "people_end_sign_in people_make_key people_confirm people_two_step people_begin_two_step "
    "people_confirm_two_step people_new_recovery_codes people_end_two_step",
    May.LOOK: "catalogue_catalogue health_metrics "
    "bench_figure_by_method "
    "rack_rack rack_table rack_claims rack_strip bench_start bench_label bench_sheet "
    "bench_preview_edge bench_photo bench_repeat bench_model_statistics photo_cards "
    "photo_card_as_pdf photo_card_as_svg photo_photos photo_image photo_again trials_trials "
    "trials_read trials_calibration trials_trial cut_trials_sessions cut_trials_read "
    "cut_trials_calibration cut_trials_session cut_trials_as_csv trials_stored_predictions "
    "trials_make_again sheet_knife_sheet sheet_cut sheet_ease sheet_try_figures sheet_script "
    "sheet_drawing board_board board_saved_comparisons board_saved_comparison board_seen "
    "board_drawing board_picture board_table_csv board_table_xlsx board_force_picture "
    "sheet_picture predict_predict instruments_listed instruments_events foods_foods steels_steels "
    "steels_estimate_carbides steels_convert_hardness counter_asked counter_advice counter_card "
    "counter_pair counter_wishes "
    "upkeep_setup upkeep_reprofile upkeep_life_of upkeep_plans upkeep_calendar upkeep_delivery "
    "upkeep_work_of upkeep_care upkeep_workshop office_listed office_repeatabilities "
    "office_study_preview tasks_listed exchange_spec_card "
    "exchange_labels exchange_rack_labels exchange_label_stocks exchange_json_ld "
    "exchange_outline_dxf exchange_published "
    "shop_settings shop_logo mending_mendable mending_piece mending_model mending_amendments "
    "pages_pages pages_page pages_preview pages_as_file pages_scales pages_photographs "
    "pages_photograph pages_feed "
    "v1_pieces v1_piece v1_predictions v1_compared v1_changes v1_shop_schema_json",
    May.PAGE: "v1_models_page v1_claims_page v1_pieces_page v1_readings_page v1_profiles_page "
    "v1_trials_page",
    May.ADVISE: "board_save_comparison board_put_comparison_away counter_keep_customer "
    "counter_forget_customer counter_keep_wish counter_forget_wish sheet_move_stock "
    "trials_store_prediction upkeep_write upkeep_strike upkeep_begin_plan "
    "upkeep_end_plan pages_begin pages_change pages_discard pages_keep_photograph "
    "pages_order_photographs pages_change_photograph pages_drop_photograph",
    May.MEASURE: "bench_photographed_label bench_enter_piece bench_begin_sheet "
    "bench_take_reading bench_void_reading bench_restore_reading bench_observe bench_trace_edge "
    "bench_take_by_method "
    "bench_keep_photo bench_add_claim bench_sign_off photo_keep photo_by_stand_in photo_measure "
    "photo_throw_away photo_accept trials_begin trials_add_points "
    "trials_take_cycle trials_describe trials_set_aside cut_trials_begin cut_trials_add_cuts "
    "cut_trials_take_peak cut_trials_set_aside instruments_enter instruments_mend "
    "instruments_take foods_add_food foods_change_food foods_drop_food foods_restore_foods "
    "mending_undo mending_change_piece mending_merge_pieces mending_change_model "
    "mending_merge_models mending_change_maker mending_merge_makers mending_set_aside "
    "steels_add_grade upkeep_order_reprofile upkeep_order upkeep_happened upkeep_keep_photo",
    May.TAKE_OUT: "v1_shop_json v1_shop_xlsx v1_models_csv v1_claims_csv "
    "v1_pieces_csv v1_readings_csv v1_profiles_csv v1_trials_csv",
    May.BRING_IN: "exchange_imports exchange_open_file exchange_one exchange_stop exchange_run "
    "exchange_rows exchange_report tasks_ask tasks_stop v1_pieces_bulk v1_models_bulk "
    "v1_claims_bulk v1_readings_bulk v1_profiles_bulk v1_trials_bulk",
    May.SET: "office_set_coefficients office_adopt office_study upkeep_change_workshop "
    "exchange_publish shop_change_settings shop_change_logo shop_drop_logo "
    "pages_publish pages_withdraw pages_add_scale pages_change_scale pages_open_feed "
    "pages_close_feed",
    May.GOVERN: "people_people people_invite people_change_person people_invite_again "
    "people_send_away people_ask_two_steps people_audit people_audit_table "
    "v1_archive_zip",
}
POLICY: dict[str, May] = {
    action: may for may, actions in _ACTIONS.items() for action in actions.split()
}

_GRAVE = (
    "people_sign_out_everywhere people_make_key people_begin_two_step people_new_recovery_codes "
    "people_end_two_step people_invite people_change_person people_invite_again people_send_away "
    "people_ask_two_steps"
)
GRAVE = frozenset(_GRAVE.split())
"""What gives others a way in or takes one away: in a browser in which the password was given
lately, whoever may.
"""

_CATALOGUE = (
    "rack_rack rack_table rack_claims exchange_rack_labels counter_advice v1_pieces "
    "v1_piece v1_models_page v1_claims_page v1_pieces_page v1_readings_page v1_profiles_page "
    "v1_trials_page v1_shop_json v1_shop_xlsx v1_models_csv v1_claims_csv v1_pieces_csv "
    "v1_readings_csv v1_profiles_csv v1_trials_csv public_as_json public_card_png public_page "
    "published_products_csv published_products_json published_feed published_as_json "
    "published_card_png published_how published_how_by_code "
    "published_drawing_svg published_drawing_png published_embed published_page"
)
CATALOGUE = frozenset(_CATALOGUE.split())
"""What only reads much, and may be a moment behind: a replica does where there is one."""


def action_of(route: APIRoute) -> str:
    """The name of a route's operation."""
    return f"{route.tags[0]}_{route.name}"


def permitted(role: str, narrowed_to: str | None = None) -> frozenset[May]:
    """What a role allows; a key narrowed to another allows what both do."""
    allowed = ROLES[Role(role)].permitted
    return allowed & ROLES[Role(narrowed_to)].permitted if narrowed_to else allowed


@dataclass(frozen=True)
class Somebody:
    """A person, and how they came in; made without that for what is written by no request.

    ``confirmed_until`` is the moment of the monotonic clock until which the password counts as
    given lately. An owner who ``owes_second_step`` may do nothing but add it.
    """

    id: int
    name: str
    role: str = "elsewhere"
    may: frozenset[May] = frozenset()
    sign_in_id: int = 0
    kind: str = ""
    page_token: str = ""
    confirmed_until: float = 0.0
    owes_second_step: bool = False
