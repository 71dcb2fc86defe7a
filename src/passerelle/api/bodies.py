"""How much of a request is read: its bytes, the values in it, and the texts that no store can hold.

A body of up to 1 MiB and few values is read by the server itself, where it takes milliseconds. Anything larger is
only counted here, in pieces between which everybody else is answered, and read in a process of its own
(``api.routing``): the JSON parser holds the interpreter for as long as it works.
"""

from __future__ import annotations

import asyncio
import json
import re
from collections.abc import Iterator

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers
from starlette.requests import ClientDisconnect
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from passerelle.api.memory import give_back
from passerelle.api.problems import answer
from passerelle.api.schemas.problem import Problem
from passerelle.exchange.holdable import UnheldTextError, check_texts

SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
MIB = 1024 * 1024
LARGEST = (
    (re.compile(r"/projects/(open|\d+/plan)$"), 128 * MIB),
    (re.compile(r"/(attachments|packages|handovers/verify)$"), 128 * MIB),
    (re.compile(r"/(import|requirements|plant)"), 32 * MIB),
)
LARGEST_ELSE = 8 * MIB
LONG = 64 * 1024
MOST_LONG = 16
"""Requests with a longer body, or one of unknown length, that are inside at once; one more is not read."""
FEW_VALUES = 5_000
"""Signs that begin or part values, up to which a body is read by the server itself."""
MOST_VALUES = 10_000_000
"""Such signs in any body, those in its texts included: a plan of 20,000 links has eight million."""
PIECE = 64 * 1024
CROWDED_S = 5
LARGE = "passerelle.large"
"""The mark in the scope of a request whose body is read in a process of its own."""

_SUSPECT = re.compile(
    rb"\\u(?:00[01]|007[fF]|[dD][89a-fA-F]|[fF]{3}[eEfF])|[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]|\xef\xbf[\xbe\xbf]"
)
"""What a body may have only if a text in it cannot be held; whether it does is then looked at with care."""
_LONGEST_SUSPECT = 6
_CONTROLS = bytes([*range(0x09), 0x0B, 0x0C, *range(0x0E, 0x20), 0x7F])


def largest(path: str) -> int:
    """The largest body in bytes that a path reads."""
    return next((size for pattern, size in LARGEST if pattern.search(path)), LARGEST_ELSE)


class BodyTooLargeError(ValueError):
    """A body over the size that its path reads, or of more values than anything has."""


