"""The web application: routes under /api, the built front end elsewhere, safe headers on everything."""

from __future__ import annotations

import gc
from collections.abc import Awaitable, Callable
from pathlib import Path

from fastapi import FastAPI, Request, Response
from fastapi.responses import FileResponse, JSONResponse
from starlette.exceptions import HTTPException
from starlette.staticfiles import StaticFiles

from netnaught import __version__
from netnaught.api import problems
from netnaught.api.routers import (
    bank_service,
    board,
    books,
    clearing,
    coding,
    deciding,
    evidence,
    journals,
    ledger,
    lingering,
    open_items,
    papers,
    passes,
    people,
    seals,
    session,
    spine,
    start,
    statements,
    tables,
    teaching,
    trace,
    trail,
)
from netnaught.formats.reading import LARGEST_FILE
from netnaught.store.database import DATABASE, connect, migrate

FRONT_END = Path(__file__).resolve().parent.parent.parent / "web" / "dist"
HEADERS = {
    "Content-Security-Policy": "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}


def collect_rarely() -> None:
    """Let Python look for cycles less often: a large Spine makes 100,000 values, and none of them is in a cycle."""
    gc.set_threshold(50_000, 20, 20)


def create_app(data: Path) -> FastAPI:
    """The application over a data directory; its database is created or brought up to date."""
    collect_rarely()
    data.mkdir(parents=True, exist_ok=True)
    database = data / DATABASE
    with connect(database) as db:
        migrate(db)
    db.close()
    app = FastAPI(
        title="Net Naught",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        responses=problems.RESPONSES,
    )
    app.state.database = database
    for module in (
        session,
        board,
        start,
        passes,
        teaching,
        clearing,
        coding,
        books,
        statements,
        evidence,
        ledger,
        open_items,
        bank_service,
        spine,
        deciding,
        papers,
        seals,
        trace,
        lingering,
        trail,
        tables,
        journals,
        people,
    ):
        app.include_router(module.router)
    problems.install(app)
    _guard(app)
    if FRONT_END.is_dir():
        _serve_front_end(app)
    return app


def _guard(app: FastAPI) -> None:
    @app.middleware("http")
    async def guard(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
        length = request.headers.get("content-length", "0")
        if not length.isdigit() or int(length) > LARGEST_FILE + 65536:
            megabytes = LARGEST_FILE // 1024 // 1024
            detail = f"The file is larger than {megabytes} MB. Nothing was stored."
            body = {"type": "about:blank", "title": "Too large", "status": 413, "detail": detail}
            return JSONResponse(body, 413, media_type="application/problem+json")
        response = await call_next(request)
        response.headers.update(HEADERS)
        if request.url.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response


def _serve_front_end(app: FastAPI) -> None:
    app.mount("/assets", StaticFiles(directory=FRONT_END / "assets"), name="assets")
    answer = app.exception_handlers[HTTPException]

    @app.exception_handler(HTTPException)
    async def page_or_problem(request: Request, error: HTTPException) -> Response:
        """Any page of the single-page application is its index; a 405 stays a 405."""
        inside = request.url.path.startswith(("/api/", "/assets/"))
        if error.status_code == 404 and request.method in ("GET", "HEAD") and not inside:
            return FileResponse(FRONT_END / "index.html", headers={"Cache-Control": "no-cache"})
        found: Response = answer(request, error)  # type: ignore[assignment]  # our own handler is not async
        return found
