"""The commands of turn-up: module pages, a diagnosis, a tree, a hand-over."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner

from passerelle.cli import app
from tests.core.test_module_pages import a0, a2, cmis, qsfp
from tests.exchange import test_handover as packages

runner = CliRunner()
made, key = packages.made, packages.key
CASE = {
    "faults": {"crossed": 0.5, "dirty": 0.3, "vlan": {"prior": 0.2, "cure_min": 10}},
    "tests": [
        {
            "name": "light",
            "minutes": 1,
            "outcomes": {"none": {"crossed": 1, "dirty": 0.2}, "low": {"dirty": 0.8}, "normal": {"vlan": 1}},
        },
        {"name": "look twice", "minutes": 50, "outcomes": {"a": {"crossed": 1}, "b": {"dirty": 1, "vlan": 1}}},
    ],
}


def told(path: Path, command: list[str], value: Any) -> Any:
    file = path / "in.json"
    file.write_text(json.dumps(value), encoding="utf-8")
    answer = runner.invoke(app, [*command, str(file), "--json"])
    assert answer.exit_code == 0, answer.output
    return json.loads(answer.output)


def test_a_module_prints_what_its_pages_say(tmp_path: Path) -> None:
    pages = {"a0": a0().hex(), "a2": a2(rx=0).hex()}
    found = told(tmp_path, ["module"], {"layout": "SFF-8472", "pages": pages})
    assert (found["present"], found["diagnostics"], found["calibration"]) == (True, True, "internal")
    assert (found["received_power_kind"], found["temperature_c"], found["supply_v"]) == ("average", 25.0, 3.3)
    assert found["bias_ma"] == 30.0
    assert found["tx"] == {"uw": 501.2, "dbm": -3.0}
    assert found["rx"] == {"uw": 0.0, "dbm": None}
    assert found["alarms"] == ["rx power low"]
    assert "lanes" not in found
    four = told(tmp_path, ["module"], {"layout": "SFF-8636", "pages": {n: p.hex() for n, p in qsfp().items()}})
    assert [lane["rx"]["dbm"] for lane in four["lanes"]] == [None, -1.0, 0.0, 1.0]
    many = told(tmp_path, ["module"], {"layout": "CMIS", "pages": {n: p.hex() for n, p in cmis().items()}})
    assert len(many["lanes"]) == 4
    binary = tmp_path / "dump.bin"
    binary.write_bytes(bytes(a0()) + bytes(a2()))
    plain = runner.invoke(app, ["module", str(binary)]).output
    assert "10GBASE-LR" in plain
    assert "receives -10.00 dBm" in plain


def test_a_diagnosis_prints_belief_and_the_next_tests(tmp_path: Path) -> None:
    found = told(tmp_path, ["diagnose"], CASE)
    assert sum(found["belief"].values()) == pytest.approx(1)
    assert found["next"] == "light"
    assert [one["test"] for one in found["tests"]] == ["light", "look twice"]
    after = told(tmp_path, ["diagnose"], {**CASE, "seen": {"light": "normal"}})
    assert after["belief"] == {"crossed": 0.0, "dirty": 0.0, "vlan": 1.0}
    odd = told(tmp_path, ["diagnose"], {**CASE, "seen": [["light", "normal"], ["look twice", "a"]]})
    assert odd["impossible"] == [{"test": "look twice", "outcome": "a"}]
    beside = {
        "faults": [
            {"name": "x", "prior": 1, "likelihoods": {"t": {"yes": 0.9, "no": 0.1}}},
            {"name": "y", "prior": 1, "likelihoods": {"t": {"yes": 0.2, "no": 0.8}}},
        ],
        "tests": [{"name": "t", "minutes": 2, "outcomes": ["yes", "no"]}],
        "seen": [{"test": "t", "outcome": "yes"}],
    }
    assert told(tmp_path, ["diagnose"], beside)["belief"]["x"] == pytest.approx(9 / 11)


def test_a_tree_prints_root_roles_and_failures(tmp_path: Path) -> None:
    network = {
        "bridges": [
            {"name": "core", "priority": 4096, "address": "02:00:00:00:00:01"},
            {"name": "lock", "address": "02:00:00:00:00:02"},
        ],
        "links": [{"name": "quay", "a": "core:1", "b": "lock:49", "rate_mbps": 1000},
                  {"name": "dike", "a": "core:50", "b": "lock:50", "rate_mbps": 10_000}],
        "path_cost": "long",
    }  # fmt: skip
    found = told(tmp_path, ["tree"], network)
    assert found["root"] == "core"
    assert found["blocking"] == [{"bridge": "lock", "port": "49"}]
    assert {(one["bridge"], one["port"]): one["role"] for one in found["ports"]}["lock", "50"] == "root"
    assert [one["bridge"] for one in found["failures"][1]["opens"]] == ["lock"]


@pytest.mark.parametrize(
    ("command", "value", "words"),
    [
        ("module", {"layout": "SFF-8472", "pages": {"a0": "xyz"}}, "pages.a0"),
        ("module", {"layout": "SFF-8472"}, "pages"),
        ("diagnose", {"faults": []}, "faults"),
        ("diagnose", {**CASE, "seen": {"light": "green"}}, "seen[0].outcome"),
        ("tree", {"bridges": [{"name": "a"}], "links": [{"a": "a:1", "b": "b:1"}]}, "links[0].b.bridge"),
    ],
)
def test_what_cannot_be_read_ends_in_one_sentence(tmp_path: Path, command: str, value: Any, words: str) -> None:
    file = tmp_path / "in.json"
    file.write_text(json.dumps(value), encoding="utf-8")
    answer = runner.invoke(app, [command, str(file), "--json"])
    assert answer.exit_code == 2
    assert words in answer.output
    file.write_text("{", encoding="utf-8")
    assert runner.invoke(app, [command, str(file)]).exit_code == 2
    assert runner.invoke(app, [command, str(tmp_path / "none.json")]).exit_code == 2


def test_a_hand_over_is_verified_or_refused(tmp_path: Path, made: tuple[bytes, str]) -> None:
    content, digest = made
    file = tmp_path / "over.zip"
    file.write_bytes(content)
    plain = runner.invoke(app, ["handover", "verify", str(file)])
    assert (plain.exit_code, "nobody vouched for" in plain.output) == (3, True)
    old = runner.invoke(app, ["handover", "verify", str(file), "--digest", digest])
    assert (old.exit_code, "sheet and signer not proven" in old.output) == (3, True)
    receipt = tmp_path / "receipt.txt"
    receipt.write_text(f"SHA-256 of the archive: {hashlib.sha256(content).hexdigest()}\n")
    proven = runner.invoke(app, ["handover", "verify", str(file), "--receipt", str(receipt), "--json"])
    assert (proven.exit_code, json.loads(proven.output)["proven"]) == (0, True)
    none = runner.invoke(
        app, ["handover", "verify", str(file), "--own", "--database", str(tmp_path / "none.sqlite")]
    )
    assert (none.exit_code, "no signing key" in none.output) == (2, True)
    assert list(tmp_path.glob("none*")) == []
    file.write_bytes(packages.rebuilt(content, {"signature.json": None, "handover.pdf": None}))
    bare = runner.invoke(app, ["handover", "verify", str(file)])
    assert (bare.exit_code, "only proves the transport" in bare.output) == (3, True)
    file.write_bytes(packages.rebuilt(content, {"plan.json": b"{}"}))
    changed = runner.invoke(app, ["handover", "verify", str(file)])
    assert (changed.exit_code, "plan.json was changed" in changed.output) == (1, True)


@pytest.mark.parametrize("command", ["tree", "diagnose", "module", "reels"])
@pytest.mark.parametrize(
    ("body", "words"),
    [
        ('{"a": ' * 100_000, "nested too deeply"),
        ('{"runs_m": [' + "9" * 5000 + "]}", "thousands of digits"),
        ('{"a": }', "this is no JSON"),
    ],
)
def test_a_file_that_no_program_can_hold_is_told_in_one_sentence(
    tmp_path: Path, command: str, body: str, words: str
) -> None:
    path = tmp_path / "made.json"
    path.write_text(body, encoding="utf-8")
    found = runner.invoke(app, [command, str(path)])
    assert (found.exit_code, words in found.stderr) == (2, True), found.output
    assert len(found.stderr.strip().splitlines()) == 1
    assert "Traceback" not in found.output
