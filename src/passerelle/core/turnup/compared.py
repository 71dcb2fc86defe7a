"""Ports as they were seen beside the plan: every difference on the piece that it is about."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping, Sequence
from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain
from passerelle.core.sources import Frozen
from passerelle.core.turned_up import PortSeen
from passerelle.core.turnup.module_pages import ModuleSeen
from passerelle.core.turnup.windows import Stand, Window, stands

End = Literal["left", "right"]
ENDS: tuple[End, ...] = ("left", "right")
Severity = Literal["damage", "fail", "caution", "note"]
_NAME = re.compile(r"\b\d+G?BASE-[A-Z0-9-]+\b", re.IGNORECASE)


def names_in(words: str) -> list[str]:
    """The applications that a module's words name.

    >>> names_in("10GBase-LR, made up"), names_in("an optical module")
    (['10GBASE-LR'], [])
    """
    return [one.upper() for one in _NAME.findall(words)]


class Difference(Frozen):
    """Something that is not as planned, at a piece, and what it asks for."""

    code: str
    severity: Severity
    end: End
    at: str
    words: str
    do: str = ""


class Neighbor(Frozen):
    """A neighbor that is planned at an end: the box and its port."""

    box: str
    port: str


class LaneStands(Frozen):
    """Where a lane's readings stand in their windows."""

    end: End
    lane: int
    tx_dbm: float | None
    tx: Stand
    rx_dbm: float | None
    rx: Stand


def lane_stands(seen: PortSeen, windows: Sequence[Window]) -> tuple[LaneStands, ...]:
    """Where every lane of a port stands."""
    at = {window.quantity: window for window in windows if window.end == seen.end}
    found = []
    for lane in seen.lanes:
        sent: Stand = "unknown" if "tx power" not in at else _stand(at["tx power"], lane.tx_dbm, dark=lane.tx_off)
        taken: Stand = "unknown" if "rx power" not in at else _stand(at["rx power"], lane.rx_dbm, dark=lane.rx_dark)
        found.append(
            LaneStands(end=seen.end, lane=lane.lane, tx_dbm=lane.tx_dbm, tx=sent, rx_dbm=lane.rx_dbm, rx=taken)
        )
    return tuple(found)


def _stand(window: Window, dbm: float | None, *, dark: bool) -> Stand:
    return stands(window, dbm, read=dark or dbm is not None)


def differences(
    chain: Chain,
    catalog: Catalog,
    seen: Mapping[End, PortSeen],
    windows: Sequence[Window],
    neighbors: Mapping[End, Neighbor],
) -> tuple[Difference, ...]:
    """What is not as planned at both ends, worst first.

    Args:
        chain: the link composed.
        catalog: the house's catalog.
        seen: the newest look at each end.
        windows: of the link.
        neighbors: the box and port that each end must see.
    """
    found = [one for end in ENDS if end in seen for one in _at(chain, catalog, seen[end], windows, neighbors)]
    rank = {"damage": 0, "fail": 1, "caution": 2, "note": 3}
    return tuple(sorted(found, key=lambda one: rank[one.severity]))


def _at(
    chain: Chain,
    catalog: Catalog,
    seen: PortSeen,
    windows: Sequence[Window],
    neighbors: Mapping[End, Neighbor],
) -> Iterator[Difference]:
    link, end = chain.link, seen.end
    port = link.elements[0].id if end == "left" else link.elements[-1].id
    modules = chain.ends
    module = (modules[0] if end == "left" else modules[-1]) if modules else None
    at_module = module.id if module else port
    if seen.admin == "down":
        yield _said("port.shut", "fail", end, port, "The port is shut.", "Set it to up.")
    if seen.accepted is False:
        words = "The port does not accept its module."
        yield _said(
            "module.refused", "fail", end, at_module, words, "Set the coding override, or plug its own make."
        )
    if module is not None and module.traits.optics is not None:
        planned = catalog.application(module.traits.optics.application)
        yield from _module(end, at_module, seen, planned.name)
        if seen.oper == "up" and seen.rate_mbps and seen.rate_mbps != planned.rate_mbps:
            words = f"The port runs at {seen.rate_mbps} Mb/s, planned are {planned.rate_mbps}."
            yield _said("rate.other", "fail", end, port, words, "Set both ends alike.")
    yield from _light(end, at_module, seen, windows)
    yield from _neighbor(end, port, seen, neighbors.get(end))
    if seen.oper == "down" and seen.admin != "down":
        yield _said("link.down", "caution", end, port, "The port shows no link.", "Find out why.")
    if seen.uncorrected:
        words = f"{seen.uncorrected} codewords could not be corrected: frames are lost."
        yield _said("errors.lost", "fail", end, port, words, "Look at the light, then at the faces.")
    elif seen.errors:
        words = f"{seen.errors} errors were counted."
        yield _said("errors.counted", "caution", end, port, words, "Count again: does the number rise?")


def _said(code: str, severity: Severity, end: End, at: str, words: str, do: str = "") -> Difference:
    return Difference(code=code, severity=severity, end=end, at=at, words=words, do=do)


def _module(end: End, at: str, seen: PortSeen, planned: str) -> Iterator[Difference]:
    named = names_in(seen.module)
    if named and not _is_planned(named, planned):
        words = f"The module says {', '.join(named)}, planned is {planned}."
        yield _said("module.other", "fail", end, at, words, "Exchange it, or plan it so.")


