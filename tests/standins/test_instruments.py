"""The simulated instruments over a true plant, and the clients that drive them: what is cut off loses nothing."""

from __future__ import annotations

import re
import socket
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress

import pytest

from passerelle.core.acceptance.proof import proof_of
from passerelle.core.acceptance.stretch import Taken, should_read
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Measure, apply_edits
from passerelle.core.link.readings import Reading
from passerelle.demo.port_aubier import demo_links
from passerelle.equipment.instruments import (
    InstrumentError,
    TraceSettings,
    array_power_dbm,
    fit,
    identify,
    light,
    opened,
    power_dbm,
    quoted,
    take_picture,
    take_trace,
)
from passerelle.exchange.attachment import media_type_of
from passerelle.exchange.trace_record_in import read_record
from passerelle.standins.bench import StandIns, start_standins
from passerelle.standins.scpi import Device
from passerelle.standins.truth import Fault, Truth
from tests.core.plain import CATALOG
from tests.core.test_readings import WHOLE

LINKS = demo_links()
HOUSE = HouseRules(test_directions="one")


@contextmanager
def running(*faults: dict[str, object]) -> Iterator[StandIns]:
    made = start_standins(
        LINKS, Truth(seed=3, fault=tuple(Fault.model_validate(one) for one in faults)), fixed_ports=False
    )
    try:
        yield made
    finally:
        made.stop()


def measured_link(stand: StandIns, name: str) -> Link:
    """A link with every reading of its proof taken with the instruments."""
    link = next(one for one in LINKS if one.name == name)
    at = stand.addresses
    for row in proof_of(link, [], CATALOG, HOUSE).rows:
        light(at["light source"], row.wavelength_nm, on=True)
        fit(at["fitter"], "ROUT:CONN:REF 1")
        zero = power_dbm(at["power meter"], row.wavelength_nm)
        plugged = f'"{name}",{row.start},{row.end},{row.strand},{row.far},{row.direction},1'
        fit(at["fitter"], f"ROUT:CONN:LINK {plugged}")
        value = zero - power_dbm(at["power meter"], row.wavelength_nm)
        told = {**WHOLE, "value_db": round(value, 3), "start": row.start, "end": row.end, "strand": row.strand}
        told |= {"far_strand": row.far, "wavelength_nm": row.wavelength_nm, "direction": row.direction}
        told |= {"reference_grade": True, "uncertainty_db": 0.1}
        link = apply_edits(link, (Measure(reading=Reading.model_validate(told)),))
    return link


SINGLE = "Lock house, quay duct"


@pytest.mark.parametrize(
    ("fault", "link", "codes"),
    [
        (None, SINGLE, set()),
        ({"kind": "dirty face", "element": "pigtail-1", "strand": 1, "db": 1.4}, SINGLE, {"dirty face"}),
        ({"kind": "bad splice", "element": "splice-1", "strand": 2, "db": 1.2}, SINGLE, {"dirty face"}),
        ({"kind": "bend", "element": "run-1", "at_m": 300, "strand": 1, "db": 1.6}, SINGLE, {"bend"}),
        ({"kind": "broken", "element": "run-1", "at_m": 300, "strand": 2}, SINGLE, {"no light"}),
        ({"kind": "swapped pair"}, SINGLE, {"no light"}),
        ({"kind": "crossed strand", "strand": 3, "with": 4}, "Rows 40G", {"no light"}),
    ],
)
def test_each_hidden_fault_is_named_by_the_readings_that_it_makes(
    fault: dict[str, object] | None, link: str, codes: set[str]
) -> None:
    """A bad splice costs what a dirty face does: the reading says so, and that a trace tells the two apart."""
    with running(*([{"link": link, **fault}] if fault else [])) as stand:
        found = proof_of(measured_link(stand, link), [], CATALOG, HOUSE)
    assert {row.cause.code for row in found.rows if row.cause} == codes
    assert (found.failing == 0) == (not codes)


