"""A knife as card, label, JSON-LD, DXF and public page, read by packages that did not write it."""

from __future__ import annotations

import io
import json
import re
import tempfile
from collections.abc import Iterator
from pathlib import Path

import jsonschema
import pyogrio.raw
import pypdf
import pypdfium2
import pytest
import rdflib
import zxingcpp
from fastapi.testclient import TestClient
from PIL import Image

from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.unit_codes import UNIT_CODES
from maple_rook.core.measurement.units import UNITS, Dimension
from maple_rook.documents.knife_document import KnifeDocument

KNIFE = 12
CHOSEN = ["drawing", "weight", "edge_length"]


@pytest.fixture
def shown(api: TestClient) -> Iterator[str]:
    """The address of a knife that shows three things, and is taken down afterwards."""
    body = {"on": True, "shown": CHOSEN, "words": "Thin & light <for> fish"}
    address = api.put(f"/api/pieces/{KNIFE}/public", json=body).json()["address"]
    yield address
    api.put(f"/api/pieces/{KNIFE}/public", json={**body, "on": False})


def text_of(content: bytes) -> str:
    document = pypdfium2.PdfDocument(content)
    try:
        return "\n".join(page.get_textpage().get_text_bounded() for page in document)
    finally:
        document.close()


def picture_of(content: bytes, scale: float = 4) -> Image.Image:
    document = pypdfium2.PdfDocument(content)
    try:
        return document[0].render(scale=scale).to_pil()
    finally:
        document.close()


def test_a_spec_card_says_what_is_measured_in_both_systems_with_embedded_fonts(
    api: TestClient,
) -> None:
    content = api.get("/api/pieces/1/card.pdf").content
    said = text_of(content)  # read with pypdfium2, written with reportlab
    for expected in (
        "Kesterby Harbour gyuto 210",
        "209.0 ± 0.9 mm",
        "8.23 in",
        "59.8 ± 1.1 HRC",
        "oz",
        "grade G",
        "never a promise",
    ):
        assert expected in said
    reader = pypdf.PdfReader(io.BytesIO(content))
    fonts = [f.get_object() for f in reader.pages[0]["/Resources"]["/Font"].values()]
    embedded = [f for f in fonts if "/FontFile2" in f.get("/FontDescriptor", {})]
    assert len(embedded) >= 3
    box = reader.pages[0].mediabox
    assert (round(box.width), round(box.height)) == (842, 595)  # A4: 297 x 210 mm (ISO 216)


def test_the_silhouette_on_the_card_is_at_the_scale_it_says(api: TestClient) -> None:
    content = api.get("/api/pieces/1/card.pdf").content
    assert "50 mm, 1 : 1.5" in text_of(content)
    dots_per_mm = 10.0
    picture = picture_of(content, dots_per_mm * 25.4 / 72).convert("L")
    top = 40  # mm: through handle and blade, above the table
    line = [x for x in range(picture.width) if picture.getpixel((x, int(top * dots_per_mm))) < 250]
    # the whole knife is 342 mm by the rule: at 1 : 1.5 handle and blade reach over 228 mm at most
    assert 150 < (line[-1] - line[0]) / dots_per_mm < 228.5


def test_labels_carry_a_code_that_leads_to_the_page_or_gives_the_tag(
    api: TestClient, shown: str
) -> None:
    api.put("/api/pieces/1/public", json={"on": False, "shown": []})
    content = api.get(f"/api/labels.pdf?piece={KNIFE}&piece=1").content
    document = pypdfium2.PdfDocument(content)
    found = [zxingcpp.read_barcode(page.render(scale=6).to_pil()).text for page in document]
    document.close()
    assert found == [f"http://testserver/k/{shown}", "KH-01"]
    assert [
        round(s * 25.4 / 72) for s in pypdf.PdfReader(io.BytesIO(content)).pages[0].mediabox[2:]
    ] == [90, 40]


def test_a_begun_sheet_of_labels_is_used_up_first(api: TestClient) -> None:
    asked: dict[str, object] = {"piece": [KNIFE, 1, 2], "stock": "letter_30", "first": 29}
    reader = pypdf.PdfReader(io.BytesIO(api.get("/api/labels.pdf", params=asked).content))
    assert [round(float(s) / 72, 1) for s in reader.pages[0].mediabox[2:]] == [8.5, 11.0]
    assert len(reader.pages) == 2
    beyond = api.get("/api/labels.pdf", params={**asked, "first": 31})
    assert (beyond.status_code, "1 to 30" in beyond.json()["detail"]) == (422, True)
    assert api.get("/api/labels.pdf", params={**asked, "stock": "a3_2"}).status_code == 422
    places = {one["key"]: one["places"] for one in api.get("/api/label-stocks").json()}
    assert (places["letter_30"], places["roll_62"]) == (30, 1)


def test_labels_of_what_the_rack_shows_are_in_its_order(api: TestClient) -> None:
    asked = {"search": "santoku", "sort": "weight"}
    shown = [r["piece"]["tag"] for r in api.get("/api/rack", params=asked).json()["rows"]]
    document = pypdfium2.PdfDocument(api.get("/api/rack/labels.pdf", params=asked).content)
    printed = [page.get_textpage().get_text_bounded() for page in document]
    document.close()
    assert len(printed) == len(shown)
    assert all(tag in text for tag, text in zip(shown, printed, strict=True))
    nothing = api.get("/api/rack/labels.pdf", params={"search": "no such knife"})
    assert nothing.status_code == 409


