"""Errors of the rooms below, answered as problem details (RFC 9457)."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from math import ceil
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import ValidationError
from starlette.exceptions import HTTPException

from passerelle.api.passphrase import WrongPassphraseError
from passerelle.api.schemas.problem import FieldProblem, Problem
from passerelle.api.stopped import CrowdedError, StoppedError
from passerelle.api.views import link_view
from passerelle.core.errors import (
    AcceptanceError,
    CatalogError,
    DoubtfulNumberError,
    EditError,
    FieldError,
    MaterialError,
    NoAnswerError,
    PlantError,
    TurnUpError,
    UnitError,
)
from passerelle.core.units import plain_number
from passerelle.equipment.credentials import CredentialsError
from passerelle.equipment.instruments import InstrumentError
from passerelle.equipment.objects import BoxError
from passerelle.exchange.attachment import AttachmentError
from passerelle.exchange.geojson import GeoError
from passerelle.exchange.handover import ReceiptError
from passerelle.exchange.holdable import UnheldTextError
from passerelle.exchange.package_in import PackageError
from passerelle.exchange.plan_file import PlanFileError
from passerelle.exchange.signing import SigningError
from passerelle.exchange.table_in import TableError
from passerelle.exchange.trace_record import TraceRecordError
from passerelle.store.accepted import TooManyFilesError
from passerelle.store.history import NothingToDoError, OtherChangeError
from passerelle.store.prepared import MovedOnError
from passerelle.store.projects import StaleHouseError, StalePlantError
from passerelle.store.records import LostRecordError
from passerelle.store.stored import ConflictError, NotFoundError
from passerelle.store.trouble import DatabaseTroubleError

_BY_REFERENCE = {
    "application/problem+json": {},
    "application/json": {"schema": {"$ref": "#/components/schemas/Problem"}},
}
PROBLEM_RESPONSES: dict[int | str, dict[str, Any]] = {
    status: {"description": text, "content": _BY_REFERENCE}
    for status, text in (
        (400, "The request cannot be read"),
        (401, "The passphrase was not said"),
        (403, "A page of another site asked, or the passphrase is wrong"),
        (404, "There is no such thing"),
        (409, "The state does not allow it"),
        (413, "The body is larger than what is read here"),
        (421, "The request is addressed to another host"),
        (422, "The input was not accepted"),
        (429, "Tried again too soon"),
        (503, "The database cannot do it now, or there is more work than places for it"),
    )
}
"""What each operation may answer. The schema is named, not given: a schema that is given is built again for each
operation and status, two thousand times."""
DEVICE_RESPONSES: dict[int | str, dict[str, Any]] = {
    502: {"description": "The instrument or the device did not answer", "content": _BY_REFERENCE}
}
"""What operations may answer beside that which ask an instrument or a device."""
PROBLEM_DEFINED: dict[int | str, dict[str, Any]] = {503: {**PROBLEM_RESPONSES[503], "model": Problem}}
"""Of one operation, so that the description defines the schema that all others name."""


def answer(problem: Problem, headers: Mapping[str, str] | None = None) -> JSONResponse:
    """A problem as a response of its own media type."""
    made = JSONResponse(
        problem.model_dump(mode="json"), status_code=problem.status, media_type="application/problem+json"
    )
    made.headers.update(headers or {})
    if problem.retry_s is not None:
        made.headers["Retry-After"] = str(problem.retry_s)
    return made


MOST_ERRORS = 20
"""Errors of one request that are told."""

_NUMBER_TYPES = {"float_parsing": False, "int_parsing": True, "decimal_parsing": False}
"""Pydantic's words for a text where a number is wanted, and whether it must be whole."""


