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


def review(
    knife: Doc,
    *,
    title: str,
    by: str,
    publisher: str,
    summary: str,
    day: str,
    scores: Sequence[tuple[str, float, float]] = (),
    positive: Sequence[str] = (),
    negative: Sequence[str] = (),
) -> dict[str, Any]:
    """A Review of the Product of a knife document; its address is added where it is published.

    Parameters
    ----------
    knife : the knife document.
    title, by, publisher, summary : of the review.
    day : of publishing, as ISO 8601; empty for a draft.
    scores : name of a scale, the score, the highest on it.
    positive, negative : notes for and against.
    """
    of_knife = product(knife)
    context = of_knife.pop("@context")
    found: dict[str, Any] = {
        "@context": context,
        "@type": "Review",
        "name": title,
        "itemReviewed": of_knife,
        "author": {"@type": "Person" if by != publisher else "Organization", "name": by},
        "publisher": {"@type": "Organization", "name": publisher},
        "description": summary,
    }
    if day:
        found["datePublished"] = day
    if scores:
        found["reviewRating"] = [
            {
                "@type": "Rating",
                "reviewAspect": name,
                "ratingValue": value,
                "bestRating": highest,
                "worstRating": 0,
            }
            for name, value, highest in scores
        ]
    for key, notes in (("positiveNotes", positive), ("negativeNotes", negative)):
        if notes:
            found[key] = {
                "@type": "ItemList",
                "itemListElement": [
                    {"@type": "ListItem", "position": n, "name": note}
                    for n, note in enumerate(notes, 1)
                ],
            }
    return found


def collection(title: str, summary: str, publisher: str, day: str, knives: Sequence[Doc]) -> Doc:
    """A page about several knives: an ItemList of their Products."""
    of_knives = []
    for knife in knives:
        of_knife = product(knife)
        del of_knife["@context"]
        of_knives.append(of_knife)
    return {
        "@context": CONTEXT,
        "@type": "CollectionPage",
        "name": title,
        "description": summary,
        "publisher": {"@type": "Organization", "name": publisher},
        **({"datePublished": day} if day else {}),
        "mainEntity": {
            "@type": "ItemList",
            "numberOfItems": len(of_knives),
            "itemListElement": [
                {"@type": "ListItem", "position": n, "item": item}
                for n, item in enumerate(of_knives, 1)
            ],
        },
    }
