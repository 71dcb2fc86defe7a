"""Answers of several links: slower ones side by side, and a converter or small switch where an end has no cage."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from passerelle.core.catalog.copper_figures import copper_figures
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.parts.kinds.twisted import Twisted
from passerelle.core.rules.port import NATIVE
from passerelle.core.selection.drafts import Draft, port_at
from passerelle.core.selection.wish import PortWish, Question

MOST_MEMBERS = 8
CONVERTER_UP_TO_MBPS = 1000
HOP_M = 2.0
CONVERTER, SMALL_SWITCH = "media converter", "small switch"
Drafts = Callable[[Question], Iterator[Draft]]


def aggregated(question: Question, catalog: Catalog, drafts: Drafts) -> Iterator[Draft]:
    """Two to eight slower links side by side, where both ends have that many ports free.

    Glass that is there must have the strands for all of them.
    """
    ports = min((wish.free for wish in (question.near, question.far) if wish.free is not None), default=None)
    if ports is None or question.near.free is None or question.far.free is None:
        return
    for rate in sorted({a.rate_mbps for a in catalog.applications.values()}):
        count, rest = divmod(question.rate_mbps, rate)
        if rest or not 2 <= count <= min(MOST_MEMBERS, ports):
            continue
        enough = not question.fiber or (question.free_strands or 0) >= count * question.strands
        for draft in drafts(question.model_copy(update={"rate_mbps": rate})):
            if draft.kind == "one link" and (draft.new_cable or enough):
                yield _times(draft, count)


def _times(draft: Draft, count: int) -> Draft:
    return replace(
        draft,
        key=f"{count} × {draft.key}",
        speed_mbps=count * draft.speed_mbps,
        kind="aggregated",
        count=count,
    )


def members(link: Link, count: int) -> tuple[Link, ...]:
    """The same chain ``count`` times, each under a name of its own."""
    if count == 1:
        return (link,)
    return tuple(
        link.model_copy(update={"name": f"{link.name[:100]}, member {number}"}) for number in range(1, count + 1)
    )


def converted(question: Question, catalog: Catalog, drafts: Drafts) -> Iterator[Draft]:
    """Glass between converters, where an end has a native port only: one short hop of twisted pair, then glass."""
    native = [wish.cage == NATIVE for wish in (question.near, question.far)]
    rate = question.rate_mbps
    if not any(native) or copper_figures().twisted_row(rate, "Category 6A") is None:
        return
    box = CONVERTER if rate <= CONVERTER_UP_TO_MBPS else SMALL_SWITCH
    inner = question.model_copy(
        update={
            side: _converter_cage(wish, rate)
            for side, wish, is_native in (
                ("near", question.near, native[0]),
                ("far", question.far, native[1]),
            )
            if is_native
        }
    )
    hops = [
        _hop(question, near, rate, box, catalog)
        for near, is_native in zip((True, False), native, strict=True)
        if is_native
    ]
    where = "both ends" if all(native) else question.from_place if native[0] else question.to_place
    for draft in drafts(inner):
        yield replace(
            draft,
            key=f"{draft.key}, a {box} at {where}",
            links=(*draft.links, *hops),
            kind="converter",
        )


def _converter_cage(wish: PortWish, rate_mbps: int) -> PortWish:
    """The converter's cage: any, at one fixed speed, in the same surroundings."""
    return PortWish(
        rates_mbps=(rate_mbps,),
        coldest_c=wish.coldest_c,
        hottest_c=wish.hottest_c,
        water=wish.water,
        dusty=wish.dusty,
    )


def _hop(question: Question, near: bool, rate_mbps: int, box: str, catalog: Catalog) -> Link:
    wish, place = (question.near, question.from_place) if near else (question.far, question.to_place)
    bare = _converter_cage(wish, rate_mbps)
    return with_ids(
        Link(
            name=f"{place[:80]}, port to its {box}",
            wanted_rate_mbps=rate_mbps,
            elements=(
                port_at(wish, place, NATIVE, rate_mbps, catalog),
                Twisted(length_m=HOP_M),
                port_at(bare, place, NATIVE, rate_mbps, catalog, label=box),
            ),
        )
    )
