"""What stands on the demo shelf. Every maker, knife and figure is invented."""

from __future__ import annotations

from dataclasses import dataclass, field

from maple_rook.core.measurement.grinds import Grind


@dataclass(frozen=True)
class DemoPiece:
    """A piece with the true figures its readings scatter around.

    Lengths mm, weight g, angle per side, asymmetry per cent on the right-hand face, HRC.
    """

    tag: str
    figures: dict[str, float]
    condition: str = "new"
    note: str = ""
    earlier: dict[str, float] | None = None
    slips: dict[str, str] = field(default_factory=dict)
    reserved_for: str = ""


@dataclass(frozen=True)
class DemoModel:
    maker: str
    line: str
    knife_type: str
    nominal_mm: float
    grind: Grind
    steel: str
    price: float
    construction: str
    finish: str
    handle: str
    claims: dict[str, str]
    pieces: tuple[DemoPiece, ...]
    even_machine_edge: bool = False


_KEYS = (
    "edge_length",
    "overall_length",
    "handle_length",
    "weight",
    "spine_heel",
    "spine_mid",
    "spine_tip",
    "height_heel",
    "height_mid",
    "thickness_behind_edge",
    "edge_angle",
    "asymmetry",
    "hardness",
    "balance_point",
)


def _f(*values: float | None) -> dict[str, float]:
    """Figures in the order of :data:`_KEYS`; None where not measured."""
    return {k: v for k, v in zip(_KEYS, values, strict=True) if v is not None}


_WOOD, _RESIN, _ACETAL = "octagonal, smoked ash", "riveted, resin laminate", "riveted, acetal"

