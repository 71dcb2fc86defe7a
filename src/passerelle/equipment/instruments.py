"""Test instruments over SCPI (IEEE 488.2) on a TCP socket, through the VISA library in pure Python.

Every call opens its session, says what it wants and closes it: an instrument that was unplugged between two
readings is only noticed at the next one, and nothing that was read before is touched. No instrument takes more than
its time and its bytes: each question has one deadline, a line 64 KiB, a block 64 MiB.
"""

from __future__ import annotations

import math
import re
import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from functools import cache
from typing import Any

TIMEOUT_MS = 3000
TRACE_TIMEOUT_MS = 60_000
MOST_LINE = 64 * 1024
MOST_BLOCK = 64 * 1024 * 1024
MOST_SHOWN = 60
"""Characters of an answer that stand in a message or a name."""
_UNPRINTED = re.compile(r"[^ -~]+")


class InstrumentError(RuntimeError):
    """An instrument that cannot be read. ``address`` is its own; the message says what happened and what to do."""

    def __init__(self, address: str, message: str) -> None:
        super().__init__(f"{address}: {message}")
        self.address = address


@dataclass(frozen=True)
class Identity:
    """What an instrument says of itself: maker, model, serial number, firmware."""

    maker: str
    model: str
    serial: str
    firmware: str


@cache
def _manager() -> Any:
    import pyvisa

    return pyvisa.ResourceManager("@py")


class Session:
    """An open instrument; texts go out and come back as lines."""

    def __init__(self, address: str, resource: Any, timeout_ms: int = TIMEOUT_MS) -> None:
        self.address, self._resource, self._timeout_s = address, resource, timeout_ms / 1000

    def say(self, command: str) -> None:
        """Send a command and see that the instrument took it."""
        self._resource.write(command)
        said = self.ask("SYST:ERR?")
        if not said.startswith(("0,", "+0,")):
            raise InstrumentError(self.address, f"it refused '{command[:MOST_SHOWN]}': {said[:MOST_SHOWN]}")

    def ask(self, query: str) -> str:
        """Ask and read one line of at most 64 KiB, within the time of one question."""
        with self._deadline():
            self._resource.write(query)
            answer = self._resource.read_bytes(MOST_LINE + 1, break_on_termchar=True)
        if len(answer) > MOST_LINE:
            raise InstrumentError(self.address, f"its answer to '{query}' does not end: is this the right port?")
        if not answer.endswith(b"\n"):
            raise InstrumentError(self.address, f"its answer to '{query}' broke off: read again")
        said = printable(answer.decode("utf-8", "replace"), MOST_LINE)
        if not said:
            raise InstrumentError(self.address, f"it answered nothing to '{query}': read again")
        return said

    @contextmanager
    def _deadline(self) -> Iterator[None]:
        """The time of one question, however slowly its answer drips in: then the connection is cut.

        Raises:
            InstrumentError: it took longer.
        """
        late = threading.Event()

        def cut() -> None:
            late.set()
            with suppress(Exception):  # it is gone already
                self._resource.visalib.sessions[self._resource.session].interface.shutdown(socket.SHUT_RDWR)

        timer = threading.Timer(self._timeout_s, cut)
        timer.start()
        try:
            yield
        except Exception as error:
            if late.is_set():
                raise InstrumentError(self.address, _LATE) from error
            raise
        finally:
            timer.cancel()
        if late.is_set():
            raise InstrumentError(self.address, _LATE)

    def number(self, query: str) -> float:
        """Ask for one number."""
        return self.numbers(query)[0]

    def numbers(self, query: str) -> tuple[float, ...]:
        """Ask for numbers, separated by commas."""
        answer = self.ask(query)
        try:
            found = tuple(float(one) for one in answer.split(","))
        except ValueError as error:
            raise InstrumentError(
                self.address, f"'{answer[:MOST_SHOWN]}' to '{query}' is no number: read again"
            ) from error
        if not found or not all(math.isfinite(one) and abs(one) < 9.9e36 for one in found):
            raise InstrumentError(self.address, f"it has no reading ('{answer[:MOST_SHOWN]}'): look at its display")
        return found

    def block(self, query: str) -> bytes:
        """Ask for a block of bytes of definite length."""
        with self._deadline():
            self._resource.write(query)
            head = self._resource.read_bytes(2)
            if head[:1] != b"#" or not head[1:].isdigit() or head == b"#0":
                raise InstrumentError(self.address, f"it sent no data for '{query}': read again")
            size = int(self._resource.read_bytes(int(head[1:])))
            if size > MOST_BLOCK:
                raise InstrumentError(self.address, "it sent more than 64 MiB: this is no record")
            found = bytes(self._resource.read_bytes(size, chunk_size=MOST_LINE)) if size else b""
            self._resource.read_bytes(1)
        if not found:
            raise InstrumentError(self.address, f"it sent no data for '{query}': read again")
        return found