def test_a_face_is_clean_after_as_many_cleanings_as_its_dirt_asks() -> None:
    dirt = {"link": "Crane 3", "kind": "dirty face", "element": "run-1", "strand": 1, "db": 1.0, "cleanings": 2}
    with running(dirt) as stand:
        at = stand.addresses
        fit(at["fitter"], 'ROUT:LOOK "Crane 3",run-1,left')
        seen = [take_picture(at["scope"])]
        for _ in range(2):
            fit(at["fitter"], 'ROUT:CLEAN "Crane 3",run-1,left')
            seen.append(take_picture(at["scope"]))
    assert media_type_of(seen[0]) == "image/png"
    assert seen[0] == seen[1] != seen[2]


def test_the_instruments_speak_as_real_ones_do() -> None:
    with running() as stand:
        at = stand.addresses
        assert identify(at["power meter"]).serial == "PM-0417"
        with pytest.raises(InstrumentError, match=r"refused.*-113"):
            fit(at["fitter"], "ROUT:FLY 1")
        with pytest.raises(InstrumentError, match=r"refused.*-224"):
            fit(at["fitter"], 'ROUT:CONN:LINK "no such link",a,b,1,1,right')
        light(at["light source"], 850, on=True)
        fit(at["fitter"], 'ROUT:CONN:LINK "Rows 40G",trunk-1,trunk-1,1,12,right,1')
        assert len(array_power_dbm(at["array meter"], 850)) == 12
        settings = TraceSettings(850, 10, 5.0, 1.482, 400.0)
        record = read_record(take_trace(at["trace instrument"], settings))
        assert (record.wavelength_nm, record.pulse_ns, len(record.raw)) == (850.0, 10.0, 16_000)
        assert record.checksum == "ok"


def test_readings_lie_between_the_least_and_the_most_that_the_parts_can_lose() -> None:
    with running() as stand:
        for name in ("Ferry terminal", "Crane 3", "Rows A to B", "Rows 100G"):
            stretch = stand.bench.plant.stretch(name)
            nm = 850 if stretch.family(CATALOG) == "multimode" else 1310
            should = should_read(stretch, Taken("one cord", nm, reference_grade=True), CATALOG)
            for near, far in stretch.strands:
                lost = stand.bench.plant.loss_db(stretch, near, far, nm, "right")
                assert should.least_db <= lost <= should.limit_db


Answering = Callable[[socket.socket, bytes], None]


@contextmanager
def broken_instrument(answer: Answering) -> Iterator[str]:
    """A socket that answers each line in its own bad way."""
    with socket.create_server(("127.0.0.1", 0)) as server:

        def serve() -> None:
            with suppress(OSError):
                while True:
                    connection, _ = server.accept()
                    with connection, suppress(OSError):
                        while line := connection.recv(4096):
                            answer(connection, line)

        threading.Thread(target=serve, daemon=True).start()
        yield f"127.0.0.1:{server.getsockname()[1]}"


def good_until(query: bytes, then: Answering) -> Answering:
    def answer(connection: socket.socket, line: bytes) -> None:
        for one in line.split(b"\n"):
            if one.startswith(query):
                then(connection, one)
            elif one.startswith(b"SYST:ERR?"):
                connection.sendall(b'0,"No error"\n')

    return answer


