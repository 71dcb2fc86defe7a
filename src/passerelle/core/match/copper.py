"""A link without glass: twisted pair with its plug-in modules, or a direct-attach assembly."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import pairwise

from passerelle.core.catalog.copper import CATEGORIES, CopperFigures, copper_figures
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Verdict, caution, fail, note, undecided
from passerelle.core.link.chain import Link, copper, length_m, ports
from passerelle.core.link.elements import Assembly, Element, Jack, Outlet, Port, Twisted
from passerelle.core.match.coding import PRACTICE, SURVEY, coding_findings
from passerelle.core.match.environment import ingress_findings, temperature_findings
from passerelle.core.match.lengths import estimated_lengths
from passerelle.core.match.spaces import space_findings
from passerelle.core.sources import Source
from passerelle.core.units import format_length, format_rate

CHANNEL = Source(body="TIA", document="TIA-568.2-D", clause="channel and permanent link")
MOST_CONNECTIONS, MOST_CONNECTIONS_CAT8 = 4, 2
MOST_FIXED_M = 90.0
NATIVE = "RJ45"


@dataclass
class CopperFound:
    """What the rules say of a link without glass: its application, rate in Mb/s, and how far that goes in m."""

    name: str = ""
    rate_mbps: int | None = None
    reach_m: float | None = None
    on_estimate: bool = False
    findings: list[Finding] = field(default_factory=list)


def copper_review(link: Link, catalog: Catalog) -> CopperFound:
    """All that is said of a link without glass; nothing in it is a loss in dB."""
    found = CopperFound(findings=[*space_findings(link, catalog), *estimated_lengths(link)])
    for port in ports(link):
        found.findings += ingress_findings(port, catalog)
    stray = [e.id for e in link.elements if e.kind not in _OWN_KINDS]
    if stray:
        found.findings.append(
            fail(
                "copper.meets_glass",
                tuple(stray),
                "Fiber pieces and copper stand in one chain.",
                "Light does not cross into copper: a converter stands between them, and makes two links of it.",
            )
        )
        return found
    broken = _open_joints(link)
    if broken:
        found.findings += broken
        return found
    for piece in copper(link):
        if piece.length_m is None:
            found.findings.append(
                undecided(
                    "length.unknown",
                    (piece.id,),
                    "The length of this piece is not known.",
                    "The reach on copper is short: measure the way with its verticals and slack.",
                )
            )
    middle = link.elements[1:-1]
    if isinstance(middle[0], Assembly):
        _assembly(link, middle[0], found, catalog)
    else:
        _twisted(link, found, catalog)
    return found


_OWN_KINDS = frozenset({"port", "twisted", "outlet", "jack", "assembly"})


def _open_joints(link: Link) -> list[Finding]:
    """What does not close, from left to right."""
    elements = link.elements
    found = [
        undecided("chain.open", tuple(e.id for e in pair), "The chain is open here.", f"{words}.")
        for pair in pairwise(elements)
        if (words := _apart(*pair))
    ]
    ends = (elements[0].id, elements[-1].id) if elements else ()
    if len(elements) < 3 or not (isinstance(elements[0], Port) and isinstance(elements[-1], Port)):
        found.append(undecided("chain.open", ends, "The chain is open here.", "It does not run from port to port."))
    elif not copper(link):
        found.append(undecided("chain.open", ends, "The chain is open here.", "There is no cable in it."))
    inner = [e for e in elements[1:-1] if e.kind == "port"] + [e for e in elements[2:-2] if e.kind == "jack"]
    found += [
        undecided("chain.open", (e.id,), "The chain is open here.", f"A {e.kind} stands in the middle of it.")
        for e in inner
    ]
    return found


def _apart(left: Element, right: Element) -> str:
    """Why two neighbors do not meet; empty where they do."""
    kinds = frozenset({left.kind, right.kind})
    if kinds in _MEET:
        return ""
    if kinds == {"twisted"}:
        return "Two plugs face each other: an outlet stands between two pieces of twisted pair"
    if kinds == {"port"}:
        return "There is nothing between the two ports"
    return f"A {left.kind} does not meet a {right.kind}"


_MEET = (
    frozenset({"port", "jack"}),
    frozenset({"port", "twisted"}),
    frozenset({"port", "assembly"}),
    frozenset({"jack", "twisted"}),
    frozenset({"twisted", "outlet"}),
)


def _assembly(link: Link, line: Assembly, found: CopperFound, catalog: Catalog) -> None:
    near, far = ports(link)
    forms = (line.left_form, line.right_form)
    row = copper_figures().assembly_row(line.rate_mbps, line.made, frozenset(forms), line.legs)
    found.name = row.name if row else f"{format_rate(line.rate_mbps)} direct attach"
    found.rate_mbps = line.rate_mbps
    ends = ((near, line.left_form, line.left_coding), (far, line.right_form, line.right_coding))
    for port, form, coding in ends:
        cage = catalog.cage(port.cage)
        if form not in cage.accepts:
            found.findings.append(
                fail(
                    "cage.form",
                    (port.id, line.id),
                    f"The assembly's {form} plug does not work in the {cage.name} cage.",
                    f"The cage takes {' and '.join(cage.accepts) or 'no module'}.",
                    cage.source,
                )
            )
        found.findings += _speed(port, line.id, {line.rate_mbps}, f"The assembly runs at {_rate(line)}")
        found.findings += coding_findings(port, line.id, coding, line.rate_mbps)
        found.findings += temperature_findings(port, line, catalog)
    found.findings += _below_wanted(link, (line.id,), line.rate_mbps)
    if line.legs > 1:
        fast = next((p for p, form, _ in ends if form.startswith("Q")), near)
        found.findings.append(
            note(
                "speed.split_port",
                (fast.id, line.id),
                f"Set the fast port to {line.legs} × {format_rate(line.rate_mbps)}: all of it changes at once.",
                "A port that is not split lights none of the legs; the legs that are not used are spare.",
                PRACTICE,
            )
        )
    found.reach_m = line.reach_m if line.reach_m is not None else row.reach_m if row else None
    if found.reach_m is None:
        found.findings.append(
            undecided(
                "reach.unknown",
                (line.id,),
                f"No usual length is known for a {line.made} assembly of this kind.",
                "Write down the length that its datasheet guarantees.",
            )
        )
        return
    total_m = length_m(link)
    beyond = line.reach_m is None and row is not None and row.sold_to_m is not None and total_m is not None
    if beyond and row.reach_m < total_m <= row.sold_to_m:  # type: ignore[union-attr,operator]
        found.findings.append(
            undecided(
                "reach.unknown",
                (line.id,),
                f"Assemblies of {format_length(total_m or 0.0)} are sold; only its datasheet says that one works.",
                f"Write down the length that its datasheet guarantees. {found.name} is taken to work up to "
                f"{format_length(found.reach_m)} without one.",
                row.source,  # type: ignore[union-attr]
            )
        )
        return
    source = SURVEY if line.reach_m is not None else row.source if row else PRACTICE
    found.on_estimate = line.reach_m is None and source.estimate
    sure = row.sure_m if row and line.reach_m is None else None
    _judge_length(link, found, source, sure, row.note if row else "", row.sure_source if row else None)


def _below_wanted(link: Link, at: tuple[str, ...], rate_mbps: int) -> list[Finding]:
    wanted = link.wanted_rate_mbps
    if wanted is None or rate_mbps >= wanted:
        return []
    return [
        fail(
            "speed.below_wanted",
            at,
            f"{format_rate(wanted)} is wanted, this link runs at {format_rate(rate_mbps)}.",
            "The slowest piece of the path is the speed that people get.",
            SURVEY,
        )
    ]


def _rate(line: Assembly) -> str:
    return format_rate(line.rate_mbps)


def _twisted(link: Link, found: CopperFound, catalog: Catalog) -> None:
    figures = copper_figures()
    near, far = ports(link)
    jacks = {port.id: _jack_beside(link, port) for port in (near, far)}
    sides: list[set[int]] = []
    for port in (near, far):
        jack = jacks[port.id]
        found.findings += _socket(port, jack, catalog)
        if jack is None:
            rates = set(port.rates_mbps)
            if not rates:
                found.findings += _speed(port, port.id, set(), "")
        else:
            offered = set(jack.rates_mbps) or {row.rate_mbps for row in figures.jack if row.form == jack.form}
            found.findings += _speed(port, jack.id, offered, f"The module lists {_listed(offered)}")
            rates = offered & set(port.rates_mbps) if port.rates_mbps else set()
            found.findings += temperature_findings(port, jack, catalog)
        sides.append(rates)
    if not all(sides):
        return
    common = sides[0] & sides[1]
    if not common:
        found.findings.append(
            fail(
                "speed.ends_differ",
                (near.id, far.id),
                f"One end offers {_listed(sides[0])}, the other {_listed(sides[1])}.",
                "Twisted pair negotiates, but only a speed that both ends have.",
                SURVEY,
            )
        )
        return
    wanted = link.wanted_rate_mbps
    found.rate_mbps = wanted if wanted in common else max(common)
    found.findings += _below_wanted(link, (near.id, far.id), found.rate_mbps)
    for port in (near, far):
        jack = jacks[port.id]
        if jack is not None:
            found.findings += coding_findings(port, jack.id, jack.coding, found.rate_mbps)
            found.findings += _heat(port, jack, found.rate_mbps, figures)
    _reach(link, found, [jack for jack in jacks.values() if jack], figures)


def _reach(link: Link, found: CopperFound, jacks: list[Jack], figures: CopperFigures) -> None:
    rate = found.rate_mbps or 0
    lines = [e for e in link.elements if isinstance(e, Twisted)]
    poorest = min((line.category for line in lines), key=CATEGORIES.index)
    row = figures.twisted_row(rate, poorest)
    at = tuple(line.id for line in lines if line.category == poorest)
    habit = figures.habit_of(rate, poorest)
    if row is None:
        found.name = f"{format_rate(rate)} twisted pair"
        found.findings.append(
            fail(
                "copper.category",
                at,
                f"No clause runs {format_rate(rate)} over {poorest}.",
                habit or "A better category is needed from end to end: the poorest piece decides.",
            )
        )
        return
    found.name, found.reach_m = row.name, row.reach_m
    source, sure = row.source, row.sure_m
    for jack in jacks:
        usual = figures.jack_row(jack.form, rate)
        reach_m = jack.reach_m if jack.reach_m is not None else usual.reach_m if usual else None
        if reach_m is None:
            found.findings.append(
                undecided(
                    "reach.unknown",
                    (jack.id,),
                    f"It is not known how far this module reaches at {format_rate(rate)}.",
                    "Plug-in modules do not reach as far as a native port: its datasheet says how far.",
                )
            )
        elif reach_m <= found.reach_m:
            found.reach_m = reach_m
            source = SURVEY if jack.reach_m is not None else usual.source if usual else source
    found.on_estimate = source.estimate
    connections(link, found, lines)
    _judge_length(link, found, source, sure, row.note, row.sure_source, habit)


def connections(link: Link, found: CopperFound, lines: list[Twisted]) -> None:
    """More connections, or more fixed cable, than the channel of the cabling standard has."""
    outlets = tuple(e.id for e in link.elements if isinstance(e, Outlet))
    most = MOST_CONNECTIONS_CAT8 if (found.rate_mbps or 0) > 10_000 else MOST_CONNECTIONS
    if len(outlets) > most:
        found.findings.append(
            caution(
                "copper.connections",
                outlets,
                f"{len(outlets)} connections stand in this channel, {most} are allowed for.",
                "Each reflects and couples; past that number the channel was never measured by the standard.",
                CHANNEL,
                best=Verdict.MARGINAL,
            )
        )
    fixed_m = sum(line.length_m or 0.0 for line in lines if line.fixed)
    if fixed_m > MOST_FIXED_M:
        found.findings.append(
            caution(
                "copper.fixed_long",
                tuple(line.id for line in lines if line.fixed),
                f"{format_length(fixed_m)} of fixed cable; a permanent link ends at {format_length(MOST_FIXED_M)}.",
                "The rest of the 100 m is for cords, which lose more.",
                CHANNEL,
                best=Verdict.MARGINAL,
            )
        )


def _judge_length(
    link: Link,
    found: CopperFound,
    source: Source,
    sure_m: float | None,
    condition: str,
    sure_source: Source | None,
    habit: str = "",
) -> None:
    total_m, reach_m = length_m(link), found.reach_m
    if total_m is None or reach_m is None:
        return
    longest = max(copper(link), key=lambda piece: piece.length_m or 0.0)
    if total_m > reach_m:
        found.findings.append(
            fail(
                "copper.too_long",
                (longest.id,),
                f"{found.name} reaches {format_length(reach_m)} here; this is {format_length(total_m)}.",
                f"{format_length(total_m - reach_m)} too long. {habit}".strip(),
                source,
            )
        )
    elif sure_m is not None and total_m > sure_m:
        found.findings.append(
            caution(
                "copper.conditional",
                (longest.id,),
                f"Beyond {format_length(sure_m)} this works only under a condition.",
                f"{condition} {habit}".strip(),
                *((sure_source,) if sure_source else ()),
                source,
                best=Verdict.MARGINAL,
            )
        )
    else:
        found.on_estimate |= sure_source is not None and sure_source.estimate
        found.findings.append(
            note(
                "copper.reaches",
                (longest.id,),
                f"{found.name} reaches {format_length(reach_m)}; this is {format_length(total_m)}.",
                f"{format_length(reach_m - total_m)} are left.",
                source,
            )
        )


def _jack_beside(link: Link, port: Port) -> Jack | None:
    position = link.index(port.id)
    beside = link.elements[1] if position == 0 else link.elements[-2]
    return beside if isinstance(beside, Jack) else None


def _socket(port: Port, jack: Jack | None, catalog: Catalog) -> list[Finding]:
    """A native port takes the plug itself, a cage takes a plug-in module."""
    cage = catalog.cage(port.cage)
    if jack is None and port.cage != NATIVE:
        return [
            fail(
                "cage.form",
                (port.id,),
                f"A twisted-pair plug does not fit a {cage.name} cage.",
                "It needs a plug-in twisted-pair module, or a native port.",
                cage.source,
            )
        ]
    if jack is not None and jack.form not in cage.accepts:
        return [
            fail(
                "cage.form",
                (port.id, jack.id),
                f"A {jack.form} module does not work in a {cage.name} port.",
                f"It takes {' and '.join(cage.accepts) or 'no module'}.",
                cage.source,
            )
        ]
    return []


def _speed(port: Port, piece: str, offered: set[int], words: str) -> list[Finding]:
    at = (port.id, piece) if piece != port.id else (port.id,)
    if not port.rates_mbps:
        return [
            undecided(
                "speed.unknown",
                at,
                "It is not known which speeds this port can be set to.",
                "Both ends must have a speed in common.",
            )
        ]
    known = set(port.rates_mbps)
    if not offered & known:
        fixed = "is fixed at" if port.fixed_rate else "can be set to"
        return [
            fail("speed.port", at, f"{words}, the port does not.", f"The port {fixed} {_listed(known)}.", SURVEY)
        ]
    if len(offered) == 1 and max(known) > max(offered):
        rate = format_rate(max(offered))
        return [
            note(
                "speed.set_port",
                at,
                f"Set this port to {rate} by hand before the link is plugged.",
                f"The port can run at {_listed(known)}; many do not find a slower plug's speed themselves.",
                PRACTICE,
            )
        ]
    return []


def _heat(port: Port, jack: Jack, rate_mbps: int, figures: CopperFigures) -> list[Finding]:
    usual = figures.jack_row(jack.form, rate_mbps)
    power_w = jack.power_w if jack.power_w is not None else usual.power_w if usual else None
    given = figures.power_of_cage(jack.form)
    if power_w is None or given is None or power_w <= given.power_w:
        return []
    return [
        caution(
            "copper.heat",
            (port.id, jack.id),
            f"This module draws {power_w:g} W, its cage is made for {given.power_w:g} W.",
            "Ask the box how many it feeds and cools; until it has said so leave the cages beside it empty.",
            given.source,
            *((usual.source,) if usual and jack.power_w is None else ()),
            best=Verdict.MARGINAL,
        )
    ]


def _listed(rates: set[int]) -> str:
    return " or ".join(format_rate(rate) for rate in sorted(rates))