STOCK: tuple[DemoModel, ...] = (
    DemoModel(
        "Kesterby",
        "Harbour",
        "gyuto",
        210,
        Grind.FULL_FLAT,
        "1.4112",
        148,
        "one steel, stainless",
        "brushed",
        _RESIN,
        {"hardness": "60±1", "edge_angle": "15 dps", "edge_length": "210 mm", "weight": "185 g"},
        (
            DemoPiece(
                "KH-01",
                _f(209, 342, 126, 186, 2.12, 1.84, 0.72, 46.2, 41.6, 0.27, 14.6, 50, 60.2, 6),
            ),
            DemoPiece(
                "KH-02",
                _f(210.5, 343, 126, 191, 2.21, 1.90, 0.78, 46.8, 42.0, 0.31, 15.1, 50, 60.4, 7),
            ),
        ),
        even_machine_edge=True,
    ),
    DemoModel(
        "Kesterby",
        "Harbour",
        "petty",
        150,
        Grind.FULL_FLAT,
        "1.4112",
        92,
        "one steel, stainless",
        "brushed",
        _RESIN,
        {"hardness": "60±1", "edge_angle": "15 dps"},
        (
            DemoPiece(
                "KH-15",
                _f(149, 262, 108, 78, 1.72, 1.42, 0.64, 28.4, 24.2, 0.21, 14.2, 50, 60.0, -4),
            ),
        ),
        even_machine_edge=True,
    ),
    DemoModel(
        "Hollinreach",
        "Slate",
        "gyuto",
        240,
        Grind.FULL_FLAT,
        "C105U",
        236,
        "reactive core in iron cladding, three layers",
        "forge-black above, etched below",
        _WOOD,
        {"hardness": "62-64 HRC", "edge_length": '9-1/2"', "weight": "6.9 oz"},
        (
            DemoPiece(
                "HS-24",
                _f(240.5, 392, 145, 196, 3.10, 2.10, 0.58, 49.6, 44.8, 0.17, 11.2, 60, 62.6, 34),
            ),
            DemoPiece(
                "HS-25",
                _f(238, 389, 145, 188, 2.86, 1.96, 0.52, 48.4, 43.6, 0.15, 11.6, 60, 62.2, 31),
            ),
        ),
    ),
    DemoModel(
        "Hollinreach",
        "Slate",
        "santoku",
        170,
        Grind.FULL_FLAT,
        "C105U",
        188,
        "reactive core in iron cladding, three layers",
        "pear-skin",
        _WOOD,
        {"hardness": "62-64 HRC"},
        (
            DemoPiece(
                "HS-17",
                _f(169, 312, 138, 148, 2.44, 1.98, 0.80, 46.4, 44.9, 0.19, 12.0, 60, 62.9, 18),
            ),
        ),
    ),
    DemoModel(
        "Dunmarrow",
        "Galley",
        "western_chef",
        200,
        Grind.SABRE,
        "1.4116",
        84,
        "one steel, forged, full bolster",
        "brushed",
        _ACETAL,
        {"hardness": "58-60 HRC", "edge_angle": "15 dps", "weight": "250 g"},
        (
            DemoPiece(
                "DG-20",
                _f(203, 335, 122, 254, 3.42, 2.62, 1.02, 45.6, 38.2, 0.46, 18.6, 50, 56.1, -12),
                note="Bolster flush with the edge. Printed hardness is not what we read.",
            ),
        ),
    ),
    DemoModel(
        "Dunmarrow",
        "Line",
        "western_chef",
        250,
        Grind.FULL_FLAT,
        "1.4034",
        46,
        "one steel, stamped",
        "polished",
        _ACETAL,
        {"hardness": "55±1", "edge_angle": "30° incl"},
        (
            DemoPiece(
                "DL-25",
                _f(254, 392, 130, 232, 2.46, 1.92, 0.94, 52.4, 44.0, 0.39, 16.4, 50, 54.8, 2),
                condition="used",
                note="Taken back from the ferry's galley for sharpening twice.",
                earlier={
                    "height_heel": 53.6,
                    "height_mid": 45.1,
                    "thickness_behind_edge": 0.28,
                    "weight": 236,
                    "edge_angle": 15.2,
                },
            ),
        ),
        even_machine_edge=True,
    ),
    DemoModel(
        "Brackenmoor",
        "Furrow",
        "nakiri",
        165,
        Grind.FULL_FLAT,
        "90MnCrV8",
        129,
        "one steel, reactive",
        "hammered",
        _WOOD,
        {"hardness": "61±1", "edge_length": "165 mm"},
        (
            DemoPiece(
                "BF-16",
                _f(164, 305, 135, 168, 2.20, 2.04, 1.40, 52.6, 52.0, 0.22, 12.8, 50, 60.8, 24),
            ),
        ),
    ),
    DemoModel(
        "Brackenmoor",
        "Tideline",
        "single_bevel_slicer",
        270,
        Grind.SINGLE_BEVEL,
        "C105U",
        310,
        "reactive core, soft cladding on the face",
        "layered face, hollow back",
        _WOOD,
        {"hardness": "63±1", "asymmetry": "100/0"},
        (
            DemoPiece(
                "BT-27",
                _f(268, 418, 144, 204, 3.92, 3.24, 1.36, 33.2, 28.0, None, 11.0, 100, 63.0, 41),
            ),
        ),
    ),
    DemoModel(
        "Brackenmoor",
        "Tideline",
        "deba",
        165,
        Grind.SINGLE_BEVEL_ADDED,
        "C105U",
        274,
        "reactive core, soft cladding on the face",
        "layered face, hollow back",
        _WOOD,
        {"hardness": "62±1", "asymmetry": "100/0"},
        (
            DemoPiece(
                "BT-16",
                _f(164, 306, 138, 342, 7.10, 5.60, 1.90, 51.0, 44.0, None, 13.5, 85, 61.8, 28),
                note="An added bevel on the back that the box does not mention.",
            ),
        ),
    ),
    DemoModel(
        "Tarnwick",
        "Hedgerow",
        "paring",
        80,
        Grind.FULL_FLAT,
        "1.4116",
        24,
        "one steel, stamped",
        "polished",
        "riveted, beech",
        {"hardness": "56±2", "edge_angle": "15 dps"},
        (
            DemoPiece(
                "TH-08",
                _f(79, 184, 102, 52, 1.58, 1.30, 0.70, 20.2, 17.0, 0.20, 15.0, 50, 56.4, -20),
            ),
        ),
    ),
    DemoModel(
        "Tarnwick",
        "Tidewrack",
        "santoku",
        165,
        Grind.HOLLOW,
        "1.4021",
        19,
        "one steel, stamped",
        "printed layers",
        "moulded, soft grip",
        {"hardness": "58 HRC", "edge_angle": "12 dps"},
        (
            DemoPiece(
                "TT-16",
                _f(166, 298, 126, 132, 1.86, 1.70, 1.20, 44.2, 43.0, 0.34, 15.8, 50, 44.2, -3),
                note="Sliced paper out of the box all the same.",
            ),
        ),
    ),
    DemoModel(
        "Tarnwick",
        "Crumb",
        "serrated",
        250,
        Grind.FULL_FLAT,
        "1.4031",
        32,
        "one steel, stamped",
        "polished",
        "moulded",
        {"hardness": "54±2"},
        (
            DemoPiece(
                "TC-25",
                _f(251, 388, 132, 148, 1.90, 1.80, 1.30, 34.0, 31.0, None, None, None, 53.6, None),
            ),
        ),
    ),
    DemoModel(
        "Oxbow & Tern",
        "Kale",
        "vegetable_cleaver",
        210,
        Grind.CONVEX,
        "1.4116",
        88,
        "one steel, forged",
        "brushed",
        "round, oiled maple",
        {"hardness": "58±2", "weight": "380 g"},
        (
            DemoPiece(
                "OK-21",
                _f(212, 330, 110, 376, 2.92, 2.36, 1.50, 92.4, 91.6, 0.36, 15.6, 50, 57.8, 52),
            ),
        ),
    ),
    DemoModel(
        "Oxbow & Tern",
        "Marrow",
        "bone_chopper",
        210,
        Grind.CONVEX,
        "1.4031",
        76,
        "one steel, forged",
        "forge-black",
        "round, oiled maple",
        {"hardness": "55±2"},
        (
            DemoPiece(
                "OM-21",
                _f(208, 322, 108, 718, 6.20, 5.40, 4.10, 104.0, 107.0, 0.92, 23.5, 50, 54.4, 66),
                note="For small bones; height grows toward the front.",
            ),
        ),
    ),
    DemoModel(
        "Hollinreach",
        "Wren",
        "honesuke",
        150,
        Grind.ASYMMETRIC_DOUBLE,
        "100Cr6",
        156,
        "one steel, reactive",
        "satin",
        _RESIN,
        {"hardness": "60±1", "asymmetry": "70/30"},
        (
            DemoPiece(
                "HW-15",
                _f(149, 272, 118, 164, 3.24, 2.72, 1.12, 39.4, 28.0, 0.34, 14.8, 70, 60.6, 3),
            ),
        ),
    ),
    DemoModel(
        "Pellow Quay",
        "Kestrel",
        "gyuto",
        210,
        Grind.FULL_FLAT,
        "HS6-5-2",
        342,
        "high-speed core in stainless cladding, three layers",
        "polished",
        _WOOD,
        {"hardness": "65-67 HRC", "edge_angle": "12 dps", "weight": "170 g"},
        (
            DemoPiece(
                "PK-21",
                _f(211, 358, 142, 168, 2.16, 1.76, 0.50, 46.4, 41.4, 0.16, 12.2, 50, 65.7, 22),
            ),
            DemoPiece(
                "PK-22",
                _f(209.5, 356, 142, 164, 2.08, 1.70, 0.48, 46.0, 41.0, 0.14, 11.8, 50, 66.1, 21),
            ),
        ),
    ),
    DemoModel(
        "Pellow Quay",
        "Merlin",
        "gyuto",
        210,
        Grind.FULL_FLAT,
        "X153CrMoV12",
        198,
        "one steel, semi-stainless",
        "satin",
        _RESIN,
        {"hardness": "61±1", "edge_angle": "15 dps", "asymmetry": "50/50"},
        (
            DemoPiece(
                "PM-21",
                _f(212, 346, 128, 192, 2.24, 1.90, 0.66, 46.0, 41.0, 0.24, 15.2, 70, 60.9, 9),
                note="Sold as ground even; the right-hand bevel is plainly wider.",
            ),
        ),
    ),
    DemoModel(
        "Pellow Quay",
        "Merlin",
        "slicer",
        270,
        Grind.DEEP_CONCAVE,
        "1.4125",
        212,
        "one steel, stainless",
        "satin",
        _RESIN,
        {"hardness": "60±1", "edge_length": "270 mm"},
        (
            DemoPiece(
                "PM-27",
                _f(271, 404, 128, 178, 2.04, 1.72, 0.62, 37.6, 33.0, 0.18, 13.4, 50, 59.7, 19),
                note="A hollow in the edge 60 mm from the heel leaves threads on the board.",
            ),
        ),
    ),
    DemoModel(
        "Quillon Vale",
        "Plover",
        "gyuto",
        180,
        Grind.TWO_ANGLE,
        "1.4112",
        134,
        "one steel, stainless",
        "convex below, hollow above",
        _RESIN,
        {"hardness": "59±1", "edge_angle": "12 dps"},
        (
            DemoPiece(
                "QP-18",
                _f(181, 306, 120, 152, 2.06, 1.72, 0.70, 44.8, 40.4, 0.23, 15.6, 50, 58.9, 4),
                slips={"edge_angle": "30"},
                note="Angle typed as 30 per side; 30 inclusive was meant. Left for the "
                "counter to find.",
            ),
        ),
    ),
    DemoModel(
        "Quillon Vale",
        "Plover",
        "western_chef",
        230,
        Grind.HIGH_FLAT,
        "142WV13",
        168,
        "one steel, reactive",
        "satin, short flats below the spine",
        "riveted, walnut",
        {"hardness": "63±1"},
        (
            DemoPiece(
                "QP-23",
                _f(
                    229, None, None, 214, 2.96, None, None, 48.2, None, 0.29, None, None, 62.0, None
                ),
                slips={"hardness": "61-63"},
                note="Half measured: the tester was being calibrated, so a file judged the steel.",
            ),
        ),
    ),
    DemoModel(
        "Quillon Vale",
        "Dotterel",
        "petty",
        135,
        Grind.FULL_FLAT,
        "HS6-5-3",
        176,
        "one steel, powder route",
        "satin",
        _WOOD,
        {"hardness": "66±1", "weight": "64 g"},
        (
            DemoPiece(
                "QD-13",
                _f(134, 256, 118, 66, 1.66, 1.34, 0.52, 28.8, 24.6, 0.17, 12.0, 50, None, 8),
            ),
        ),
    ),
    DemoModel(
        "Quillon Vale",
        "Sandpiper",
        "santoku",
        170,
        Grind.CONVEX,
        "1.4116",
        58,
        "one steel, stamped",
        "brushed",
        _ACETAL,
        {"hardness": "57±1", "edge_angle": "15 dps", "weight": "150 g"},
        (
            DemoPiece(
                "QS-17",
                _f(171, 300, 122, 151, 2.06, 1.82, 1.10, 46.8, 45.2, 0.28, 15.2, 50, 57.2, 4),
            ),
        ),
        even_machine_edge=True,
    ),
    DemoModel(
        "Dunmarrow",
        "Ferry",
        "western_chef",
        230,
        Grind.FULL_FLAT,
        "1.4110",
        118,
        "one steel, forged",
        "brushed",
        _ACETAL,
        {"hardness": "58±1", "edge_angle": "17 dps", "edge_length": "230 mm"},
        (
            DemoPiece(
                "DF-23",
                _f(231, 364, 126, 238, 2.84, 2.22, 0.92, 48.4, 41.8, 0.33, 17.1, 50, 58.3, 4),
            ),
        ),
        even_machine_edge=True,
    ),
    DemoModel(
        "Oxbow & Tern",
        "Hock",
        "honesuke",
        145,
        Grind.ASYMMETRIC_DOUBLE,
        "1.4110",
        98,
        "one steel, stainless",
        "brushed",
        _ACETAL,
        {"hardness": "58±1", "asymmetry": "60/40"},
        (
            DemoPiece(
                "OH-14",
                _f(146, 268, 118, 158, 3.12, 2.64, 1.16, 38.2, 27.4, 0.36, 15.6, 60, 58.1, -2),
            ),
        ),
    ),
)

