"""What is handed over of a link: chain as built, strands, readings, modules, differences, what is still open."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import timedelta
from typing import Literal

from passerelle.core.acceptance.proof import Proof, proof_of
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.events import Event, not_withdrawn
from passerelle.core.findings import Verdict, with_acceptance
from passerelle.core.house import HouseRules
from passerelle.core.link.candidates import undecided_glass, variants
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain, compose
from passerelle.core.parts.registry import spec_of
from passerelle.core.polarity.table import StrandTable, strand_table
from passerelle.core.review import Review, review
from passerelle.core.sources import Frozen
from passerelle.core.turned_up import FaultFound, Logged, Looked, PortSeen, as_drawn
from passerelle.core.turnup.compared import Difference, Neighbor, differences
from passerelle.core.turnup.steps import Step, steps_of
from passerelle.core.turnup.windows import Window, windows_of
from passerelle.core.units import format_length

End = Literal["left", "right"]


class Ticked(Frozen):
    """A step with who ticked it, when, and the key of the entry; empty while it is open."""

    step: Step
    done: bool = False
    who: str = ""
    day: str = ""
    key: str = ""


class TurnUp(Frozen):
    """A link at turn-up: its steps, windows, ports as they were seen last, and what differs.

    ``plan`` is the verdict of the plan in words; ``plan_holds``: it is a pass, or a marginal one.
    """

    steps: tuple[Ticked, ...]
    windows: tuple[Window, ...]
    seen: dict[End, PortSeen]
    differences: tuple[Difference, ...]
    plan: str = ""
    plan_holds: bool = True
    why_not: str = ""

    @property
    def lit(self) -> bool:
        """Whether both ends were seen with link, their light in its window, nothing differs but in a note, and the
        plan itself says that it works.
        """
        both = len(self.seen) == 2 and all(one.oper == "up" for one in self.seen.values())
        return both and self.plan_holds and not self.differs and all(self._light_read(end) for end in self.seen)

    @property
    def differs(self) -> bool:
        """Whether anything is not as planned."""
        return any(one.severity != "note" for one in self.differences)

    def _light_read(self, end: End) -> bool:
        """Whether every lane of an end was read, and held against a window."""
        rx = next((one for one in self.windows if one.end == end and one.quantity == "rx power"), None)
        if rx is None or rx.low_dbm is None:
            return False
        return sum(lane.rx_dbm is not None for lane in self.seen[end].lanes) >= rx.lanes

    @property
    def state(self) -> Literal["not begun", "half read", "dark", "differs", "lit"]:
        """In a word."""
        if not self.seen:
            return "not begun"
        if any(one.oper == "down" for one in self.seen.values()):
            return "dark"
        if self.differs or (len(self.seen) == 2 and not self.plan_holds):
            return "differs"
        return "lit" if self.lit else "half read"


class LinkHandover(Frozen):
    """What is handed over of a link; ``open_points`` say what is not proven, or not as planned."""

    name: str
    key: str
    ends: tuple[str, str]
    verdict: str
    chain: tuple[str, ...]
    length: str
    strands: tuple[tuple[str, ...], ...]
    modules: tuple[tuple[str, ...], ...]
    readings: tuple[tuple[str, ...], ...]
    proof_state: str
    turnup_state: str
    differences: tuple[str, ...]
    open_points: tuple[str, ...]


def chain_of(link: Link, catalog: Catalog) -> Chain:
    """A link composed by the first of what its glass may be."""
    return compose((variants(link) or [undecided_glass(link)])[0], catalog)


def turn_up(
    link: Link,
    events: Sequence[Event],
    catalog: Catalog,
    house: HouseRules,
    neighbors: Mapping[End, Neighbor] | None = None,
    *,
    found: Review | None = None,
    redundant: bool = False,
    off_by_db: float | None = None,
    only_seen: bool = False,
) -> TurnUp:
    """A link at turn-up.

    Args:
        link: with its readings.
        events: of the link, oldest first.
        catalog, house: the house's.
        neighbors: what each end must see.
        found: its review, where it is known already.
        redundant: another way leads from end to end.
        off_by_db: how far the modules' own readings may be off.
        only_seen: windows are only reckoned where a port was seen, for a list of many links.

    Raises:
        EditError: a piece names something that the catalog does not have.
    """
    events = drawn(link, events)
    known = found or review(link, catalog, house, with_fixes=False)
    chain = chain_of(link, catalog)
    if len(chain.ends) != 2 or not chain.glass:
        why = "There is no module of light at both ends: what lights and what it must read is not told."
        return TurnUp(steps=(), windows=(), seen=newest(events), differences=(), why_not=why)
    seen = newest(events)
    sent = {end: dbm for end, port in seen.items() if (dbm := _sent(port)) is not None and _together(seen)}
    asked = seen or not only_seen
    windows = windows_of(link, catalog, house, off_by_db=off_by_db, sent_dbm=sent) if asked else ()
    steps = steps_of(chain, catalog, known.findings, redundant=redundant)
    return TurnUp(
        steps=tuple(_ticked(step, events) for step in steps),
        windows=windows,
        seen=seen,
        differences=differences(chain, catalog, seen, windows, neighbors or {}),
        plan=known.verdict_text,
        plan_holds=known.verdict in (Verdict.PASS, Verdict.MARGINAL),
    )


def _sent(port: PortSeen) -> float | None:
    said = [lane.tx_dbm for lane in port.lanes if lane.tx_dbm is not None]
    return said[0] if len(said) == 1 and len(port.lanes) == 1 else None


TOGETHER = timedelta(hours=1)
"""Looks that lie no further apart are of one visit (estimate): modules are exchanged between visits."""


def _together(seen: Mapping[End, PortSeen]) -> bool:
    """Whether both ends were seen at one visit, so that what one sends tells what the other receives."""
    times = [port.at for port in seen.values() if port.at is not None]
    return len(times) == 2 and max(times) - min(times) <= TOGETHER


def newest(events: Sequence[Event]) -> dict[End, PortSeen]:
    """The newest look at each end that stands; one that was typed in parts at one visit is put together."""
    found: dict[End, PortSeen] = {}
    for event in not_withdrawn(events):
        if isinstance(event, PortSeen):
            found[event.end] = _with_before(event, found.get(event.end))
    return found


def _with_before(event: PortSeen, before: PortSeen | None) -> PortSeen:
    """What was typed now, and what it leaves out from just before."""
    if before is None or event.by != "typed" or event.at is None or before.at is None:
        return event
    if event.at - before.at > TOGETHER:
        return event
    nothing: tuple[object, ...] = (None, "", ())
    kept = {name: value for name, value in before if getattr(event, name) in nothing and value not in nothing}
    return event.model_copy(update=kept)


def step_code(step: Step) -> str:
    """What the logbook calls a step."""
    return f"{step.code} {step.end}".strip()


def _ticked(step: Step, events: Sequence[Event]) -> Ticked:
    code, last = step_code(step), None
    for event in not_withdrawn(events):
        if isinstance(event, Logged) and event.about == "step" and event.step == code:
            last = event
    if last is None:
        return Ticked(step=step)
    day = str(last.taken_on or (last.at.date() if last.at else ""))
    return Ticked(step=step, done=last.done, who=last.operator or last.who, day=day, key=last.key)


def drawn(link: Link, events: Sequence[Event]) -> list[Event]:
    """Events as the link is drawn now: what says left and right may have been written when it was turned."""
    kinds = Logged | PortSeen | Looked | FaultFound
    return [as_drawn(e, turned=link.turned) if isinstance(e, kinds) else e for e in events]


def answers_of(events: Sequence[Event]) -> list[Looked]:
    """The answers of the diagnosis that is under way: those since the fault of the last one was found."""
    found: list[Looked] = []
    for event in not_withdrawn(events):
        if isinstance(event, Looked):
            found.append(event)
        elif isinstance(event, FaultFound) and event.helped:
            found = []
    return found


def tried_of(events: Sequence[Event]) -> list[FaultFound]:
    """The cures that were tried in vain in the diagnosis that is under way."""
    found: list[FaultFound] = []
    for event in not_withdrawn(events):
        if isinstance(event, FaultFound):
            found = [] if event.helped else [*found, event]
    return found


def handover_of(
    link: Link,
    events: Sequence[Event],
    catalog: Catalog,
    house: HouseRules,
    neighbors: Mapping[End, Neighbor] | None = None,
) -> LinkHandover:
    """What is handed over of a link, with all that is still open named.

    Raises:
        EditError: a piece names something that the catalog does not have.
    """
    found = review(link, catalog, house, with_fixes=False)
    proof = proof_of(link, events, catalog, house)
    at = turn_up(link, events, catalog, house, neighbors, found=found)
    ends = tuple(getattr(e, "place", "") or getattr(e, "label", "") for e in (link.elements[0], link.elements[-1]))
    return LinkHandover(
        name=link.name,
        key=link.key,
        ends=(ends[0], ends[1]),
        verdict=with_acceptance(found.verdict_text, proof.acceptance),
        chain=tuple(_piece(element) for element in link.elements),
        length=format_length(found.length_m) if found.length_m is not None else "not known",
        strands=_strands(strand_table(link, catalog)),
        modules=tuple(_module_row(end, seen) for end, seen in at.seen.items()),
        readings=_readings(proof),
        proof_state=proof.state,
        turnup_state=at.state,
        differences=tuple(f"{one.end} end: {one.words}" for one in at.differences),
        open_points=tuple(_open(found, proof, at)),
    )


def _piece(element: object) -> str:
    words = spec_of(element).word  # type: ignore[arg-type]
    length = getattr(element, "length_m", None)
    parts = (
        words,
        getattr(element, "label", ""),
        getattr(element, "application", ""),
        format_length(length) if length is not None else "",
    )
    return " ".join(one for one in parts if one)


def _strands(table: StrandTable) -> tuple[tuple[str, ...], ...]:
    found = []
    for lane in table.lanes:
        way = "to the right" if lane.goes == "right" else "to the left"
        passed = zip(table.faces, lane.positions, strict=True)
        where = ", ".join(f"{face.element} {position}" for face, position in passed if position is not None)
        end = "lights" if lane.lights else f"is lost at {lane.lost_at or 'an end'}"
        found.append((f"lane {lane.number} {way}", end, where))
    return tuple(found)


def _module_row(end: str, seen: PortSeen) -> tuple[str, ...]:
    light = "; ".join(
        f"lane {lane.lane}: sends {_dbm(lane.tx_dbm, lane.tx_off)}, receives {_dbm(lane.rx_dbm, lane.rx_dark)}"
        for lane in seen.lanes
    )
    when = f"{seen.taken_on or (seen.at.date() if seen.at else '')}"
    where = " ".join(one for one in (seen.box, seen.port) if one)
    return (end, where, seen.module or "not read", seen.serial or "not written down", seen.oper, light, when)


def _dbm(value: float | None, dark: bool) -> str:
    return "no light" if dark else "not read" if value is None else f"{value:.1f} dBm"


def _readings(proof: Proof) -> tuple[tuple[str, ...], ...]:
    return tuple(
        (
            f"{row.strand} to {row.far}",
            f"{row.wavelength_nm} nm",
            f"{row.reading.value_db:.2f} dB" if row.reading else "not read",
            f"{row.should.decides_db:.2f} dB",
            str(row.judgement or ""),
            row.informs or "; ".join(row.marks),
        )
        for row in proof.rows
    )


def _open(found: Review, proof: Proof, at: TurnUp) -> list[str]:
    """What is not proven or not as planned: nothing is left out so that a sheet looks whole."""
    points = [f"{f.severity.value}: {f.what}" for f in found.findings if f.severity.value in ("damage", "fail")]
    if found.verdict.value in ("unknown", "marginal") or found.on_estimate:
        points.append(f"the plan's verdict is {found.verdict_text}")
    if proof.why_not:
        points.append(proof.why_not)
    if proof.to_read:
        points.append(f"{proof.to_read} of {len(proof.rows)} readings are missing or decide nothing")
    if proof.failing:
        points.append(f"{proof.failing} readings are not good")
    unseen = sum(1 for one in proof.strands if one.seen is None)
    if unseen:
        points.append(f"of {unseen} strands nobody saw where they come out")
    points += [f"{one.severity}, {one.end} end: {one.words}" for one in at.differences if one.severity != "note"]
    missing = [end for end in ("left", "right") if end not in at.seen]
    points += [f"the port at the {end} end was not read" for end in missing if not at.why_not]
    left = sum(1 for one in at.steps if not one.done)
    if left:
        points.append(f"{left} of {len(at.steps)} steps of the turn-up are not ticked")
    return points
