"""The command line beyond the plan file: serving, refilling, words for people."""

from __future__ import annotations

import json
import socket
import subprocess
import sys
from contextlib import suppress
from pathlib import Path

import pytest
import typer
from typer.testing import CliRunner

from passerelle.cli import app
from passerelle.cli.serving import _plug_in
from passerelle.cli.words import Commands
from passerelle.core.house import HouseRules
from passerelle.demo.network import demo_project
from passerelle.demo.port_aubier import PROJECT_NAME
from passerelle.standins.bench import start_standins
from passerelle.standins.truth import Truth
from passerelle.store import links as stored_links
from passerelle.store import projects
from passerelle.store.accepted import is_reached
from passerelle.store.database import Database
from tests.exchange.test_trace_record import WHOLE

runner = CliRunner()


def links_in(path: Path) -> list[str]:
    database = Database(path)
    with database.read() as session:
        names = [item.link.name for item in stored_links.links(session, 1)]
    database.close()
    return names


@pytest.mark.parametrize("command", ["serve", "demo"])
def test_a_taken_port_is_said_with_the_way_out(command: str, tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        answer = runner.invoke(app, [command, "--port", str(port), "--database", str(tmp_path / "x.sqlite")])
    assert answer.exit_code == 1
    assert f"port {port}" in answer.output
    assert "--port" in answer.output
    assert not (tmp_path / "x.sqlite").exists()


def test_the_demo_keeps_its_changes_until_it_is_reset(tmp_path: Path) -> None:
    path = tmp_path / "demo.sqlite"
    fill = ["demo", "--no-serve", "--database", str(path)]
    assert runner.invoke(app, fill).exit_code == 0
    full = links_in(path)
    database = Database(path)
    with database.write() as session:
        stored_links.remove_link(session, 1, "remove")
    database.close()
    runner.invoke(app, fill)
    assert links_in(path) == full[1:]
    runner.invoke(app, [*fill, "--reset", "--yes"])
    assert links_in(path) == full


def test_export_of_nothing_says_so(tmp_path: Path) -> None:
    missing = runner.invoke(app, ["export", str(tmp_path / "p.json"), "--database", str(tmp_path / "none.sqlite")])
    assert missing.exit_code == 2
    assert "no such database" in missing.output
    path = tmp_path / "demo.sqlite"
    runner.invoke(app, ["demo", "--no-serve", "--database", str(path)])
    other = ["export", str(tmp_path / "p.json"), "--database", str(path), "--project", "7"]
    assert "no project 7" in runner.invoke(app, other).output


def test_words_for_people_name_their_sources() -> None:
    reach = runner.invoke(app, ["reach", "1000BASE-LX", "OM2"]).output
    assert "550 m" in reach
    assert "Table 38-6" in reach
    assert "offset-launch" in reach
    arguments = ["--application", "10GBASE-LR", "--fiber", "OS2", "--length", "2.9km"]
    budget = runner.invoke(app, ["budget", *arguments]).output
    assert "worst 2.66 dB" in budget
    assert "TIA-568.3-D" in budget
    assert "PASS" in budget
    listing = runner.invoke(app, ["catalog"]).output
    assert "10GBASE-LR" in listing
    assert "Table 52-11" in listing


def test_a_budget_of_one_strand_and_one_of_many_lanes() -> None:
    for application, wavelength in (("1000BASE-BX10-D", "1490"), ("100GBASE-LR4", "1295")):
        arguments = ["--application", application, "--fiber", "OS2", "--length", "5 km", "--json"]
        found = json.loads(runner.invoke(app, ["budget", *arguments]).stdout)
        assert found["verdict"] == "pass"
        assert wavelength in found["directions"][0]["terms"][0]["what"]


def test_published_schemas_are_those_of_the_program() -> None:
    docs = Path(__file__).parents[1] / "docs"
    for command, name in (("schema", "plan.schema.json"), ("openapi", "openapi.json")):
        assert json.loads(runner.invoke(app, [command]).stdout) == json.loads((docs / name).read_text())


def test_the_list_of_commands_says_what_each_says_of_itself() -> None:
    """The list is told without reading the commands, so it is held against them here."""
    group = typer.main.get_command(app)
    assert isinstance(group, Commands)
    context = group.make_context("passerelle", ["lists"])
    for name, (_, words) in group.known.items():
        told = " ".join(group.get_command(context, name).help.split())
        assert told.startswith(words), name
    help_text = runner.invoke(app, ["--help"]).output
    assert all(name in help_text for name in group.known)
    assert runner.invoke(app, ["no-such"]).exit_code == 2


def test_a_figure_does_not_wait_for_the_web_or_the_database() -> None:
    heavy = "{'fastapi', 'sqlalchemy', 'fpdf'}"
    read = "import sys; from passerelle.cli import app, budgeting, reaching"
    asked = f"{read}; print(sorted(set(sys.modules) & {heavy}))"
    told = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True)
    assert told.stdout.strip() == "[]"


def test_order_tells_what_to_buy_and_for_which_pieces(tmp_path: Path) -> None:
    plan = Path(__file__).parent / "exchange" / "plans" / "v8.json"
    told = json.loads(runner.invoke(app, ["order", str(plan), "--json"]).stdout)
    asked = {(piece["link"], piece["element"]) for line in told["lines"] for piece in line["pieces"]}
    assert ("Crane 1", "module-1") in asked
    changed = next(line for line in told["lines"] if line["quantity"])
    assert (changed["quantity"], changed["ordered"]) == (12 - changed["ordered"], changed["ordered"]), (
        "all was ordered; one quantity was set by hand since"
    )
    assert "cord, OM3" in runner.invoke(app, ["order", str(plan)]).stdout
    missing = runner.invoke(app, ["order", str(tmp_path / "none.json")])
    assert (missing.exit_code, "cannot be read" in missing.output) == (2, True)


