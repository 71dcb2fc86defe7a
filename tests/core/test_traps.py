"""Traps and near-traps: half of them are right as they are, and must raise no alarm."""

from __future__ import annotations

from dataclasses import dataclass, field

import pytest

from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit, SetFields, apply_edits
from passerelle.core.review import review
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules(margin_db=0.0)
OK = Verdict.PASS
LC_APC = {"shape": "LC", "polish": "APC"}
LC_UPC = {"shape": "LC", "polish": "UPC"}
SC_UPC = {"shape": "SC", "polish": "UPC"}


@dataclass(frozen=True)
class Trap:
    """A link as it is drawn, what is wrong with it (or nothing), and the verdict."""

    name: str
    verdict: Verdict
    code: str | None = None
    application: str = "10GBASE-LR"
    grade: str = "OS2"
    length_m: float = 1000.0
    pairs: int = 2
    splices: int = 0
    changes: dict[str, dict[str, object]] = field(default_factory=dict)

    def link(self) -> Link:
        plain = plain_link(
            self.application, self.grade, self.length_m, pairs=self.pairs, splices=self.splices, cord_m=1.0
        )
        edits: tuple[Edit, ...] = tuple(SetFields(element=e, values=v) for e, v in self.changes.items())
        return apply_edits(plain, edits)


def each(element: str, **values: object) -> dict[str, dict[str, object]]:
    """One changed piece."""
    return {element: values}


