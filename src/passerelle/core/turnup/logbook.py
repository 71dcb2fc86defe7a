"""The logbook: entries that are only added, read back with what corrects them, and searched."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime

from passerelle.core.acceptance.told import record_words
from passerelle.core.catalog.turnup_figures import turnup_figures
from passerelle.core.events import Event, ReadingTaken, Withdrawal, withdrawals
from passerelle.core.sources import Frozen
from passerelle.core.turned_up import FaultFound, HandedOver, Logged, Looked, PortSeen


class LogLine(Frozen):
    """An entry as it is read: what, who, where and when; ``corrected_by`` the words of a later entry that puts it
    right, ``withdrawn`` why it no longer counts.
    """

    key: str
    kind: str
    at: datetime | None
    day: str
    who: str
    place: str
    link: str
    link_name: str
    words: str
    serial: str = ""
    step: str = ""
    done: bool = True
    picture: str = ""
    corrected_by: str = ""
    withdrawn: str = ""


def log_of(events: Sequence[Event]) -> list[LogLine]:
    """All entries of turn-up and acceptance, newest first."""
    gone = withdrawals(events)
    corrected = {event.corrects: event.words for event in events if isinstance(event, Logged) and event.corrects}
    found = []
    for event in reversed(events):
        words = words_of(event)
        if not words or isinstance(event, Withdrawal):
            continue
        said = event.reading if isinstance(event, ReadingTaken) else event
        taken_on = getattr(said, "taken_on", None)
        found.append(
            LogLine(
                key=event.key,
                kind=event.kind,
                at=event.at,
                day=str(taken_on or (event.at.date() if event.at else "")),
                who=getattr(said, "operator", "") or event.who,
                place=getattr(said, "place", ""),
                link=getattr(event, "link", ""),
                link_name=getattr(event, "link_name", ""),
                words=words,
                serial=getattr(event, "serial", "") or getattr(said, "instrument", ""),
                step=getattr(event, "step", "") if isinstance(event, Logged) else "",
                done=event.done if isinstance(event, Logged) else True,
                picture=getattr(event, "picture", ""),
                corrected_by=corrected.get(event.key, ""),
                withdrawn=gone[event.key].why if event.key in gone else "",
            )
        )
    return found


def words_of(event: Event) -> str:
    """An event in a sentence of the logbook; empty for what does not belong there.

    >>> words_of(Looked(key="k", link="l", test="rx · left", outcome="dark"))
    'How much light does the module at the left end receive? none'
    """
    match event:
        case Logged():
            undone = "" if event.done else " (undone)"
            return " ".join(one for one in (f"{event.about}:", event.step, event.words) if one) + undone
        case PortSeen():
            return _port_words(event)
        case Looked():
            return _look_words(event)
        case FaultFound():
            return f"{event.words or event.fault}: {'that was it' if event.helped else 'that was not it'}"
        case HandedOver():
            of = f" {event.name}" if event.name else ""
            return f"handed over the {event.scope}{of}, revision {event.revision}, {event.digest[:16]}"
        case ReadingTaken():
            reading = event.reading
            strand = f"strand {reading.strand}" if reading.strand else "all strands"
            at = f"{reading.wavelength_nm} nm" if reading.wavelength_nm else "wavelength not said"
            return f"reading: {reading.value_db:g} dB, {strand}, {at}"
        case _:
            return record_words(event)


def _look_words(event: Looked) -> str:
    """What was asked and what was seen, as the question stood: its end or its pieces are named in the test."""
    code, *where = event.test.split(" · ")
    sign = next((one for one in turnup_figures().sign if one.code == code), None)
    if sign is None:
        return f"{event.test}: {event.outcome}"
    at = "".join(where)
    spot = f"the {at} end" if at in ("left", "right") else at.replace("+", " and ") or "the link"
    asks = sign.asks.replace("{end}", spot).replace("{piece}", spot)
    return f"{asks} {sign.outcomes.get(event.outcome, event.outcome)}"


def _port_words(event: PortSeen) -> str:
    said = [f"port at the {event.end} end"]
    if event.oper:
        said.append(f"link {event.oper}")
    if event.rate_mbps:
        said.append(f"{event.rate_mbps} Mb/s")
    for lane in event.lanes:
        number = f"lane {lane.lane} " if len(event.lanes) > 1 else ""
        if lane.rx_dark:
            said.append(f"{number}receives no light")
        elif lane.rx_dbm is not None:
            said.append(f"{number}receives {lane.rx_dbm:.1f} dBm")
        if lane.tx_off:
            said.append(f"{number}does not send")
        elif lane.tx_dbm is not None:
            said.append(f"{number}sends {lane.tx_dbm:.1f} dBm")
    return ", ".join(said)


def searched(lines: Sequence[LogLine], text: str, labels: Mapping[str, str] | None = None) -> list[LogLine]:
    """Entries in which every word of a text stands: in label, place, serial, person, day or what was said.

    Args:
        lines: entries.
        text: words, in any order.
        labels: the labels of the pieces of each link, by its key: an entry of a link is found by them too.
    """
    words = text.lower().split()

    def holds(line: LogLine) -> bool:
        said = (line.words, line.link_name, line.place, line.serial, line.who, line.day, line.kind, line.step)
        of_pieces = (labels or {}).get(line.link, "")
        whole = " ".join((*said, of_pieces)).lower()
        return all(word in whole for word in words)

    return [line for line in lines if holds(line)]
