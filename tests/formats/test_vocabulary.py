"""Lists in the languages of the trade are understood; the words are from memory."""

from __future__ import annotations

import pytest

from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.formats.incoming import vocabulary
from maple_rook.formats.incoming.cells import knife_type_of
from maple_rook.formats.incoming.fields import FIELDS
from maple_rook.formats.incoming.headings import guess


@pytest.mark.parametrize(
    ("heading", "field", "unit"),
    [
        ("Artikelnr.", "tag", ""),
        ("Rückenstärke (mm)", "spine_heel", "mm"),
        ("Longueur de lame", "blade_length", ""),
        ("Épaisseur [mm]", "spine_heel", "mm"),
        ("ÉPAISSEUR DU DOS", "spine_heel", ""),
        ("Longitud de la hoja (cm)", "blade_length", "cm"),
        ("Dureza (HRC)", "hardness", "HRC"),
        ("Angolo di affilatura", "edge_angle", ""),
        ("Rugdikte mm", "spine_heel", "mm"),
        ("刃渡り (mm)", "edge_length", "mm"),
        ("重量（g）", "weight", "g"),
        ("硬度", "hardness", ""),
    ],
)
def test_headings_of_other_languages_mean_what_they_say(
    heading: str, field: str, unit: str
) -> None:
    found = guess(heading)
    assert found is not None
    assert (found.field, found.unit, found.sure) == (field, unit, True)


@pytest.mark.parametrize(
    ("said", "key"),
    [
        ("Gemüsemesser", "nakiri"),
        ("couteau à désosser", "honesuke"),
        ("Cuchillo de pan", "serrated"),
        ("Mannaia", "bone_chopper"),
        ("Koksmes", "western_chef"),
        ("牛刀", "gyuto"),
        ("柳刃包丁", "single_bevel_slicer"),
    ],
)
def test_knife_types_of_other_languages_are_known(said: str, key: str) -> None:
    assert knife_type_of(said) == (key, "")


def test_no_word_means_two_things() -> None:
    """Each is understood as its own table says, whatever the other languages call so."""
    for language in vocabulary.LANGUAGES:
        for word, key in vocabulary.words(language):
            found = guess(word)
            assert key in FIELDS
            assert found is not None, word
            assert (found.field, found.sure) == (key, True), word
    for word, key in vocabulary.words(vocabulary.KNIFE_TYPES):
        assert key in KNIFE_TYPES
        assert knife_type_of(word) == (key, ""), word
