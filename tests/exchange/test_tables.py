"""Tables out and in: CSV, XLSX, and links from a table with bad lines."""

from __future__ import annotations

import csv
import io

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from passerelle.api.app import create_app
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.demo.port_aubier import demo_links
from passerelle.exchange.ladder_table import HEAD, table
from passerelle.exchange.link_import import read_links
from passerelle.exchange.table_out import neutral, restored, write_csv, write_xlsx
from passerelle.store.database import Database
from tests.api.steps import undo
from tests.core.plain import plain_link

GOOD = """from,to,length,application,fiber,notes
Harbor office,Lock house,620 m,1000BASE-LX10,OS2,
Harbor office,Cold store,600 ft,10GBASE-SR,OM1 or OM2,"orange, print unreadable"
Harbor office,Weighbridge,,1000BASE-SX,,
"""


@pytest.fixture
def rows(catalog: Catalog) -> list[tuple[object, ...]]:
    links = [plain_link().model_copy(update={"name": "=1+1", "notes": "@SUM(A1)"}), *demo_links()]
    return list(table(zip(links, figures_of(links, catalog, HouseRules()), [""] * len(links), strict=True)))


def test_csv_and_workbook_say_the_same_and_hold_no_formula(rows: list[tuple[object, ...]]) -> None:
    lines = list(csv.reader(io.StringIO(write_csv(HEAD, rows))))  # type: ignore[arg-type]
    sheet = load_workbook(io.BytesIO(write_xlsx("links", HEAD, rows))).active  # type: ignore[arg-type]
    assert sheet is not None
    assert tuple(lines[0]) == HEAD
    assert len(lines) == sheet.max_row == len(rows) + 1
    assert lines[1][0] == sheet.cell(2, 1).value == "'=1+1"
    assert all(cell.data_type != "f" for row in sheet for cell in row)
    ferry = next(line for line in lines if line[0] == "Ferry terminal")
    assert (ferry[4], ferry[8]) == ("2904.0", "damage")


@given(st.text(max_size=12))
def test_neutral_texts_come_back(text: str) -> None:
    assert not neutral(text).startswith(("=", "+", "-", "@", "\t", "\r", "\n"))
    if not text.startswith("'"):
        assert restored(neutral(text)) == text


def test_a_good_table_becomes_links(catalog: Catalog) -> None:
    found = read_links(GOOD, catalog)
    assert found.problems == ()
    assert [link.name for link in found.links] == [
        "Harbor office to Lock house",
        "Harbor office to Cold store",
        "Harbor office to Weighbridge",
    ]
    runs = [link.element("run-1") for link in found.links]
    assert [run.length_m for run in runs] == [620, pytest.approx(182.88), None]  # type: ignore[union-attr]
    assert runs[1].fiber == ("OM1", "OM2")  # type: ignore[union-attr]
    assert found.links[1].notes == "orange, print unreadable"


@pytest.mark.parametrize(
    ("line", "column", "hint"),
    [
        (",B,10,1000BASE-SX,OM3,", "from", "empty"),
        ("A,B,far,1000BASE-SX,OM3,", "length", "not a length"),
        ('A,B,"1,500",1000BASE-SX,OM3,', "length", "can mean"),
        ("A,B,99999999999999999999,1000BASE-SX,OM3,", "length", "check the unit"),
        ("A,B,10,OM3,1000BASE-SX,", "application", "no application"),
        ("A,B,10,1000BASE-SX,OM9,", "fiber", "no fiber"),
        ("A,B,10,1000BASE-SX,OM3,a,b", "", "7 cells under 6"),
        (f"{'x' * 121},B,10,1000BASE-SX,OM3,", "from", "longer than 120"),
    ],
)
def test_a_bad_line_is_named_and_the_others_are_read(catalog: Catalog, line: str, column: str, hint: str) -> None:
    found = read_links(GOOD + line + "\n", catalog)
    [problem] = found.problems
    assert (problem.line, problem.column) == (5, column)
    assert hint in problem.message
    assert len(found.links) == 3


@pytest.mark.parametrize(
    ("text", "hint"),
    [
        ("", "first line"),
        ("a;b;c\n1;2;3\n", "no column is matched to 'from'"),
        ("from,to,application\n", "no lines"),
        ("from,to\ufffd,application\nA,B,x", "UTF-8"),
        ('from,to,application\n"A,B,x', "not a CSV"),
    ],
)
def test_a_table_that_is_none_says_why(catalog: Catalog, text: str, hint: str) -> None:
    assert hint in read_links(text, catalog).problems[0].message


def test_columns_can_be_matched_by_hand_and_lengths_be_feet(catalog: Catalog) -> None:
    text = "von\tbis\tweit\toptik\nA\tB\t100\t1000BASE-SX\n"
    mapping = {"from": "von", "to": "bis", "length": "weit", "application": "optik"}
    found = read_links(text, catalog, mapping, "ft")
    assert found.problems == ()
    assert found.links[0].element("run-1").length_m == pytest.approx(30.48)  # type: ignore[union-attr]


def test_import_over_the_api_is_all_or_nothing_and_one_undo(database: Database) -> None:
    client = TestClient(create_app(database), base_url="http://localhost")
    api = "/api/v1/projects/1"
    bad = client.post(f"{api}/import", json={"text": GOOD + "A,B,far,1000BASE-SX,OM3,\n"})
    assert bad.status_code == 422
    assert "line 5" in bad.json()["detail"]
    assert len(client.get(f"{api}/links").json()) == len(demo_links())
    shown = client.post(f"{api}/import/preview", json={"text": GOOD}).json()
    assert shown["verdicts"] == ["pass", "fail", "unknown"]
    assert client.post(f"{api}/import", json={"text": GOOD}).json()["added"] == 3
    undo(client)
    assert len(client.get(f"{api}/links").json()) == len(demo_links())


def test_a_plan_goes_out_and_comes_in_again(database: Database) -> None:
    client = TestClient(create_app(database), base_url="http://localhost")
    text = client.get("/api/v1/projects/1/plan").text
    assert client.post("/api/v1/projects/1/plan", json={"text": text}).json()["added"] == len(demo_links())
    assert client.post("/api/v1/projects/1/plan", json={"text": "{}"}).status_code == 422
    assert client.get("/api/v1/projects/1/links.csv").text.count("Ferry terminal") == 4
    assert client.get("/api/v1/projects/1/links.xlsx").content[:2] == b"PK"
    assert "links" in client.get("/api/v1/plan-schema").json()["properties"]
