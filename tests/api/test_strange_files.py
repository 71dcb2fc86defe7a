"""Files from anywhere: bounded before they are parsed, refused with line, field and remedy, never with a fault."""

from __future__ import annotations

import base64
import io
import json
import zipfile
from itertools import pairwise
from typing import Any

import pytest
from fastapi.testclient import TestClient
from httpx import Response
from openpyxl import Workbook
from sqlalchemy import text as sql

from passerelle.core.plant.capacity import capacity
from passerelle.core.plant.riders import cable_uses
from passerelle.demo.plant import demo_plant
from passerelle.store.database import Database
from tests.api.steps import API

P = f"{API}/projects/1"
NINES = "9" * 5000
NAMESPACE = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"'


def refused(answer: Response, *hints: str) -> None:
    said = answer.json()["detail"]
    assert answer.status_code in (400, 422), said
    for hint in hints:
        assert hint in said
    assert len(said) < 500


@pytest.mark.parametrize(
    ("line", "hints"),
    [
        ("A,B,2000 km,10GBASE-LR,OS2,2", ("line 2", "'2000 km'", "check the unit")),
        (f"A,B,{NINES} m,10GBASE-LR,OS2,2", ("line 2", "digits")),
        (f"A,B,9 m,10GBASE-LR,OS2,{NINES}", ("line 2", "digits")),
        ("A,B,9 m,10GBASE-LR,OS2,²", ("line 2", "pairs")),
        ("A\x0bx,B,9 m,10GBASE-LR,OS2,2", ("line 2", "control character")),
        ("A,B,9 m,10GBASE-LR,OS2,2\x00", ("UTF-8",)),
        ("A,B,9 m,10GBASE-LR,OM1 or OM2 or OM3 or OM4 or OM5 or OS1 or OS1a or OS2 or OM6,2", ("line 2", "OM6")),
    ],
)
def test_a_line_of_links_that_cannot_be(client: TestClient, line: str, hints: tuple[str, ...]) -> None:
    wish = {"text": f"from,to,length,application,fiber,pairs\n{line}\n"}
    refused(client.post(f"{P}/import", json=wish), *hints)
    assert client.post(f"{P}/import/preview", json=wish).json()["problems"]


def test_thirteen_grades_are_read_or_refused_by_line(client: TestClient) -> None:
    grades = " or ".join(["OM1", "OM2", "OM3", "OM4", "OM5", "OS1", "OS1a", "OS2"] * 2)
    wish = {"text": f"from,to,length,application,fiber\nA,B,9 m,10GBASE-SR,{grades}\n"}
    assert client.post(f"{P}/import", json=wish).status_code in (200, 422)


@pytest.mark.parametrize(
    "line", ["A,B,2000 km,10G", f"A,B,{NINES},10G", f"A,B,9 m,{NINES}", f"A,B,9 m,{'9' * 50}G"]
)
def test_a_requirement_that_cannot_be(client: TestClient, line: str) -> None:
    wish = {"text": f"from,to,length,speed\n{line}\n", "first": 0, "count": 5}
    found = client.post(f"{P}/requirements", json=wish).json()
    assert found["problems"][0]["line"] == 2 or not found["answered"][0]["best"]


@pytest.mark.parametrize("growth", ["2.2e-313", "1e-300", "0", "200"])
def test_any_growth_is_planned_for(client: TestClient, growth: str) -> None:
    assert client.get(f"{P}/plant/capacity?growth={growth}&years=50").status_code == 200


def test_growth_without_end_is_no_growth() -> None:
    plant = demo_plant()
    uses = cable_uses(plant, ())
    small, none = (capacity(plant, uses, growth, 10, 20) for growth in (1e-12, 0.0))
    assert [c.enough_years for c in small.cables] == [c.enough_years for c in none.cables]


def test_a_price_with_a_decimal_comma(client: TestClient) -> None:
    refused(client.put(f"{P}/prices", json={"text": "item,price\npanel,15,50\n"}), "line 2", "comma")
    quoted = client.put(f"{P}/prices", json={"text": 'item,price\npanel,"15,50"\n'}).json()
    assert next(line["price"] for line in quoted["lines"] if line["item"] == "panel") == 15.5


@pytest.mark.parametrize(
    ("coordinates", "name", "hint"),
    [
        ("1" * 400 + ",5", "x", "features[0].geometry.coordinates"),
        (f"{NINES},5", "x", "JSON"),
        ("1e999,5", "x", "features[0].geometry.coordinates"),
        ("5,5", "x\\u0001", "features[0].properties.name"),
        ("5,5", "x\\ud800", "features[0].properties.name"),
    ],
)
def test_geojson_that_cannot_be(client: TestClient, coordinates: str, name: str, hint: str) -> None:
    point = f'{{"type":"Point","coordinates":[{coordinates}]}}'
    feature = f'{{"type":"Feature","properties":{{"name":"{name}"}},"geometry":{point}}}'
    wish = {"text": f'{{"type":"FeatureCollection","features":[{feature}]}}', "slack_percent": 5}
    refused(client.post(f"{P}/plant/geojson", json=wish), hint)


