"""The active tree: it agrees with bridges that find theirs by telling each other, and says what it cannot know."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.errors import TurnUpError
from passerelle.core.turnup.bridges import Bridge, BridgeLink, CostMethod, LinkEnd, Network, path_cost
from passerelle.core.turnup.case_file import network_from
from passerelle.core.turnup.plan_network import warnings_of
from passerelle.core.turnup.tree import tree_of, when_fails
from passerelle.standins.spanning import SimulatedBridge, SimulatedPort, converge

RATES = (100, 1000, 10_000, 25_000)


def network(
    count: int, ends: list[tuple[int, int, int]], method: CostMethod | None = "long", **same: object
) -> Network:
    """Bridges by number, links as (a, b, rate); each link takes the next port of its bridges."""
    bridges = tuple(
        Bridge(name=f"b{n}", address=f"02:00:00:00:00:{n:02x}", **{"protocol": "RSTP", **same})  # type: ignore[arg-type]
        for n in range(count)
    )
    used = [0] * count
    links = []
    for number, (a, b, rate) in enumerate(ends):
        made = []
        for n in (a, b):
            used[n] += 1
            made.append(LinkEnd(bridge=f"b{n}", port=str(used[n])))
        links.append(BridgeLink(name=f"l{number}", a=made[0], b=made[1], rate_mbps=rate))
    return Network(bridges=bridges, links=tuple(links), path_cost=method)


def as_simulated(found: Network) -> list[SimulatedBridge]:
    made = {b.name: SimulatedBridge(b.name, b.number or (0, 0)) for b in found.bridges}
    for link in found.links:
        cost = path_cost(link.rate_mbps, found.path_cost or "long")
        for end in (link.a, link.b):
            made[end.bridge].ports.append(SimulatedPort(end.port, end.number, cost, link.name))
    return list(made.values())


@st.composite
def networks(draw: st.DrawFn) -> Network:
    count = draw(st.integers(1, 8))
    method: CostMethod = draw(st.sampled_from(["long", "short"]))
    rates = RATES if method == "long" else RATES[:-1]  # beyond 10 Gb/s the short method lists nothing
    pairs = st.tuples(st.integers(0, count - 1), st.integers(0, count - 1), st.sampled_from(rates))
    found = network(count, draw(st.lists(pairs, max_size=16)), method)
    priorities = draw(st.lists(st.sampled_from([4096, 32_768]), min_size=count, max_size=count))
    bridges = tuple(b.model_copy(update={"priority": p}) for b, p in zip(found.bridges, priorities, strict=True))
    # a record keeps what it reckoned once: made anew it reckons again
    return Network.model_validate({**found.model_dump(), "bridges": [b.model_dump() for b in bridges]})


@given(networks())
def test_the_tree_agrees_with_bridges_that_find_it_themselves(found: Network) -> None:
    simulated = as_simulated(found)
    converge(simulated)
    tree = tree_of(found)
    roles = {(bridge.name, port.name): port.role for bridge in simulated for port in bridge.ports}
    assert {(one.bridge, one.port): one.role for one in tree.ports} == roles
    for bridge in simulated:
        if bridge.root == bridge.number and any(port.wire for port in bridge.ports):
            assert bridge.name in tree.roots
    assert not tree.loops


@given(networks())
def test_what_carries_reaches_every_bridge_once(found: Network) -> None:
    tree = tree_of(found)
    forwards = {(one.bridge, one.port): one.forwards for one in tree.ports}
    carrying = [
        link
        for link in found.links
        if forwards[link.a.bridge, link.a.port] and forwards[link.b.bridge, link.b.port]
    ]
    near: dict[str, set[str]] = {bridge.name: set() for bridge in found.bridges}
    for link in carrying:
        near[link.a.bridge].add(link.b.bridge)
        near[link.b.bridge].add(link.a.bridge)
    parts, left = 0, set(near)
    while left:
        todo, parts = [left.pop()], parts + 1
        while todo:
            new = near[todo.pop()] & left
            left -= new
            todo += new
    assert len(carrying) == len(found.bridges) - parts  # as many as a forest has: nothing goes round


def test_costs_are_those_of_the_standards() -> None:
    assert [path_cost(rate, "long") for rate in (100, 1000, 10_000, 100_000)] == [200_000, 20_000, 2000, 200]
    assert [path_cost(rate, "short") for rate in (10, 100, 1000, 10_000)] == [100, 19, 4, 2]


def test_the_slow_one_of_two_blocks_and_carries_when_the_fast_one_fails() -> None:
    found = network(2, [(0, 1, 1000), (0, 1, 10_000)])
    tree = tree_of(found)
    assert [(one.bridge, one.port) for one in tree.blocking] == [("b1", "1")]
    failed = when_fails(found, found.links[1])
    assert [(one.bridge, one.port) for one in failed.opens] == [("b1", "1")]
    assert failed.cut_off == ()
    assert when_fails(network(2, [(0, 1, 1000)]), network(2, [(0, 1, 1000)]).links[0]).cut_off == ("b1",)


def test_a_method_that_nobody_asked_about_leaves_the_role_open() -> None:
    # by the short method 25 and 10 Gb/s cost alike: the lower port number decides
    found = network(2, [(0, 1, 10_000), (0, 1, 25_000)], None)
    tree = tree_of(found)
    assert {one.role for one in tree.ports if one.bridge == "b1"} == {"unknown"}
    assert "path-cost method" in tree.unknown[0]
    settled = tree_of(found.model_copy(update={"path_cost": "long"}))
    assert [(one.bridge, one.port) for one in settled.blocking] == [("b1", "1")]
    assert tree_of(network(2, [(0, 1, 1000), (0, 1, 10_000)], None)).unknown == ()  # both methods agree


@pytest.mark.parametrize(
    ("same", "words"),
    [
        ({"protocol": "other"}, "another tree protocol"),
        ({"protocol": "unknown"}, "nobody said which tree protocol"),
        ({"filters": True}, "drops the frames"),
        ({"protocol": "none"}, "a loop"),
    ],
)
def test_what_cannot_be_known_is_told_and_nothing_is_called_safe(same: dict[str, object], words: str) -> None:
    tree = tree_of(network(3, [(0, 1, 1000), (1, 2, 1000), (2, 0, 1000)], **same))
    assert any(words in one for one in tree.unknown)
    assert tree.root is None
    assert all(one.forwards is None for one in tree.ports)
    assert bool(tree.loops) == (same.get("protocol") == "none")
    # without a circle none of it matters
    assert tree_of(network(3, [(0, 1, 1000), (1, 2, 1000)], **same)).unknown == ()


def test_a_doubt_in_one_part_says_nothing_of_another() -> None:
    found = network(4, [(0, 1, 1000), (0, 1, 10_000), (2, 3, 1000), (2, 3, 1000)])
    bridges = tuple(b.model_copy(update={"protocol": "unknown"}) if b.name == "b3" else b for b in found.bridges)
    tree = tree_of(found.model_copy(update={"bridges": bridges}))
    assert tree.root == "b0"
    assert [(one.bridge, one.port) for one in tree.blocking] == [("b1", "1")]
    assert {one.role for one in tree.ports if one.bridge in ("b2", "b3")} == {"unknown"}


def test_links_of_an_aggregation_act_as_one() -> None:
    found = network(2, [(0, 1, 1000), (0, 1, 1000)])
    links = tuple(link.model_copy(update={"group": "agg 1"}) for link in found.links)
    tree = tree_of(found.model_copy(update={"links": links}))
    assert tree.blocking == ()
    assert [one.role for one in tree.ports] == ["designated", "root", "designated", "root"]


def test_a_tie_that_an_address_would_break_is_not_guessed() -> None:
    found = network(2, [(0, 1, 1000)])
    bridges = tuple(Bridge(name=b.name, protocol="RSTP") for b in found.bridges)
    tree = tree_of(found.model_copy(update={"bridges": bridges}))
    assert tree.root is None
    assert "address" in tree.unknown[0]


def test_a_second_plug_is_warned_of() -> None:
    two = [(0, 1, 1000), (0, 1, 10_000)]
    assert [one.code for one in warnings_of(network(2, two))] == ["parallel"]
    (loop,) = warnings_of(network(2, two, protocol="none"))
    assert (loop.code, loop.severity) == ("loop", "fail")
    (perhaps,) = warnings_of(network(2, two, protocol="unknown"))
    assert (perhaps.code, perhaps.severity) == ("loop", "caution")
    assert [w.code for w in warnings_of(network(2, two[:1]), [("l0", "agg", "")])] == ["aggregation"]
    assert warnings_of(network(2, two[:1])) == ()


def test_a_network_is_read_however_a_script_writes_it() -> None:
    plain = {
        "switches": {"a": {"priority": 4096, "mac": "00:00:00:00:00:0a"}, "b": {"mac": "00:00:00:00:00:0b"}},
        "edges": [
            {"from": "a:1", "to": "b:1", "rate": 1000},
            {"ends": [["a", 2], {"switch": "b", "port": 2}], "speed_mbps": 10_000},
        ],
    }
    tree = tree_of(network_from(plain))
    assert tree.root == "a"
    assert [(one.bridge, one.port) for one in tree.blocking] == [("b", "1")]


@pytest.mark.parametrize(
    ("raw", "field"),
    [
        ([], "network"),
        ({"bridges": [{"priority": 1}]}, "bridges[0].name"),
        ({"bridges": [{"name": "a"}, {"name": "a"}]}, "bridges[1].name"),
        ({"bridges": [{"name": "a"}], "links": [{"a": "a:1", "b": "z:1"}]}, "links[0].b.bridge"),
        ({"bridges": [{"name": "a"}], "links": [{"a": "a:1"}]}, "links[0].b"),
        ({"bridges": [{"name": "a"}], "path_cost": "middle"}, "path_cost"),
        ({"bridges": [{"name": "a", "priority": -5}]}, "bridges[0].priority"),
    ],
)
def test_a_network_that_cannot_be_names_its_place(raw: object, field: str) -> None:
    with pytest.raises(TurnUpError) as told:
        tree_of(network_from(raw))
    assert told.value.field == field


def test_a_link_that_is_down_may_lead_to_a_part_that_is_apart() -> None:
    found = network(4, [(0, 1, 1000), (1, 2, 1000), (2, 3, 1000)])
    links = tuple(one.model_copy(update={"up": one.name != "l1"}) for one in found.links)
    apart = found.model_copy(update={"links": links})
    tree = tree_of(apart)
    assert tree.roots == ("b0", "b2")
    assert [one.role for one in tree.ports if one.link == "l1"] == ["disabled", "disabled"]
    assert when_fails(apart, links[1]).cut_off == ()
    assert when_fails(apart, links[0]).cut_off == ("b1",)


@pytest.mark.parametrize(
    ("ports", "numbers", "known"),
    [
        (("1/1", "2/1"), (None, None), False),
        (("1/1", "1/2"), (None, None), True),
        (("1/1", "2/1"), (1, 49), True),
        (("lan", "wan"), (None, None), False),
    ],
)
def test_ports_that_end_in_the_same_number_are_not_the_same(
    ports: tuple[str, str], numbers: tuple[int | None, int | None], known: bool
) -> None:
    """Two links side by side: the lower port number of the root's bridge decides which of them blocks."""
    bridges = tuple(Bridge(name=n, address=f"02:00:00:00:00:0{i}", protocol="RSTP") for i, n in enumerate("ab"))
    links = tuple(
        BridgeLink(a=LinkEnd(bridge="a", port=port, port_number=number), b=LinkEnd(bridge="b", port=str(n)))
        for n, (port, number) in enumerate(zip(ports, numbers, strict=True))
    )
    tree = tree_of(Network(bridges=bridges, links=links, path_cost="long"))
    assert tree.root == "a", "the root is certain all the same"
    assert (len(tree.blocking) == 1) is known
    assert any("enter the port numbers" in words for words in tree.unknown) is not known


