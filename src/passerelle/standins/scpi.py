"""A server of SCPI (IEEE 488.2) over TCP: one line a command, one line an answer, blocks of definite length."""

from __future__ import annotations

import csv
import re
import socketserver
import threading
from collections import deque
from collections.abc import Callable, Mapping
from contextlib import suppress
from typing import Any

Handler = Callable[[list[str]], str | bytes | None]
MOST_LINE = 4096


class CommandError(ValueError):
    """A command that cannot be carried out; the number is SCPI's."""

    def __init__(self, number: int, words: str) -> None:
        super().__init__(words)
        self.number = number


class Device:
    """An instrument: its identity, its commands, and the queue of its errors."""

    def __init__(self, model: str, serial: str, commands: Mapping[str, Handler]) -> None:
        self.identity = f"SIMULATED,{model},{serial},1.0"
        self._errors: deque[str] = deque(maxlen=20)
        self._commands: dict[str, Handler] = {
            "*IDN?": lambda _args: self.identity,
            "*OPC?": lambda _args: "1",
            "*CLS": self._clear,
            "*RST": self._clear,
            "*ESR?": lambda _args: "32" if self._errors else "0",
            "*STB?": lambda _args: "4" if self._errors else "0",
            "SYST:ERR?": lambda _args: self._errors.popleft() if self._errors else '0,"No error"',
            **commands,
        }

    def _clear(self, _args: list[str]) -> None:
        self._errors.clear()

    def answer(self, line: str) -> bytes:
        """What a line is answered with; nothing for a command that asks nothing."""
        told: list[bytes] = []
        for one in commands_of(line):
            found = self._run(one)
            if isinstance(found, bytes):
                told.append(b"#%d%d%s" % (len(str(len(found))), len(found), found))
            elif found is not None:
                told.append(found.encode("ascii", "replace"))
        return b";".join(told) + b"\n" if told else b""

    def _run(self, command: str) -> str | bytes | None:
        head, _, rest = command.partition(" ")
        handler = self._commands.get(head.upper().lstrip(":"))
        try:
            if handler is None:
                raise CommandError(-113, "Undefined header")
            args = [one.strip() for one in next(csv.reader([rest], skipinitialspace=True), [])]
            return handler(args)
        except CommandError as error:
            self._errors.append(f'{error.number},"{error}"')
        except (ValueError, IndexError):
            self._errors.append('-104,"Data type error"')
        except KeyError as error:
            self._errors.append(f'-224,"Illegal parameter value; {str(error)[:60]}"')
        return None


def commands_of(line: str) -> list[str]:
    """The commands of a line, parted by semicolons that stand in no string (IEEE 488.2, 7.3.2 and 7.7.5).

    >>> commands_of('ROUT:LOOK "a;b",1; *RST')
    ['ROUT:LOOK "a;b",1', '*RST']
    """
    parts = _PART.findall(line)
    return [part for part in (one.strip() for one in parts) if part]


_PART = re.compile(r"""(?:"[^"]*"?|[^;"])+""")


class _Connection(socketserver.StreamRequestHandler):
    timeout = 300
    server: Served

    def handle(self) -> None:
        with suppress(OSError):
            while line := self.rfile.readline(MOST_LINE):
                with self.server.lock:
                    said = self.server.device.answer(line.decode("ascii", "replace").strip())
                if said:
                    self.wfile.write(said)


class Served(socketserver.ThreadingTCPServer):
    """An instrument at a port of the loopback; ``lock`` is shared by those on one plant."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int, device: Device, lock: Any) -> None:
        super().__init__(("127.0.0.1", port), _Connection)
        self.device, self.lock = device, lock
        self._thread = threading.Thread(target=self.serve_forever, kwargs={"poll_interval": 0.1}, daemon=True)

    @property
    def port(self) -> int:
        """The port that it has."""
        return int(self.server_address[1])

    def start(self) -> None:
        """Answer from now on."""
        self._thread.start()

    def stop(self) -> None:
        """Answer no more."""
        self.shutdown()
        self.server_close()


def number(args: list[str], most: float = 1e9) -> float:
    """The first argument as a number, whatever unit stands behind it."""
    found = float(args[0].split()[0])
    if not 0 <= found <= most:
        raise CommandError(-222, "Data out of range")
    return found
