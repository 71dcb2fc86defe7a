"""The gate before an application that others reach: the passphrase asked for, and who somebody says to be."""

from __future__ import annotations

from urllib.parse import unquote

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, Field
from starlette.datastructures import Headers
from starlette.requests import cookie_parser
from starlette.types import ASGIApp, Receive, Scope, Send

from passerelle.api.address import ROOT
from passerelle.api.passphrase import SESSION_S, Gate
from passerelle.api.problems import PROBLEM_DEFINED, PROBLEM_RESPONSES, answer
from passerelle.api.schemas.problem import Problem

COOKIE = "passerelle_session"
WHO_HEADER = "x-who"

router = APIRouter(prefix=ROOT, tags=["session"], responses=PROBLEM_RESPONSES)


class GateKeeper:
    """ASGI middleware: nothing of the api is answered without a session, but the question for one."""

    def __init__(self, app: ASGIApp, gate: Gate) -> None:
        self.app, self.gate = app, gate

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request pass, or answer 401."""
        path = scope.get("path", "")
        if scope["type"] == "http" and path.startswith("/api/") and path != "/api/v1/session":
            cookies = cookie_parser(Headers(scope=scope).get("cookie", ""))
            if not self.gate.knows(cookies.get(COOKIE, "")):
                detail = "say the passphrase first: what you typed stays on this page"
                await answer(Problem(title="Passphrase needed", status=401, detail=detail))(scope, receive, send)
                return
        await self.app(scope, receive, send)


class Passphrase(BaseModel):
    """What is said at the door."""

    passphrase: str = Field(max_length=1000)


class SessionOut(BaseModel):
    """Whether a passphrase is asked for here, and whether this browser has said it."""

    asked: bool
    open: bool


@router.get("/session", responses=PROBLEM_DEFINED)
def get_session(request: Request) -> SessionOut:
    """Whether this browser may go on."""
    gate: Gate | None = request.app.state.gate
    return SessionOut(asked=gate is not None, open=gate is None or gate.knows(request.cookies.get(COOKIE, "")))


@router.post("/session")
def open_session(request: Request, response: Response, wish: Passphrase) -> SessionOut:
    """Begin a session. 403 where the passphrase is wrong, 429 where the try came too soon."""
    gate: Gate | None = request.app.state.gate
    if gate is not None:
        secure = request.url.scheme == "https"
        response.set_cookie(
            COOKIE, gate.session(wish.passphrase), SESSION_S, httponly=True, samesite="strict", secure=secure
        )
    return SessionOut(asked=gate is not None, open=True)


@router.delete("/session")
def end_session(request: Request, response: Response) -> SessionOut:
    """End the session of this browser."""
    response.delete_cookie(COOKIE)
    asked = request.app.state.gate is not None
    return SessionOut(asked=asked, open=not asked)


def who_of(request: Request) -> str:
    """Who changes something, as the browser that asks says it: a name for the log, no proof."""
    return " ".join(unquote(request.headers.get(WHO_HEADER, ""), errors="replace").split())[:60]
