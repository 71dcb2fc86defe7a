"""How much of a body is read by the server itself, and what is read in a process of its own."""

from __future__ import annotations

import asyncio
import json
from pathlib import Path
from typing import Annotated

import pytest
from fastapi.exceptions import RequestValidationError
from fastapi.testclient import TestClient
from pydantic import BaseModel, ValidationError

from passerelle.api import bodies, routing
from passerelle.api.bodies import FEW_VALUES, MIB, PIECE, BodyTooLargeError, is_large
from passerelle.api.routing import UnreadableBodyError, parsed_body
from passerelle.exchange.holdable import UnheldTextError
from passerelle.exchange.long_text import LongText, MostCharacters
from tests.api.steps import API


class Wish(BaseModel):
    """A request with the text of a file."""

    text: Annotated[LongText, MostCharacters(2 * MIB)]
    name: str = ""


def large(body: bytes) -> bool:
    return asyncio.run(is_large(body))


def parsed(body: bytes, folder: Path) -> dict[str, object]:
    found: dict[str, object] = parsed_body(lambda *_told: None, body, Wish, folder)
    return found


@pytest.mark.parametrize(
    ("body", "expected"),
    [
        (b"[" + b"1," * (FEW_VALUES - 1), False),
        (b"[" + b"1," * FEW_VALUES, True),
        (b'"' + b"x" * (MIB - 2) + b'"', False),
        (b'"' + b"x" * MIB + b'"', True),
        (b"", False),
    ],
)
def test_a_body_is_large_by_its_bytes_or_its_values(body: bytes, expected: bool) -> None:
    assert large(body) is expected


def test_more_values_than_anything_has_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(bodies, "MOST_VALUES", 20_000)
    assert large(b"," * 20_000)
    with pytest.raises(BodyTooLargeError, match="20,000 values"):
        large(b"," * 20_001)


@pytest.mark.parametrize("before", [0, 10, PIECE - 12, PIECE - 10, PIECE - 8, PIECE, PIECE + 3, 3 * PIECE - 9])
@pytest.mark.parametrize("sign", ["\\u0001", "\\uD800", "\x7f", "\uffff"])
def test_a_text_that_nothing_holds_is_found_wherever_it_is_cut(before: int, sign: str) -> None:
    body = b'{"a":"' + b"x" * before + sign.encode("utf-8", "surrogatepass") + b'"}'
    with pytest.raises(UnheldTextError):
        large(body)
    assert not large(b'{"a":"' + b"x" * before + b'\\u00e9"}')


def test_a_long_text_lies_in_a_file_and_a_short_one_does_not(tmp_path: Path) -> None:
    short, long = "a" * MIB, "é" * (MIB + 1)
    held = parsed(json.dumps({"text": short}).encode(), tmp_path)["text"]
    assert isinstance(held, LongText)
    assert (held.path, held.read(), len(held)) == (None, short, MIB)
    laid = parsed(json.dumps({"text": long}).encode(), tmp_path)["text"]
    assert isinstance(laid, LongText)
    assert laid.path is not None
    assert laid.path.parent == tmp_path
    assert (laid.text, laid.read(), len(laid)) == ("", long, MIB + 1)


@pytest.mark.parametrize(
    ("body", "error"),
    [
        (b"{", UnreadableBodyError),
        (b"[" * 100_000, UnreadableBodyError),
        (b'{"text":"\xff"}', UnreadableBodyError),
        (b'{"text":"a","name":"a\\u0001"}', UnheldTextError),
        (b'{"text":1}', RequestValidationError),
        (b'{"name":"a"}', RequestValidationError),
        (b'{"text":"a","name":[' + b"1," * 300_000 + b"1]}", BodyTooLargeError),
        (b'{"text":"' + b"x" * (2 * MIB + 1) + b'"}', RequestValidationError),
    ],
)
def test_what_is_no_request_is_refused_where_it_is_parsed(tmp_path: Path, body: bytes, error: type) -> None:
    with pytest.raises(error):
        parsed(body, tmp_path)


def test_of_many_errors_the_first_are_told(client: TestClient) -> None:
    body = json.dumps({"links": ["a"] * 9000, "change": {}}).encode()
    answer = client.post(
        f"{API}/projects/1/bulk/preview", content=body, headers={"Content-Type": "application/json"}
    )
    assert answer.status_code == 422
    assert len(answer.json()["errors"]) == routing.MOST_ERRORS
    assert answer.json()["errors"][0]["field"].startswith("links.0")


def test_a_text_that_is_too_long_is_refused_by_its_field() -> None:
    assert Wish.model_validate({"text": "x" * (2 * MIB)})
    for text in ("x" * (2 * MIB + 1), LongText(2 * MIB + 1, path=Path("/nowhere"))):
        with pytest.raises(ValidationError, match="at most") as refused:
            Wish.model_validate({"text": text})
        assert refused.value.errors()[0]["loc"] == ("text",)
    schema = Wish.model_json_schema()["properties"]["text"]
    assert (schema["type"], schema["maxLength"]) == ("string", 2 * MIB)
    assert json.loads(Wish(text=LongText.of("a,b")).model_dump_json())["text"] == "a,b"


def test_sixteen_long_bodies_are_inside_at_once_and_no_more(client: TestClient) -> None:
    from passerelle.api.bodies import LONG, MOST_LONG, Bodies

    entered, passed, answers = 0, asyncio.Event(), []

    async def inner(_scope: object, _receive: object, send: object) -> None:
        nonlocal entered
        entered += 1
        await passed.wait()

    async def run() -> None:
        door = Bodies(inner)  # type: ignore[arg-type]

        async def receive() -> dict[str, object]:
            return {"type": "http.request", "body": b" ", "more_body": False}

        async def send(message: dict[str, object]) -> None:
            answers.append(message)

        def scope(length: int) -> dict[str, object]:
            headers = [(b"content-length", str(length).encode())]
            return {"type": "http", "method": "POST", "path": "/x", "headers": headers}

        tasks = [asyncio.create_task(door(scope(LONG + 1), receive, send)) for _ in range(MOST_LONG)]  # type: ignore[arg-type]
        await asyncio.sleep(0.01)
        assert entered == MOST_LONG
        await door(scope(LONG + 1), receive, send)  # type: ignore[arg-type]
        assert answers[0]["status"] == 503
        short = asyncio.create_task(door(scope(LONG), receive, send))  # type: ignore[arg-type]
        await asyncio.sleep(0.01)
        assert entered == MOST_LONG + 1  # a short one always comes in
        passed.set()
        await asyncio.gather(*tasks, short)
        passed.clear()
        again = asyncio.create_task(door(scope(LONG + 1), receive, send))  # type: ignore[arg-type]
        await asyncio.sleep(0.01)
        assert entered == MOST_LONG + 2
        passed.set()
        await again

    asyncio.run(run())