@pytest.mark.parametrize(
    ("rate", "cost", "known"), [(10_000, None, True), (25_000, None, False), (25_000, 2, True)]
)
def test_the_short_method_lists_no_cost_beyond_10_gigabit(rate: int, cost: int | None, known: bool) -> None:
    """b2 reaches b0 over 1 Gb/s at 4, or over b1 at twice the cost of a fast link: 4, or 2 where that is 1."""
    found = network(3, [(0, 2, 1000), (0, 1, rate), (1, 2, rate)], "short")
    if cost is not None:
        links = tuple(
            link.model_copy(
                update={
                    "a": link.a.model_copy(update={"cost": cost}),
                    "b": link.b.model_copy(update={"cost": cost}),
                }
            )
            if link.rate_mbps == rate
            else link
            for link in found.links
        )
        found = Network.model_validate({**found.model_dump(), "links": [link.model_dump() for link in links]})
    tree = tree_of(found)
    assert tree.root == "b0"
    assert any("lists no cost beyond 10 Gb/s" in words for words in tree.unknown) is not known
    assert (len(tree.blocking) == 1) is known


@pytest.mark.parametrize(
    ("silent", "ends", "root"),
    [
        ("b3", [(0, 1, 1000), (1, 2, 1000), (2, 0, 1000), (2, 3, 1000), (3, 0, 1000)], "b0"),
        ("b0", [(0, 1, 1000), (1, 2, 1000), (2, 0, 1000)], None),
        ("b1", [(0, 1, 1000), (0, 1, 1000), (1, 2, 1000)], None),
    ],
)
def test_the_root_is_told_where_one_segment_is_open(
    silent: str, ends: list[tuple[int, int, int]], root: str | None
) -> None:
    """One device whose protocol nobody knows: the root stands where all others reach it without that one."""
    found = network(4 if silent == "b3" else 3, ends)
    bridges = tuple(
        one.model_copy(update={"protocol": "unknown"}) if one.name == silent else one for one in found.bridges
    )
    tree = tree_of(Network.model_validate({**found.model_dump(), "bridges": [b.model_dump() for b in bridges]}))
    assert tree.root == root
    assert tree.unknown
