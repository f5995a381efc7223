"""What the API's description shows works as it stands, on a shop that begins empty."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

import jsonschema
import pytest
from fastapi.testclient import TestClient

from maple_rook.cluster import Cluster
from shops import shop_api, shop_engine

IN_ORDER = ("models", "claims", "pieces", "readings", "profiles", "trials")


@pytest.fixture(scope="module")
def api(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path_factory.mktemp("w")) as client:
        yield client


@pytest.fixture(scope="module")
def described(api: TestClient) -> dict[str, Any]:
    document: dict[str, Any] = api.get("/api/openapi.json").json()
    return document


def operations(described: dict[str, Any], method: str) -> Iterator[tuple[str, dict[str, Any]]]:
    for path, methods in described["paths"].items():
        if path.startswith("/api/v1/") and method in methods:
            yield path, methods[method]


def fits(described: dict[str, Any], operation: dict[str, Any], found: object) -> None:
    """That an answer is as its schema says."""
    schema = operation["responses"]["200"]["content"]["application/json"]["schema"]
    whole = {**schema, "components": described["components"]}
    jsonschema.validate(found, whole, jsonschema.Draft202012Validator)


def example(described: dict[str, Any], operation: dict[str, Any]) -> object:
    [content] = operation["requestBody"]["content"].values()
    if "example" in content:
        return content["example"]
    name = content["schema"]["$ref"].rpartition("/")[2]
    schema = described["components"]["schemas"][name]
    return {k: p["examples"][0] for k, p in schema["properties"].items() if "examples" in p}


def test_every_example_is_answered_as_described(api: TestClient, described: dict[str, Any]) -> None:
    written = dict(operations(described, "post"))
    for kind in IN_ORDER:
        operation = written.pop(f"/api/v1/{kind}")
        answer = api.post(f"/api/v1/{kind}", json=example(described, operation))
        assert answer.status_code == 200, answer.text
        fits(described, operation, answer.json())
        assert answer.json()["added"][kind], answer.text
    for path, operation in written.items():
        answer = api.post(path, json=example(described, operation))
        assert answer.status_code == 200, answer.text
        fits(described, operation, answer.json())
    for path, operation in operations(described, "get"):
        parameters = operation.get("parameters", [])
        for name in re.findall(r"{(\w+)}", path):
            [parameter] = [p for p in parameters if p["name"] == name]
            path = path.replace(f"{{{name}}}", example_of(parameter))  # noqa: PLW2901
        shown = [p for p in parameters if p["in"] == "query" and example_of(p) is not None]
        for asked in ({}, *({p["name"]: example_of(p)} for p in shown)):
            answer = api.get(path, params=asked)
            assert answer.status_code == 200, answer.text
            if "application/json" in operation["responses"]["200"]["content"]:
                fits(described, operation, answer.json())
            if "items" in (found := answer.json() if "json" in content_type(answer) else {}):
                assert found["items"], (path, asked)


def example_of(parameter: dict[str, Any]) -> Any:
    found = parameter.get("examples") or parameter["schema"].get("examples")
    return found[0] if found else None


def content_type(answer: Any) -> str:
    return str(answer.headers["content-type"])


def test_every_parameter_and_route_is_explained(described: dict[str, Any]) -> None:
    for method in ("get", "post"):
        for path, operation in operations(described, method):
            assert 10 < len(operation["summary"]) < 100, (path, operation["summary"])
            assert "_" not in operation["summary"]
            for parameter in operation.get("parameters", []):
                assert parameter.get("description"), (path, parameter["name"])


def test_refusals_are_in_words_of_nobodys_library(api: TestClient) -> None:
    """Each of a kind; the words are ours, whatever the library that checks says of it."""
    theirs = re.compile(r"input|should|valid |pydantic|parse|dict|NoneType", re.IGNORECASE)
    asked: list[tuple[str, str, Any]] = [
        ("get", "/api/v1/pieces?limit=many", None),
        ("get", "/api/v1/pieces?limit=500", None),
        ("get", "/api/v1/pieces?colour=blue", None),
        ("get", "/api/v1/changes?since=yesterday", None),
        ("get", "/api/v1/changes?since=2026-11-01T00:00:00", None),
        ("get", "/api/v1/changes?after=x", None),
        ("get", "/api/v1/pieces/KH-01/predictions?basis=hope", None),
        ("post", "/api/v1/compare", {"tags": ["KH-01"]}),
        ("post", "/api/v1/compare", {"tags": "KH-01", "models": "perhaps"}),
        ("post", "/api/v1/compare", ["KH-01"]),
        ("post", "/api/v1/readings", {"rows": []}),
        ("post", "/api/v1/readings", {"rows": "none"}),
        ("post", "/api/v1/readings", {"rows": [{"tag": "KH-01"}], "measured_on": "the 3rd"}),
        ("post", "/api/v1/readings", {"rows": [{"tag": ["a"]}]}),
        ("post", "/api/v1/readings", {"rows": [{"tag": "KH-01"}], "doubtful": "maybe"}),
    ]
    for method, path, body in asked:
        answer = api.request(method, path, json=body)
        assert answer.status_code == 422, (path, answer.text)
        said = answer.json()
        for text in (said["detail"], *(e["message"] + e["accepted"] for e in said["errors"])):
            assert not theirs.search(text), text
