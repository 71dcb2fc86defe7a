"""Simulated boxes over the true network, read through SNMP: what is silent, half, lying or gone is said."""

from __future__ import annotations

import stat
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from passerelle.core.plant.records import Box
from passerelle.demo.network import demo_project
from passerelle.equipment.boxes import BoxNow, Poller, PortNow, Wanted, dbm, to_write
from passerelle.equipment.credentials import Credentials, CredentialsError, CredentialsFile
from passerelle.equipment.instruments import fit
from passerelle.equipment.objects import BoxError, mau_name, mau_type, oid
from passerelle.standins.bench import StandIns, start_standins
from passerelle.standins.boxes import COMMUNITY, USER
from passerelle.standins.truth import Truth

LINKS, PLANT = demo_project()
BOXES = {box.name: box for box in PLANT.boxes}
V2C = Credentials(version="v2c", community=COMMUNITY)


@pytest.fixture(scope="module")
def boxes() -> Iterator[StandIns]:
    made = start_standins(LINKS, Truth(seed=3), PLANT.boxes, fixed_ports=False)
    yield made
    made.stop()


@pytest.fixture
def poller() -> Iterator[Poller]:
    made = Poller()
    yield made
    made.close()


def wanted(standins: StandIns, name: str, secret: Credentials = V2C) -> Wanted:
    assert standins.network is not None
    row: Box = BOXES[name]
    return Wanted(standins.network.addresses[row.id], secret, tuple(port.name for port in row.ports))


def port(found: BoxNow, name: str) -> PortNow:
    assert not found.trouble, found.trouble
    return found.ports[name]


def test_many_boxes_are_read_at_once_with_light_from_the_true_network(boxes: StandIns, poller: Poller) -> None:
    core, gate = poller.read([wanted(boxes, "Core 1"), wanted(boxes, "Gate converter")])
    near, far = port(core, "1/10"), port(gate, "1")
    assert (near.admin, near.oper, near.rate_mbps, near.mau) == ("up", "up", 1000, "1000BASE-LX10")
    assert (near.neighbor, near.neighbor_port) == ("Gate converter", "1")
    assert (near.temperature_c, near.supply_v) == (38.5, 3.29)
    assert boxes.network is not None
    (true,) = boxes.network.network.lanes("Gate camera", "right")
    assert dbm(far.lanes[1].rx_w) == pytest.approx(true.rx_dbm, abs=0.02)
    assert dbm(far.lanes[1].tx_w) == pytest.approx(true.tx_dbm, abs=0.02)
    assert (core.protocol, core.priority, core.bridge_address) == ("RSTP", 4096, "02:00:5e:00:00:01")
    assert port(core, "1/8").lanes[1].rx_w == 0  # two of one side: no light, which is not a level


def test_a_user_of_v3_reads_the_same_and_a_wrong_secret_reads_nothing(boxes: StandIns, poller: Poller) -> None:
    name, secret, privacy = USER
    right = Credentials(
        "v3", user=name, auth="SHA-256", auth_secret=secret, privacy="AES-128", privacy_secret=privacy
    )
    wrong = Credentials("v3", user=name, auth="SHA-256", auth_secret="another secret", privacy="AES-128",
                        privacy_secret=privacy)  # fmt: skip
    good, bad = poller.read([wanted(boxes, "Core 1", right), wanted(boxes, "Lock 1", wrong)])
    assert port(good, "1/10").oper == "up"
    assert bad.ports == {}
    assert "type them again" in bad.trouble or "silent" in bad.trouble
    assert "another secret" not in bad.trouble + repr(wrong)


def test_one_that_is_silent_holds_up_no_other(boxes: StandIns, poller: Poller) -> None:
    nobody = Wanted("127.0.0.1:9", V2C, ("1",))
    begun = time.monotonic()
    silent, lost, core = poller.read([nobody, Wanted("no-such-name.invalid:161", V2C, ()), wanted(boxes, "Core 1")])
    assert "silent" in silent.trouble
    assert "leads nowhere" in lost.trouble
    assert port(core, "1/10").oper == "up"
    assert time.monotonic() - begun < 20


def test_one_that_half_answers_or_lies_says_so_at_its_port(boxes: StandIns, poller: Poller) -> None:
    assert boxes.network is not None
    box = boxes.network.boxes[BOXES["Pump 1"].id]
    try:
        box.mood = "lies"
        (lies,) = poller.read([wanted(boxes, "Pump 1")])
        assert port(lies, "25").lanes == {} or all(
            lane.rx_w is None or lane.rx_w < 1 for lane in port(lies, "25").lanes.values()
        )
        box.mood = "half"
        (half,) = poller.read([wanted(boxes, "Pump 1")])
        assert any("answers no more" in words for words in port(half, "25").problems)
        assert port(half, "25").oper == "up"
        (again,) = poller.read([wanted(boxes, "Pump 1")])
        assert (port(again, "25").lanes, port(again, "25").problems) == ({}, [])
    finally:
        box.mood = "well"