F, D, U, M = Verdict.FAIL, Verdict.DAMAGE, Verdict.UNKNOWN, Verdict.MARGINAL
TRAPS = [
    # reach: the last metre that is allowed, and the first that is not
    Trap("LR at 10 km by loss alone", OK, length_m=9900, pairs=2),
    Trap("LR past 10 km", F, "reach.exceeded", length_m=10_001, pairs=0),
    Trap("SR on OM1 at 33 m", OK, application="10GBASE-SR", grade="OM1", length_m=31, pairs=1),
    Trap("SR on OM1 at 34 m", F, "reach.exceeded", application="10GBASE-SR", grade="OM1", length_m=33.5, pairs=1),
    Trap("SR on the older 62.5 µm glass at 30 m", F, "reach.exceeded", "10GBASE-SR", "62.5/125-160", 30, 1),
    Trap("SR on OM4 at 350 m", OK, application="10GBASE-SR", grade="OM4", length_m=350, pairs=2),
    Trap("SR on OM3 at 350 m", F, "reach.exceeded", "10GBASE-SR", "OM3", 350, 1),
    Trap("SX on OM4 gets no longer than OM2", F, "reach.exceeded", "1000BASE-SX", "OM4", 600, 1),
    Trap("SX on OM2 at 548 m", OK, application="1000BASE-SX", grade="OM2", length_m=540, pairs=1),
    Trap("25 G on OM3 at 98 m", F, "reach.exceeded", "25GBASE-SR", "OM3", 98, 1),
    Trap("25 G on OM4 at 98 m", OK, application="25GBASE-SR", grade="OM4", length_m=96, pairs=2),
    Trap("100 G DR past 500 m", F, "reach.exceeded", "100GBASE-DR", "OS2", 510, 1),
    Trap("100 G DR inside 500 m", OK, application="100GBASE-DR", length_m=480),
    Trap("a 1 m link", M, "reach.below_minimum", length_m=1.0, pairs=0),
    # loss: joints eat the budget
    Trap("four pairs are too many for SR on OM3", F, "loss.over_limit", "10GBASE-SR", "OM3", 200, 4),
    Trap("two pairs are not", OK, application="10GBASE-SR", grade="OM3", length_m=200, pairs=2),
    Trap("LR carries six pairs over a short way", OK, length_m=300, pairs=6),
    Trap("LR with ten splices and 8 km", F, "loss.over_limit", length_m=8000, splices=10),
    # light: too much of it
    Trap("ER on a short pair", F, "light.too_bright", application="10GBASE-ER", length_m=2000),
    Trap("40 G ER4 on a short pair", D, "light.damage", application="40GBASE-ER4", length_m=2000),
    Trap("LR on a short pair is not blinded", OK, length_m=3),
    Trap("100 G ER4 takes its own transmitter", OK, application="100GBASE-ER4", length_m=2000),
    # mating
    Trap("angled cord in a flat module", D, "mating.angled_flat", changes=each("cord-1", left=LC_APC)),
    Trap("angled run on a flat cord", D, "mating.angled_flat", changes=each("run-1", left=LC_APC)),
    Trap("angled through and through at one panel", OK, changes={"cord-1": {"right": LC_APC}, "run-1": {"left": LC_APC}}),
    Trap("SC plug in an LC module", F, "mating.shape", changes=each("cord-1", left=SC_UPC)),
    Trap("SC through an SC panel", OK, changes={"cord-1": {"right": SC_UPC}, "panel-1": {"shape": "SC"}, "run-1": {"left": SC_UPC}}),
    Trap("PC on UPC mates", OK, changes=each("cord-1", right={"shape": "LC", "polish": "PC"})),
    # glass
    Trap("a multimode cord in a single-mode link", F, "core.mode", changes=each("cord-2", fiber=("OM3",))),
    Trap("SR over single-mode", F, "fiber.not_for_application", "10GBASE-SR", "OS2", 50),
    Trap("LR over OM4", F, "fiber.not_for_application", "10GBASE-LR", "OM4", 50),
    Trap("OS1a cords on an OS2 run", OK, changes=each("cord-1", fiber=("OS1a",))),
    Trap("bend-insensitive cords on an OS2 run", OK, changes=each("cord-1", fiber=("OS2 (G.657.A2)",))),
    Trap("OM4 cords on an OM3 run", OK, None, "10GBASE-SR", "OM3", 100, changes=each("cord-1", fiber=("OM4",))),
    Trap("an OM2 cord pulls SR on OM4 down", F, "reach.exceeded", "10GBASE-SR", "OM4", 100, changes=each("cord-1", fiber=("OM2",))),
    # polarity
    Trap("straight run between crossed cords", F, "polarity.dark", changes=each("run-1", crossed=False)),
    Trap("one straight cord makes up for it", OK, changes={"run-1": {"crossed": False}, "cord-1": {"crossed": False}}),
    Trap("an opposed adapter makes up for it too", OK, changes={"run-1": {"crossed": False}, "panel-1": {"keys": "opposed"}}),
    # modules and ports
    Trap("SR faces LR", F, "application.differs", changes=each("module-1", application="10GBASE-ER")),
    Trap("1 G faces 10 G", F, "speed.ends_differ", changes=each("module-1", application="1000BASE-LX10")),
    Trap("fixed converter of another speed", F, "speed.port", changes=each("port-2", rates_mbps=(1000,))),
    Trap("a port that can do both", OK, changes=each("port-2", rates_mbps=(1000, 10000))),
    Trap("a 10 G module in a 1 G cage", F, "cage.form", changes=each("port-2", cage="SFP")),
    Trap("a 10 G module in a 25 G cage", OK, changes=each("port-2", cage="SFP28")),
    Trap("a 10 G module in the older 10 G cage", F, "cage.form", changes={"port-2": {"cage": "XFP"}, "module-2": {"form": "SFP+"}}),
    Trap("its older form fits there", OK, changes={"port-2": {"cage": "XFP"}, "module-2": {"form": "XFP"}}),
    Trap("a quad module in a single-lane cage", F, "cage.form", "40GBASE-LR4", changes=each("port-1", cage="SFP+")),
    Trap("a quad module in a newer quad cage", OK, None, "40GBASE-LR4", changes=each("port-1", cage="QSFP28")),
    # coding, each end for itself
    Trap("own coding only, the right one", OK, changes={"port-1": {"coding_policy": "own only", "make": "make A"}, "module-1": {"coding": "make A"}}),
    Trap("own coding only, the wrong one", F, "coding.refused", changes={"port-1": {"coding_policy": "own only", "make": "make A"}, "module-1": {"coding": "make B"}}),
    Trap("one link, two codings", OK, changes={
        "port-1": {"coding_policy": "own only", "make": "make A"}, "module-1": {"coding": "make A"},
        "port-2": {"coding_policy": "own only", "make": "make B"}, "module-2": {"coding": "make B"},
    }),
    Trap("own above 1 G, at 10 G", F, "coding.refused", changes={"port-1": {"coding_policy": "own above a rate", "own_above_mbps": 1000, "make": "make A"}, "module-1": {"coding": "make B"}}),
    Trap("own above 10 G, at 10 G", OK, changes={"port-1": {"coding_policy": "own above a rate", "own_above_mbps": 10000, "make": "make A"}, "module-1": {"coding": "make B"}}),
    Trap("override", OK, changes={"port-1": {"coding_policy": "override", "make": "make A"}, "module-1": {"coding": "make B"}}),
    Trap("telemetry lost", OK, changes={"port-1": {"coding_policy": "any, telemetry lost", "make": "make A"}}),
    # cold and hot
    Trap("a commercial module in the cold", F, "temperature.outside", changes={"port-2": {"coldest_c": -25}, "module-2": {"temperature_class": "commercial"}}),
    Trap("an industrial module in the cold", OK, changes={"port-2": {"coldest_c": -25}, "module-2": {"temperature_class": "industrial"}}),
    Trap("a module of unknown class in the cold", U, "temperature.unknown", changes=each("port-2", coldest_c=-25)),
    Trap("a module of unknown class in an office", OK, changes=each("port-2", coldest_c=5, hottest_c=35)),
    Trap("a commercial module in a hot cabinet", F, "temperature.outside", changes={"port-2": {"hottest_c": 60}, "module-2": {"temperature_class": "commercial"}}),
    # one strand, two wavelengths
    Trap("a pair of sides", OK, None, "1000BASE-BX10-D", length_m=5000),
    Trap("both of one side", F, "pair.same_side", "1000BASE-BX10-D", length_m=5000, changes=each("module-2", application="1000BASE-BX10-D")),
    Trap("a duplex cord on a single strand", F, "mating.strands", "1000BASE-BX10-D", length_m=500, changes=each("cord-1", strands=2)),
    Trap("a single strand under a duplex module", F, "mating.strands", changes=each("run-1", strands=1)),
    # offset launch
    Trap("LX on OM2 with plain cords", F, "launch.offset_missing", "1000BASE-LX", "OM2", 200, 1),
    Trap("LX on OM2 with conditioning cords", OK, None, "1000BASE-LX", "OM2", 200, changes={"cord-1": {"offset_launch": "left"}, "cord-2": {"offset_launch": "right"}}),
    Trap("one such cord instead of two", F, "launch.offset_missing", "1000BASE-LX", "OM2", 200, changes=each("cord-1", offset_launch="left")),
    Trap("one of them turned round", F, "launch.flipped", "1000BASE-LX", "OM2", 200, changes={"cord-1": {"offset_launch": "right"}, "cord-2": {"offset_launch": "right"}}),
    Trap("under 850 nm optics", F, "launch.not_wanted", "1000BASE-SX", "OM2", 200, changes=each("cord-1", offset_launch="left")),
    Trap("on the wrong core", F, "launch.core", "1000BASE-LX", "OM2", 200, changes={"cord-1": {"offset_launch": "left", "fiber": ("OM1",)}, "cord-2": {"offset_launch": "right"}}),
    Trap("LX on single-mode needs none", OK, None, "1000BASE-LX", "OS2", 2000),
    Trap("LRM on OM3 needs none", OK, None, "10GBASE-LRM", "OM3", 150, 1),
]  # fmt: skip


