"""Photos of known knives by the simulated camera, measured, and how far off what they say is.

``PYTHONPATH=src:tests python -m photo_survey`` writes the table of docs/photos.md.
"""

from __future__ import annotations

import sys
from collections.abc import Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np

from forks import forks
from maple_rook.core.geometry.outline import outline
from maple_rook.core.geometry.photo_blade import laid_out, side_figures
from maple_rook.core.geometry.scale_card import CARDS, View
from maple_rook.core.geometry.section_fit import end_figures
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.measurement.wording import percent_text
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.photo import specimen
from maple_rook.photo.heel_view import trace_heel
from maple_rook.photo.picture import original, picture
from maple_rook.photo.side_view import Lying
from maple_rook.photo.stand_in import Shot, photograph
from maple_rook.photo.taking import find_card, trace_side

SHOTS_EACH = 5
LONGEST_ON_A4, TALLEST_ON_A4 = 232.0, 100.0
LONGEST_MM = 345.0
GRINDS = (
    Grind.FULL_FLAT,
    Grind.SABRE,
    Grind.HOLLOW,
    Grind.CONVEX,
    Grind.TWO_ANGLE,
    Grind.SINGLE_BEVEL,
)


@dataclass(frozen=True)
class Found:
    """One quantity of one photo: measured less true, and the stated U (k = 2), mm."""

    subject: str
    quantity: str
    error: float
    expanded: float

    @property
    def covered(self) -> bool:
        return abs(self.error) <= self.expanded


@dataclass(frozen=True)
class Row:
    """What all photos say of one quantity."""

    quantity: str
    photos: int
    median_error: float
    p95_error: float
    median_expanded: float
    covered: float


def blade(kind: str, edge_mm: float, height_mm: float, **more: object) -> Blade:
    """A knife of a type with its measures; the thickness of its spine is known as a bench would."""
    figures = {
        "edge_length": Figure(edge_mm, 0.2),
        "height_heel": Figure(height_mm, 0.1),
        "spine_heel": Figure(2.4, 0.02),
        "spine_tip": Figure(1.2, 0.02),
        "thickness_behind_edge": Figure(0.3, 0.01),
        "edge_angle": Figure(14.0, 0.5),
    }
    return Blade(figures, knife_type=kind, nominal_mm=edge_mm, **more)  # type: ignore[arg-type]


def shot(chance: np.random.Generator, seed: int) -> Shot:
    """Tilts to 25 degrees, lens, light, shadow, blur and noise as a shop's photos have them."""
    return Shot(
        tilt_deg=chance.uniform(0, 25),
        towards_deg=chance.uniform(0, 360),
        roll_deg=chance.uniform(-8, 8),
        turn_deg=chance.uniform(-5, 5),
        lens=chance.uniform(-0.05, 0.03),
        blur_px=chance.uniform(0.5, 2.0),
        noise=chance.uniform(1, 8),
        slope_of_light=chance.uniform(0, 0.25),
        shadow=chance.uniform(0, 0.2),
        printed=chance.uniform(0.99, 1.01),
        stand_off_mm=abs(chance.normal(0, 0.4)),
        focal=chance.uniform(0.65, 1.1),
        tells_lens=bool(chance.integers(2)),
        seed=seed,
    )


