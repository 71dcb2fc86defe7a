"""Any link: the demo's and plain ones, glass and copper, after any changes that the program itself would take."""

from __future__ import annotations

from hypothesis import strategies as st

from passerelle.core.errors import EditError
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.edits import Edit, Flip, Insert, Remove, Reverse, SetFields, apply_edits
from passerelle.core.link.fitting import fitting_piece
from passerelle.core.link.names import check_names
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.jack import Jack
from passerelle.core.parts.kinds.outlet import Outlet
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.twisted import Twisted
from passerelle.core.parts.registry import INSERTABLE, Element, spec_of
from passerelle.demo.port_aubier import demo_links
from tests.core.plain import CATALOG, plain_link


def _port(cage: str, *rates: int) -> Port:
    return Port(label="1", place="here", cage=cage, rates_mbps=rates)


def _chain(*pieces: Element) -> Link:
    return with_ids(Link(name="copper", elements=pieces))


BASES: tuple[Link, ...] = (
    *demo_links(),
    plain_link("10GBASE-SR", "OM3", 120.0, pigtails=True),
    plain_link("10GBASE-SR", ("OM3", "OM4"), 350.0, splices=2),
    plain_link("1000BASE-LX", "OM2", 300.0),
    plain_link("1000BASE-BX10-D", "OS2", 4000.0),
    plain_link("1000BASE-SX", "OM2", 20.0, cord_only=True),
    plain_link("10GBASE-ER", "OS2", 20_000.0),
    plain_link("10GBASE-LR", "OS2", None),
    _chain(
        _port("SFP+", 1000, 10_000),
        Jack(),
        Twisted(length_m=2),
        Outlet(),
        Twisted(length_m=40, fixed=True),
        Outlet(),
        Twisted(length_m=2),
        _port("RJ45", 1000, 10_000),
    ),
    _chain(_port("SFP+", 10_000), Assembly(length_m=3), _port("SFP+", 10_000)),
)
LENGTHS = (None, 0.0, 0.5, 2.0, 31.0, 60.0, 82.0, 101.0, 220.0, 300.0, 551.0, 5000.0, 10_001.0, 40_000.0)
SHELVES: dict[str, tuple[str, ...]] = {
    "applications": tuple(CATALOG.applications),
    "fibers": tuple(CATALOG.fibers),
    "cages": tuple(CATALOG.cages),
    "constructions": tuple(CATALOG.constructions),
    "forms": tuple(CATALOG.forms),
}
RATES = ((), (1000,), (10_000,), (1000, 10_000), (25_000,))


@st.composite
def changes(draw: st.DrawFn, link: Link) -> Edit:
    """A change of one piece: a field by what a screen would offer for it, or a piece put in, taken out, turned."""
    piece = draw(st.sampled_from(link.elements))
    what = draw(st.sampled_from(["set", "set", "set", "set", "insert", "remove", "flip", "reverse"]))
    if what == "insert":
        kind = draw(st.sampled_from(INSERTABLE))
        return Insert(after=piece.id, piece=fitting_piece(link, piece.id, kind, CATALOG))
    if what == "remove":
        return Remove(element=piece.id)
    if what == "flip":
        return Flip(element=piece.id)
    if what == "reverse":
        return Reverse()
    fields = [f for f in spec_of(piece).fields if f.name != "label"]
    if not fields:
        return Reverse()
    field = draw(st.sampled_from(fields))
    known: list[object] = [choice.value for choice in field.choices] or list(SHELVES.get(field.shelf, ()))
    if field.editor == "length":
        value: object = draw(st.sampled_from(LENGTHS))
    elif field.editor == "yes or no":
        value = draw(st.booleans())
    elif field.name == "rates_mbps":
        value = draw(st.sampled_from(RATES))
    elif field.editor == "choices":
        value = draw(st.lists(st.sampled_from(known), max_size=2, unique=True))
    elif field.editor == "choice":
        value = draw(st.sampled_from(known))
    else:
        value = draw(st.sampled_from([-30, 1, 5, 70, "make A"]))
    return SetFields(element=piece.id, values={field.name: value})


def is_named(link: Link) -> bool:
    """Whether the catalog has every name in a link, as a store and a plan file ask."""
    try:
        check_names(link, CATALOG)
    except EditError:
        return False
    return True


@st.composite
def any_link(draw: st.DrawFn) -> Link:
    """A link after up to five changes; those that the program refuses are left out."""
    link = draw(st.sampled_from(BASES))
    for _ in range(draw(st.integers(0, 5))):
        if not link.elements:
            break
        try:
            link = apply_edits(link, (draw(changes(link)),))
        except EditError:
            continue
    return link