class Bodies:
    """ASGI middleware: reads the body of a write whole and bounded, before anything is made of it."""

    def __init__(self, app: ASGIApp) -> None:
        self.app, self._long = app, 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request pass with its body read, or answer 413, 422 or 503."""
        if scope["type"] != "http" or not _is_long(scope):
            await self._passed(scope, receive, send)
            return
        if self._long >= MOST_LONG:
            detail = f"Too many large requests are being read. Nothing was changed. Try again in {CROWDED_S} s."
            problem = Problem(title="Busy", status=503, detail=detail, retry_s=CROWDED_S)
            await answer(problem, {"Connection": "close"})(scope, receive, send)
            return
        self._long += 1
        try:
            await self._passed(scope, receive, send)
        finally:
            self._long -= 1

    async def _passed(self, scope: Scope, receive: Receive, send: Send) -> None:
        large = False

        async def measured(message: Message) -> None:
            nonlocal large
            large = large or len(message.get("body", b"")) > MIB
            await send(message)

        if scope["type"] == "http" and scope["method"] not in SAFE:
            try:
                headers = Headers(scope=scope)
                body = await read_body(receive, headers, largest(scope["path"]))
                large = len(body) > MIB
                if not headers.get("content-type", "").startswith("application/octet-stream"):
                    scope[LARGE] = await is_large(body)
                receive = replayed(body, receive)
                del body
            except UnheldTextError as error:
                await answer(Problem(title="The input was not accepted", status=422, detail=str(error)))(
                    scope, receive, send
                )
                return
            except BodyTooLargeError as error:
                await too_large(str(error))(scope, receive, send)
                return
            except ClientDisconnect:
                return  # gone before it had said all: nothing is done, and nobody waits for an answer
        await self.app(scope, receive, measured)
        if large:
            del receive
            await run_in_threadpool(give_back)


def _is_long(scope: Scope) -> bool:
    """Whether a request says that its body is long, or does not say how long."""
    if scope["method"] in SAFE:
        return False
    headers = Headers(scope=scope)
    said = headers.get("content-length", "0")
    return "transfer-encoding" in headers or not said.isdecimal() or len(said) > 5 or int(said) > LONG


def too_large(detail: str) -> ASGIApp:
    """The answer to a body that is not read to its end: the connection ends with it."""
    return answer(Problem(title="Too large", status=413, detail=detail), {"Connection": "close"})


async def read_body(receive: Receive, headers: Headers, most: int) -> bytes:
    """The body of a request.

    Raises:
        BodyTooLargeError: it has more than ``most`` bytes, or says so; no more than that is read.
        ClientDisconnect: who sent it is gone.
    """
    said = headers.get("content-length", "0")
    size_words = f"{most // MIB} MiB" if most >= MIB else f"{most // 1024} KiB"
    detail = f"the body is larger than the {size_words} that are read here: split the file, or make it smaller"
    if not said.isdecimal() or len(said) > 15 or int(said) > most:
        raise BodyTooLargeError(detail)
    parts, size, more = [], 0, True
    while more:
        message = await receive()
        if message["type"] == "http.disconnect":
            raise ClientDisconnect
        parts.append(message.get("body", b""))
        size += len(parts[-1])
        if size > most:
            raise BodyTooLargeError(detail)
        more = message.get("more_body", False)
    return b"".join(parts)


async def is_large(body: bytes) -> bool:
    """Whether a body is read in a process of its own; a smaller one is looked through for texts that nothing holds.

    Raises:
        BodyTooLargeError: it has more values than anything has.
        UnheldTextError: a text in it cannot be held.
    """
    values, suspect = 0, False
    for piece in _pieces(body):
        values += piece.count(b",") + piece.count(b"[") + piece.count(b"{")
        suspect = suspect or _is_suspect(piece)
        if values > MOST_VALUES:
            raise BodyTooLargeError(
                f"the body has more than {MOST_VALUES:,} values: split the file, or make it smaller"
            )
        if len(body) > PIECE:
            await asyncio.sleep(0)
    if len(body) > MIB or values > FEW_VALUES:
        return True
    if suspect:
        check_body(body)
    return False


def _is_suspect(piece: bytes) -> bool:
    """Whether a text may be in it that cannot be held; what it must have is looked for first."""
    if b"\\u" in piece or b"\xef\xbf" in piece or len(piece.translate(None, _CONTROLS)) < len(piece):
        return _SUSPECT.search(piece) is not None
    return False


def _pieces(body: bytes) -> Iterator[bytes]:
    """A body in pieces that overlap by what a suspect sequence may be cut at; counts are a little high for it."""
    for start in range(0, len(body), PIECE):
        yield body[max(0, start - _LONGEST_SUSPECT + 1) : start + PIECE]


def check_body(body: bytes) -> None:
    """Refuse texts that no store or sheet can hold, before anything is made of them; raises UnheldTextError."""
    try:
        content = json.loads(body)
        if isinstance(content, dict):
            content.pop("text", None)  # a file: who reads it names line and field
        check_texts(content)
    except UnheldTextError:
        raise
    except (ValueError, RecursionError):
        return  # no JSON: whoever reads it will say so


def replayed(body: bytes, receive: Receive) -> Receive:
    """The body once, and after it whatever else comes."""
    read = False

    async def replay() -> Message:
        nonlocal read
        if read:
            return await receive()
        read = True
        return {"type": "http.request", "body": body, "more_body": False}

    return replay