@pytest.mark.parametrize(
    ("at", "then"),
    [
        (b"SENS", lambda c, _l: c.close()),
        (b"SYST", lambda c, _l: c.close()),
        (b"READ", lambda c, _l: c.close()),
        (b"READ", lambda c, _l: c.sendall(b"hello\n")),
        (b"READ", lambda c, _l: c.sendall(b"9.91E+37\n")),
        (b"READ", lambda c, _l: c.sendall(b"\n")),
        (b"READ", lambda c, _l: c.sendall(b"\xff\xfe\x00\n")),
        (b"READ", lambda c, _l: c.sendall(b"-7.0")),
        (b"READ", lambda _c, _l: None),
    ],
)
def test_a_meter_that_drops_or_answers_nonsense_is_told_in_words(
    at: bytes, then: Answering, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("passerelle.equipment.instruments.opened.__wrapped__.__defaults__", (400,))
    with broken_instrument(good_until(at, then)) as address, pytest.raises(InstrumentError) as told:
        power_dbm(address, 1310)
    assert address in str(told.value)


@pytest.mark.parametrize("body", [b"#9", b"#3999abc\n", b"abc\n", b"#0abc\n", b"#12\n"])
def test_a_block_that_ends_too_soon_is_told_in_words(body: bytes, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("passerelle.equipment.instruments.opened.__wrapped__.__defaults__", (400,))
    with (
        broken_instrument(good_until(b"HCOP", lambda c, _l: c.sendall(body))) as address,
        pytest.raises(InstrumentError),
    ):
        take_picture(address)


def test_nothing_at_an_address_and_no_address_are_told() -> None:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    with pytest.raises(InstrumentError, match="connection"):
        identify(f"127.0.0.1:{port}")
    with pytest.raises(InstrumentError, match="host:port"):
        identify("meter")


@contextmanager
def answering(*pieces: bytes, pause_s: float = 0.0, endless: bool = False) -> Iterator[tuple[str, list[bytes]]]:
    """An instrument that says these bytes whatever it is asked, and what it heard."""
    heard: list[bytes] = []
    listening = socket.create_server(("127.0.0.1", 0))
    over = threading.Event()

    def serve() -> None:
        with suppress(OSError):
            link, _ = listening.accept()
            with link, suppress(OSError):
                heard.append(link.recv(4096))
                while not over.is_set():
                    for piece in pieces:
                        link.sendall(piece)
                        over.wait(pause_s)
                    if not endless:
                        over.wait(20)

    thread = threading.Thread(target=serve, daemon=True)
    thread.start()
    try:
        yield f"127.0.0.1:{listening.getsockname()[1]}", heard
    finally:
        over.set()
        listening.close()
        thread.join()


def test_a_line_without_end_is_given_up_after_64_kib() -> None:
    with answering(b"9" * 4096, endless=True) as (address, _), pytest.raises(InstrumentError, match="does not end"):
        identify(address)


def test_a_line_of_64_kib_is_read_and_cut_to_what_can_be_shown() -> None:
    with answering(b"A" * (64 * 1024 - 1) + b"\n") as (address, _):
        assert identify(address).maker == "A" * 60


def test_an_instrument_that_drips_is_given_up_at_its_deadline() -> None:
    """Each byte comes within the patience for a byte; the question has one deadline all the same."""
    with (
        answering(b"9", pause_s=0.2, endless=True) as (address, _),
        pytest.raises(InstrumentError, match="in time"),
        opened(address, timeout_ms=1000) as session,
    ):
        session.ask("READ:POW?")


@pytest.mark.parametrize(
    ("said", "words"),
    [
        (b"#9999999999", "more than 64 MiB"),
        (b"#0", "no data"),
        (b"#x1", "no data"),
        (b"12345", "no data"),
        (b"#2ab", "makes no sense"),
        (b"#15abc", "in time"),
        (b"#11", "in time"),
    ],
)
def test_a_block_that_is_none_ends_in_a_sentence(said: bytes, words: str) -> None:
    with (
        answering(said) as (address, _),
        pytest.raises(InstrumentError, match=words),
        opened(address, timeout_ms=1000) as session,
    ):
        session.block("TRAC:DATA:SOR?")


def test_what_an_instrument_says_is_cut_to_printable_text() -> None:
    with answering(b"SIM\x1b[2J\x07,\xff\xfeOPM<script>,1,2\n") as (address, _):
        found = identify(address)
    assert found.maker == "SIM [2J"
    assert all(part.isprintable() and part.isascii() for part in (found.maker, found.model))


@pytest.mark.parametrize(
    "name",
    ['A";OUTP:STAT ON;*RST;"', 'A"', '"', "A;*RST", "A\n*RST", "A\r\nOUTP:STAT ON", "A,B", 'x"";*RST;"" y'],
)
def test_a_name_from_a_file_is_never_a_command(name: str) -> None:
    """What is sent is one line with one command, whose first argument is the name."""
    heard: list[list[str]] = []
    device = Device("FIT", "1", {"ROUT:LOOK": heard.append, "*RST": lambda _args: pytest.fail("a command ran")})
    line = f"ROUT:LOOK {quoted(name)},run-1,left"
    assert "\n" not in line
    assert "\r" not in line
    device.answer(line)
    (args,) = heard
    assert args[0] == re.sub("[^ -~]+", "?", name)
    assert args[1:] == ["run-1", "left"]
