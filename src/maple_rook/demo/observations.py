"""What the demo's bench hand saw of each knife, taken from its description. All invented."""

from __future__ import annotations

from maple_rook.demo.stock import DemoModel, DemoPiece

Sight = tuple[str, str, str, str]
"""Item, side or stroke, value, note."""

_REACTIVE = ("C105U", "90MnCrV8", "100Cr6", "142WV13")
_SEMI = ("X153CrMoV12", "HS6-5-2", "HS6-5-3")
_SURFACES = ("brushed", "polished", "satin", "forge-black", "hammered", "pear-skin", "layered")
_PARTICULAR: dict[str, list[Sight]] = {
    "DG-20": [
        ("spine_corners", "", "minor", "sharp where the finger pinches"),
        ("bolster_proud", "", "fine", "flush, watch it after sharpening"),
        ("cut_carrot", "push", "wedging", "cracks before it cuts"),
        ("not_for", "", "line,learner", ""),
    ],
    "TT-16": [
        ("straightness", "", "fine", ""),
        ("tang_joint", "", "mend", "open at the butt"),
        ("cut_tomato", "push", "clean", "on the first day"),
    ],
    "BT-16": [("bevel_evenness", "left", "minor", "added bevel on the back, not declared")],
    "HW-15": [("cut_protein", "draw", "steering", "leaves the line to the left")],
    "OM-21": [("handle_joints", "both", "mend", "gap at the ferrule, seal it")],
    "TH-08": [
        ("etching", "right", "minor", "rough under the thumb"),
        ("rivets", "left", "mend", "the middle one stands proud"),
    ],
    "QS-17": [
        ("spine_corners", "", "mend", "sharp all along"),
        ("choil_corners", "", "mend", "cuts the finger behind the heel"),
    ],
    "PM-27": [("edge_line", "", "hollow", "60 mm from the heel, leaves threads")],
    "OK-22": [("straightness", "", "reject", "twisted toward the tip")],
}


def sights(model: DemoModel, piece: DemoPiece) -> list[Sight]:
    """The observations of one complete sheet, in the order of work."""
    built = model.construction
    rows: list[Sight] = [("construction", "", _construction(built), "")]
    if "stamped" in built or "forged" in built:
        rows.append(("making", "", "stamped" if "stamped" in built else "forged", ""))
    rows.append(("core_reactivity", "", _reactivity(model.steel), ""))
    if "cladding" in built:
        stainless = "stainless" in built.partition("core")[2]
        rows.append(("cladding_reactivity", "", "stainless" if stainless else "reactive", ""))
    surfaces = [s.replace("-", "_") for s in _SURFACES if s in model.finish]
    if surfaces:
        rows.append(("surface", "", ",".join(surfaces), ""))
    rows.append(("lacquer", "", "none", ""))
    rows += _handle(model.handle, built)
    rows += _PARTICULAR.get(piece.tag, [("spine_corners", "", "fine", "")])
    worst = {value for _, _, value, _ in _PARTICULAR.get(piece.tag, [])}
    verdict = "return" if "reject" in worst else "after_work" if worst else "sell"
    rows.append(("verdict", "", verdict, ""))
    return rows


def _construction(built: str) -> str:
    if "on the face" in built:
        return "clad_one_side"
    return "clad_three" if "cladding" in built else "one_steel"


def _reactivity(steel: str) -> str:
    if steel in _REACTIVE:
        return "reactive"
    return "semi_stainless" if steel in _SEMI else "stainless"


def _handle(handle: str, built: str) -> list[Sight]:
    shapes = {
        "octagonal": "octagonal",
        "riveted": "riveted",
        "round": "round",
        "moulded": "moulded",
    }
    shape = next((value for word, value in shapes.items() if word in handle), "oval")
    materials = {
        "resin": "laminate",
        "acetal": "acetal",
        "soft grip": "soft_grip",
        "moulded": "acetal",
    }
    material = next((value for word, value in materials.items() if word in handle), "wood")
    tang = "full" if shape == "riveted" else "hidden"
    rows = [
        ("tang", "", tang, ""),
        ("handle_shape", "", shape, ""),
        ("handle_material", "", material, ""),
        ("grip", "", "pinch", ""),
    ]
    if "stamped" not in built:
        full = "full bolster" in built
        rows.append(
            ("bolster", "", "full" if full else "ferrule" if tang == "hidden" else "none", "")
        )
    return rows
