"""A knife as a schema.org Product in JSON-LD, for product pages and those who read them.

Units carry their UN/CEFACT code where there is one. Measured figures are properties with their
uncertainty in words; an estimate is never given as a property of the product.

References
----------
.. [1] schema.org, Product, QuantitativeValue, PropertyValue (terms from memory).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

JSON_LD_TYPE = "application/ld+json"
CONTEXT = "https://schema.org"
_OF_PRODUCT = {"weight": "weight", "height_heel": "height"}
"""Figures for which a Product has a property of its own."""
_IN_STOCK = {"new": "NewCondition", "used": "UsedCondition"}
Doc = Mapping[str, Any]


def product(
    knife: Doc,
    *,
    url: str | None = None,
    image: str | None = None,
    currency_code: str | None = None,
) -> dict[str, Any]:
    """The Product of a knife document; nothing that the document does not show."""
    found: dict[str, Any] = {
        "@context": CONTEXT,
        "@type": "Product",
        "name": knife["name"],
        "sku": knife["tag"],
        "category": knife["type"],
        "brand": {"@type": "Brand", "name": knife["maker"]},
        "itemCondition": f"{CONTEXT}/{_IN_STOCK[knife['condition']]}",
        "size": {
            "@type": "QuantitativeValue",
            "value": knife["nominal_mm"],
            "unitCode": "MMT",
            "name": "nominal size",
        },
    }
    if url:
        found |= {"@id": url, "url": url}
    if image:
        found["image"] = image
    if knife["construction"]:
        found["material"] = ", ".join(filter(None, (knife["construction"], knife["steel"])))
    for figure in knife["figures"]:
        if name := _OF_PRODUCT.get(figure["key"]):
            found[name] = _quantity(figure)
    found["additionalProperty"] = [_property(figure) for figure in knife["figures"]]
    if knife["price"] is not None:
        found["offers"] = _offer(knife, currency_code, url)
    return found


def _quantity(figure: Doc) -> dict[str, Any]:
    return {"@type": "QuantitativeValue", "value": figure["value"], **_unit(figure)}


def _unit(figure: Doc) -> dict[str, str]:
    code = {"unitCode": figure["unit_code"]} if figure["unit_code"] else {}
    return {**code, "unitText": figure["unit_text"]}


def _property(figure: Doc) -> dict[str, Any]:
    readings = "reading" if figure["n"] == 1 else "readings"
    measured = figure["kind"] == "measured"
    said = f"plus or minus {figure['u']:g} {figure['unit_text']} (k = 2), {figure['n']} {readings}"
    said = said if measured else f"{figure['kind']}, plus or minus {figure['u']:g}"
    found = {
        "@type": "PropertyValue",
        "propertyID": figure["key"],
        "name": figure["label"],
        "value": figure["value"],
        **_unit(figure),
        "measurementTechnique": said,
    }
    if figure["other_value"] is not None:
        code = {"unitCode": figure["other_unit_code"]} if figure["other_unit_code"] else {}
        found["valueReference"] = {
            "@type": "QuantitativeValue",
            "value": figure["other_value"],
            **code,
            "unitText": figure["other_unit"],
        }
    return found


def _offer(knife: Doc, code: str | None, url: str | None) -> dict[str, Any]:
    """A price; its currency by its code where the shop's is one, else in words."""
    currency: Sequence[tuple[str, Any]] = (
        [("priceCurrency", code)]
        if code
        else [
            (
                "priceSpecification",
                {"@type": "PriceSpecification", "price": knife["price"], "name": knife["currency"]},
            )
        ]
    )
    return {
        "@type": "Offer",
        "price": knife["price"],
        **dict(currency),
        **({"url": url} if url else {}),
    }
