"""From stored records to what the screens are sent."""

from __future__ import annotations

from functools import lru_cache

from sqlalchemy.orm import Session

from passerelle.api.schemas import HistoryOut, LinkOut, PreviewOut, ProjectOut
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.review import Review, review
from passerelle.store.history import Entry, next_redo, next_undo
from passerelle.store.projects import StoredLink, StoredProject, project


@lru_cache(maxsize=20_000)
def figures(link: Link, house: HouseRules) -> Review:
    """The review without fixes; the same link is not computed twice."""
    return review(link, load_catalog(), house, with_fixes=False)


@lru_cache(maxsize=256)
def judged(link: Link, house: HouseRules) -> Review:
    """The review with fixes."""
    return review(link, load_catalog(), house)


def project_view(session: Session, stored: StoredProject) -> ProjectOut:
    """A project with the labels of its next undo and redo."""
    undo, redo = next_undo(session, stored.id), next_redo(session, stored.id)
    return ProjectOut(
        id=stored.id,
        revision=stored.revision,
        name=stored.name,
        house_rules=stored.house,
        undo_label=undo.label if undo else None,
        redo_label=redo.label if redo else None,
    )


def link_view(session: Session, stored: StoredLink) -> LinkOut:
    """A link with its review and the project's next undo and redo."""
    owner = project_view(session, project(session, stored.project_id))
    found = judged(stored.link, owner.house_rules)
    return LinkOut(
        id=stored.id,
        project_id=stored.project_id,
        revision=stored.revision,
        link=stored.link,
        review=found,
        verdict_text=found.verdict_text,
        stage=found.stage,
        undo_label=owner.undo_label,
        redo_label=owner.redo_label,
    )


def preview_view(link: Link, house: HouseRules) -> PreviewOut:
    """A link that is not stored, with its figures."""
    found = figures(link, house)
    return PreviewOut(link=link, review=found, verdict_text=found.verdict_text)


def entry_view(entry: Entry) -> HistoryOut:
    """One line of the log."""
    return HistoryOut(id=entry.id, at=entry.at, label=entry.label, link_id=entry.link_id, state=entry.state)
