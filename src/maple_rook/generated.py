"""Files made from the code, so that they cannot drift: API types, pages of the docs."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from maple_rook import data_model_page, format_pages, model_figures, typed_cases
from maple_rook.app import create_app
from maple_rook.core.cutting.foods import FOODS
from maple_rook.core.prediction.model_card import GRADE_LABELS, ModelCard
from maple_rook.core.prediction.model_cards import MODEL_CARDS
from maple_rook.front_end import WEB, npm
from maple_rook.settings import PROJECT_ROOT, Settings

SCHEMA = WEB / "src" / "api" / "schema.ts"
MODELS = PROJECT_ROOT / "docs" / "models"
FORMATS = PROJECT_ROOT / "docs" / "formats"
TYPED_CASES = WEB / "src" / "testing" / "typed_readings.json"
DATA_MODEL = PROJECT_ROOT / "docs" / "data-model.md"


class OutOfDate(RuntimeError):
    """A generated file differs from what the code says."""


def write() -> list[Path]:
    """Write every generated file; returns their paths."""
    texts = _texts()
    for path, text in texts.items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, encoding="utf-8")
    return list(texts)


def check_current() -> None:
    """Raise :class:`OutOfDate` naming the files that ``./rook generate`` would change."""
    stale = [
        str(path.relative_to(PROJECT_ROOT))
        for path, text in _texts().items()
        if not path.exists() or path.read_text(encoding="utf-8") != text
    ]
    if stale:
        raise OutOfDate(f"Out of date, run ./rook generate: {', '.join(stale)}")


def _texts() -> dict[Path, str]:
    drawn = model_figures.figures()
    pages = {
        MODELS / f"{card.key}.md": _page(card, drawn.get(card.key)) for card in MODEL_CARDS.values()
    }
    figures = {MODELS / f"{key}.svg": svg for key, (_, svg) in drawn.items()}
    formats = {FORMATS / name: text for name, text in format_pages.pages().items()}
    return {
        SCHEMA: _typescript(),
        DATA_MODEL: data_model_page.page(),
        TYPED_CASES: typed_cases.page(),
        **formats,
        MODELS / "README.md": _index(),
        **pages,
        **figures,
    }


def _typescript() -> str:
    openapi = create_app(Settings(), None).openapi()
    with tempfile.TemporaryDirectory() as folder:
        source, target = Path(folder) / "openapi.json", Path(folder) / "schema.ts"
        source.write_text(json.dumps(openapi), encoding="utf-8")
        npm(
            "exec",
            "--offline",
            "--",
            "openapi-typescript",
            str(source),
            "-o",
            str(target),
            "--root-types",
            "--root-types-no-schema-prefix",
        )
        return target.read_text(encoding="utf-8")


def _page(card: ModelCard, figure: tuple[str, str] | None) -> str:
    assumptions = "\n".join(f"- {a}" for a in card.assumptions) or "None."
    return f"""# {card.name}

| | |
| --- | --- |
| Grade | {card.grade.value}: {GRADE_LABELS[card.grade]} |
| Unit | {card.unit or "none"} |
| Version | {card.version} |

## Equation

    {card.equation}

## Source

{card.source}

## Valid for

{card.valid}

## Assumptions

{assumptions}
{_figure(card, figure)}"""


def _figure(card: ModelCard, figure: tuple[str, str] | None) -> str:
    if figure is None:
        return ""
    caption, _ = figure
    return f"\n## Figure\n\n![{card.name}]({card.key}.svg)\n\n{caption}\n"


def _index() -> str:
    rows = "\n".join(
        f"| [{c.name}]({c.key}.md) | {c.grade.value} | {c.unit or 'none'} | {c.valid} |"
        for c in MODEL_CARDS.values()
    )
    foods = "\n".join(
        f"| {f.label} | {f.toughness_j_m2:g} | {f.blunting_um:g} | {f.modulus_mpa:g} "
        f"| {f.crush_mpa:g} | {f.crush_mm:g} | {f.stiffness_n_mm3:g} | {f.friction:g} "
        f"| {f.adhesion_kpa:g} | {f.height_mm:g} | {f.width_mm:g} | {f.slice_stiffness:g} |"
        for f in FOODS.values()
    )
    return f"""# Models

Made by `./rook generate` from the model cards in `src/maple_rook/core/prediction/model_cards.py`.
Every prediction carries a central value, a 90 % interval by Monte Carlo (JCGM 101:2008) and the
share of its variance that goes with each input.

| model | grade | unit | valid for |
| --- | --- | --- | --- |
{rows}

## Foods

Toughness of carrot and cheese after published tests, from memory; the rest orders of magnitude,
fitted to what hands report. A shop can change them.

| food | R J/m2 | r_f um | E MPa | s_c MPa | lam mm | k N/mm3 | mu | tau kPa | H mm | w mm | s |
| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |
{foods}
"""