@pytest.mark.parametrize("trap", TRAPS, ids=lambda trap: trap.name)
def test_trap(trap: Trap) -> None:
    found = review(trap.link(), CATALOG, HOUSE, with_fixes=False)
    told = {f.code for f in found.findings if f.best}
    assert found.verdict is trap.verdict, found.headline
    if trap.code is None:
        assert told == set()
    else:
        assert trap.code in told


def test_half_of_the_traps_are_none() -> None:
    right = sum(trap.code is None for trap in TRAPS)
    assert len(TRAPS) >= 60
    assert 0.35 <= right / len(TRAPS) <= 0.65


@pytest.mark.parametrize("trap", [t for t in TRAPS if t.verdict.broken], ids=lambda trap: trap.name)
def test_each_offered_fix_of_a_trap_keeps_its_word(trap: Trap) -> None:
    link = trap.link()
    before = review(link, CATALOG, HOUSE)
    broken = {f.key for f in before.findings if f.best and f.best.broken}
    for finding in before.findings:
        for fix in finding.fixes:
            after = review(apply_edits(link, fix.edits), CATALOG, HOUSE, with_fixes=False)
            assert fix.effect is not None
            assert after.verdict is fix.effect.verdict
            assert finding.key not in {f.key for f in after.findings}
            assert {f.key for f in after.findings if f.best and f.best.broken} <= broken