def _light(end: End, at: str, seen: PortSeen, windows: Sequence[Window]) -> Iterator[Difference]:
    for lane in lane_stands(seen, windows):
        here = f"Lane {lane.lane}: " if len(seen.lanes) > 1 else ""
        match lane.rx:
            case "dark":
                yield _said("rx.dark", "fail", end, at, f"{here}no light is received.", "Find out why.")
            case "low":
                words = f"{here}{lane.rx_dbm:.1f} dBm received is {_against(windows, end, lane.rx_dbm)}."
                yield _said("rx.low", "caution", end, at, words, "Inspect and clean, then read the loss.")
            case "above":
                words = f"{here}{lane.rx_dbm:.1f} dBm received is more than the plan can explain."
                do = "Another module, a shorter way, an attenuator that is not in? Look which, or plan it so."
                yield _said("rx.above", "caution", end, at, words, do)
            case "high":
                words = f"{here}{lane.rx_dbm:.1f} dBm received is {_against(windows, end, lane.rx_dbm)}."
                yield _said("rx.high", "fail", end, at, words, "Fit an attenuator: cleaning does not help.")
            case "damage":
                words = f"{here}{lane.rx_dbm:.1f} dBm is beyond the receiver's damage level."
                yield _said("rx.damage", "damage", end, at, words, "Unplug it, fit an attenuator.")
        if lane.tx == "dark":
            yield _said("tx.off", "fail", end, at, f"{here}the module does not send.", "Is the port up?")
        elif lane.tx in ("low", "above"):
            words = f"{here}{lane.tx_dbm:.1f} dBm sent is outside its window."
            yield _said("tx.other", "caution", end, at, words, "Another module than planned, or one that ages.")


def _against(windows: Sequence[Window], end: End, dbm: float | None) -> str:
    """What a received level is held against: what the receiver takes or needs, else its window."""
    known = next((one for one in windows if one.end == end and one.quantity == "rx power"), None)
    if known is None or dbm is None:
        return "not as planned"
    off = f"its reading may be off by {known.off_by_db:g} dB"
    if known.takes_dbm is not None and dbm > known.takes_dbm:
        return f"too much: the receiver takes {known.takes_dbm:.1f} dBm, {off}"
    if known.needs_dbm is not None and dbm < known.needs_dbm:
        return f"too little: the receiver needs {known.needs_dbm:.1f} dBm, {off}"
    return f"below its window, which begins at {known.low_dbm:.1f} dBm"


def _neighbor(end: End, at: str, seen: PortSeen, planned: Neighbor | None) -> Iterator[Difference]:
    if planned is None or not seen.neighbor:
        return
    if seen.neighbor != planned.box or (seen.neighbor_port and seen.neighbor_port != planned.port):
        saw, wanted = f"{seen.neighbor} {seen.neighbor_port}", f"{planned.box} {planned.port}"
        words = f"The box sees {saw} there, planned is {wanted}: the cable is in another port."
        yield _said("neighbor.other", "fail", end, at, words, "Move the cord, or plan it so.")


_MODES = {"single-mode": ("single-mode",), "multimode": ("OM1", "OM2", "OM3", "OM4", "OM5")}


def module_differences(link: Link, catalog: Catalog, end: End, pages: ModuleSeen) -> tuple[Difference, ...]:
    """A module's own pages beside the module that is planned at an end: wrong one, wrong side, wrong mode, no
    telemetry.
    """
    planned = [e for e in link.elements if e.kind == "module"]
    if not planned or not pages.present or pages.identity is None:
        words = "No module answers in this port." if not pages.present else "No module is planned at this end."
        at = planned[0 if end == "left" else -1].id if planned else ""
        return (_said("module.absent", "fail", end, at, words),)
    piece = planned[0 if end == "left" else -1]
    application = catalog.application(piece.application)  # type: ignore[attr-defined]
    who, found = pages.identity, []
    names = {one.upper() for one in who.compliance}
    if names and not _is_planned(names, application.name):
        words = f"The module says {', '.join(sorted(who.compliance))}, planned is {application.name}."
        found.append(_said("module.other", "fail", end, piece.id, words, "Exchange it, or plan it so."))
    nm = who.wavelength_nm
    if nm is not None and application.lanes == 1 and abs(nm - application.wavelength_nm) > _WITHIN_NM:
        partner = catalog.application(application.partner) if application.partner else None
        if partner is not None and abs(nm - partner.wavelength_nm) <= _WITHIN_NM:
            words = f"It sends {nm:g} nm: it is the other side of the pair, {partner.name}."
            found.append(_said("module.side", "fail", end, piece.id, words, "One of each side: swap them."))
        else:
            words = f"It sends {nm:g} nm, planned are {application.wavelength_nm} nm."
            found.append(_said("module.wavelength", "fail", end, piece.id, words, "Exchange it."))
    if who.reach_m and not set(who.reach_m) & set(_MODES[application.family]):
        words = f"It is made for {', '.join(who.reach_m)}, planned is {application.family}."
        found.append(_said("module.mode", "fail", end, piece.id, words, "Exchange it."))
    if not pages.diagnostics:
        words = "It has no telemetry: its light is measured with a meter."
        found.append(_said("module.telemetry", "note", end, piece.id, words))
    found += [_said("module.alarm", "caution", end, piece.id, f"Alarm: {one}.") for one in pages.alarms]
    found += [_said("module.pages", "caution", end, piece.id, f"Its pages: {one}.") for one in pages.problems]
    return tuple(found)


_WITHIN_NM = 30


def _is_planned(names: Collection[str], planned: str) -> bool:
    """Whether one of some names is the planned one, or the family that it is a side or a kind of: no module says
    1000BASE-LX10 or -BX10-D of itself, but 1000BASE-LX or -BX10.
    """
    return any(planned.upper().startswith(one) for one in names)
