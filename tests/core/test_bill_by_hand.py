"""Thirty lines of a bill, each counted by hand: over links, cables of the plan, their ends and their ways."""

from __future__ import annotations

import pytest

from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.materials.asked import scope_of
from passerelle.core.materials.bill import Bill, bill_of
from passerelle.core.plant.records import Cable, CableEnd, Device, Frame, Place, Tap, Way
from passerelle.core.plant.site import Plant
from passerelle.demo.port_aubier import demo_links
from tests.core.plain import CATALOG, plain_link
from tests.core.test_split_lanes import split

BARE = HouseRules(spares_percent=0)
PLACES = (
    Place(id="a", name="A"),
    Place(id="b", name="B"),
    Place(id="p", name="Pit", kind="pit"),
    Place(id="q", name="Pole", kind="pole"),
)
WAYS = (
    Way(id="duct", name="duct", start="a", end="b", kind="duct", length_m=200),
    Way(id="dig", name="dig", start="a", end="p", kind="trench", length_m=150),
    Way(id="air", name="air", start="a", end="q", kind="aerial", length_m=80),
    Way(id="far", name="far", start="a", end="b", kind="duct", length_m=13_000),
)


def cable(name: str, way: str, strands: int, near: CableEnd, far: CableEnd, **more: object) -> Cable:
    values = {"id": name, "name": name, "ways": (way,), "fiber": ("OS2",), "strands": strands, "state": "planned"}
    return Cable.model_validate({**values, "near_end": near, "far_end": far, **more})


def site(*cables: Cable, **more: object) -> Plant:
    return Plant.model_validate({"places": PLACES, "ways": WAYS, "cables": cables, **more})


def bill(plant: Plant, links: list[Link], house: HouseRules = BARE) -> Bill:
    return bill_of(scope_of(tuple(enumerate(links, 1)), plant, house, CATALOG))


def counted(found: Bill) -> dict[str, float]:
    return {line.words: line.quantity for line in found.lines}


GLASS = "construction to be said"
CASSETTE = "cassette, 12 fibers, PC, rear plug with pins, keys aligned"
BY_HAND = {
    # 200 m of way, 5 m of slack at each end, 2 m at each end and 1 m for the test that are cut off: four times 215
    f"cable, OS2, 24 strands, {GLASS}": 4 * 215,
    f"cable, OS2, 12 strands, {GLASS}": (150 + 15) + (80 + 15),
    f"cable, OS2, 48 strands, {GLASS}": 13_000 + 15,
    f"cable, OS2, 2 strands, {GLASS}": 9000 + 15,
    f"cable made to length, OM4, 2 strands, {GLASS}, LC PC to LC PC, 50 m": 1,
    f"cable made to length, OS2, 2 strands, {GLASS}, LC UPC to LC UPC, 260 m": 1,
    # both ends of four cables of 24, one end of 12, both ends of 48
    "pigtail, OS2, LC UPC, 1.5 m": 4 * 24 * 2 + 12 + 2 * 48,
    # two strands at each end of the link that is spliced
    "pigtail, OS2, LC UPC, 1 m": 4,
    # those; the tray at the pit; two splices of 48 on 13 km, one of 2 on 9 km; both ends of the link; the tap
    "splice protector": (4 * 24 * 2 + 12 + 2 * 48) + 12 + 2 * 48 + 2 + 4 + 6,
    # two for each 24, one for each 12, four for each 48; of each splice on the way; both ends of the link; the tap
    "splice tray, 12 splices": 8 * 2 + 1 + 2 * 4 + 1 + 2 * 4 + 1 + 2 + 1,
    "closure": 2 + 1 + 1,
    # a duplex adapter for each pair at a panel: eight ends of 24, one of 48; two, three and two of the links
    "adapter, LC, duplex": 8 * 12 + 24 + 2 + 3 + 2,
    "panel frame, 24 holes": 8 + 1,
    "gland, diameter to be said": 2,
    "dead-end grip": 2,
    "warning tape": 150,
    # four cables and the long one at both ends, the dug one where it leaves the building
    "seal of a building entry": 5 * 2 + 1,
    "pulling eye with swivel": 5,
    "end caps, a pair": 7,
    # three of the plain link, one at each cassette
    "cord, OM4, LC PC to LC PC, duplex, A-to-B (ordinary), 2 m": 3 + 2,
    # the two ends of an array trunk, which turn the pairs differently; the trunk itself is of the backbone
    f"{CASSETTE}, pairs in order, front LC PC, low-loss guaranteed": 1,
    f"{CASSETTE}, pairs ports reversed, front LC PC, low-loss guaranteed": 1,
    "cord, OS2, LC UPC to LC UPC, duplex, A-to-B (ordinary), 2 m": 4,
    # one fast port over two hosts
    "breakout cord, OM4, 8 fibers, PC, head with holes, legs outside in, LC PC, 5 m": 1,
    "module, 40G-parallel-300m, QSFP+, coding to be said": 1,
    "module, 10GBASE-SR, SFP+, coding to be said": 2 + 2 + 2,
    "module, 10GBASE-LR, SFP+, coding to be said": 2,
    "module, 1000BASE-LX10, SFP, coding to be said": 2,
    "power injector, class to be said": 3,
    "cleaner for ferrules and adapters": 1,
}


