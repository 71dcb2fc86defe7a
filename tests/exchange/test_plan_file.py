"""The plan file, both ways, and the command line that reads it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from typer.testing import CliRunner

from passerelle.cli import app
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.keys import unkeyed
from passerelle.core.parts.registry import SPEC_OF
from passerelle.core.plant.riders import laid, off_plant
from passerelle.core.review import review
from passerelle.core.selection.question import answer
from passerelle.core.selection.wish import Question
from passerelle.core.upgrade import VERSION, ZERO_UNKNOWN
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import demo_links
from passerelle.exchange.plan_file import PlanFileError, read_plan, write_plan
from tests.core.any_link import any_link, is_named
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

runner = CliRunner()


def without_keys(link: Link) -> Link:
    readings = tuple(reading.model_copy(update={"over": ()}) for reading in link.readings)
    return unkeyed(link).model_copy(update={"readings": readings})


def test_a_plan_comes_back_as_it_went(catalog: Catalog) -> None:
    plan = read_plan(
        write_plan("Port-Aubier", HouseRules(margin_db=1.5), demo_links(), plant=demo_plant()), catalog
    )
    assert tuple(map(without_keys, plan.links)) == tuple(laid(link, demo_plant()) for link in demo_links())
    assert plan.plant == demo_plant()
    assert plan.house_rules.margin_db == 1.5


def test_a_file_of_each_version_stays_readable(catalog: Catalog) -> None:
    files = {int(path.stem[1:]): path for path in (Path(__file__).parent / "plans").glob("v*.json")}
    assert sorted(files) == list(range(1, VERSION + 1))
    for version, path in files.items():
        plan = read_plan(path.read_text(encoding="utf-8"), catalog)
        assert len(plan.links) == 16
        assert bool(plan.plant.cables) == (version >= 3)
        assert bool(plan.plant.taps) == (version >= 4)
        assert [f.name for f in plan.plant.frames] == (["Quay frame"] if version >= 7 else [])
        assert (plan.history is not None) == (version != 1)
        read = [reading.withdrawn for link in plan.links for reading in link.readings]
        of_crane = ["", "undone"] if version >= 7 else []
        later = [""] if version >= 9 else []
        assert read == (["meter past its calibration", "undone", *of_crane, *later, ""] if version >= 5 else [])
        assert [box.name for box in plan.plant.boxes] == (["Core 1"] if version >= 10 else [])
        turned_up = {"log", "port", "look", "cure", "handover"}
        assert turned_up <= {e.kind for e in plan.events} if version >= 10 else True
        assert {"trace", "void"} <= {e.kind for e in plan.events} if version >= 9 else True
        old = [r for link in plan.links for r in link.readings if not r.instrument]
        assert all(reading.recorded_before for reading in old)
        said = [r.tester_zero for link in plan.links for r in link.readings if not (r.zero or r.recorded_before)]
        assert set(said) <= ({ZERO_UNKNOWN, "one cord, 08:00"} if version >= 12 else {ZERO_UNKNOWN})
        assert all(r.lacks == "" or "not said" in r.lacks for link in plan.links for r in link.readings)
        states = {e.state for link in plan.links for e in link.elements}
        assert {"planned", "existing"} <= states if version >= 3 else states == {"planned"}
        assert ("delivered" in states) == (version >= 8)
        assert "pulled" not in {row.state for row in (*plan.plant.ways, *plan.plant.cables)}
        assert [entry.who for entry in plan.history.entries if entry.who] if version == 6 else True
        keys = [piece.key for link in plan.links for piece in link.elements]
        assert "" not in keys
        counted = [
            e.splices for link in plan.links for e in link.elements if getattr(e, "splices", None) is not None
        ]
        sold = [e.sold_for for link in plan.links for e in link.elements if getattr(e, "sold_for", "")]
        assert (counted, sold) == (([2], ["10GBASE-SR"]) if version >= 11 else ([], []))
        house = plan.house_rules
        wide = house.margin_db if house.margin_db > 1 else 0.3
        assert house.plugged_margin_db == (0.4 if version >= 11 else wide), "who asked for more keeps it for all"
        assert len(set(keys)) == len(keys)
        assert [module.name for module in plan.house_rules.own_modules] == (
            ["long 10G of the store"] if version >= 5 else []
        )
        assert all(element.id for link in plan.links for element in link.elements)


@pytest.mark.parametrize(
    ("change", "hint"),
    [
        ("reading in a link", "links[0].readings: readings stand in the file's events"),
        ("withdrawn out of nothing", "events[0].of: there is no event 'e9' before it"),
        ("a key twice", "the key 'same' stands twice"),
        ("no hole", "goes through hole 3 of Quay frame, which holds no adapter"),
        ("hole twice", "hole 3 of Quay frame would carry both"),
        ("other kind", "has a panel where 'split port' holds a port"),
        ("a hole that is not there", "Quay frame, hole 24: it has 2 holes"),
        ("a splice in a hole", "a splice is no adapter"),
        ("id of a cable", "'quay' is the id of one of the cables already"),
    ],
)
def test_what_version_7_brought_is_checked_with_its_place(catalog: Catalog, change: str, hint: str) -> None:
    raw = json.loads((Path(__file__).parent / "plans" / "v7.json").read_text(encoding="utf-8"))
    del raw["history"]
    on_frame = [p for link in raw["links"] for p in link["elements"] if p["part"] == "frame 1"]
    frame = raw["plant"]["frames"][0]
    match change:
        case "reading in a link":
            raw["links"][0]["readings"] = [{"value_db": 1.0, "start": "run-1", "end": "run-1"}]
        case "withdrawn out of nothing":
            raw["events"] = [{"kind": "withdrawal", "key": "e1", "of": "e9", "why": "x"}]
        case "a key twice":
            raw["links"][0]["key"] = raw["links"][1]["elements"][0]["key"] = "same"
        case "no hole":
            frame["held"] = frame["held"][4:]
        case "hole twice":
            on_frame[1]["positions"] = on_frame[0]["positions"]
        case "other kind":
            on_frame[0]["part"] = "split port"
            on_frame[0]["positions"] = [2]
        case "a hole that is not there":
            frame["holes"], frame["held"] = 2, frame["held"][-1:]
        case "a splice in a hole":
            frame["held"][0]["adapter"] = {"kind": "splice"}
        case "id of a cable":
            raw["plant"]["parts"][0]["id"] = "quay"
    with pytest.raises(PlanFileError) as caught:
        read_plan(json.dumps(raw), catalog)
    assert hint in str(caught.value)


@settings(max_examples=examples(10))
@given(st.lists(any_link(), min_size=1, max_size=3))
def test_check_says_what_the_page_of_a_link_says(
    tmp_path_factory: pytest.TempPathFactory, links: list[Link]
) -> None:
    path = tmp_path_factory.mktemp("check") / "any.json"
    links = [off_plant(link) for link in links if link.elements]
    assume(all(is_named(link) for link in links))
    path.write_text(write_plan("any", HouseRules(), links))
    told = json.loads(runner.invoke(app, ["check", str(path), "--json"]).stdout)
    reasons = json.loads(runner.invoke(app, ["check", str(path), "--json", "--why"]).stdout)
    for link, said, why in zip(links, told, reasons, strict=True):
        found = review(link, CATALOG, HouseRules())
        assert (said["verdict_text"], said["margin_db"]) == (found.verdict_text, found.margin_db)
        assert (why["verdict_text"], why["margin_db"]) == (found.verdict_text, found.margin_db)
        assert [f["what"] for f in why["findings"]] == [f.what for f in found.findings]


def broken(change: str) -> str:
    raw = json.loads(write_plan("p", HouseRules(), [plain_link()]))
    run = next(e for e in raw["links"][0]["elements"] if e["kind"] == "run")
    match change:
        case "format":
            raw["format"] = "other"
        case "version":
            raw["version"] = 99
        case "length":
            run["length_m"] = -1
        case "fiber":
            run["fiber"] = ["OM9"]
        case "unknown field":
            run["colour"] = "red"
        case "not json":
            return '{"format": '
        case "list":
            return "[]"
    return json.dumps(raw)


@pytest.mark.parametrize(
    ("change", "hint"),
    [
        ("format", "passerelle-plan"),
        ("version", "version"),
        ("length", r"links\[0\].elements\[4\].length_m"),
        ("fiber", "OM9"),
        ("unknown field", r"links\[0\].elements\[4\].colour"),
        ("not json", "line 1"),
        ("list", "not a plan file"),
    ],
)
def test_a_bad_file_names_the_place(catalog: Catalog, change: str, hint: str, tmp_path: Path) -> None:
    with pytest.raises(PlanFileError, match=hint):
        read_plan(broken(change), catalog)
    path = tmp_path / "bad.json"
    path.write_text(broken(change))
    assert runner.invoke(app, ["check", str(path)]).exit_code == 2


@settings(max_examples=examples(25))
@given(
    st.sampled_from([("SFP+", "SFP+"), ("RJ45", "SFP+"), ("QSFP+", "SFP+"), ("RJ45", "RJ45"), ("", "")]),
    st.floats(1, 500),
    st.sampled_from([1000, 10_000, 40_000]),
    st.sampled_from([(), ("OM1", "OM2"), ("OM4",)]),
)
def test_every_answer_comes_back_as_it_went(
    cages: tuple[str, str], length_m: float, rate: int, fiber: tuple[str, ...]
) -> None:
    """Pieces of every kind: assemblies, twisted pair, plug-in modules, converters, pads, cords that match."""
    near, far = ({"cage": cage, "free": 4, "make": "make A", "coding_policy": "own only"} for cage in cages)
    asked = {"from_place": "A", "to_place": "B", "length_m": length_m, "rate_mbps": rate, "fiber": fiber}
    found = answer(Question.model_validate({**asked, "near": near, "far": far}), CATALOG, HouseRules())
    links = [link for option in found.options for link in option.all_links]
    assert read_plan(write_plan("answers", HouseRules(), links), CATALOG).links == tuple(links)


def test_lengths_in_a_plan_may_be_as_typed(catalog: Catalog) -> None:
    text = write_plan("p", HouseRules(), [plain_link()]).replace("2900.0", '"1250 ft"')
    assert read_plan(text, catalog).links[0].elements[4].length_m == pytest.approx(381.0)  # type: ignore[union-attr]


def test_check_exits_by_the_worst_link(tmp_path: Path) -> None:
    good, bad = tmp_path / "good.json", tmp_path / "bad.json"
    good.write_text(write_plan("p", HouseRules(), [plain_link()]))
    bad.write_text(write_plan("p", HouseRules(), demo_links(), plant=demo_plant()))
    assert runner.invoke(app, ["check", str(good)]).exit_code == 0
    answer = runner.invoke(app, ["check", str(bad), "--json"])
    assert answer.exit_code == 1
    damaged = [r["name"] for r in json.loads(answer.stdout) if r["verdict"] == "damage"]
    assert damaged == ["Ferry terminal", "Rows 40G, spare cord", "Rows 400G, flat cord"]
    assert runner.invoke(app, ["check", str(tmp_path / "none.json")]).exit_code == 2


def test_reach_and_budget_print_known_answers() -> None:
    reach = json.loads(runner.invoke(app, ["reach", "10GBASE-SR", "OM4", "--json"]).stdout)
    assert (reach["reach_m"], reach["max_insertion_loss_db"]) == (400, 2.9)
    arguments = ["--application", "10GBASE-SR", "--fiber", "OM3", "--length", "300m", "--json"]
    answer = runner.invoke(app, ["budget", *arguments, "--pairs", "2", "--splices", "0"])
    budget = json.loads(answer.stdout)
    assert budget["loss"]["worst_db"] == pytest.approx(0.9 + 1.5)
    assert budget["margin_db"] == pytest.approx(0.2)
    assert (budget["verdict"], answer.exit_code) == ("marginal", 0)
    assert runner.invoke(app, ["budget", *arguments, "--pairs", "4"]).exit_code == 1
    assert runner.invoke(app, ["reach", "10GBASE-LR", "OM4"]).exit_code == 1
    assert runner.invoke(app, ["reach", "nothing", "OM4"]).exit_code == 2
    ambiguous = ["budget", "--application", "10GBASE-SR", "--fiber", "OM3", "--length", "1,500"]
    assert runner.invoke(app, ambiguous).exit_code == 2


def test_catalog_json_has_what_scripts_read() -> None:
    content = json.loads(runner.invoke(app, ["catalog", "--json"]).stdout)
    lr = next(a for a in content["applications"] if a["name"] == "10GBASE-LR")
    assert lr["tx_power_dbm"]["min"] == -8.2
    assert set(lr["rx_power_dbm"]) >= {"sensitivity", "overload", "kind", "per_lane"}
    assert lr["reaches"][0]["source"]["clause"] == "Table 52-11"
    om3 = next(f for f in content["fibers"] if f["name"] == "OM3")
    assert om3["attenuation_db_per_km"]["850"] == 3.0
    assert om3["sources"]
    assert content["connectors"]
    assert content["parts"]


def test_the_demo_can_be_filled_exported_and_checked(tmp_path: Path) -> None:
    database, plan = tmp_path / "demo.sqlite", tmp_path / "plan.json"
    assert runner.invoke(app, ["demo", "--no-serve", "--database", str(database)]).exit_code == 0
    assert runner.invoke(app, ["export", str(plan), "--database", str(database)]).exit_code == 0
    assert runner.invoke(app, ["check", str(plan)]).exit_code == 1


def with_change(change: str) -> str:
    """The demo as a plan file with one thing in it that cannot be."""
    raw = json.loads(write_plan("p", HouseRules(), demo_links(), plant=demo_plant()))
    own = {"shelf": "allowance", "name": "splice", "figure": "worst_db", "value": 0.01, "source": "a contract"}
    entry = {"at": "2026-01-02T03:04:05Z", "label": "x", "state": "done", "changes": []}
    match change:
        case "own figure":
            raw["house_rules"]["own_figures"] = [own]
        case "strand twice":
            run = next(e for e in raw["links"][2]["elements"] if e["kind"] == "run")
            run.update({"part": "lock quay", "positions": [2, 3]})
        case "cable gone":
            raw["plant"]["cables"] = raw["plant"]["cables"][1:]
        case "grade":
            raw["plant"]["cables"][0]["fiber"] = ["OM9"]
        case "way to nowhere":
            raw["plant"]["ways"][0]["end"] = "nowhere"
        case "numbers":
            raw["history"] = {"numbers": [1, 2], "entries": []}
        case "state":
            raw["history"] = {
                "numbers": list(range(1, len(raw["links"]) + 1)),
                "entries": [{**entry, "state": "maybe"}],
            }
        case "no time zone":
            raw["history"] = {
                "numbers": list(range(1, len(raw["links"]) + 1)),
                "entries": [{**entry, "at": "2026-01-02T03:04:05"}],
            }
        case "step":
            step = {"entity": "link", "link_id": 1, "position": 0, "before": None, "after": "r1"}
            log = {"entries": [{**entry, "changes": [step]}], "records": {"r1": {"name": ""}}}
            raw["history"] = {"numbers": list(range(1, len(raw["links"]) + 1)), **log}
    return json.dumps(raw)


@pytest.mark.parametrize(
    ("change", "hint"),
    [
        ("own figure", "house_rules.own_figures: splice: least ≤ typical ≤ worst"),
        ("strand twice", "strand 2 of Lock, by the quay would carry both"),
        ("cable gone", "'Lock house, quay duct' rides on the cable 'lock quay'"),
        ("grade", "Lock, by the quay: no fiber is called 'OM9'"),
        ("way to nowhere", "there is no place 'nowhere'"),
        ("numbers", "history.numbers: one number for each link"),
        ("state", "history.entries[0].state: Input should be 'done', 'undone' or 'dropped'"),
        ("no time zone", "history.entries[0].at: Input should have timezone info"),
        ("step", "history.entries[0].changes[0].after: record 'r1', name: String should have at least 1 character"),
    ],
)
def test_a_plan_that_contradicts_itself_names_the_place(catalog: Catalog, change: str, hint: str) -> None:
    with pytest.raises(PlanFileError) as caught:
        read_plan(with_change(change), catalog)
    assert hint in str(caught.value)


@pytest.mark.parametrize("kind", sorted(SPEC_OF))
def test_an_error_names_the_place_as_it_stands_in_the_file(catalog: Catalog, kind: str) -> None:
    plan = json.loads(write_plan("Port-Aubier", HouseRules(), demo_links(), plant=demo_plant()))
    plan["links"][0]["elements"][1] = {"kind": kind, "id": "x", "label": 5}
    with pytest.raises(PlanFileError, match=r"^links\[0\]\.elements\[1\]\.label: "):
        read_plan(json.dumps(plan), catalog)


def with_log(change: str, version: str) -> dict[str, Any]:
    """A plan whose log has been altered in one place, so that undo would lead to what is no plan."""
    path = Path(__file__).parent / "plans" / f"{version}.json"
    raw: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
    log = raw["history"]
    of_links = [entry for entry in log["entries"] if entry["changes"][0]["entity"] == "link"]
    last = next(entry for entry in reversed(of_links) if entry["state"] != "dropped")
    step = last["changes"][0]
    records = log["records"]
    match change:
        case "application":
            module = next(e for e in records[step["after"]]["elements"] if e["kind"] == "module")
            module["application"] = "9000BASE-X"
        case "cable gone":
            run = next(e for e in records[step["after"]]["elements"] if e["kind"] == "run")
            old = {"cable": "no such cable", "strand_numbers": [1, 2]}
            run.update(old if version == "v6" else {"part": "no such cable", "positions": [1, 2]})
        case "record gone":
            del records[step["after"]]
        case "number":
            step["link_id"] = 10**30
        case "position":
            step["position"] = -4
        case "taken twice":
            last["changes"] = [{**step, "after" if last["state"] == "undone" else "before": None}] * 2
        case "order":
            log["entries"] = log["entries"][::-1]
        case "rules":
            rules = next(c for e in log["entries"] for c in e["changes"] if c["entity"] == "project")
            records[rules["before"]]["own_figures"] = [
                {
                    "shelf": "allowance",
                    "name": "splice",
                    "figure": "worst_db",
                    "value": 0.01,
                    "source": "a contract",
                }
            ]
        case "date":
            last["at"] = "2026-13-45T00:00:00Z"
        case "entity":
            step["entity"] = "plant"
        case "text":
            last["label"] = "broken \ud800"
    return raw


@pytest.mark.parametrize("version", ["v6", "v7"])
@pytest.mark.parametrize(
    ("change", "hint"),
    [
        ("application", "no application is called '9000BASE-X'"),
        ("cable gone", "no such cable"),
        ("record gone", "there is no record"),
        ("number", "link_id"),
        ("position", "position"),
        ("taken twice", "is not there"),
        ("order", "no log comes to that"),
        ("rules", "undo would lead to no plan: splice"),
        ("date", "history.entries["),
        ("entity", "history.entries["),
        ("text", "no text"),
    ],
)
def test_an_altered_log_is_refused_with_its_place(catalog: Catalog, change: str, hint: str, version: str) -> None:
    with pytest.raises(PlanFileError) as caught:
        read_plan(json.dumps(with_log(change, version)), catalog)
    assert hint in str(caught.value)
    assert "history" in str(caught.value)
    sound = with_log("nothing", version)
    assert read_plan(json.dumps(sound), catalog).history is not None
    del sound["history"]
    assert read_plan(json.dumps(sound), catalog).history is None
