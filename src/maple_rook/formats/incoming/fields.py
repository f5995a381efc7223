"""What a column of a table from outside can mean to the record, and how people head it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.units import Dimension


class Kind(StrEnum):
    """What a row of a table is; in the order in which tables of one file are imported."""

    BASICS = "basics"
    """Of a whole shop: grades, foods, instruments and whatever else it has before any knife."""
    MODELS = "models"
    CLAIMS = "claims"
    PIECES = "pieces"
    READINGS = "readings"
    PROFILES = "profiles"
    TRIALS = "trials"
    REST = "rest"
    """Of a whole shop: what was seen, photos, plans, repairs."""


RECORD_KINDS = (
    *(Kind.MODELS, Kind.CLAIMS, Kind.PIECES, Kind.READINGS, Kind.PROFILES, Kind.TRIALS),
)
"""The kinds whose rows are tables with columns of their own."""
WHOLE = (Kind.BASICS, Kind.REST)
"""The kinds that only another shop's JSON has: rows of any of its tables."""


class Origin(StrEnum):
    """Where the figures of a table's knives come from."""

    OURS = "ours"
    """Measured with the shop's usual instruments, where a row names none."""
    MEASURED = "measured"
    """Measured, with instruments that are not known where a row names none."""
    PRINTED = "printed"
    """Printed by a maker or dealer: claims, not readings."""


@dataclass(frozen=True)
class Field:
    """A meaning of a column: ``dimension`` where its cells are values with units."""

    key: str
    label: str
    dimension: Dimension | None = None


CLAIM = "claim:"
"""Before a quantity: what the maker printed of it."""

_WORDS: dict[str, tuple[str, ...]] = {
    "tag": (
        "tag",
        "piece tag",
        "piece",
        "id",
        "no",
        "nr",
        "number",
        "knife id",
        "sample",
        "serial",
        "sku",
        "article no",
        "artikelnummer",
        "reference",
        "ref",
        "label",
    ),
    "maker": (
        "maker",
        "brand",
        "manufacturer",
        "make",
        "smith",
        "producer",
        "hersteller",
        "marke",
        "fabricant",
        "marque",
    ),
    "line": (
        "line",
        "model",
        "series",
        "product",
        "product name",
        "name",
        "model name",
        "serie",
        "modell",
        "modele",
        "gamme",
        "range",
    ),
    "knife_type": (
        "type",
        "knife type",
        "style",
        "shape",
        "category",
        "kind of knife",
        "profile",
        "pattern",
        "typ",
        "art",
        "forme",
    ),
    "nominal": (
        "nominal",
        "nominal size",
        "size",
        "nominal length",
        "nenngrosse",
        "taille",
        "grosse",
    ),
    "grind": ("grind", "grind type", "geometry", "blade grind", "schliff", "emouture"),
    "construction": ("construction", "build", "blade construction", "aufbau", "made of", "layers"),
    "finish": ("finish", "blade finish", "surface", "oberflache", "finition"),
    "handle": ("handle", "handle material", "handle type", "griff", "manche", "grip"),
    "gtin": ("gtin", "ean", "upc", "barcode", "bar code", "ean code", "gtin 13", "ean 13"),
    "even_machine_edge": ("even machine edge", "machine edge", "factory edge even"),
    "steel": (
        "steel",
        "steel type",
        "core steel",
        "alloy",
        "blade steel",
        "stahl",
        "acier",
        "material",
        "blade material",
    ),
    "price": ("price", "retail price", "rrp", "cost", "preis", "prix", "shop price"),
    "currency": ("currency", "currency code", "wahrung", "devise", "monnaie", "moneda", "valuta"),
    "condition": ("condition", "state", "new or used", "zustand", "etat"),
    "note": ("note", "notes", "remark", "remarks", "comment", "comments", "bemerkung"),
    "key": ("key", "reading key", "uuid", "client id", "trace key", "trial key", "trial"),
    "quantity": (
        "quantity",
        "measurement",
        "measure",
        "what",
        "dimension",
        "property",
        "parameter",
        "messgrosse",
        "feature",
    ),
    "value": (
        "typed",
        "value",
        "reading",
        "result",
        "figure",
        "measured value",
        "wert",
        "valeur",
        "as typed",
    ),
    "printed": ("printed", "claim", "as printed", "claimed value", "advertised value"),
    "unit": ("unit", "units", "einheit", "unite", "uom"),
    "taken_at": (
        "taken at",
        "date",
        "measured on",
        "measured",
        "date measured",
        "when",
        "timestamp",
        "datum",
        "day measured",
        "time",
        "started at",
    ),
    "round": ("sheet begun", "round", "session", "sheet"),
    "signed": ("signed off", "sheet signed off"),
    "person": ("person", "measured by", "by", "who", "operator", "tester name"),
    "instrument": ("instrument", "tool", "gauge", "measured with", "gerat"),
    "block": ("block", "reference block name", "block used"),
    "method": ("method", "how"),
    "along": ("along mm", "from heel", "distance from heel"),
    "above_edge": ("above edge", "above edge mm", "indent height"),
    "place": ("place", "place on the blade"),
    "known_as": ("known as", "measured or estimated"),
    "u": ("u", "standard uncertainty"),
    "unusual": ("unusual", "unusual confirmed", "confirmed unusual"),
    "struck": ("struck out", "void", "struck", "void reason"),
    "source": ("source", "origin"),
    "x": ("x", "x mm", "cycle", "cuts before", "run", "station", "position"),
    "y": ("y", "y mm", "gap"),
    "trial_kind": ("trial kind", "kind of trial", "test", "kind", "test type"),
    "event": ("event", "what was done"),
    "protocol": ("protocol",),
    "set_aside": ("set aside", "why set aside"),
    "table": ("table of the record",),
    "row": ("row of the record",),
}