def test_every_line_is_what_a_hand_counts() -> None:
    plant = site(
        *(cable(f"c{n}", "duct", 24, "panel", "panel") for n in range(4)),
        cable("d", "dig", 12, "pigtails", "splice tray"),
        cable("e", "air", 12, "coiled, dark", "unknown"),
        cable("f", "far", 48, "panel", "pigtails"),
        taps=[Tap(id="t", name="t", cable="d", place="p", strands=tuple(range(1, 7)), state="planned")],
        devices=[Device(id="v", name="v", place="b", injector="planned", count=3)],
    )
    links = [
        plain_link("10GBASE-LR", "OS2", 250.0),
        plain_link("10GBASE-SR", "OM4", 40.0, pairs=3),
        plain_link("1000BASE-LX10", "OS2", 9000.0, pigtails=True),
        split("40G-parallel-300m", "10GBASE-SR"),
        split("40G-parallel-300m", "10GBASE-SR"),
        next(link for link in demo_links() if link.name == "Rows 10G, front 1"),
    ]
    assert len(BY_HAND) == 30
    assert counted(bill(plant, links)) == BY_HAND


@pytest.mark.parametrize(
    ("end", "words"),
    [
        ("panel", {"pigtail, OS2, LC UPC, 1.5 m": 25, "adapter, LC, duplex": 13, "splice tray, 12 splices": 3}),
        ("pigtails", {"pigtail, OS2, LC UPC, 1.5 m": 25, "splice tray, 12 splices": 3, "splice protector": 25}),
        ("splice tray", {"splice protector": 25, "splice tray, 12 splices": 3}),
        ("coiled, dark", {}),
        ("unknown", {}),
    ],
)
def test_what_one_end_asks(end: CableEnd, words: dict[str, float]) -> None:
    lines = counted(bill(site(cable("c", "duct", 25, end, "unknown")), []))
    named = ("pigtail", "adapter", "splice")
    found = {
        k: v for k, v in lines.items() if k.startswith(named) and (end == "panel" or not k.startswith("adapter"))
    }
    if end == "panel":
        found.pop("splice protector")
    assert found == words


def test_ends_mounted_on_site_or_made_in_a_factory() -> None:
    mounted = counted(
        bill(
            site(cable("c", "duct", 24, "panel", "unknown")),
            [],
            HouseRules(spares_percent=0, joint_school="mounted on site"),
        )
    )
    assert mounted["connector to mount, LC UPC, OS2"] == 24
    assert not [words for words in mounted if words.startswith(("pigtail", "splice"))]
    made = counted(bill(site(cable("c", "duct", 24, "panel", "panel", head_mm=20)), []))
    assert made["adapter, LC, duplex"] == 24
    assert not [words for words in made if words.startswith(("pigtail", "splice", "connector"))]


def test_a_frame_that_stands_there_is_not_bought_again() -> None:
    frame = Frame(id="f", name="f", place="a", holes=48, state="existing")
    lines = counted(bill(site(cable("c", "duct", 24, "panel", "panel"), frames=[frame]), []))
    assert lines["panel frame, 24 holes"] == 1, "at B only"
