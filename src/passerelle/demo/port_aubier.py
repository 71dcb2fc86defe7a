"""Port-Aubier, a made-up inland river port that renews its network: links that pass and links that tell why not."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, time

from passerelle.core.catalog.records import Space
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.edits import Edit, Insert, Measure, Remove, SetFields, apply_edits
from passerelle.core.link.readings import Reading
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.outlet import Outlet
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.kinds.pigtail import Pigtail
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.splice import Splice
from passerelle.core.parts.kinds.twisted import Twisted
from passerelle.core.parts.piece import Plug
from passerelle.demo.data_room import data_room_links
from passerelle.demo.plant import ride

PROJECT_NAME = "Port-Aubier"
OFFICE = "Harbor office"
GIG = (1000,)
BOTH = (1000, 10000)
TRENCH: tuple[Space, ...] = ("buried", "beside power", "between buildings")


def demo_links() -> list[Link]:
    """The links of the demo, in the order of a walk round the port."""
    catalog = load_catalog()
    makers: tuple[Callable[[Catalog], Link], ...] = (
        _ferry,
        _lock_quay,
        _lock_dike,
        _crane_1,
        _crane_2,
        _crane_3,
        _cold_store,
        _weighbridge,
        _survey_boats,
        _radar,
        _rows,
        _gatehouse,
        _cold_store_today,
        _tide_station,
        _pump_house,
        _dock_freezer,
        _weighbridge_copper,
    )
    links = [make(catalog) for make in makers] + data_room_links(catalog) + [_gate_camera(catalog)]
    return [_read(link) for link in ride(links)]


def _gate_camera(catalog: Catalog) -> Link:
    """A camera at the gate over a cable that comes with its plugs; they do not pass the duct."""
    near, far = _ends("Gatehouse", "core 1/10", "1000BASE-LX10", catalog, GIG)
    return build_link("Gate camera", near, far, "1000BASE-LX10", ("OS2",), 120.0, catalog)


def _read(link: Link) -> Link:
    """The link with the readings that came with it; they are of the strands that it rides on."""
    return apply_edits(link, _READINGS.get(link.name, ()))


_READINGS: dict[str, tuple[Edit, ...]] = {
    "Pump house": (
        Measure(
            reading=Reading(
                value_db=9.1,
                start="run-1",
                end="run-1",
                near_joint=True,
                far_joint=True,
                wavelength_nm=1550,
                direction="both",
                method="light source and power meter",
                reference="one cord",
                taken_on=date(2026, 9, 14),
                uncertainty_db=0.3,
                instrument="LM-0417",
                calibrated_on=date(2026, 3, 2),
                operator="owner of the pair",
                at_time=time(10, 20),
                place=OFFICE,
                tester_zero="one cord, set at 10:05 the same day",
                note="handed over with the pair",
            )
        ),
    ),
}


def _ends(
    far: str, port: str, application: str, catalog: Catalog, rates: tuple[int, ...], uplink: str = "uplink"
) -> tuple[LinkEnd, LinkEnd]:
    cage = cage_for(catalog, application)
    return LinkEnd(OFFICE, port, cage, rates), LinkEnd(far, uplink, cage, rates)


def _noted(link: Link, notes: str, *edits: Edit) -> Link:
    return with_ids(apply_edits(link, edits).model_copy(update={"notes": notes}))


def _ferry(catalog: Catalog) -> Link:
    near, far = _ends("Ferry terminal", "core 1/49", "10GBASE-LR", catalog, BOTH)
    link = build_link(
        "Ferry terminal", near, far, "10GBASE-LR", ("OS2",), 2900, catalog, shape="SC", wanted_rate_mbps=10000
    )
    angled = Plug(shape="SC", polish="APC").model_dump()
    return _noted(
        link,
        "One dark pair rented along the road. The owner's panel at the terminal is angled.",
        SetFields(element="run-1", values={"right": angled, "label": "rented pair, road"}),
        SetFields(element="panel-1", values={"label": "B1 port 3"}),
        SetFields(element="panel-2", values={"label": "F2 port 3"}),
    )


def _lock_quay(catalog: Catalog) -> Link:
    near, far = _ends("Lock house", "core 1/1", "1000BASE-LX10", catalog, GIG)
    link = build_link("Lock house, quay duct", near, far, "1000BASE-LX10", ("OS2",), 620, catalog)
    pigtails: list[Edit] = [SetFields(element="run-1", values={"left": None, "right": None, "crossed": True})]
    plug = Plug(shape="LC", polish="UPC")
    pigtails += [
        Insert(after="panel-1", piece=Pigtail(length_m=1.5, fiber=("OS2",), left=plug, right=None)),
        Insert(after="pigtail-1", piece=Splice(label="tray 1")),
        Insert(after="run-1", piece=Splice(label="tray 2")),
        Insert(after="splice-2", piece=Pigtail(length_m=1.5, fiber=("OS2",), left=None, right=plug)),
        SetFields(element="run-1", values={"label": "quay duct"}),
    ]
    return _noted(link, "Spliced on pigtails at both ends. An outage stops ships.", *pigtails)


def _lock_dike(catalog: Catalog) -> Link:
    near, far = _ends("Lock house", "core 1/50", "10GBASE-ER", catalog, BOTH, uplink="uplink 2")
    link = build_link(
        "Lock house, dike duct", near, far, "10GBASE-ER", ("OS2",), 840, catalog, wanted_rate_mbps=10000
    )
    return _noted(
        link,
        "Two long-reach modules were left over from another job.",
        SetFields(element="run-1", values={"label": "dike duct"}),
    )


def _crane_1(catalog: Catalog) -> Link:
    near, far = _ends("North quay crane 1", "core 1/2", "1000BASE-SX", catalog, GIG)
    link = build_link("Crane 1", near, far, "1000BASE-SX", ("OM3",), 455, catalog)
    return _noted(
        link, "First tap of the quay cable.", SetFields(element="run-1", values={"label": "quay cable 1-2"})
    )


def _crane_2(catalog: Catalog) -> Link:
    near, far = _ends("North quay crane 2", "core 1/3", "1000BASE-SX", catalog, GIG)
    link = build_link("Crane 2", near, far, "1000BASE-SX", ("OM3",), 660, catalog)
    return _noted(
        link,
        "Same modules as crane 1, farther out.",
        SetFields(element="run-1", values={"label": "quay cable 3-4"}),
    )


def _crane_3(catalog: Catalog) -> Link:
    near, far = _ends("North quay crane 3", "core 1/4", "1000BASE-LX10", catalog, GIG)
    link = build_link("Crane 3", near, far, "1000BASE-LX10", ("OS2",), 935, catalog)
    return _noted(
        link, "The new single-mode cable.", SetFields(element="run-1", values={"label": "quay cable 5-6"})
    )


def _cold_store(catalog: Catalog) -> Link:
    near, far = _ends("Cold store", "core 1/51", "10GBASE-SR", catalog, BOTH, uplink="uplink 2")
    candidates = ("62.5/125-160", "OM1", "50/125-400", "OM2")
    link = build_link("Cold store", near, far, "10GBASE-SR", candidates, 185, catalog, wanted_rate_mbps=10000)
    cords: list[Edit] = [
        SetFields(element=i, values={"fiber": ("OM2",), "label": "from stock"}) for i in ("cord-1", "cord-2")
    ]
    return _noted(
        link,
        "Orange jacket from the first building, print unreadable. Minus 25 °C inside.",
        *cords,
        SetFields(element="run-1", values={"label": "old orange cable"}),
    )


def _weighbridge(catalog: Catalog) -> Link:
    near, far = _ends("Weighbridge", "core 1/5", "1000BASE-SX", catalog, GIG)
    link = build_link("Weighbridge", near, far, "1000BASE-SX", ("OM2",), 140, catalog)
    return _noted(
        link,
        "Shallow trench beside mains. Black jacket without print.",
        SetFields(element="run-1", values={"fiber": (), "label": "black cable in the trench"}),
    )


def _survey_boats(catalog: Catalog) -> Link:
    near, far = _ends("Survey-boat office", "core 1/52", "10GBASE-SR", catalog, BOTH)
    link = build_link("Survey boats", near, far, "10GBASE-SR", ("OM4",), 62, catalog, wanted_rate_mbps=10000)
    return _noted(
        link,
        "Ceiling tray. Both cords were ordered crossed, the run is straight.",
        SetFields(element="run-1", values={"crossed": False, "label": "ceiling tray, plenum"}),
    )


def _radar(catalog: Catalog) -> Link:
    near, far = _ends("Radar mast", "core 1/53", "10GBASE-LR", catalog, BOTH)
    link = build_link("Radar mast", near, far, "10GBASE-LR", ("OS2",), 48, catalog)
    return _noted(
        link,
        "A plain converter in the mast cabinet: fixed at 1 Gb/s.",
        SetFields(element="module-2", values={"application": "1000BASE-LX10"}),
        SetFields(element="port-2", values={"cage": "SFP", "rates_mbps": (1000,), "label": "converter"}),
        SetFields(element="run-1", values={"label": "riser, all-dielectric"}),
    )


def _rows(catalog: Catalog) -> Link:
    rates = BOTH
    near, far = (
        LinkEnd("Data room row A", "row A 1/1", "SFP+", rates),
        LinkEnd("Data room row B", "row B 1/1", "SFP+", rates),
    )
    link = build_link("Rows A to B", near, far, "10GBASE-SR", ("OM4",), 65, catalog, wanted_rate_mbps=10000)
    return _noted(link, "Under the floor.", SetFields(element="run-1", values={"label": "floor trunk"}))


def _gatehouse(catalog: Catalog) -> Link:
    near, far = _ends("Cold store dock", "core 1/6", "10GBASE-SR", catalog, BOTH)
    link = build_link("Cold store dock", near, far, "10GBASE-SR", ("OM3",), 210, catalog, wanted_rate_mbps=10000)
    pc = Plug(shape="LC", polish="PC")
    return _noted(
        link,
        "The cable passes the cold store and is patched through there.",
        SetFields(element="run-1", values={"length_m": 185.0, "label": "to the cold store"}),
        Insert(after="run-1", piece=Panel(shape="LC", label="C1 port 1")),
        Insert(
            after="panel-3",
            piece=Cord(length_m=3, fiber=("OM3",), left=pc, right=pc, crossed=True, label="patch-through"),
        ),
        Insert(after="cord-3", piece=Panel(shape="LC", label="C2 port 1")),
        Insert(
            after="panel-4",
            piece=Cord(length_m=25, fiber=("OM3",), left=pc, right=pc, crossed=True, label="dock tail"),
        ),
        Remove(element="panel-2"),
        Remove(element="cord-2"),
    )


def _cold_store_today(catalog: Catalog) -> Link:
    near, far = _ends("Cold store", "core 1/7", "1000BASE-LX", catalog, GIG)
    link = build_link("Cold store, today", near, far, "1000BASE-LX", ("OM1", "OM2"), 185, catalog)
    return _noted(
        link,
        "The old link: 1310 nm lasers on the orange cable, with plain cords.",
        SetFields(element="cord-1", values={"fiber": ("OM2",)}),
        SetFields(element="cord-2", values={"fiber": ("OM2",)}),
        SetFields(element="run-1", values={"fiber": ("OM2",), "label": "old orange cable, pair 2"}),
    )


def _tide_station(catalog: Catalog) -> Link:
    near, far = _ends("Tide station", "core 1/8", "1000BASE-BX10-D", catalog, GIG)
    link = build_link("Tide station", near, far, "1000BASE-BX10-D", ("OS2",), 7400, catalog)
    return _noted(
        link,
        "The last strand in the old cable along the dike. Both modules came out of one box.",
        SetFields(element="module-2", values={"application": "1000BASE-BX10-D"}),
        SetFields(element="run-1", values={"label": "dike duct, then pole"}),
    )


def _pump_house(catalog: Catalog) -> Link:
    near, far = _ends("Pump house", "core 1/54", "10GBASE-ER", catalog, BOTH)
    link = build_link("Pump house", near, far, "10GBASE-ER", ("OS2",), 34000, catalog, wanted_rate_mbps=10000)
    return _noted(
        link,
        "Rented pair upstream. On paper the cable may lose too much: its owner's reading, by both panels, decides.",
        SetFields(element="run-1", values={"label": "rented pair, upstream"}),
    )


def _dock_freezer(catalog: Catalog) -> Link:
    near, far = _ends("Cold store, inside", "core 1/9", "1000BASE-SX", catalog, GIG)
    link = build_link("Freezer aisle", near, far, "1000BASE-SX", ("OM3",), 190, catalog)
    return _noted(
        link,
        "The switch hangs in the aisle, at minus 25 °C.",
        SetFields(element="port-2", values={"coldest_c": -25.0, "hottest_c": 5.0}),
        SetFields(element="module-2", values={"temperature_class": "commercial"}),
        SetFields(element="run-1", values={"label": "new aqua cable"}),
    )


def _weighbridge_copper(_catalog: Catalog) -> Link:
    cord = Twisted(length_m=2)
    cable = Twisted(length_m=140, fixed=True, jacket="outdoor", label="tempting: the trench is open", spaces=TRENCH)
    port = Port(cage="RJ45", rates_mbps=GIG)
    link = Link(
        name="Twisted pair to the weighbridge",
        wanted_rate_mbps=1000,
        notes="The scale's box has a native port, and the cable is cheap.",
        elements=(
            port.model_copy(update={"place": OFFICE, "label": "core 2/11"}),
            cord,
            Outlet(label="H11"),
            cable,
            Outlet(label="W1"),
            cord,
            port.model_copy(update={"place": "Weighbridge", "label": "1"}),
        ),
    )
    return with_ids(link)
