"""From stored records to what the screens are sent."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy.orm import Session

from passerelle.api.rows import row_out
from passerelle.api.schemas.common import EntryMark, ProjectOut
from passerelle.api.schemas.links import LinkOut, PortClash, PreviewOut
from passerelle.api.schemas.projects import EventOut, HistoryOut
from passerelle.core.batch import figures_of
from passerelle.core.catalog.prices import prices
from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.events import ReadingTaken
from passerelle.core.findings import Finding
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.kept import Kept
from passerelle.core.link.chain import Link
from passerelle.core.link.port_use import clash_words, port_uses
from passerelle.core.review import Review, review, with_others
from passerelle.core.rules.shared_port import clash_findings
from passerelle.store.history import Entry, next_redo, next_undo
from passerelle.store.port_uses import clashes_at, clashes_in, names_of
from passerelle.store.projects import project
from passerelle.store.stored import StoredLink, StoredProject


def catalog_of(house: HouseRules) -> Catalog:
    """The catalog as a project has it: for names that its own modules add."""
    return house_catalog(load_catalog(), house)


def own_applications(house: HouseRules) -> tuple[Application, ...]:
    """The applications of a project's own modules."""
    shown = catalog_of(house)
    return tuple(shown.application(sheet.name) for sheet in house.own_modules)


def prices_of(house: HouseRules) -> Mapping[str, float]:
    """The price of every item as a project has it."""
    return prices(house.own_prices, own_applications(house))


_FIGURES: Kept[Review] = Kept(48)
_JUDGED: Kept[Review] = Kept(16)


_AT_ONCE = threading.BoundedSemaphore(2)
"""Threads that judge at once: they share one interpreter, and who holds the write lock must get a turn in it."""


def figures(link: Link, house: HouseRules) -> Review:
    """The review without fixes; the same link is not computed twice while it is kept."""
    return _FIGURES.get((link, house), lambda: _review(link, house, with_fixes=False))


def judged(link: Link, house: HouseRules) -> Review:
    """The review with fixes."""
    return _JUDGED.get((link, house), lambda: _review(link, house, with_fixes=True))


def _review(link: Link, house: HouseRules, *, with_fixes: bool) -> Review:
    with _AT_ONCE:
        return review(link, load_catalog(), house, with_fixes=with_fixes)


def project_view(session: Session, stored: StoredProject) -> ProjectOut:
    """A project with the labels of its next undo and redo."""
    undo, redo = next_undo(session, stored.id), next_redo(session, stored.id)
    return ProjectOut(
        id=stored.id,
        revision=stored.revision,
        name=stored.name,
        house_rules=stored.house,
        house_revision=stored.house_revision,
        undo=_mark(undo),
        redo=_mark(redo),
    )


def _mark(entry: Entry | None) -> EntryMark | None:
    return EntryMark(entry=entry.id, label=entry.label, who=entry.who) if entry else None


@dataclass(frozen=True)
class Surroundings:
    """What stands around a link: its project, what is said of it beside the others, and all that share a port."""

    project: ProjectOut
    findings: tuple[Finding, ...]
    clashes: tuple[PortClash, ...] | None


def surroundings(session: Session, stored: StoredLink, before: Link | None = None) -> Surroundings:
    """The project of a link, and where it or others share ports; the links themselves are not read.

    Where the link is the same as ``before`` in its ports nobody shares others now: those are not looked for.
    """
    owner = project_view(session, project(session, stored.project_id))
    here = clashes_at(session, stored.id)
    said = clash_findings(stored.link, here, names_of(session, here)) if here else []
    same = before is not None and port_uses(before.elements) == port_uses(stored.link.elements)
    return Surroundings(owner, tuple(said), None if same else port_clashes(session, stored.project_id))


def port_clashes(session: Session, project_id: int) -> tuple[PortClash, ...]:
    """The links of a project that share a port with another, each with the ports and the others' names."""
    found = clashes_in(session, project_id)
    names = names_of(session, [clash for here in found.values() for clash in here])
    return tuple(PortClash(link=number, what=clash_words(here, names)) for number, here in found.items())


def link_view(session: Session, stored: StoredLink) -> LinkOut:
    """A link with its review and the project's next undo and redo."""
    return link_out(stored, surroundings(session, stored))


def link_out(stored: StoredLink, around: Surroundings) -> LinkOut:
    """The same without a session: judging takes its time, and nobody should wait for a lock meanwhile."""
    owner = around.project
    found = with_others(judged(stored.link, owner.house_rules), around.findings)
    (listed,) = figures_of([stored.link], load_catalog(), owner.house_rules)
    return LinkOut(
        id=stored.id,
        project_id=stored.project_id,
        revision=stored.revision,
        link=stored.link,
        review=found,
        row=row_out(stored.id, stored.link, listed, owner.house_rules),
        clashes=around.clashes,
        verdict_text=found.verdict_text,
        stage=found.stage,
        undo=owner.undo,
        redo=owner.redo,
    )


def preview_view(link: Link, house: HouseRules) -> PreviewOut:
    """A link that is not stored, with its figures."""
    found = figures(link, house)
    return PreviewOut(link=link, review=found, verdict_text=found.verdict_text)


def entry_view(entry: Entry) -> HistoryOut:
    """One line of the log."""
    return HistoryOut(**vars(entry))


def event_view(event: ReadingTaken, withdrawn: str, link: tuple[int, str] | None) -> EventOut:
    """A reading as the list of what happened shows it; ``link`` is the number and name of its link, if it is
    there.
    """
    reading = event.reading
    return EventOut(
        key=event.key,
        at=event.at,
        who=event.who,
        link=link[1] if link else event.link_name,
        link_id=link[0] if link else None,
        value_db=reading.value_db,
        wavelength_nm=reading.wavelength_nm,
        taken_on=reading.taken_on,
        note=reading.note,
        withdrawn=withdrawn,
    )
