"""The parts at both ends of a trunk with which everything on it lights, found by composing whole links.

Not taken from a table of names: candidates are tried with the fewest different parts first, and the first is kept
with which every lane, both ways and at every front, ends on a receiver.
"""

from __future__ import annotations

from functools import cache
from itertools import product

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.link.build_arrays import Backbone, Keys, duplex_link, parallel_link
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose
from passerelle.core.parts.array_cable import Wiring
from passerelle.core.parts.arrays import ArrayName, Inner, pairs_of
from passerelle.core.parts.kinds.port import Port
from passerelle.core.polarity.trace import trace

ANY_PORTS = (Port(cage="QSFP+"), Port(cage="QSFP+"))
CORDS: tuple[Wiring, ...] = ("reversed", "straight", "pair-flipped, reversed", "pair-flipped")
INNERS: tuple[Inner, ...] = ("in order", "ports reversed", "outside in", "pairs flipped")


@cache
def lanes_part(wiring: Wiring, keys: Keys, application: str) -> tuple[Wiring, Wiring] | None:
    """The array cords at both ends of a trunk with which lanes light in their order; None where none do."""
    optic = load_catalog().application(application)
    for near, far in sorted(product(CORDS, CORDS), key=lambda pair: len(set(pair))):
        one = Backbone(wiring=wiring, keys=keys, near_cord=near, far_cord=far)
        if _lit(parallel_link("-", ANY_PORTS, optic, (), None, backbone=one), in_order=True):
            return near, far
    return None


@cache
def pairs_part(
    wiring: Wiring, keys: Keys, application: str, array: ArrayName
) -> tuple[Inner, Inner, bool, bool] | None:
    """Cassettes and duplex cords at both ends with which a pair lights at every front; None where none do.

    Returns:
        What the near and the far cassette do inside, and whether the near and the far cord are crossed.
    """
    choices = product(INNERS, INNERS, (True, False), (True, False))
    for choice in sorted(choices, key=lambda one: (one[0] != one[1]) + (one[2] != one[3])):
        near, far, near_crossed, far_crossed = choice
        one = Backbone(
            wiring=wiring,
            keys=keys,
            near_cord="reversed",
            far_cord="reversed",
            near_inner=near,
            far_inner=far,
            near_crossed=near_crossed,
            far_crossed=far_crossed,
        )
        fronts = range(1, len(pairs_of(array, near)) + 1)
        if all(_lit(duplex_link("-", ANY_PORTS, application, (), None, one, array=array, front=n)) for n in fronts):
            return choice
    return None


def complete(wiring: Wiring, keys: Keys, duplex: str, parallel: str, array: ArrayName) -> Backbone | None:
    """The whole set for a trunk: for a pair, for parallel lanes, or for both; None where one of them cannot light.

    Args:
        duplex: the application of a pair, empty for none.
        parallel: the application over arrays, empty for none.
    """
    lanes = lanes_part(wiring, keys, parallel) if parallel else ("reversed", "reversed")
    pairs = pairs_part(wiring, keys, duplex, array) if duplex else ("in order", "in order", True, True)
    if lanes is None or pairs is None:
        return None
    return Backbone(
        wiring=wiring,
        keys=keys,
        near_cord=lanes[0],
        far_cord=lanes[1],
        near_inner=pairs[0],
        far_inner=pairs[1],
        near_crossed=pairs[2],
        far_crossed=pairs[3],
    )


def _lit(link: Link, *, in_order: bool = False) -> bool:
    lanes = trace(compose(link, load_catalog()), steps=False)
    return bool(lanes) and all(lane.lights and (not in_order or lane.heard_as == lane.number) for lane in lanes)
