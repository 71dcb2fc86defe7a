"""The application: routers, errors, and the built screens from the same process."""

from __future__ import annotations

from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.responses import Response

from passerelle import __version__
from passerelle.api import bulk, catalog, exchange, layout, links, plant, plant_exchange, projects, selection
from passerelle.api.problems import install_problem_handlers
from passerelle.api.rows import RowShelf
from passerelle.store.database import Database

STATIC = Path(__file__).parent / "static"


def create_app(database: Database) -> FastAPI:
    """The application over one database."""
    app = FastAPI(
        title="Passerelle",
        version=__version__,
        summary="Fiber links from the walk-through to the signed turn-up.",
        openapi_url="/api/v1/openapi.json",
        docs_url=None,
        redoc_url=None,
    )
    app.state.database = database
    app.state.rows = RowShelf()
    rooms = (projects, links, plant, layout, bulk, exchange, plant_exchange, selection, catalog)
    for router in (room.router for room in rooms):
        app.include_router(router, prefix="/api/v1")
    install_problem_handlers(app)
    if (STATIC / "index.html").exists():
        _serve_screens(app)
    return app


def _serve_screens(app: FastAPI) -> None:
    app.mount("/assets", StaticFiles(directory=STATIC / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def screens(request: Request, path: str) -> Response:
        """The one page of the interface; its own router reads the path."""
        if path.startswith("api/"):
            raise HTTPException(404, "there is no such address in the api")
        icon = STATIC / "icon.svg"
        if path == "icon.svg" and icon.exists():
            return FileResponse(icon)
        return FileResponse(STATIC / "index.html", headers={"Cache-Control": "no-cache"})
