"""Tracing many links at once beside a plain walk, and what the repair search of the worst demo link costs."""

from __future__ import annotations

import random
import statistics
import time
from collections.abc import Callable, Sequence
from unittest.mock import patch

from passerelle.core import review as reviewing
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.findings import Finding
from passerelle.core.house import HouseRules
from passerelle.core.link.build_arrays import duplex_link, parallel_link, usual_backbone
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain, Joint, compose
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.part import Spot
from passerelle.core.polarity.trace import ends_of_all
from passerelle.demo.port_aubier import demo_links

COUNT = 10_000
POSITIONS = 12
WIRINGS = ("straight", "reversed", "pair-flipped", "pair-flipped, reversed")
KEYS = ("aligned", "opposed")


def diverse_arrays(count: int) -> list[Link]:
    """Links of twelve fibers and nine pieces, each with cords, trunk and adapters of its own, fixed seed."""
    chance = random.Random(20_261)
    ports = (Port(cage="QSFP+", rates_mbps=(40_000,)), Port(cage="QSFP+", rates_mbps=(40_000,)))
    optic = load_catalog().application("40GBASE-SR4")
    plain = parallel_link("-", ports, optic, ("OM4",), 65.0, backbone=usual_backbone(angled=False))
    return [_varied(plain, chance) for _ in range(count)]


def wide_and_narrow() -> tuple[Link, Link]:
    """A link of 32 fibers over a trunk, and a pair through cassettes."""
    catalog = load_catalog()
    ports = (
        Port(place="A", cage="CFP8", rates_mbps=(400_000,)),
        Port(place="B", cage="CFP8", rates_mbps=(400_000,)),
    )
    wide = parallel_link("wide", ports, catalog.application("400GBASE-SR16"), ("OM4",), 60.0)
    return wide, duplex_link("pair", ports, "10GBASE-SR", ("OM4",), 60.0, usual_backbone(angled=False))


def _varied(plain: Link, chance: random.Random) -> Link:
    elements = []
    for element in plain.elements:
        fields = type(element).model_fields
        update: dict[str, object] = {}
        if "wiring" in fields:
            update = {"wiring": chance.choice(WIRINGS), "length_m": round(chance.uniform(1, 90), 1)}
        elif element.kind == "panel":
            update = {"keys": chance.choice(KEYS)}
        elements.append(element.model_copy(update=update))
    return plain.model_copy(update={"elements": tuple(elements)})


Met = Callable[[Joint], Sequence[int]]


def plain_walk(chain: Chain, met: Met = lambda joint: joint.map) -> list[int]:
    """Where each position ends, walked one after the other: each joint and each part is asked for the next one."""
    first, last = chain.ends
    ends = []
    for start in range(1, POSITIONS + 1):
        position = start
        for joint in chain.joints:
            if joint.left is None or joint.right is None or joint.left.position < first.position:
                continue
            if joint.right.position > last.position or not position:
                break
            position = met(joint)[position - 1]
            if position not in joint.right_face.positions:
                position = 0
            elif joint.right is not last:
                here = joint.right
                spot = here.part.through(Spot(here.enter, position), here.leave)
                position = spot.position if spot else 0
        ends.append(position)
    return ends


def thrifty_walk(chain: Chain) -> list[int]:
    """The same walk that asks each joint once and keeps its map."""
    maps = {id(joint): joint.map for joint in chain.joints if joint.left and joint.right}
    return plain_walk(chain, lambda joint: maps[id(joint)])


def _timed(action: Callable[[], object]) -> float:
    start = time.perf_counter()
    action()
    return time.perf_counter() - start


def polarity() -> list[tuple[str, bool]]:
    """Both ways over the same composed links, with the same answer; then the repairs of the worst demo link."""
    chains = [compose(link, load_catalog()) for link in diverse_arrays(COUNT)]
    assert ends_of_all(chains[:200], POSITIONS).tolist() == [plain_walk(chain) for chain in chains[:200]]
    batch_s = statistics.median(_timed(lambda: ends_of_all(chains, POSITIONS)) for _ in range(3))
    some = chains[:: COUNT // 500]
    plain_s = _timed(lambda: [plain_walk(chain) for chain in some]) / len(some) * COUNT
    thrifty_s = _timed(lambda: [thrifty_walk(chain) for chain in some]) / len(some) * COUNT
    print(
        f"polarity: {COUNT} links of {POSITIONS} fibers in {batch_s * 1000:.0f} ms, walked in {plain_s:.1f} s, "
        f"in {thrifty_s:.1f} s by a walk that keeps the map of each joint"
    )
    _repairs()
    ratio = plain_s / batch_s
    return [(f"tracing in a batch is {ratio:.0f} times faster than a plain walk (at least 20)", ratio >= 20)]


def _repairs() -> None:
    """The dark demo link whose repairs take the most reviews, once more with every cable of arrays pair-flipped."""
    dark = [link for link in demo_links() if any(f.code.startswith("polarity.") and f.best for f in _found(link))]
    worst = max(dark, key=_reviews)
    cables = [e.id for e in worst.elements if "wiring" in type(e).model_fields]
    harder = apply_edits(worst, tuple(SetFields(element=i, values={"wiring": "pair-flipped"}) for i in cables))
    for name, link in ((worst.name, worst), (f"{worst.name}, every cable pair-flipped", harder)):
        seconds = _timed(lambda link=link: _review(link))
        print(f"polarity: repairs of '{name}': {_reviews(link)} reviews, {seconds * 1000:.0f} ms with its own")


def _found(link: Link) -> tuple[Finding, ...]:
    return reviewing.review(link, load_catalog(), HouseRules(), with_fixes=False).findings


def _review(link: Link) -> None:
    reviewing.review(link, load_catalog(), HouseRules())


def _reviews(link: Link) -> int:
    """How many links are judged to offer the fixes of one."""
    with patch.object(reviewing, "_brief", wraps=reviewing._brief) as brief:
        _review(link)
    return brief.call_count


if __name__ == "__main__":
    for words, kept in polarity():
        print(("kept   " if kept else "MISSED ") + words)