_OF_QUANTITY: dict[str, tuple[str, ...]] = {
    "weight": ("mass", "wt", "weight total", "gewicht", "poids", "knife weight"),
    "edge_length": (
        "length",
        "cutting edge",
        "cutting edge length",
        "edge",
        "edge len",
        "klingenlange",
        "lange",
        "longueur",
        "cutting length",
    ),
    "blade_length": ("blade", "blade len", "blade length total"),
    "overall_length": (
        "oal",
        "overall",
        "total length",
        "length overall",
        "gesamtlange",
        "full length",
        "longueur totale",
    ),
    "handle_length": ("handle len", "grip length", "grifflange"),
    "spine_heel": (
        "spine",
        "spine thickness",
        "thickness",
        "spine heel",
        "spine above heel",
        "thickness at heel",
        "blade thickness",
        "stock",
        "stock thickness",
        "ruckenstarke",
        "klingenstarke",
        "epaisseur",
        "spine at handle",
    ),
    "spine_mid": ("spine mid", "spine middle", "mid spine", "thickness mid", "spine halfway"),
    "spine_tip": (
        "spine tip",
        "tip thickness",
        "spine 10 mm from tip",
        "spine at tip",
        "spine 1 cm from tip",
    ),
    "height_heel": (
        "height",
        "blade height",
        "heel height",
        "height heel",
        "klingenhohe",
        "hohe",
        "hauteur",
        "blade depth",
        "width at heel",
    ),
    "height_mid": ("height mid", "mid height", "height middle"),
    "height_front": ("height front", "front height"),
    "thickness_behind_edge": (
        "behind the edge",
        "behind edge",
        "bte",
        "thickness bte",
        "edge thickness",
        "behind the edge thickness",
        "shoulder thickness",
    ),
    "thickness_1mm": ("1 mm up", "thickness at 1 mm", "1 mm above edge", "thickness 1"),
    "thickness_5mm": ("5 mm up", "thickness at 5 mm", "5 mm above edge", "thickness 5"),
    "thickness_10mm": ("10 mm up", "thickness at 10 mm", "10 mm above edge", "thickness 10"),
    "edge_angle": (
        "angle",
        "sharpening angle",
        "bevel angle",
        "angle per side",
        "winkel",
        "schleifwinkel",
        "angle d affutage",
        "inclusive angle",
        "dps",
    ),
    "angle_right": ("angle right", "right angle", "right side angle"),
    "angle_left": ("angle left", "left angle", "left side angle"),
    "bevel_width_right": ("bevel right", "bevel width right"),
    "bevel_width_left": ("bevel left", "bevel width left"),
    "asymmetry": ("ratio", "bevel ratio", "right left", "edge ratio", "asymmetry ratio"),
    "hardness": ("hrc", "rockwell", "rockwell c", "rockwell hardness", "harte", "durete", "rc"),
    "hardness_cladding": ("cladding hardness", "cladding hrc"),
    "hardness_block": ("hardness block", "block reading", "reference block reading"),
    "balance_point": ("balance", "point of balance", "balance from heel", "pob", "schwerpunkt"),
    "handle_thickness": ("handle width", "grip thickness"),
    "flat_length": ("flat", "flat spot", "flat section"),
    "tip_height": ("tip", "height of tip", "tip above board"),
    "sharpness_score": ("sharpness", "sharpness score", "ootb sharpness", "out of box sharpness"),
    "sharpness_force": ("cutting force", "line cut", "sharpness grams", "edge test"),
    "knuckle_room": ("knuckle clearance", "finger clearance"),
    "micro_bevel": ("microbevel", "micro bevel", "microbevel angle"),
}