def _field_problem(item: Mapping[str, Any]) -> FieldProblem:
    """One error of a request; a number with a comma says how else it can be typed."""
    field = ".".join(str(part) for part in item["loc"][1:]) or "body"
    message = str(item["msg"]).removeprefix("Value error, ")
    cause = (item.get("ctx") or {}).get("error")
    if isinstance(cause, DoubtfulNumberError):
        return FieldProblem(field=field, message=message, typed=cause.typed, readings=cause.readings)
    typed = item.get("input")
    if item["type"] not in _NUMBER_TYPES or not isinstance(typed, str):
        return FieldProblem(field=field, message=message)
    readings = plain_number(typed)
    if _NUMBER_TYPES[item["type"]]:
        whole = [float(one) for one in readings if float(one).is_integer()]
        readings = tuple(f"{one:.0f}" for one in whole)
    if len(readings) == 2:
        message = str(DoubtfulNumberError(typed, (readings[0], readings[1])))
    else:
        example = "12" if _NUMBER_TYPES[item["type"]] else "12.5"
        message = f"'{typed}' is not a {'whole ' * _NUMBER_TYPES[item['type']]}number: enter for example {example}"
    return FieldProblem(field=field, message=message, typed=typed, readings=readings)


_FIELD_TITLES: dict[type[FieldError], str] = {
    PlantError: "The plan cannot be so",
    EditError: "The change cannot be made",
    MaterialError: "This cannot be ordered so",
    TurnUpError: "This cannot be turned up so",
    AcceptanceError: "This cannot be recorded so",
}


def _field_handler(title: str) -> Callable[[Request, Any], JSONResponse]:
    """Answers an error of one field; where a record did not take a number, with the ways to type it."""

    def handler(_request: Request, error: FieldError) -> JSONResponse:
        cause = error.__cause__
        items = cause.errors(include_url=False) if isinstance(cause, ValidationError) else ()
        read = next((one for item in items if (one := _field_problem(item)).typed), None)
        if read is None:
            problem, detail = FieldProblem(field=error.field, message=str(error)), str(error)
        else:
            detail = f"{error.field.replace('_', ' ')}: {read.message}"
            problem = read.model_copy(update={"field": error.field})
        return answer(Problem(title=title, status=422, detail=detail, errors=(problem,)))

    return handler


