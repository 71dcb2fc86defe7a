"""Who may speak to the application: the names it answers to, the origins that may write, the sizes it reads."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from urllib.parse import urlsplit

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import ClientDisconnect
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from passerelle.api.memory import give_back
from passerelle.api.problems import answer
from passerelle.api.schemas.problem import Problem
from passerelle.exchange.holdable import UnheldTextError, check_texts

LOOPBACK = frozenset({"localhost", "127.0.0.1", "::1"})
SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
MIB = 1024 * 1024
LARGEST = (
    (re.compile(r"/projects/(open|\d+/plan)$"), 128 * MIB),
    (re.compile(r"/(attachments|packages)$"), 128 * MIB),
    (re.compile(r"/(import|requirements|plant)"), 32 * MIB),
)
LARGEST_ELSE = 8 * MIB
POLICY = "; ".join(
    (
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",  # the component library writes its rules into the page
        "img-src 'self' data: blob:",
        "font-src 'self' data:",
        "connect-src 'self'",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


def largest(path: str) -> int:
    """The largest body in bytes that a path reads."""
    return next((size for pattern, size in LARGEST if pattern.search(path)), LARGEST_ELSE)


_SUSPECT = re.compile(
    rb"\\u(?:00[01]|007[fF]|[dD][89a-fA-F]|[fF]{3}[eEfF])|[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]|\xef\xbf[\xbe\xbf]"
)
"""What a body may have only if a text in it cannot be held; whether it does is then looked at with care."""


class BodyTooLargeError(ValueError):
    """A body over the size that its path reads."""


class Doors:
    """ASGI middleware before everything else: refuses what is not meant for it, and marks every answer.

    ``hosts`` are the names, without port, that requests may be addressed to beside the loopback ones: a page whose
    name was bound anew to this machine comes with its own name and is refused. A write that a browser says comes
    from a page of elsewhere is refused too; programs send neither ``Origin`` nor ``Sec-Fetch-Site``.
    """

    def __init__(self, app: ASGIApp, hosts: Iterable[str] = ()) -> None:
        self.app = app
        self.hosts = LOOPBACK | {host.lower().strip("[]") for host in hosts}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request pass, or answer it here."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        large = False

        async def marked(message: Message) -> None:
            nonlocal large
            large = large or len(message.get("body", b"")) > MIB
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers[name] = value
            await send(message)

        refused = self._refusal(scope)
        if refused is None and scope["method"] not in SAFE:
            try:
                body = await _body(receive, Headers(scope=scope), largest(scope["path"]))
                check_body(body)
                receive, large = _replayed(body, receive), len(body) > MIB
                del body
            except UnheldTextError as error:
                refused = answer(Problem(title="The input was not accepted", status=422, detail=str(error)))
            except BodyTooLargeError as error:
                refused = answer(Problem(title="Too large", status=413, detail=str(error)))
                refused.headers["Connection"] = "close"
            except ClientDisconnect:
                return  # gone before it had said all: nothing is done, and nobody waits for an answer
        await (refused or self.app)(scope, receive, marked)
        if large:
            del receive
            await run_in_threadpool(give_back)

    def _refusal(self, scope: Scope) -> Response | None:
        headers = Headers(scope=scope)
        host = headers.get("host", "")
        if _name(host) not in self.hosts:
            known = ", ".join(sorted(self.hosts))
            detail = (
                f"this is not addressed to Passerelle: it answers to {known}, not to '{_name(host)}'. To serve it "
                "under another name, start it with --host NAME"
            )
            return answer(Problem(title="Not addressed to this application", status=421, detail=detail))
        if scope["method"] not in SAFE and not _own(headers, host):
            detail = (
                "a page of another site asked for this change: changes are made from Passerelle's own pages only"
            )
            return answer(Problem(title="Not from here", status=403, detail=detail))
        return None


def _own(headers: Headers, host: str) -> bool:
    """Whether a browser, if it is one, says that the request comes from a page of this application."""
    if headers.get("sec-fetch-site", "same-origin") not in ("same-origin", "none"):
        return False
    origin = headers.get("origin")
    return origin is None or urlsplit(origin).netloc.lower() == host.lower()


def _name(host: str) -> str:
    """A Host header without its port and brackets; empty where it cannot be read."""
    try:
        return urlsplit(f"//{host}").hostname or ""
    except ValueError:
        return ""


async def _body(receive: Receive, headers: Headers, most: int) -> bytes:
    said = headers.get("content-length", "0")
    detail = f"the body is larger than the {most // MIB} MiB that are read here: split the file, or make it smaller"
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


def check_body(body: bytes) -> None:
    """Refuse texts that no store or sheet can hold, before anything is made of them; raises UnheldTextError."""
    if not _SUSPECT.search(body):
        return
    try:
        content = json.loads(body)
        if isinstance(content, dict):
            content.pop("text", None)  # a file: who reads it names line and field
        check_texts(content)
    except UnheldTextError:
        raise
    except (ValueError, RecursionError):
        return  # no JSON: whoever reads it will say so


def _replayed(body: bytes, receive: Receive) -> Receive:
    """The body once, and after it whatever else comes."""
    read = False

    async def replay() -> Message:
        nonlocal read
        if read:
            return await receive()
        read = True
        return {"type": "http.request", "body": body, "more_body": False}

    return replay