def test_lines_find_their_poles_by_where_they_stand(client: TestClient) -> None:
    def feature(kind: str, coordinates: Any, **properties: Any) -> dict[str, Any]:
        return {"type": "Feature", "properties": properties, "geometry": {"type": kind, "coordinates": coordinates}}

    at = [[4.0 + n * 0.0004, 51.0 + (n % 7) * 1e-4] for n in range(300)]
    off = 6e-6  # a bit more than half a metre to the north
    features = [feature("Point", spot, id=f"pole {n}", name=f"pole {n}") for n, spot in enumerate(at)]
    lines = ((f"span {a[0]:.4f}", [[a[0], a[1] + off], b]) for a, b in pairwise(at))
    features += [feature("LineString", line, id=name) for name, line in lines]
    wish = {"text": json.dumps({"type": "FeatureCollection", "features": features}), "slack_percent": 0}
    plant = client.post(f"{P}/plant/geojson", json=wish).json()["plant"]
    spans = [way for way in plant["ways"] if way["id"].startswith("span")]
    assert [(way["start"], way["end"]) for way in spans] == [(f"pole {n}", f"pole {n + 1}") for n in range(299)]
    features.append(feature("LineString", [[4.0, 51.0 + 3e-5], at[1]], id="nowhere"))
    wish["text"] = json.dumps({"type": "FeatureCollection", "features": features})
    refused(client.post(f"{P}/plant/geojson", json=wish), "features[599]", "no place stands")


@pytest.mark.parametrize(
    ("body", "hint"),
    [
        (b'{"name":"a\\u0001b"}', "name: no text that can be kept"),
        (b'{"name":"\\ud800"}', "name"),
        (b'{"name":"a\x7fb"}', "name: no text that can be kept"),
        (f'{{"name":{NINES}}}'.encode(), "JSON"),
        (b'{"name":"\xff"}', "JSON"),
        (b"[" * 100_000, "JSON"),
        (b"", "body"),
    ],
)
def test_a_body_that_cannot_be(client: TestClient, body: bytes, hint: str) -> None:
    refused(client.put(f"{P}/name", content=body, headers={"Content-Type": "application/json"}), hint)


def test_text_of_people_everywhere_is_kept(client: TestClient) -> None:
    name = 'Größe "größer" 北 \U0001f6a2 e\u0301 \\u0001 tab\there'
    assert client.put(f"{P}/name", json={"name": name}).json()["name"] == name


def workbook(rows: str, **parts: bytes) -> bytes:
    """A workbook whose first sheet has the rows as they stand."""
    plain, made = io.BytesIO(), io.BytesIO()
    Workbook().save(plain)
    with zipfile.ZipFile(plain) as source, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as target:
        for name in source.namelist():
            sheet = f"<worksheet {NAMESPACE}><sheetData>{rows}</sheetData></worksheet>"
            target.writestr(name, sheet if name == "xl/worksheets/sheet1.xml" else source.read(name))
        for name, content in parts.items():
            target.writestr(name, content)
    return made.getvalue()


def row(number: int, **cells: str) -> str:
    inside = "".join(
        f'<c r="{column}{number}" t="inlineStr"><is><t>{text}</t></is></c>' for column, text in cells.items()
    )
    return f'<row r="{number}">{inside}</row>'


HEAD = row(1, A="id", B="name")
GOOD = workbook(HEAD + row(2, A="quay 9", B="Quay nine"))


def encrypted(content: bytes) -> bytes:
    made = bytearray(content)
    for mark, offset in ((b"PK\x01\x02", 8), (b"PK\x03\x04", 6)):
        at = content.find(mark)
        while at >= 0:
            made[at + offset] |= 1
            at = content.find(mark, at + 4)
    return bytes(made)


STRANGE = [
    (workbook(HEAD + row(2_000_000_000, A="x")), "row 2000000000"),
    (workbook(HEAD + "".join(row(n, XFD="x") for n in range(2, 2000))), "column XFD"),
    (workbook(HEAD + f"<!--{' ' * 80_000_000}-->"), "76 MiB"),
    (workbook(HEAD, **{f"x{n}": b"" for n in range(1200)}), "parts"),
    (workbook("no xml <"), "not an XLSX workbook"),
    (GOOD[:-200], "not an XLSX workbook"),
    (GOOD[:400] + b"????" + GOOD[404:], "not an XLSX workbook"),
    (encrypted(GOOD), "without a password"),
    (b"hello", "not an XLSX workbook"),
    (workbook("".join(row(n, A=f"p{n}") for n in range(1, 20_005))), "20000"),
]


@pytest.mark.parametrize(("content", "hint"), STRANGE)
def test_a_workbook_is_bounded_before_it_is_parsed(client: TestClient, content: bytes, hint: str) -> None:
    wish = {"shelf": "places", "workbook": base64.b64encode(content).decode()}
    refused(client.post(f"{P}/plant/tables", json=wish), hint)


def test_a_sound_workbook_is_read(client: TestClient) -> None:
    wish = {"shelf": "places", "workbook": base64.b64encode(GOOD).decode()}
    places = client.post(f"{P}/plant/tables", json=wish).json()["plant"]["places"]
    assert [place["name"] for place in places if place["id"] == "quay 9"] == ["Quay nine"]


def test_a_database_that_holds_such_text_from_before_still_exports(client: TestClient, database: Database) -> None:
    with database.engine.begin() as connection:
        strange = {"old": "Ferry terminal", "new": "Ferry\\u0001terminal"}
        connection.execute(sql("UPDATE link SET body = replace(body, :old, :new)"), strange)
        connection.execute(sql("UPDATE plant_row SET body = replace(body, 'Harbor office', 'Harbor\\u0002office')"))
    assert client.get(f"{P}/links.xlsx").content[:2] == b"PK"
    assert "Ferry\ufffdterminal" in client.get(f"{P}/links.csv").text
    drawing = client.get(f"{P}/plant/plan.svg").text
    assert "\x02" not in drawing
    assert client.get(f"{P}/plant/plan.pdf").content[:4] == b"%PDF"
    plan = client.get(f"{P}/plan?with_history=true").text
    assert client.post(f"{API}/projects/open", json={"text": plan}).status_code == 201
