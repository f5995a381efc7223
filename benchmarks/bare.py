"""The bare SQL of a page of the Rack behind a minimal endpoint of the same framework.

``python -m benchmarks.bare ADDRESS PORT`` serves it, packed as the application packs it.
"""

from __future__ import annotations

import sys

import uvicorn
from fastapi import FastAPI, Response
from sqlalchemy import text
from starlette.middleware.gzip import GZipMiddleware

from maple_rook.store.database import connect, sessions

PAGE = "SELECT row FROM shelf {where} ORDER BY {order} NULLS LAST, piece_id LIMIT 60"
COUNT = "SELECT count(*) FROM shelf {where}"
SEARCHED = "WHERE words LIKE '%santoku%'"
BARE = {"list": ("", "name"), "search": (SEARCHED, "name"), "sorted": ("", "months_to_stone DESC")}


def bare_app(url: str) -> FastAPI:
    app, opener = FastAPI(), sessions(connect(url))

    def page(where: str, order: str) -> Response:
        with opener() as db:
            rows = db.scalars(text(PAGE.format(where=where, order=order))).all()
            total = db.scalar(text(COUNT.format(where=where)))
        content = f'{{"total":{total},"rows":[{",".join(rows)}]}}'
        return Response(content, media_type="application/json")

    for name, (where, order) in BARE.items():
        app.get(f"/{name}")(lambda where=where, order=order: page(where, order))
    app.get("/nothing")(lambda: {"well": True})
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=1)
    return app


if __name__ == "__main__":
    uvicorn.run(bare_app(sys.argv[1]), port=int(sys.argv[2]), log_level="error", access_log=False)
