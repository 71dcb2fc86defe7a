"""The plant in open formats: tables with bad lines, workbooks, GeoJSON, drawings and sheets."""

from __future__ import annotations

import base64
import json
from xml.etree import ElementTree

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.plant.pull_sheet import pull_sheet
from passerelle.core.plant.records import Cable, Place, Way
from passerelle.core.plant.site import Plant
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import demo_links
from passerelle.exchange.geojson import GeoError, read_geojson, write_geojson
from passerelle.exchange.plan_drawing import as_pdf, as_svg, draw_plan
from passerelle.exchange.plant_table import Listed, PlantTable, plant_rows, read_plant_table, strand_rows
from passerelle.exchange.sheets_pdf import pull_pdf
from passerelle.exchange.table_in import TableError, read_table, read_workbook
from passerelle.exchange.table_out import write_csv, write_xlsx
from tests.core.plain import CATALOG
from tests.depth import examples

SHELVES: list[Listed] = ["places", "ways", "cables", "taps", "devices"]


def read(text: str, shelf: Listed = "ways", mapping: dict[str, str] | None = None, unit: str = "m") -> PlantTable:
    return read_plant_table(read_table(text, "id"), shelf, demo_plant(), demo_links(), CATALOG, mapping, unit)


@pytest.mark.parametrize("shelf", SHELVES)
def test_each_shelf_comes_back_as_it_went_by_text_and_by_workbook(shelf: Listed) -> None:
    plant = demo_plant()
    head, rows = plant_rows(plant, shelf)
    empty = plant.changed(taps=()) if shelf == "taps" else plant
    workbook = base64.b64encode(write_xlsx(shelf, head, rows)).decode()
    for table in (read_table(write_csv(head, rows), "id"), read_workbook(workbook, "id")):
        found = read_plant_table(table, shelf, empty, demo_links(), CATALOG, None, "m")
        assert found.problems == ()
        assert found.plant == plant


def test_a_table_adds_and_changes_and_leaves_the_rest() -> None:
    text = "id;from;to;length;bends deg\nquay 0;office;quay pit;200 ft;90; 45\ngate;office;cold store;0,4 km;\n"
    found = read(text.replace("90; 45", '"90; 45"'))
    assert (found.added, found.changed, found.problems) == (("gate",), ("quay 0",), ())
    assert found.plant is not None
    assert found.plant.way_of["quay 0"].length_m == pytest.approx(60.96)
    assert found.plant.way_of["quay 0"].bore_mm == 32
    assert found.plant.way_of["gate"].length_m == 400
    assert len(found.plant.ways) == len(demo_plant().ways) + 1


@pytest.mark.parametrize(
    ("lines", "line", "hint"),
    [
        ("id,length\nquay 0,ten", 2, "is not a length"),
        ("id,length\nquay 0,60\n,50", 3, "'id' is empty"),
        ("id,length\nquay 0,60\nquay 0,70", 3, "stands in line 2 already"),
        ("id,bore_mm\nquay 0,1e300", 2, "less than or equal to 1000"),
        ("id,bore_mm\nquay 0,wide", 2, "valid number"),
        ("id,from,to,length\nx,office,nowhere,5", 2, "there is no place 'nowhere'"),
        ("id,from,to,length\nx,12,office,nowhere", 2, "is not a length"),  # columns swapped
        ("id,wet\nquay 0,damp", 2, "neither yes nor no"),
        ("id,kind\nquay 0,tunnel", 2, "'tray'"),
        ("id,length\nquay 0,5,6", 2, "is a comma not quoted?"),
        ('id,length\nx,"1,500"', 2, "can mean 1500 or 1.5:"),
        ("id,length\nnew,5", 2, "Field required"),
        ("name,length\nx,5", 1, "no column is matched to 'id'"),
        ("id,length\n", 2, "no lines below the head"),
    ],
)
def test_every_bad_line_is_named_and_nothing_is_taken(lines: str, line: int, hint: str) -> None:
    found = read(lines)
    assert found.plant is None
    assert (found.problems[0].line, hint in found.problems[0].message) == (line, True), found.problems


@pytest.mark.parametrize("text", ["id,length\nquay\ufffd,5", "\x00", '"id', ""])
def test_what_is_no_table_is_refused(text: str) -> None:
    with pytest.raises(TableError):
        read_table(text, "id")


@pytest.mark.parametrize("content", ["no base 64 !", base64.b64encode(b"PK\x03\x04 broken").decode(), ""])
def test_what_is_no_workbook_is_refused(content: str) -> None:
    with pytest.raises(TableError, match="not an XLSX workbook"):
        read_workbook(content, "id")


def test_columns_of_other_names_are_matched_by_hand() -> None:
    found = read("Nummer,Strecke\nquay 0,75\n", mapping={"id": "Nummer", "length_m": "Strecke"}, unit="ft")
    assert found.plant is not None
    assert found.plant.way_of["quay 0"].length_m == pytest.approx(22.86)


@pytest.mark.parametrize(
    ("row", "hint"),
    [
        ("lock quay,1,dead", "carries Lock house, quay duct: take that link off it first"),
        ("lock quay,13,dead", "has strands 1 to 12"),
        ("lock quay,3,Crane 1", "does not ride on this strand"),
        ("nothing,1,dead", "there is no cable 'nothing'"),
    ],
)
def test_strands_that_cannot_be_so_are_named(row: str, hint: str) -> None:
    table = read_table(f"cable,strand,use\n{row}\n", "cable")
    found = read_plant_table(table, "strands", demo_plant(), demo_links(), CATALOG, None, "m")
    assert (found.plant, hint in found.problems[0].message) == (None, True), found.problems


