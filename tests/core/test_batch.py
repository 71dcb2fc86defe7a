"""The batch says of each link what the review says of it."""

from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.batch import Figures, figures_of
from passerelle.core.findings import Severity
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit, Insert, Remove, SetFields, apply_edits
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.review import review
from passerelle.demo.port_aubier import demo_links
from tests.core.plain import CATALOG, plain_link


def expected(link: Link, house: HouseRules) -> Figures:
    found = review(link, CATALOG, house, with_fixes=False)
    marks: list[Severity | None] = []
    for element in link.elements:
        here = [f.severity for f in found.findings if element.id in f.marked and f.severity is not Severity.NOTE]
        marks.append(min(here, key=list(Severity).index, default=None))
    loss = found.loss
    return Figures(
        verdict=found.verdict,
        on_estimate=found.on_estimate,
        margin_db=found.margin_db,
        worst_db=loss.worst_db if loss else None,
        expected_db=loss.expected_db if loss else None,
        least_db=loss.least_db if loss else None,
        length_m=found.length_m,
        applications=found.applications,
        marks=tuple(marks),
        stage=found.stage,
    )


def same(batch: Figures, single: Figures, link: Link) -> None:
    for name in ("margin_db", "worst_db", "expected_db", "least_db", "length_m"):
        a, b = getattr(batch, name), getattr(single, name)
        assert (a is None) == (b is None), (link.name, name)
        assert a is None or abs(a - b) < 2e-6, (link.name, name)
    for name in ("verdict", "on_estimate", "applications", "marks", "stage"):
        assert getattr(batch, name) == getattr(single, name), (link.name, name)


def test_the_demo_in_one_batch() -> None:
    house = HouseRules()
    links = demo_links()
    for link, figures in zip(links, figures_of(links, CATALOG, house), strict=True):
        same(figures, expected(link, house), link)


applications = st.sampled_from(list(CATALOG.applications))
grades = st.lists(st.sampled_from(list(CATALOG.fibers)), min_size=0, max_size=2, unique=True)


@st.composite
def some_links(draw: st.DrawFn) -> Link:
    link = plain_link(
        draw(applications),
        tuple(draw(grades)),
        draw(st.none() | st.floats(0, 50_000)),
        pairs=draw(st.integers(0, 4)),
        splices=draw(st.integers(0, 2)),
        cord_m=draw(st.sampled_from([0.0, 0.3, 2.0, 400.0])),
    )
    edits: list[Edit] = []
    ids = [e.id for e in link.elements]
    change = draw(st.sampled_from(["none", "remove", "pad", "straight", "other", "slow port", "low loss"]))
    if change == "remove":
        edits.append(Remove(element=draw(st.sampled_from(ids))))
    if change == "pad":
        pad = Attenuator(value_db=draw(st.sampled_from([1.0, 7.0])), shape="LC", polish="UPC", plug_side="right")
        edits.append(Insert(after=ids[-3], piece=pad))
    if change == "straight":
        edits.append(SetFields(element="run-1", values={"crossed": False}))
    if change == "other":
        edits.append(SetFields(element="module-1", values={"application": draw(applications)}))
    if change == "slow port":
        edits.append(SetFields(element="port-1", values={"rates_mbps": (100,), "coldest_c": -30}))
    if change == "low loss" and "panel-1" in ids:
        edits.append(SetFields(element="panel-1", values={"loss_class": "mated pair, low-loss"}))
    return apply_edits(link, tuple(edits))


@settings(max_examples=40, deadline=None)
@given(st.lists(some_links(), min_size=1, max_size=6), st.sampled_from([(1.0, 0.0), (0.0, 300.0)]))
def test_any_links_in_one_batch(links: list[Link], rules: tuple[float, float]) -> None:
    house = HouseRules(margin_db=rules[0], offset_launch_from_m=rules[1])
    for link, figures in zip(links, figures_of(links, CATALOG, house), strict=True):
        same(figures, expected(link, house), link)
