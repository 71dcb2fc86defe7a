"""Routers of the api: where it begins, what each operation may answer, and how a large body is read."""

from __future__ import annotations

import json
import shutil
import tempfile
from collections.abc import Callable, Coroutine
from pathlib import Path
from typing import Any

from fastapi import APIRouter, HTTPException, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.routing import APIRoute
from pydantic import BaseModel, ValidationError
from starlette.concurrency import run_in_threadpool

from passerelle.api.address import ROOT
from passerelle.api.bodies import LARGE, MIB, BodyTooLargeError
from passerelle.api.problems import DEVICE_RESPONSES, PROBLEM_RESPONSES
from passerelle.api.workroom import Tell, key_of, workroom_of
from passerelle.exchange.holdable import check_texts
from passerelle.exchange.long_text import LongText, MostCharacters

MOST_PARSED = 300_000
"""Values that come back from a body, the texts of files left where they are."""
MOST_ERRORS = 20


def api_router(tag: str, *, asks_devices: bool = False) -> APIRouter:
    """A router of the api; ``asks_devices`` where an operation asks an instrument or a device."""
    responses = PROBLEM_RESPONSES | (DEVICE_RESPONSES if asks_devices else {})
    return APIRouter(prefix=ROOT, tags=[tag], responses=responses, route_class=CarefulRoute)


class UnreadableBodyError(ValueError):
    """A body that is no JSON."""


class CarefulRoute(APIRoute):
    """A route whose large bodies are parsed and checked in a process of their own."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        """The handler of FastAPI, given what was parsed where the body was large."""
        handle = super().get_route_handler()
        model = _model_of(self)
        takes_json = getattr(getattr(self.body_field, "field_info", None), "media_type", "") == "application/json"

        async def careful(request: Request) -> Response:
            if not (request.scope.get(LARGE) and takes_json and _is_json(request)):
                return await handle(request)
            folder = Path(tempfile.mkdtemp(prefix="passerelle-"))
            try:
                room, body = workroom_of(request), await request.body()
                parsed = await run_in_threadpool(room.run, key_of(request), parsed_body, body, model, folder)
                del body
                return await handle(_Parsed(request, parsed))
            except UnreadableBodyError as error:
                raise HTTPException(400, "There was an error parsing the body") from error
            except BodyTooLargeError as error:
                raise HTTPException(413, str(error)) from error
            finally:
                shutil.rmtree(folder, ignore_errors=True)

        return careful


def _is_json(request: Request) -> bool:
    kind = request.headers.get("content-type", "").partition(";")[0].strip().lower()
    return kind == "application/json" or (kind.startswith("application/") and kind.endswith("+json"))


class _Parsed(Request):
    """A request whose body was parsed elsewhere."""

    def __init__(self, request: Request, content: Any) -> None:
        super().__init__(request.scope, request.receive)
        self._content = content

    async def body(self) -> bytes:
        """Not the body: it was read, and only says that there was one."""
        return b"{}"

    async def json(self) -> Any:
        """What was parsed."""
        return self._content


def _model_of(route: APIRoute) -> type[BaseModel] | None:
    if route.body_field is None:
        return None
    found = route.body_field.field_info.annotation
    return found if isinstance(found, type) and issubclass(found, BaseModel) else None


def parsed_body(_tell: Tell, body: bytes, model: type[BaseModel] | None, folder: Path) -> Any:
    """A body parsed as JSON and checked against its model, texts of files laid down in a folder.

    Raises:
        UnreadableBodyError: it is no JSON.
        UnheldTextError: a text in it cannot be held.
        BodyTooLargeError: it has more values than can be taken in.
        RequestValidationError: it does not fit its model; the first errors.
    """
    try:
        content = json.loads(body)
    except (ValueError, RecursionError) as error:
        raise UnreadableBodyError(str(error)) from error
    texts = {}
    if isinstance(content, dict) and model is not None:
        texts = {name: content.pop(name) for name in _file_texts(model) if isinstance(content.get(name), str)}
    if _count(content) > MOST_PARSED:
        raise BodyTooLargeError(f"the body has more than {MOST_PARSED:,} values: send it in parts")
    check_texts(content)
    for name, text in texts.items():
        content[name] = LongText.laid_down(text, folder / name) if len(text) > MIB else LongText.of(text)
    if model is not None:
        try:
            model.model_validate(content)
        except ValidationError as error:
            found = error.errors(include_url=False, include_input=False)[:MOST_ERRORS]
            located = [{**one, "loc": ("body", *one["loc"]), "input": None} for one in found]
            raise RequestValidationError(located) from None
    return content


def _file_texts(model: type[BaseModel]) -> list[str]:
    fields = model.model_fields.items()
    return [name for name, field in fields if any(isinstance(one, MostCharacters) for one in field.metadata)]


def _count(content: Any) -> int:
    """How many values there are in what was parsed, up to one more than is taken in."""
    count, todo = 0, [content]
    while todo and count <= MOST_PARSED:
        one = todo.pop()
        count += 1
        if isinstance(one, dict):
            todo += one.values()
        elif isinstance(one, list):
            todo += one
    return count + len(todo) if count > MOST_PARSED else count