def test_strands_die_and_live_again_by_table() -> None:
    head, rows = strand_rows(demo_plant(), demo_links(), CATALOG)
    text = write_csv(head, rows).replace("tide,1,1,blue,1,blue,dead", "tide,1,1,blue,1,blue,free")
    found = read_plant_table(read_table(text, "cable"), "strands", demo_plant(), demo_links(), CATALOG, None, "m")
    assert (found.problems, found.changed) == ((), ("tide",))
    assert found.plant is not None
    assert found.plant.cable_of["tide"].dead == (2, 3)


def test_a_formula_in_a_name_is_harmless_and_comes_back() -> None:
    plant = Plant(places=(Place(id="a", name='=HYPERLINK("x")'),))
    text = write_csv(*plant_rows(plant, "places"))
    assert "'=HYPERLINK" in text
    assert read_plant_table(read_table(text, "id"), "places", Plant(), [], CATALOG, None, "m").plant == plant


def geo(*features: dict[str, object]) -> str:
    return json.dumps({"type": "FeatureCollection", "features": list(features)})


def point(longitude: object, latitude: object, **properties: object) -> dict[str, object]:
    geometry = {"type": "Point", "coordinates": [longitude, latitude]}
    return {"type": "Feature", "geometry": geometry, "properties": properties}


def line(*points: list[float], **properties: object) -> dict[str, object]:
    geometry = {"type": "LineString", "coordinates": list(points)}
    return {"type": "Feature", "geometry": geometry, "properties": properties}


def test_points_and_lines_become_places_and_ways_with_geodesic_lengths() -> None:
    """A hundredth of a degree along a meridian is 1111.95 m; 5 % of slack make 1167.5 m."""
    text = geo(line([4, 46], [4, 46.01], name="Road"), point(4, 46, name="Gate"), point(4, 46.01, name="Yard"))
    found = read_geojson(text, Plant(), 5)
    assert (found.places, found.ways, found.measured) == (("Gate", "Yard"), ("Road",), ("Road",))
    road = found.plant.way_of["Road"]
    assert (road.start, road.end, road.length_m) == ("Gate", "Yard", pytest.approx(1167.5, abs=0.1))
    again = read_geojson(write_geojson(found.plant), Plant())
    assert (again.plant, again.measured) == (found.plant, ())


@pytest.mark.parametrize(
    ("text", "hint"),
    [
        ("{", "this is not JSON"),
        ("[]", "FeatureCollection is expected"),
        (geo(point(46, 95)), "longitude comes first"),
        (geo(point("x", 1)), "longitude and latitude are expected"),
        (geo(line([4, 46], [4, 47])), "no place stands at the first point"),
        (geo({"type": "Feature", "geometry": {"type": "Polygon", "coordinates": []}}), "a Point or a LineString"),
        (geo(point(1, 1, id="a", kind="castle")), "features[0].properties.kind"),
        (geo(point(1, 1, id="a", within="b")), "places[a].within"),
    ],
)
def test_geojson_that_cannot_be_taken_says_why(text: str, hint: str) -> None:
    with pytest.raises(GeoError) as error:
        read_geojson(text, Plant())
    assert hint in str(error.value)


@settings(max_examples=examples(20))
@given(st.text(max_size=60))
def test_any_name_is_drawn_and_written(name: str) -> None:
    name = name.strip() or "x"
    ends = (Place(id="a", name="a"), Place(id="b", name="b"))
    plant = Plant(
        places=ends,
        ways=(Way(id="w", name=name, start="a", end="b", length_m=10, state="planned"),),
        cables=(Cable(id="k", name=name, ways=("w",), weight_kg_per_km=90),),
    )
    drawing = draw_plan(plant, name, {})
    try:
        ElementTree.fromstring(as_svg(drawing))
    except ElementTree.ParseError:
        assert any(ord(letter) < 32 or letter in "\ufffe\uffff" for letter in name)
    assert as_pdf(drawing).startswith(b"%PDF")
    assert pull_pdf(pull_sheet(plant, ["k"]), "ft").startswith(b"%PDF")


def test_the_plan_as_drawn_names_every_way_and_fills_it_with_its_cables() -> None:
    plant = demo_plant()
    svg = as_svg(draw_plan(plant, "Port-Aubier", {g: f.jacket_colors for g, f in CATALOG.fibers.items()}))
    root = ElementTree.fromstring(svg)
    words = [element.text or "" for element in root.iter("{http://www.w3.org/2000/svg}text")]
    assert "60 m, 46%" in words
    assert {"Ferry terminal", "Tide station", "meets Lock house"} <= set(words)
    boxes = list(root.iter("{http://www.w3.org/2000/svg}rect"))
    inside = sum(len(cable.ways) for cable in plant.cables)
    assert len(boxes) == 1 + 2 * len(plant.ways) + inside


def test_points_and_lines_of_one_name_get_ids_of_their_own_from_the_first_on() -> None:
    def feature(kind: str, coordinates: object) -> dict[str, object]:
        return {
            "type": "Feature",
            "geometry": {"type": kind, "coordinates": coordinates},
            "properties": {"name": "pit"},
        }

    points = [feature("Point", [2 + n / 100, 48]) for n in range(4)]
    lines = [feature("LineString", [[2 + n / 100, 48], [2.01 + n / 100, 48]]) for n in range(3)]
    found = read_geojson(json.dumps({"type": "FeatureCollection", "features": points + lines}), Plant())
    assert found.places == ("pit", "pit 2", "pit 3", "pit 4")
    assert found.ways == ("pit", "pit 2", "pit 3")
