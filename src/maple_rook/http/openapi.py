"""The API's description completed: every refusal an action may answer with, and how to sign in."""

from __future__ import annotations

import re
from typing import Any

from fastapi import FastAPI
from pydantic import BaseModel, ConfigDict

from maple_rook.http.authentication import COOKIE
from maple_rook.http.policy import POLICY, May
from maple_rook.http.problems import PROBLEM_TYPE


class FieldError(BaseModel):
    """A value that was not accepted, and what would be."""

    field: str
    value: str
    accepted: str
    message: str


class Problem(BaseModel):
    """Why a request was not done (RFC 9457); some kinds say more."""

    model_config = ConfigDict(extra="allow")

    type: str
    title: str
    status: int
    detail: str
    errors: list[FieldError] | None = None


_REFUSALS = {
    "400": "Refused as it was asked; the answer says why.",
    "403": "Not permitted to this person, or not sent from the shop's own pages.",
    "404": "Something that was named is not there.",
    "409": "It does not fit the record as it stands.",
    "413": "Larger than is accepted.",
    "422": "A value is not accepted; the answer says which, and what is.",
    "429": "Asked too often; `Retry-After` says when to ask again.",
    "503": "The database is busy, full or away; nothing was written. Ask again.",
}
_SIGN_IN = {"401": "Not signed in."}
_OVER = {"410": "It is over: used, taken back or too old."}
_VERSIONED = {
    "412": "It was changed since the version that was seen.",
    "428": "`If-Match` is needed: the entity tag of the version that was seen.",
}
_SCHEMES = {
    "browser": {
        "type": "apiKey",
        "in": "cookie",
        "name": COOKIE,
        "description": "What signing in sets; what changes something also needs the page "
        "token in `X-Rook-Token`.",
    },
    "key": {
        "type": "http",
        "scheme": "bearer",
        "description": "A key made under Office, Yourself, for a program.",
    },
}


def describe(app: FastAPI) -> None:
    """Let the application describe itself with all of it."""
    made = app.openapi

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is None:
            _complete(made())
        return made()

    app.openapi = openapi  # type: ignore[method-assign]


def _complete(document: dict[str, Any]) -> None:
    components = document["components"]
    schema = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
    components["schemas"] |= {**schema.pop("$defs"), "Problem": schema}
    for unused in ("HTTPValidationError", "ValidationError"):
        components["schemas"].pop(unused, None)
    components["securitySchemes"] = _SCHEMES
    content = {PROBLEM_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}}
    components["responses"] = {
        f"Refused{status}": {"description": why, "content": content}
        for status, why in {**_REFUSALS, **_SIGN_IN, **_OVER, **_VERSIONED}.items()
    }
    for methods in document["paths"].values():
        for operation in methods.values():
            operation["summary"] = _summary(operation.get("description") or operation["summary"])
            _refusals(operation)


def _summary(description: str) -> str:
    """The first sentence of a description, without its full stop.

    >>> _summary("One knife by its tag.\\n\\nWith all figures.")
    'One knife by its tag'
    """
    return re.split(r"\.(?:\s|$)", " ".join(description.split()), maxsplit=1)[0]


def _refusals(operation: dict[str, Any]) -> None:
    refusals = list(_REFUSALS)
    if POLICY.get(operation["operationId"], May.COME) is not May.COME:
        refusals += _SIGN_IN
        operation["security"] = [{"browser": []}, {"key": []}]
    if any(p["name"].lower() == "if-match" for p in operation.get("parameters", [])):
        refusals += _VERSIONED
    if operation["operationId"] == "people_sign_in":
        refusals += _SIGN_IN
    if operation["operationId"] in ("people_invitation", "people_join"):
        refusals += _OVER
    for status in refusals:
        operation["responses"][status] = {"$ref": f"#/components/responses/Refused{status}"}