def test_json_ld_is_linked_data_whose_codes_name_the_units(api: TestClient) -> None:
    found = api.get("/api/pieces/1/product.jsonld").json()
    assert found["@context"] == "https://schema.org"
    # parsed by rdflib; its vocabulary is given here, since nothing is fetched
    local = {**found, "@context": {"@vocab": "https://schema.org/"}}
    graph = rdflib.Graph().parse(data=json.dumps(local), format="json-ld")
    schema = rdflib.Namespace("https://schema.org/")
    [product] = graph.subjects(rdflib.RDF.type, schema.Product)
    weight = graph.value(product, schema.weight)
    assert str(graph.value(weight, schema.unitCode)) == "GRM"
    assert float(str(graph.value(weight, schema.value))) == pytest.approx(186.9, abs=1.5)
    properties = {
        str(graph.value(p, schema.propertyID)): p
        for p in graph.objects(product, schema.additionalProperty)
    }
    assert str(graph.value(properties["edge_length"], schema.unitCode)) == "MMT"
    assert graph.value(properties["hardness"], schema.unitCode) is None
    assert "cutting_ease" not in properties  # an estimate is no property of the product


def test_every_unit_of_a_length_mass_force_or_angle_has_its_trade_code() -> None:
    # UN/CEFACT Recommendation 20, from memory
    assert {UNIT_CODES[u] for u in ("mm", "in", "g", "oz", "N")} == {
        "MMT",
        "INH",
        "GRM",
        "ONZ",
        "NEW",
    }
    coded = (Dimension.LENGTH, Dimension.MASS, Dimension.ANGLE)
    assert all(u.symbol in UNIT_CODES for u in UNITS.values() if u.dimension in coded)


def test_dxf_opens_elsewhere_in_millimetres_with_a_layer_for_each_part(api: TestClient) -> None:
    content = api.get("/api/pieces/1/outline.dxf").content
    assert re.search(rb"\$INSUNITS\s+70\s+4\s", content)  # 4 stands for millimetres
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "knife.dxf"
        path.write_bytes(content)
        # read by GDAL, written by ezdxf
        meta, _, geometry, fields = pyogrio.raw.read(path)
        layers = list(fields[list(meta["fields"]).index("Layer")])
        bounds = pyogrio.read_bounds(path)[1]
    assert sorted(layers) == ["BLADE", "HANDLE", "SECTION"]
    assert len(geometry) == 3
    drawn = [i for i, layer in enumerate(layers) if layer != "SECTION"]
    span = max(bounds[2][i] for i in drawn) - min(bounds[0][i] for i in drawn)
    assert span == pytest.approx(342, abs=0.6)


def test_a_knife_is_nowhere_until_it_is_shown_and_then_shows_only_what_was_chosen(
    api: TestClient, shown: str
) -> None:
    page = api.get(f"/k/{shown}")
    assert page.status_code == 200
    assert "Thin &amp; light &lt;for&gt; fish" in page.text
    document = api.get(f"/k/{shown}.json").json()
    jsonschema.validate(document, KnifeDocument.model_json_schema())
    assert {f["key"] for f in document["figures"]} == {"weight", "edge_length"}
    assert document["price"] is document["steel"] is document["handle"] is None
    assert document["claims"] == document["estimates"] == []
    private = api.get(f"/api/pieces/{KNIFE}").json()
    hardness = f"{private['figures']['hardness']['mean']:.1f}"
    for text in (page.text, api.get(f"/k/{shown}.json").text):
        assert "HRC" not in text
        assert hardness not in text
        assert "crowns" not in text
    card = Image.open(io.BytesIO(api.get(f"/k/{shown}/card.png").content))
    assert card.size == (1200, 630)
    assert f'content="http://testserver/k/{shown}/card.png"' in page.text
    body = {"on": False, "shown": CHOSEN}
    assert api.put(f"/api/pieces/{KNIFE}/public", json=body).json()["address"] == shown
    for address in (f"/k/{shown}", f"/k/{shown}.json", f"/k/{shown}/card.png", "/k/nobody"):
        assert api.get(address).status_code == 404


def test_only_what_there_is_can_be_shown(api: TestClient) -> None:
    body = {"on": True, "shown": ["weight", "secrets"]}
    refused = api.put(f"/api/pieces/{KNIFE}/public", json=body)
    assert refused.status_code == 422
    assert "secrets" in refused.json()["detail"]
    choices = {c["key"] for c in api.get(f"/api/pieces/{KNIFE}/public").json()["choices"]}
    assert "price" in choices
    assert choices - set(QUANTITIES) < {
        "drawing",
        "section",
        "price",
        "making",
        "claims",
        "estimates",
        "words",
    }


def test_of_a_single_bevel_no_angle_is_called_inclusive_and_nothing_is_missed_that_it_has_not(
    api: TestClient,
) -> None:
    knife = api.get("/api/v1/pieces/BT-27").json()
    angles = [f for f in knife["figures"] if f["unit"] == "dps"]
    assert {f["key"] for f in angles} >= {"edge_angle"}
    assert {f["other_unit"] for f in angles} == {None}
    assert knife["not_measured"] == []
    double = api.get("/api/v1/pieces/KH-01").json()
    [edge] = [f for f in double["figures"] if f["key"] == "edge_angle"]
    assert edge["other_value"] == pytest.approx(2 * edge["value"], abs=0.06)