def from_the_side(number: int) -> list[Found]:
    """One photo from the side, taken and measured; every figure against the knife's own lines."""
    kinds = list(KNIFE_TYPES.values())
    kind, chance = kinds[number % len(kinds)], np.random.default_rng(number)
    low, high = kind.typical["edge_length"]
    edge = min(chance.uniform(low, high), LONGEST_MM)
    height = chance.uniform(*kind.typical["height_heel"])
    taken = shot(chance, number)
    made = blade(kind.key, edge, height)
    knife = specimen.lying(made, outline(made.figures, kind.key, edge), kind.shape.bolster)
    card = CARDS["a4" if edge < LONGEST_ON_A4 and height < TALLEST_ON_A4 else "a3"]
    kept = original(photograph(card, knife, taken))
    on_card = find_card(picture(kept.content), View.SIDE)
    lying = Lying(spine_heel_mm=2.4, spine_tip_mm=1.2, spine_relative_u=0.05)
    ruler = round(card.ruler_mm * taken.printed + chance.normal(0, 0.1), 1)
    view = trace_side(on_card, lying, ruler)
    found = view.figures(view.proposed, lying)
    joint = np.array([-4.0 if kind.shape.bolster else -2.5, 0.7 * height])
    true = side_figures(laid_out(np.array(knife.edge), np.array(knife.spine)), joint, None)
    return [
        Found(kind.label, key, found[key].value - true[key], found[key].expanded)
        for key in true
        if key in found
    ]


def from_the_heel(number: int) -> list[Found]:
    """One photo from the heel of a section of a known family."""
    grind, chance = GRINDS[number % len(GRINDS)], np.random.default_rng(1000 + number)
    made = built(blade("gyuto", 210.0, chance.uniform(40, 52), grind=grind))
    assert made is not None
    taken = Shot(
        tilt_deg=chance.uniform(0, 4),
        towards_deg=chance.uniform(0, 360),
        turn_deg=0.0,
        roll_deg=chance.uniform(-6, 6),
        width_px=4000,
        height_px=3000,
        fill=0.88,
        blur_px=chance.uniform(0.5, 1.2),
        noise=chance.uniform(1, 5),
        seed=number,
    )
    content = photograph(CARDS["heel"], specimen.from_the_heel(made), taken)
    view = trace_heel(find_card(picture(content), View.HEEL), CARDS["heel"].ruler_mm)
    seen = end_figures(view.view, grind, float(made.heel.height_mm))
    above = {f"thickness_{z:g}mm": z for z in (1.0, 5.0, 10.0)}
    true = {key: float(made.heel.thickness_mm(z)) for key, z in above.items()}
    true["thickness_behind_edge"] = 0.3
    return [
        Found(grind.value, key, f.value - true[key], f.expanded) for key, f in seen.figures.items()
    ]


def survey(photos: int, of: str = "side", workers: int = 2) -> list[list[Found]]:
    """What every photo says, a list a photo; the same photos every time."""
    take = from_the_side if of == "side" else from_the_heel
    with ProcessPoolExecutor(workers, forks(), cv2.setNumThreads, (1,)) as pool:
        return list(pool.map(take, range(photos), chunksize=4))


def summary(found: Iterable[Found]) -> Iterator[Row]:
    """By quantity: how far off, how much is stated, and how often that covers the truth."""
    by_quantity: dict[str, list[Found]] = {}
    for one in found:
        by_quantity.setdefault(one.quantity, []).append(one)
    for quantity, rows in by_quantity.items():
        apart = np.abs([r.error for r in rows])
        yield Row(
            quantity,
            len(rows),
            float(np.median(apart)),
            float(np.percentile(apart, 95)),
            float(np.median([r.expanded for r in rows])),
            float(np.mean([r.covered for r in rows])),
        )


def table(rows: Iterable[Row], decimals: int) -> str:
    lines = [
        "| quantity | photos | median error mm | 95 % within mm | median U mm | covered |",
        "| --- | --- | --- | --- | --- | --- |",
    ]
    lines += [
        f"| {r.quantity.replace('_', ' ')} | {r.photos} | {r.median_error:.{decimals}f} | "
        f"{r.p95_error:.{decimals}f} | {r.median_expanded:.{decimals}f} | "
        f"{percent_text(r.covered)} |"
        for r in rows
    ]
    return "\n".join(lines)


if __name__ == "__main__":
    sides = [one for of in survey(SHOTS_EACH * len(KNIFE_TYPES)) for one in of]
    sys.stdout.write(f"{table(summary(sides), 2)}\n\n")
    heels = [one for of in survey(4 * len(GRINDS), "heel") for one in of]
    sys.stdout.write(f"{table(summary(heels), 3)}\n")
