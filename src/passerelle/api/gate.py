"""The gate before an application that others reach: the passphrase asked for, and who somebody says to be."""

from __future__ import annotations

import asyncio
from urllib.parse import unquote

import anyio.to_thread
from anyio import CapacityLimiter
from fastapi import Request, Response
from pydantic import BaseModel, Field
from starlette.datastructures import Headers
from starlette.requests import ClientDisconnect, cookie_parser
from starlette.types import ASGIApp, Receive, Scope, Send

from passerelle.api.address import ROOT
from passerelle.api.bodies import SAFE, BodyTooLargeError, read_body, replayed, too_large
from passerelle.api.passphrase import Gate
from passerelle.api.problems import PROBLEM_DEFINED, answer
from passerelle.api.routing import api_router
from passerelle.api.schemas.problem import Problem
from passerelle.api.sessions import Sessions
from passerelle.exchange.holdable import UnheldTextError, unheld
from passerelle.store.sessions import IDLE

COOKIE = "passerelle_session"
DEVICE_COOKIE = "passerelle_device"
WHO_HEADER = "x-who"
SESSION_PATH = f"{ROOT}/session"
LARGEST_PASSPHRASE = 4 * 1024
SLOWEST_PASSPHRASE_S = 5.0

router = api_router("session")


class GateKeeper:
    """ASGI middleware: without a session nothing of the api is answered and no body is read but a passphrase."""

    def __init__(self, app: ASGIApp, sessions: Sessions) -> None:
        self.app, self.sessions = app, sessions
        self._threads: CapacityLimiter | None = None

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request pass, or answer 401."""
        if scope["type"] != "http" or await self._is_inside(scope):
            await self.app(scope, receive, send)
        elif scope["path"] == SESSION_PATH:
            await self._knocking(scope, receive, send)
        elif scope["method"] not in SAFE or scope["path"].startswith("/api/"):
            detail = "Enter the passphrase first. What you typed stays on this page."
            headers = {"Connection": "close"} if scope["method"] not in SAFE else None
            problem = Problem(title="Passphrase needed", status=401, detail=detail)
            await answer(problem, headers)(scope, receive, send)
        else:
            await self.app(scope, receive, send)  # the page that asks for the passphrase

    async def _is_inside(self, scope: Scope) -> bool:
        token = cookie_parser(Headers(scope=scope).get("cookie", "")).get(COOKIE, "")
        if not token or self.sessions.is_remembered(token):
            return bool(token)
        self._threads = self._threads or CapacityLimiter(4)  # of its own: it never waits for heavy work
        return await anyio.to_thread.run_sync(self.sessions.is_open, token, limiter=self._threads)

    async def _knocking(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Read a passphrase, which is short and comes at once."""
        if scope["method"] in SAFE:
            await self.app(scope, receive, send)
            return
        try:
            async with asyncio.timeout(SLOWEST_PASSPHRASE_S):
                body = await read_body(receive, Headers(scope=scope), LARGEST_PASSPHRASE)
        except BodyTooLargeError as error:
            await too_large(str(error))(scope, receive, send)
        except TimeoutError:
            detail = f"The passphrase did not arrive within {SLOWEST_PASSPHRASE_S:.0f} s. Try again."
            problem = Problem(title="Too slow", status=408, detail=detail)
            await answer(problem, {"Connection": "close"})(scope, receive, send)
        except ClientDisconnect:
            return
        else:
            await self.app(scope, replayed(body, receive), send)


class Passphrase(BaseModel):
    """What is said at the door."""

    passphrase: str = Field(max_length=1000)


class SessionOut(BaseModel):
    """Whether a passphrase is asked for here, and whether this browser has said it."""

    asked: bool
    open: bool


def _sessions_of(request: Request) -> Sessions | None:
    found: Sessions | None = request.app.state.sessions
    return found


@router.get("/session", responses=PROBLEM_DEFINED)
def get_session(request: Request) -> SessionOut:
    """Whether this browser may go on."""
    sessions = _sessions_of(request)
    is_open = sessions is None or sessions.is_open(request.cookies.get(COOKIE, ""))
    return SessionOut(asked=sessions is not None, open=is_open)


@router.post("/session")
def open_session(request: Request, response: Response, wish: Passphrase) -> SessionOut:
    """Begin a session. 403 where the passphrase is wrong, 429 where the try came too soon."""
    sessions = _sessions_of(request)
    if sessions is not None:
        gate: Gate = request.app.state.gate
        device = sessions.device_of(request.cookies.get(DEVICE_COOKIE, ""))
        gate.check(wish.passphrase, request.client.host if request.client else "", device)
        _give(request, response, COOKIE, sessions.open(), "session")
        if not device:
            _give(request, response, DEVICE_COOKIE, sessions.open("device"), "device")
    return SessionOut(asked=sessions is not None, open=True)


def _give(request: Request, response: Response, name: str, token: str, kind: str) -> None:
    lasts_s = int(IDLE["device" if kind == "device" else "session"].total_seconds())
    secure = request.url.scheme == "https"
    response.set_cookie(name, token, lasts_s, httponly=True, samesite="strict", secure=secure)


@router.delete("/session")
def end_session(request: Request, response: Response) -> SessionOut:
    """End the session of this browser, here and at the server: a copy of its cookie opens nothing any more."""
    sessions = _sessions_of(request)
    if sessions is not None:
        sessions.end(request.cookies.get(COOKIE, ""))
    response.delete_cookie(COOKIE)
    return SessionOut(asked=sessions is not None, open=sessions is None)


def who_of(request: Request) -> str:
    """Who changes something, as the browser that asks says it: a name for the log, no proof.

    Raises:
        UnheldTextError: there is a character in it that no log can hold.
    """
    said = unquote(request.headers.get(WHO_HEADER, ""), errors="replace")
    if unheld(said):
        raise UnheldTextError("X-Who", said)
    return " ".join(said.split())[:60]