_DIMENSIONS = {
    "nominal": Dimension.LENGTH,
    "along": Dimension.LENGTH,
    "above_edge": Dimension.LENGTH,
}

FIELDS: dict[str, Field] = {
    **{key: Field(key, words[0], _DIMENSIONS.get(key)) for key, words in _WORDS.items()},
    **{q.key: Field(q.key, q.label, q.dimension) for q in QUANTITIES.values()},
    **{
        CLAIM + q.key: Field(CLAIM + q.key, f"claimed {q.label}", q.dimension)
        for q in QUANTITIES.values()
    },
}

OF_MODEL = ("maker", "line", "knife_type", "nominal")
"""What a model is known by."""
_MODEL = (
    *OF_MODEL,
    "grind",
    "construction",
    "finish",
    "handle",
    "even_machine_edge",
    "steel",
    "price",
    "currency",
    "gtin",
)
_CLAIMS = tuple(CLAIM + key for key in QUANTITIES)
MEANINGS: dict[Kind, tuple[str, ...]] = {
    **dict.fromkeys(WHOLE, ("table", "row")),
    Kind.MODELS: (*_MODEL, *_CLAIMS),
    Kind.CLAIMS: (*OF_MODEL, "quantity", "printed", "unit"),
    Kind.PIECES: ("tag", "condition", "note", *_MODEL, "taken_at", "person", *QUANTITIES, *_CLAIMS),
    Kind.READINGS: (
        "tag",
        "key",
        "quantity",
        "value",
        "known_as",
        "unit",
        "taken_at",
        "round",
        "signed",
        "person",
        "instrument",
        "block",
        "method",
        "along",
        "above_edge",
        "place",
        "u",
        "note",
        "unusual",
        "struck",
    ),
    Kind.PROFILES: ("tag", "key", "source", "taken_at", "round", "signed", "person", "x", "y"),
    Kind.TRIALS: (
        "key",
        "tag",
        "trial_kind",
        "source",
        "taken_at",
        "instrument",
        "person",
        "note",
        "protocol",
        "set_aside",
        "x",
        "value",
        "event",
    ),
}
"""The columns a table of each kind can have."""
NEEDED: dict[Kind, tuple[str, ...]] = {
    **dict.fromkeys(WHOLE, ("table", "row")),
    Kind.MODELS: ("maker", "line", "knife_type"),
    Kind.CLAIMS: ("maker", "line", "knife_type", "quantity", "printed"),
    Kind.PIECES: ("tag",),
    Kind.READINGS: ("tag", "quantity", "value"),
    Kind.PROFILES: ("tag", "x", "y"),
    Kind.TRIALS: ("tag", "trial_kind", "x"),
}

SPELLINGS: dict[str, str] = {
    **{word: key for key, words in _WORDS.items() for word in words},
    **{word: key for key, words in _OF_QUANTITY.items() for word in words},
}
"""Heading as people write it, in plain letters, to the field it means."""