def printable(text: str, most: int = MOST_SHOWN) -> str:
    """What can be shown of a text that an instrument said, cut to some characters.

    >>> printable("OPM-1\\x1b[31m\\n")
    'OPM-1 [31m'
    """
    return _UNPRINTED.sub(" ", text).strip()[:most]


def quoted(text: str) -> str:
    """A text as a string of a program message (IEEE 488.2, 7.7.5.2): nothing in it is a command.

    >>> quoted('A";*RST')
    '"A"";*RST"'
    """
    return '"' + _UNPRINTED.sub("?", text).replace('"', '""') + '"'


@contextmanager
def opened(address: str, timeout_ms: int = TIMEOUT_MS) -> Iterator[Session]:
    """A session with an instrument at ``host:port``.

    Raises:
        InstrumentError: it is not there, falls silent, answers nonsense or drops in the middle.
    """
    host, _, port = address.rpartition(":")
    if not host or not port.isdecimal():
        raise InstrumentError(address, "an address reads host:port, such as 127.0.0.1:5102")
    import pyvisa

    resource = None
    try:
        resource = _manager().open_resource(
            f"TCPIP::{host.strip('[]')}::{port}::SOCKET",
            open_timeout=timeout_ms,
            timeout=timeout_ms,
            read_termination="\n",
            write_termination="\n",
        )
        yield Session(address, resource, timeout_ms)
    except pyvisa.errors.VisaIOError as error:
        raise InstrumentError(address, _words(error)) from error
    except (OSError, EOFError) as error:
        raise InstrumentError(
            address, f"the connection broke ({error}): check its cable, then read again"
        ) from error
    except UnicodeDecodeError as error:
        raise InstrumentError(address, "it answers in what is no text: is this the instrument's port?") from error
    except (ValueError, IndexError, TypeError) as error:
        raise InstrumentError(address, f"its answer makes no sense ({error}): read again") from error
    finally:
        if resource is not None:
            with suppress(Exception):  # it is gone already, which was said above
                resource.close()


_LATE = "it does not answer in time: is it on, and is nobody else using it? What was read so far is kept"


def _words(error: Any) -> str:
    import pyvisa

    if error.error_code == pyvisa.constants.StatusCode.error_timeout:
        return _LATE
    if error.error_code == pyvisa.constants.StatusCode.error_resource_not_found:
        return "there is nothing at this address: check it, and that the instrument is on"
    return f"the connection failed ({error.description}): check its address and cable. What was read so far is kept"


def identify(address: str) -> Identity:
    """What is at an address."""
    with opened(address) as session:
        parts = [part.strip() for part in session.ask("*IDN?").split(",")]
    parts += [""] * (4 - len(parts))
    return Identity(*(part[:MOST_SHOWN] for part in parts[:4]))


def light(address: str, wavelength_nm: int, *, on: bool) -> None:
    """Set a light source: its wavelength in nm, and whether it shines."""
    with opened(address) as session:
        session.say(f"SOUR:WAV {wavelength_nm} NM")
        session.say(f"OUTP:STAT {'ON' if on else 'OFF'}")


def power_dbm(address: str, wavelength_nm: int) -> float:
    """What a power meter reads at a wavelength (nm), in dBm."""
    with opened(address) as session:
        session.say(f"SENS:WAV {wavelength_nm} NM")
        return session.number("READ:POW?")


def array_power_dbm(address: str, wavelength_nm: int) -> tuple[float, ...]:
    """What an array meter reads, position by position, in dBm."""
    with opened(address) as session:
        session.say(f"SENS:WAV {wavelength_nm} NM")
        return session.numbers("READ:ARR:POW?")


def switch_to(address: str, position: int) -> None:
    """Set a switch of positions."""
    with opened(address) as session:
        session.say(f"ROUT:CLOS {position}")


@dataclass(frozen=True)
class TraceSettings:
    """How a trace is taken: wavelength in nm, pulse in ns, averaging in s, group index, range in m."""

    wavelength_nm: int
    pulse_ns: int
    averaging_s: float
    group_index: float
    range_m: float


def take_trace(address: str, settings: TraceSettings) -> bytes:
    """Take a trace; the instrument hands over its record as a block of bytes."""
    with opened(address, TRACE_TIMEOUT_MS) as session:
        session.say(f"SOUR:WAV {settings.wavelength_nm} NM")
        session.say(f"SOUR:PULS:WIDT {settings.pulse_ns} NS")
        session.say(f"SENS:AVER:TIME {settings.averaging_s:g} S")
        session.say(f"SENS:RIND {settings.group_index:.6f}")
        session.say(f"SENS:RANG {settings.range_m:.1f} M")
        session.say("INIT:IMM")
        session.ask("*OPC?")
        return session.block("TRAC:DATA:SOR?")


def take_picture(address: str) -> bytes:
    """What a scope sees now, as a picture (PNG)."""
    with opened(address) as session:
        return session.block("HCOP:DATA?")


def fit(address: str, command: str) -> None:
    """Tell a fitter what to plug; the simulated one does it at once."""
    with opened(address) as session:
        session.say(command)