def test_a_port_that_is_not_there_is_told_by_name(boxes: StandIns, poller: Poller) -> None:
    asked = wanted(boxes, "Pump 1")
    (found,) = poller.read([Wanted(asked.address, V2C, ("25", "99"))])
    assert port(found, "25").oper == "up"
    assert "no port '99'" in port(found, "99").problems[0]
    with pytest.raises(BoxError, match="no port '99'"):
        poller.index_of(asked.address, V2C, "99")


def test_a_write_shuts_a_port_and_brings_it_back(boxes: StandIns, poller: Poller) -> None:
    core = wanted(boxes, "Core 1")
    index = poller.index_of(core.address, V2C, "1/54")
    poller.write(core.address, V2C, to_write(index, admin="down"))
    try:
        shut, far = poller.read([core, wanted(boxes, "Pump 1")])
        assert (port(shut, "1/54").admin, port(shut, "1/54").oper) == ("down", "down")
        assert port(far, "25").lanes[1].rx_w == 0  # its laser is off
    finally:
        poller.write(core.address, V2C, to_write(index, admin="up"))
    assert port(poller.read([core])[0], "1/54").oper == "up"
    poller.write(core.address, V2C, to_write(index, application="1000BASE-LX10"))
    assert port(poller.read([core])[0], "1/54").oper == "down"  # the other end stays at 10 Gb/s
    poller.write(core.address, V2C, to_write(index, application="10GBASE-ER"))
    assert port(poller.read([core])[0], "1/54").oper == "up"
    with pytest.raises(BoxError, match="refused"):
        poller.write(core.address, V2C, {(*oid("interface", "name"), index): 5})
    with pytest.raises(ValueError, match="no MAU type"):
        to_write(index, application="400GBASE-DR4")


def test_faults_are_hidden_and_cured_and_the_bridges_find_their_tree_anew(boxes: StandIns, poller: Poller) -> None:
    hands = boxes.addresses["fitter"]
    lock = wanted(boxes, "Lock 1")
    assert port(poller.read([lock])[0], "49").tree == "forwarding"
    fit(hands, 'ROUT:HIDE "Gate camera","cut","","run-1"')
    core = wanted(boxes, "Core 1")
    assert port(poller.read([core])[0], "1/10").lanes[1].rx_w == 0
    fit(hands, 'ROUT:CURE "Gate camera","cut"')
    assert port(poller.read([core])[0], "1/10").oper == "up"


def test_a_box_that_is_killed_in_the_middle_loses_nothing(poller: Poller) -> None:
    made = start_standins(LINKS, Truth(seed=3), PLANT.boxes[:2], fixed_ports=False)
    try:
        assert made.network is not None
        core, lock = wanted(made, "Core 1"), wanted(made, "Lock 1")
        before = poller.read([core, lock])
        made.network.silence(BOXES["Lock 1"].id)
        after = poller.read([core, lock])
        assert port(after[0], "1/10").oper == port(before[0], "1/10").oper
        assert "silent" in after[1].trouble
        with pytest.raises(BoxError, match="silent"):
            poller.write(lock.address, V2C, to_write(1, admin="down"))
    finally:
        made.stop()


def test_identifiers_of_rates_go_both_ways() -> None:
    kind = mau_type("10GBASE-LR")
    assert kind is not None
    assert mau_name(kind) == "10GBASE-LR"
    assert mau_name((*kind[:-1], 999)) == "MAU type 999"
    assert mau_type("400GBASE-DR4") is None


def test_secrets_are_kept_apart_for_one_reader_and_bound_to_their_address(tmp_path: Path) -> None:
    kept = CredentialsFile.beside(tmp_path / "x.sqlite")
    kept.put("192.0.2.10:161", Credentials(community="hidden"))
    kept.put("192.0.2.11:161", Credentials("v3", user="crew"))
    assert stat.S_IMODE(kept.path.stat().st_mode) == 0o600
    assert kept.of("192.0.2.10:161") == Credentials(community="hidden")
    assert kept.of("192.0.2.10:1161") is None
    assert kept.known() == {"192.0.2.10:161": "v2c", "192.0.2.11:161": "v3"}
    kept.put("192.0.2.10:161", None)
    assert kept.of("192.0.2.10:161") is None
    kept.path.chmod(0o644)
    with pytest.raises(CredentialsError, match="chmod 600"):
        kept.known()
    kept.path.chmod(0o600)
    kept.path.write_text("{", encoding="utf-8")
    with pytest.raises(CredentialsError, match="cannot be read"):
        kept.of("192.0.2.11:161")
