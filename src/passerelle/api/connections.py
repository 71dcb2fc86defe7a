"""Connections that end: heads, bodies and readers that drip are dropped, and there are only so many at once."""

from __future__ import annotations

import asyncio
from typing import Any

import h11
from uvicorn.protocols.http.h11_impl import H11Protocol

SLOWEST_S = 30.0
"""So long a client may take for each piece of ..."""
PROGRESS = 4 * 1024
"""... bytes that it sends or reads, or for the end of what it sends."""
MOST_CONNECTIONS = 500
"""Open at once; one more is dropped. Each takes a file of the process, of which there are about a thousand."""


class PacedProtocol(H11Protocol):
    """HTTP/1.1 of a server that others reach directly.

    While a request comes in, from the first moment of a connection on, and while an answer goes out, each thirty
    seconds must move 4 KiB or end it; a request that is being worked on is nobody's fault and may take its time.
    A client that is dropped finds its connection reset. What a proxy in front of it does comes before this.
    """

    slowest_s = SLOWEST_S
    most_connections = MOST_CONNECTIONS

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Begin to watch a connection, or drop it where there are too many."""
        super().connection_made(transport)
        self._received = self._sent = self._moved = 0
        self._has_answered = False
        self._watch: asyncio.TimerHandle | None = None
        if len(self.connections) > self.most_connections:
            transport.abort()
            return
        transport.write = self._counting(transport.write)  # type: ignore[method-assign]
        self._look()

    def connection_lost(self, exc: Exception | None) -> None:
        """Watch no more."""
        if self._watch is not None:
            self._watch.cancel()
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        """Count what came."""
        self._received += len(data)
        super().data_received(data)

    def on_response_complete(self) -> None:
        """An answer that went out is progress, however short it was."""
        self._has_answered = True
        super().on_response_complete()

    def _counting(self, write: Any) -> Any:
        def counted(data: bytes) -> None:
            self._sent += len(data)
            write(data)

        return counted

    def _look(self) -> None:
        """Drop the connection where nothing moved that should; look again later."""
        waiting = self.transport.get_write_buffer_size()
        moved = self._received + self._sent - waiting
        stands_still = moved - self._moved < PROGRESS and not self._has_answered
        if stands_still and (self._is_coming_in() or waiting) and self._watch is not None:
            self.transport.abort()
            return
        self._moved, self._has_answered = moved, False
        self._watch = self.loop.call_later(self.slowest_s, self._look)

    def _is_coming_in(self) -> bool:
        """Whether a request is awaited or has not come to its end."""
        return self.conn.their_state in (h11.IDLE, h11.SEND_BODY)
