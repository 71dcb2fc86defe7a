"""Errors of the rooms below, answered as problem details (RFC 9457)."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from passerelle.api.schemas import FieldProblem, Problem
from passerelle.api.views import link_view
from passerelle.core.catalog.shelves import CatalogError
from passerelle.core.link.edits import EditError
from passerelle.core.plant.site import PlantError
from passerelle.core.selection.question import NoAnswerError
from passerelle.core.units import UnitError
from passerelle.exchange.geojson import GeoError
from passerelle.exchange.plan_file import PlanFileError
from passerelle.exchange.table_in import TableError
from passerelle.store.history import NothingToDoError
from passerelle.store.projects import ConflictError, NotFoundError, StalePlantError

PROBLEM_RESPONSES: dict[int | str, dict[str, Any]] = {
    status: {"model": Problem, "description": text, "content": {"application/problem+json": {}}}
    for status, text in (
        (400, "The request cannot be read"),
        (404, "There is no such thing"),
        (409, "The state does not allow it"),
        (422, "The input was not accepted"),
    )
}


def answer(problem: Problem) -> JSONResponse:
    """A problem as a response of its own media type."""
    return JSONResponse(
        problem.model_dump(mode="json"), status_code=problem.status, media_type="application/problem+json"
    )


def install_problem_handlers(app: FastAPI) -> None:
    """Register a handler for each kind of error."""

    @app.exception_handler(NotFoundError)
    def _not_found(_request: Request, error: NotFoundError) -> JSONResponse:
        return answer(Problem(title="Not found", status=404, detail=str(error)))

    @app.exception_handler(ConflictError)
    def _conflict(request: Request, error: ConflictError) -> JSONResponse:
        with request.app.state.database.read() as session:
            current = link_view(session, error.stored)
        return answer(Problem(title="Changed in the meantime", status=409, detail=str(error), current=current))

    @app.exception_handler(StalePlantError)
    def _stale_plant(_request: Request, error: StalePlantError) -> JSONResponse:
        return answer(Problem(title="Changed in the meantime", status=409, detail=str(error)))

    @app.exception_handler(PlantError)
    def _plant(_request: Request, error: PlantError) -> JSONResponse:
        fields = (FieldProblem(field=error.field, message=str(error)),)
        return answer(Problem(title="The plant cannot be so", status=422, detail=str(error), errors=fields))

    @app.exception_handler(NothingToDoError)
    def _nothing(_request: Request, error: NothingToDoError) -> JSONResponse:
        return answer(Problem(title="Nothing to do", status=409, detail=str(error)))

    @app.exception_handler(EditError)
    def _edit(_request: Request, error: EditError) -> JSONResponse:
        fields = (FieldProblem(field=error.field, message=str(error)),)
        return answer(Problem(title="The change cannot be made", status=422, detail=str(error), errors=fields))

    @app.exception_handler(NoAnswerError)
    def _no_answer(_request: Request, error: NoAnswerError) -> JSONResponse:
        return answer(Problem(title="Nothing answers this", status=422, detail=str(error)))

    @app.exception_handler(CatalogError)
    @app.exception_handler(UnitError)
    @app.exception_handler(PlanFileError)
    @app.exception_handler(GeoError)
    @app.exception_handler(TableError)
    def _value(_request: Request, error: ValueError) -> JSONResponse:
        return answer(Problem(title="Not understood", status=422, detail=str(error)))

    @app.exception_handler(RequestValidationError)
    def _invalid(_request: Request, error: RequestValidationError) -> JSONResponse:
        fields = tuple(
            FieldProblem(
                field=".".join(str(part) for part in item["loc"][1:]) or "body",
                message=str(item["msg"]).removeprefix("Value error, "),
            )
            for item in error.errors()
        )
        detail = "; ".join(f"{f.field}: {f.message}" for f in fields[:3])
        return answer(Problem(title="The input was not accepted", status=422, detail=detail, errors=fields))

    @app.exception_handler(HTTPException)
    def _http(_request: Request, error: HTTPException) -> JSONResponse:
        return answer(Problem(title=str(error.detail), status=error.status_code, detail=str(error.detail)))