def install_problem_handlers(app: FastAPI) -> None:
    """Register a handler for each kind of error."""

    for kind, title in _FIELD_TITLES.items():
        app.add_exception_handler(kind, _field_handler(title))

    @app.exception_handler(NotFoundError)
    async def _not_found(_request: Request, error: NotFoundError) -> JSONResponse:
        return answer(Problem(title="Not found", status=404, detail=str(error)))

    @app.exception_handler(ConflictError)
    def _conflict(request: Request, error: ConflictError) -> JSONResponse:
        with request.app.state.database.read() as session:
            current = link_view(session, error.stored)
        return answer(Problem(title="Changed in the meantime", status=409, detail=str(error), current=current))

    @app.exception_handler(StoppedError)
    async def _stopped(_request: Request, error: StoppedError) -> JSONResponse:
        return answer(Problem(title="Stopped", status=409, detail=str(error)))

    @app.exception_handler(MovedOnError)
    async def _moved_on(_request: Request, _error: MovedOnError) -> JSONResponse:
        detail = "the plan or the house rules were changed while this was read: nothing was added, try again"
        return answer(Problem(title="Changed in the meantime", status=409, detail=detail, retry_s=1))

    @app.exception_handler(StalePlantError)
    @app.exception_handler(StaleHouseError)
    @app.exception_handler(OtherChangeError)
    async def _stale(_request: Request, error: RuntimeError) -> JSONResponse:
        return answer(Problem(title="Changed in the meantime", status=409, detail=str(error)))

    @app.exception_handler(WrongPassphraseError)
    async def _wrong(_request: Request, error: WrongPassphraseError) -> JSONResponse:
        title = "Too soon" if error.too_soon else "Wrong passphrase"
        status, wait_s = 429 if error.too_soon else 403, ceil(error.wait_s)
        return answer(Problem(title=title, status=status, detail=str(error), retry_s=wait_s))

    @app.exception_handler(LostRecordError)
    async def _lost(_request: Request, error: LostRecordError) -> JSONResponse:
        return answer(Problem(title="The log is damaged", status=503, detail=str(error)))

    @app.exception_handler(DatabaseTroubleError)
    async def _trouble(_request: Request, error: DatabaseTroubleError) -> JSONResponse:
        return answer(Problem(title=error.title, status=503, detail=str(error), retry_s=error.retry_s))

    @app.exception_handler(NothingToDoError)
    async def _nothing(_request: Request, error: NothingToDoError) -> JSONResponse:
        return answer(Problem(title="Nothing to do", status=409, detail=str(error)))

    @app.exception_handler(InstrumentError)
    async def _instrument(_request: Request, error: InstrumentError) -> JSONResponse:
        return answer(Problem(title="The instrument did not answer", status=502, detail=str(error)))

    @app.exception_handler(BoxError)
    async def _box(_request: Request, error: BoxError) -> JSONResponse:
        return answer(Problem(title="The box did not answer", status=502, detail=str(error)))

    @app.exception_handler(CredentialsError)
    @app.exception_handler(SigningError)
    async def _secret(_request: Request, error: RuntimeError) -> JSONResponse:
        return answer(Problem(title="A file of secrets cannot be used", status=503, detail=str(error)))

    @app.exception_handler(TraceRecordError)
    async def _trace(_request: Request, error: TraceRecordError) -> JSONResponse:
        return answer(Problem(title="This is no trace record", status=422, detail=str(error)))

    @app.exception_handler(NoAnswerError)
    async def _no_answer(_request: Request, error: NoAnswerError) -> JSONResponse:
        return answer(Problem(title="Nothing answers this", status=422, detail=str(error)))

    @app.exception_handler(DoubtfulNumberError)
    async def _doubtful(_request: Request, error: DoubtfulNumberError) -> JSONResponse:
        fields = (FieldProblem(field="", message=str(error), typed=error.typed, readings=error.readings),)
        return answer(Problem(title="Not understood", status=422, detail=str(error), errors=fields))

    @app.exception_handler(CatalogError)
    @app.exception_handler(UnitError)
    @app.exception_handler(PlanFileError)
    @app.exception_handler(GeoError)
    @app.exception_handler(TableError)
    @app.exception_handler(AttachmentError)
    @app.exception_handler(TooManyFilesError)
    @app.exception_handler(PackageError)
    @app.exception_handler(ReceiptError)
    async def _value(_request: Request, error: ValueError) -> JSONResponse:
        return answer(Problem(title="Not understood", status=422, detail=str(error)))

    @app.exception_handler(UnheldTextError)
    async def _unheld(_request: Request, error: UnheldTextError) -> JSONResponse:
        return answer(Problem(title="The input was not accepted", status=422, detail=str(error)))

    @app.exception_handler(CrowdedError)
    async def _crowded(_request: Request, error: CrowdedError) -> JSONResponse:
        return answer(Problem(title="Busy", status=503, detail=str(error), retry_s=error.retry_s))

    @app.exception_handler(RequestValidationError)
    async def _invalid(_request: Request, error: RequestValidationError) -> JSONResponse:
        fields = tuple(_field_problem(item) for item in error.errors()[:MOST_ERRORS])
        detail = "; ".join(f.message if f.readings else f"{f.field}: {f.message}" for f in fields[:3])
        return answer(Problem(title="The input was not accepted", status=422, detail=detail, errors=fields))

    @app.exception_handler(HTTPException)
    async def _http(_request: Request, error: HTTPException) -> JSONResponse:
        detail = str(error.detail)
        if detail == "There was an error parsing the body":
            detail = "the body is no JSON that can be read: UTF-8 text, not nested too deeply, no endless numbers"
        return answer(Problem(title=str(error.detail), status=error.status_code, detail=detail), error.headers)
