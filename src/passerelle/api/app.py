"""The application: routers, errors, and the built screens from the same process."""

from __future__ import annotations

from collections.abc import AsyncIterator, Iterable
from contextlib import asynccontextmanager, suppress
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.responses import Response

from passerelle import __version__
from passerelle.api import (
    acceptance,
    attachments,
    boxes,
    bulk,
    catalog,
    dark,
    equipment,
    exchange,
    gate,
    handovers,
    laying,
    layout,
    links,
    logbook,
    materials,
    network,
    plant,
    plant_exchange,
    polarity,
    projects,
    results,
    selection,
    storage,
    traces,
    turnup,
    workroom,
    yard,
)
from passerelle.api.address import ROOT
from passerelle.api.bodies import Bodies
from passerelle.api.doors import HEADERS, Doors
from passerelle.api.gate import GateKeeper
from passerelle.api.live import Live
from passerelle.api.passphrase import Gate
from passerelle.api.problems import answer, install_problem_handlers
from passerelle.api.rows import RowShelf
from passerelle.api.schemas.problem import Problem
from passerelle.api.sessions import Sessions
from passerelle.api.workroom import Workroom
from passerelle.store.accepted import forget_uploads
from passerelle.store.database import Database
from passerelle.store.trouble import DatabaseTroubleError

STATIC = Path(__file__).parent / "static"


def create_app(database: Database, hosts: Iterable[str] = (), keeper: Gate | None = None) -> FastAPI:
    """The application over one database.

    It answers to the loopback names and to ``hosts``; with a ``keeper`` only those who said the passphrase.
    When it ends in order, the database's log is folded into its file.
    """

    @asynccontextmanager
    async def lifetime(_app: FastAPI) -> AsyncIterator[None]:
        app.state.workroom.prepare()
        with suppress(DatabaseTroubleError), database.write() as session:  # the next start tries again
            forget_uploads(session)
        yield
        app.state.live.close()
        with suppress(DatabaseTroubleError):  # it was told to whoever asked; the log stays beside the file
            database.fold()

    app = FastAPI(
        title="Passerelle",
        version=__version__,
        summary="Fiber links from the walk-through to the signed turn-up.",
        openapi_url=f"{ROOT}/openapi.json",
        docs_url=None,
        redoc_url=None,
        lifespan=lifetime,
    )
    app.state.database = database
    app.state.gate, app.state.sessions = keeper, None
    app.state.rows = RowShelf(database)
    app.state.workroom = Workroom()
    app.state.live = Live(database.clock)
    rooms = (
        gate,
        workroom,
        storage,
        projects,
        links,
        laying,
        plant,
        layout,
        bulk,
        exchange,
        plant_exchange,
        selection,
        polarity,
        materials,
        yard,
        acceptance,
        attachments,
        traces,
        equipment,
        results,
        turnup,
        logbook,
        network,
        dark,
        boxes,
        handovers,
        catalog,
    )
    for room in rooms:
        app.router.routes.extend(room.router.routes)
    install_problem_handlers(app)

    @app.exception_handler(Exception)
    def fault(_request: Request, _error: Exception) -> Response:
        """What nobody thought of: answered outside all doors, so it carries their headers itself."""
        detail = "Something went wrong on the server. Nothing was changed. The details are in its output."
        return answer(Problem(title="Fault", status=500, detail=detail), HEADERS)

    app.add_middleware(Bodies)
    if keeper is not None:
        app.state.sessions = Sessions(database, keeper.digest)
        app.add_middleware(GateKeeper, sessions=app.state.sessions)
    app.add_middleware(Doors, hosts=hosts)
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
