"""Add a model, two pieces and their readings; read predictions and a verdict, all of it typed.

MAPLE_ROOK_KEY=... python docs/examples/with_the_typed_client.py http://127.0.0.1:8420
"""

import os
import sys
from collections.abc import Mapping

from maple_rook_client import AuthenticatedClient
from maple_rook_client.api.shop import (
    compared,
    models_bulk,
    pieces_bulk,
    predictions,
    readings_bulk,
)
from maple_rook_client.models import (
    BulkIn,
    BulkInRowsItem,
    BulkOut,
    CompareIn,
    Comparison,
    PiecePredictions,
)

MODEL = {"maker": "Kesterby", "line": "Typed", "knife_type": "gyuto", "nominal_mm": 210}
READ = {
    "T-1": {"weight": "186 g", "edge_length": "209 mm", "hardness": "60.5 HRC"},
    "T-2": {"weight": "241 g", "edge_length": "211 mm", "hardness": "57 HRC"},
}


def rows(*of: Mapping[str, object]) -> BulkIn:
    return BulkIn(rows=[BulkInRowsItem.from_dict(row) for row in of])


def main(address: str) -> None:
    shop = AuthenticatedClient(address, token=os.environ["MAPLE_ROOK_KEY"])
    models_bulk.sync(client=shop, body=rows({**MODEL, "steel": "1.4116"}))
    pieces_bulk.sync(client=shop, body=rows(*({**MODEL, "tag": tag} for tag in READ)))
    taken = readings_bulk.sync(
        client=shop,
        body=rows(
            *(
                {"tag": tag, "key": f"{tag}-{name}-{n}", "quantity": name, "typed": typed}
                for tag, figures in READ.items()
                for name, typed in figures.items()
                for n in range(3)
            )
        ),
    )
    assert isinstance(taken, BulkOut)
    print("added", taken.added.to_dict())
    for tag in READ:
        found = predictions.sync(tag, client=shop)
        assert isinstance(found, PiecePredictions)
        for one in found.predictions:
            print(tag, one.key, one.unavailable or (one.low, one.central, one.high))
    judged = compared.sync(client=shop, body=CompareIn(tags=list(READ)))
    assert isinstance(judged, Comparison)
    print(judged.verdict.sentences[0].text)


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8420")