LATER: tuple[tuple[str, DemoPiece], ...] = (
    (
        "KH-15",
        DemoPiece(
            "KH-16", _f(150.5, 263, 108, 80, 1.76, 1.46, 0.66, 28.6, 24.4, 0.23, 14.8, 50, 59.7, -3)
        ),
    ),
    (
        "KH-01",
        DemoPiece(
            "KH-03",
            _f(209.5, 342, 126, 188, 2.15, 1.86, 0.74, 46.4, 41.8, 0.28, 14.4, 50, 60.0, 6),
            reserved_for="cookery school, left hand",
        ),
    ),
    (
        "HS-17",
        DemoPiece(
            "HS-18", _f(171, 314, 138, 155, 2.62, 2.10, 0.86, 47.1, 45.6, 0.23, 12.8, 60, 62.4, 20)
        ),
    ),
    (
        "BF-16",
        DemoPiece(
            "BF-17", _f(167, 306, 135, 174, 2.28, 2.12, 1.46, 53.0, 52.3, 0.25, 13.3, 50, 60.5, 26)
        ),
    ),
    (
        "PM-21",
        DemoPiece(
            "PM-22", _f(211, 345, 128, 189, 2.20, 1.86, 0.64, 45.8, 40.8, 0.23, 14.8, 70, 61.1, 8)
        ),
    ),
    (
        "OK-21",
        DemoPiece(
            "OK-22", _f(211, 329, 110, 371, 2.86, 2.30, 1.46, 92.0, 91.2, 0.34, 15.2, 50, 57.5, 51)
        ),
    ),
    (
        "DG-20",
        DemoPiece(
            "DG-21", _f(204, 336, 122, 257, 3.46, 2.66, 1.04, 45.8, 38.4, 0.44, 18.2, 50, 56.4, -11)
        ),
    ),
)
"""Pieces that came in after the others: a piece of the same model, and the new one."""
