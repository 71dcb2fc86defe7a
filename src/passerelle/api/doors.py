"""Who may speak to the application: the names that it answers to, and the origins that may write."""

from __future__ import annotations

import re
from collections.abc import Iterable
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from passerelle.api.bodies import SAFE
from passerelle.api.problems import answer
from passerelle.api.schemas.problem import Problem

LOOPBACK = frozenset({"localhost", "127.0.0.1", "::1"})
_ASKS_DEVICE = re.compile(r"/boxes/[^/]+/ports$")
"""Reads that make the server ask a device: they need the origin that a write needs."""
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

        async def marked(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers[name] = value
            await send(message)

        await (self._refusal(scope) or self.app)(scope, receive, marked)

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
        asks = scope["method"] not in SAFE or _ASKS_DEVICE.search(scope["path"])
        if asks and not _own(headers, host):
            detail = (
                "a page of another site asked for this: changes are made and devices are asked from Passerelle's "
                "own pages only"
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
