"""Bridges, their links, and what a port of them costs on the way to the root."""

from __future__ import annotations

import re
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.errors import TurnUpError
from passerelle.core.sources import Frozen, Source

Protocol = Literal["RSTP", "STP", "MSTP", "none", "other", "unknown"]
CostMethod = Literal["long", "short"]
Role = Literal["root", "designated", "alternate", "backup", "disabled", "unknown"]
COST_SOURCE = Source(body="IEEE", document="802.1Q", clause="path cost by rate, recommended values")
SHORT_SOURCE = Source(body="IEEE", document="802.1D-1998", clause="path cost, recommended values")
_SHORT = {10: 100, 100: 19, 1000: 4, 10_000: 2}
_LONG_AT_1_MBPS = 20_000_000
Name = Annotated[str, Field(min_length=1, max_length=120)]


class Bridge(Frozen):
    """A bridge: its priority and address make its identifier. ``filters``: it drops the frames of the tree."""

    name: Name
    priority: Annotated[int, Field(ge=0, le=65_535)] = 32_768
    address: Annotated[str, Field(max_length=17)] = ""
    protocol: Protocol = "unknown"
    filters: bool = False

    @cached_property
    def number(self) -> tuple[int, int] | None:
        """Its identifier as numbers; None without an address."""
        digits = re.sub(r"[^0-9a-fA-F]", "", self.address)
        return (self.priority, int(digits, 16)) if digits else None


class LinkEnd(Frozen):
    """An end of a link: a port of a bridge with its priority; ``filters``: it drops the frames of the tree.

    ``port_number`` is what the bridge itself numbers it, None where only its name is known.
    """

    bridge: Name
    port: Name
    priority: Annotated[int, Field(ge=0, le=255)] = 128
    cost: Annotated[int, Field(ge=1, le=200_000_000)] | None = None
    filters: bool = False
    port_number: Annotated[int, Field(ge=0, le=65_535)] | None = None

    @cached_property
    def number(self) -> tuple[int, int]:
        """Its port identifier: priority, then its number, else the one at the end of its name."""
        if self.port_number is not None:
            return self.priority, self.port_number
        digits = re.findall(r"\d+", self.port)
        return self.priority, int(digits[-1]) if digits else 0


class BridgeLink(Frozen):
    """A link between two bridges at ``rate_mbps``. Links of the same ``group`` between the same two act as one."""

    name: Annotated[str, Field(max_length=120)] = ""
    a: LinkEnd
    b: LinkEnd
    rate_mbps: Annotated[int, Field(ge=1, le=1_000_000)] = 1000
    group: Annotated[str, Field(max_length=60)] = ""
    up: bool = True


class Network(Frozen):
    """Bridges and links. ``path_cost`` None where nobody knows which method is in use."""

    bridges: Annotated[tuple[Bridge, ...], Field(max_length=20_000)] = ()
    links: Annotated[tuple[BridgeLink, ...], Field(max_length=50_000)] = ()
    path_cost: CostMethod | None = None


class PortRole(Frozen):
    """The role of a port: what it is in the tree, whether it passes frames, and the cost to the root through it."""

    bridge: str
    port: str
    link: str
    role: Role
    forwards: bool | None
    cost_to_root: int | None = None


class Tree(Frozen):
    """The active tree. ``unknown`` says why roles, or some of them, are not known; ``loops`` are bridges that go
    round without anything that blocks.
    """

    root: str | None
    roots: tuple[str, ...] = ()
    ports: tuple[PortRole, ...] = ()
    unknown: tuple[str, ...] = ()
    loops: tuple[tuple[str, ...], ...] = ()

    def role(self, bridge: str, port: str) -> PortRole | None:
        """The role of a port."""
        return next((one for one in self.ports if (one.bridge, one.port) == (bridge, port)), None)

    @property
    def blocking(self) -> tuple[PortRole, ...]:
        """Ports that block."""
        return tuple(one for one in self.ports if one.role in ("alternate", "backup"))


SHORT_MOST_MBPS = 10_000
"""The short method lists no cost beyond this rate: what a bridge takes there is its maker's choice."""


def path_cost(rate_mbps: int, method: CostMethod, fastest: int = 2) -> int:
    """The recommended cost of a port.

    Args:
        rate_mbps: the rate in Mb/s.
        method: ``long`` divides 20 Tb/s by the rate (IEEE 802.1Q); ``short`` has 16 bits (IEEE 802.1D-1998).
        fastest: what the short method is taken to cost beyond 10 Gb/s, where it lists nothing.

    >>> path_cost(1000, "long"), path_cost(10_000, "long"), path_cost(1000, "short"), path_cost(25_000, "short")
    (20000, 2000, 4, 2)
    """
    if method == "long":
        return max(1, round(_LONG_AT_1_MBPS / rate_mbps))
    if rate_mbps > SHORT_MOST_MBPS:
        return fastest
    known = [rate for rate in _SHORT if rate <= rate_mbps]
    return _SHORT[max(known)] if known else 250


def checked(network: Network) -> None:
    """See that a network can be what it says.

    Raises:
        TurnUpError: a name stands twice, a link ends at a bridge that is not there, a port carries two links.
    """
    names = set[str]()
    for number, bridge in enumerate(network.bridges):
        if bridge.name in names:
            raise TurnUpError(f"bridges[{number}].name", f"'{bridge.name}' stands twice")
        names.add(bridge.name)
    taken = set[tuple[str, str]]()
    for number, link in enumerate(network.links):
        for side, end in (("a", link.a), ("b", link.b)):
            if end.bridge not in names:
                raise TurnUpError(f"links[{number}].{side}.bridge", f"there is no bridge '{end.bridge}'")
            if (end.bridge, end.port) in taken:
                raise TurnUpError(f"links[{number}].{side}.port", f"port {end.port} of {end.bridge} has two links")
            taken.add((end.bridge, end.port))
