"""Files that were damaged on the way: of each kind mutants, each of which is read or refused in a sentence."""

from __future__ import annotations

import base64
import io
import random
import zipfile
from collections.abc import Callable
from hashlib import sha256
from pathlib import Path
from typing import Any

import pytest

from passerelle.core.errors import CoreError
from passerelle.core.house import HouseRules
from passerelle.core.plant.site import Plant
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import demo_links
from passerelle.exchange.attachment import AttachmentError, media_type_of
from passerelle.exchange.delivery_in import read_delivery
from passerelle.exchange.geojson import GeoError, read_geojson, write_geojson
from passerelle.exchange.handover import verified
from passerelle.exchange.link_import import read_links
from passerelle.exchange.package_in import PackageError, read_package
from passerelle.exchange.plan_file import PlanFileError, read_plan, write_plan
from passerelle.exchange.readings_in import read_readings
from passerelle.exchange.results_out import package
from passerelle.exchange.table_in import TableError, read_table, read_workbook
from passerelle.exchange.table_out import write_xlsx
from tests.core.plain import CATALOG
from tests.depth import DEEP
from tests.exchange.test_trace_record import WHOLE

MUTANTS = 2000 if DEEP else 50
LINKS = demo_links()[:3]
PLAN = write_plan("Port-Aubier", HouseRules(), LINKS, plant=demo_plant())
TABLE = "from,to,length,application,fiber\n" + "".join(f"A,B{n},90 m,10GBASE-SR,OM3\n" for n in range(9))
SHEET = write_xlsx("x", ["item", "quantity"], [("cord", n) for n in range(9)])
HANDOVER = (Path(__file__).parent / "handovers" / "v1.zip").read_bytes()


def picture() -> bytes:
    from PIL import Image

    out = io.BytesIO()
    Image.new("L", (40, 30), 128).save(out, "PNG")
    return out.getvalue()


def as_text(read: Callable[[str], Any]) -> Callable[[bytes], Any]:
    return lambda body: read(body.decode("utf-8", "replace"))


def as_workbook(read: Callable[[str], Any]) -> Callable[[bytes], Any]:
    return lambda body: read(base64.b64encode(body).decode("ascii"))


KINDS: dict[str, tuple[bytes, Callable[[bytes], Any]]] = {
    "plan": (PLAN.encode(), as_text(lambda text: read_plan(text, CATALOG))),
    "package": (package(PLAN, {sha256(picture()).hexdigest(): (picture(), "image/png")}), read_package),
    "handover": (HANDOVER, verified),
    "links": (TABLE.encode(), as_text(lambda text: read_links(text, CATALOG))),
    "workbook": (SHEET, as_workbook(lambda text: read_workbook(text, "item,quantity"))),
    "delivery": (SHEET, as_workbook(lambda text: read_delivery(workbook=text))),
    "readings": (TABLE.encode(), as_text(read_readings)),
    "table": (TABLE.encode(), as_text(lambda text: read_table(text, "from,to"))),
    "map": (write_geojson(demo_plant()).encode(), as_text(lambda text: read_geojson(text, Plant()))),
    "trace": (WHOLE, media_type_of),
    "picture": (picture(), media_type_of),
}
REFUSALS = (PlanFileError, PackageError, TableError, GeoError, AttachmentError, CoreError)


SLIPPED_IN = [b"\x00", b"\xff" * 8, b"[" * 200, b'"', b"9" * 400, b"\\ud800", b"e309"]
BY_LINE = {"links", "readings", "table"}
"""What names its bad lines, and refuses a file only where none can be read."""


def mutant(body: bytes, draw: random.Random) -> bytes:
    """A body with a bit turned, bytes cut out, doubled or put in, or its end cut off."""
    changed = bytearray(body)
    for _ in range(draw.randint(1, 4)):
        at, length = draw.randrange(len(changed) or 1), draw.randint(1, 40)
        match draw.randrange(5):
            case 0:
                changed[at : at + 1] = bytes([changed[at] ^ 1 << draw.randrange(8)]) if changed else b""
            case 1:
                del changed[at : at + length]
            case 2:
                changed[at:at] = changed[at : at + length]
            case 3:
                changed[at:at] = draw.choice(
                    [b"\x00", b"\xff" * 8, b"[" * 200, b'"', b"9" * 400, b"\\ud800", b"e309"]
                )
            case _:
                del changed[max(1, at) :]
    return bytes(changed)


@pytest.mark.parametrize("kind", KINDS)
def test_a_damaged_file_is_read_or_refused_in_a_sentence(kind: str) -> None:
    body, read = KINDS[kind]
    read(body)
    draw, refusals = random.Random(kind), []
    for _ in range(MUTANTS):
        try:
            read(mutant(body, draw))
        except REFUSALS as error:
            refusals.append(str(error))
    assert all(0 < len(words) < 600 for words in refusals)
    assert refusals or kind in BY_LINE


@pytest.mark.parametrize("kind", ["plan", "map"])
@pytest.mark.parametrize("piece", ["[", '{"a":', '{"features":['])
def test_json_that_is_nested_without_end_is_refused(kind: str, piece: str) -> None:
    with pytest.raises(REFUSALS, match=r"JSON|nested"):
        KINDS[kind][1]((piece * 100_000).encode())


@pytest.mark.parametrize("kind", ["package", "handover"])
def test_every_damaged_compressed_stream_is_refused_in_a_sentence(kind: str) -> None:
    body, read = KINDS[kind]
    with zipfile.ZipFile(io.BytesIO(body)) as archive:
        for entry in archive.infolist():
            start = entry.header_offset + 30 + len(entry.filename)
            broken = bytearray(body)
            broken[start : start + 8] = b"\xff" * 8
            with pytest.raises(PackageError, match=r"unpacked|changed"):
                read(bytes(broken))