@pytest.mark.parametrize(
    ("cuts", "feasible", "bought_m", "opened"),
    [
        ({"runs_m": [60, 40, 50], "sold_reels_m": [100, 150]}, True, 150, 1),
        ({"runs_m": [60, 40], "sold_reels_m": [100], "on_hand_m": [45], "waste_per_run_m": 2}, True, 100, 2),
        ({"runs_m": [60], "on_hand_m": [59.9]}, False, 0, 0),
        ({"runs_m": []}, True, 0, 0),
    ],
)
def test_reels_tells_the_best_cuts(
    tmp_path: Path, cuts: dict[str, object], feasible: bool, bought_m: float, opened: int
) -> None:
    path = tmp_path / "cuts.json"
    path.write_text(json.dumps(cuts), encoding="utf-8")
    told = json.loads(runner.invoke(app, ["reels", str(path), "--json"]).stdout)
    assert (told["feasible"], told["bought_m"], told["reels_opened"]) == (feasible, bought_m, opened)
    assert told["proven"]
    assert runner.invoke(app, ["reels", str(path)]).exit_code == 0


@pytest.mark.parametrize(
    "text",
    ["{", '{"runs_m": [-1]}', '{"runs_m": ["x"]}', '{"lengths": [1]}', '{"runs_m": [1], "waste_per_run_m": -1}'],
)
def test_cuts_that_are_none_are_refused_in_a_sentence(tmp_path: Path, text: str) -> None:
    path = tmp_path / "cuts.json"
    path.write_text(text, encoding="utf-8")
    refused = runner.invoke(app, ["reels", str(path), "--json"])
    assert refused.exit_code == 2
    assert str(path) in refused.output
    assert "Traceback" not in refused.output


def test_limit_counts_the_pairs_that_the_reference_leaves_in() -> None:
    plain = "limit --fiber OM3 --wavelength 850 --length 100m --pairs 2 --splices 0 --allowances TIA-568.3-D --json"
    told = {}
    for method in ("one-cord", "two-cord", "three-cord"):
        found = json.loads(runner.invoke(app, [*plain.split(), "--method", method]).stdout)
        told[method] = (round(found["limit_db"], 6), found["pairs_counted"])
    assert told == {"one-cord": (1.8, 2), "two-cord": (1.05, 1), "three-cord": (0.3, 0)}
    graded = runner.invoke(app, [*plain.split(), "--method", "one-cord", "--reference-grade"])
    assert json.loads(graded.stdout)["limit_db"] == pytest.approx(0.9)
    single = "limit --fiber OS2 --wavelength 1310 --length 2km --pairs 4 --method one-cord"
    assert "2.00 dB" in runner.invoke(app, [*single.split(), "--cable", "indoor"]).stdout
    asked = runner.invoke(app, single.split())
    assert (asked.exit_code, "where single-mode cable is used" in asked.output) == (2, True)
    iso = json.loads(runner.invoke(app, [*single.split(), "--allowances", "ISO 11801", "--json"]).stdout)
    assert iso["limit_db"] == pytest.approx(2 * 0.4 + 4 * 0.75)


def test_trace_prints_what_a_record_holds_and_refuses_what_is_none(tmp_path: Path) -> None:
    path = tmp_path / "a.sor"
    path.write_bytes(WHOLE)
    told = json.loads(runner.invoke(app, ["trace", str(path), "--json"]).stdout)
    assert {key: told[key] for key in ("wavelength_nm", "pulse_ns", "group_index", "points", "checksum")} == {
        "wavelength_nm": 1550.0,
        "pulse_ns": 100.0,
        "group_index": 1.4682,
        "points": 800,
        "checksum": "ok",
    }
    assert told["events"] == [{"at_m": pytest.approx(102.095, abs=0.01), "loss_db": 0.25, "reflectance_db": -45.2}]
    path.write_bytes(WHOLE[:200])
    refused = runner.invoke(app, ["trace", str(path), "--json"])
    assert (refused.exit_code, "byte" in refused.output, "Traceback" in refused.output) == (2, True, False)


def test_the_demo_finds_its_instruments_where_their_ports_were_taken(tmp_path: Path) -> None:
    """Another program holds the ports of the meter and of a switch: they answer elsewhere, as the plan says."""
    database = Database(tmp_path / "demo.sqlite")
    links, plant = demo_project()
    with database.write() as session:
        made = projects.create_project(session, PROJECT_NAME, links, HouseRules(), plant)
    switch = next(box for box in plant.boxes if box.address)
    with socket.socket() as meter, socket.socket(type=socket.SOCK_DGRAM) as agent:
        for held, address in ((meter, "127.0.0.1:5102"), (agent, switch.address)):
            with suppress(OSError):  # something else holds it already
                held.bind(("127.0.0.1", int(address.rpartition(":")[2])))
        running = start_standins(links, Truth(seed=1), plant.boxes)
        try:
            _plug_in(database, running)
            with database.read() as session:
                moved = projects.plant(session, made.id)
                answering = [row for row in moved.instruments if row.kind == "power meter"]
                assert answering[0].address == running.addresses["power meter"] != "127.0.0.1:5102"
                assert running.network is not None
                at = {box.id: box.address for box in moved.boxes if box.address}
                assert at == running.network.addresses
                assert at[switch.id] != switch.address
                assert is_reached(session, made.id, answering[0].address)
        finally:
            running.stop()
    database.close()
