"""The rows of the list of links. Only links that changed since the last look are judged again, in one batch."""

from __future__ import annotations

from sqlalchemy.orm import Session

from passerelle.api.schemas import LinkRowOut, PieceMark
from passerelle.core.batch import Figures, figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import ports
from passerelle.store import projects
from passerelle.store.projects import StoredLink

FEW = 50


class RowShelf:
    """Rows by link, good for one revision of it under one set of house rules."""

    def __init__(self) -> None:
        self._rows: dict[int, tuple[int, HouseRules, LinkRowOut]] = {}

    def rows(self, session: Session, project_id: int) -> list[LinkRowOut]:
        """All rows of a project in its order."""
        house = projects.project(session, project_id).house
        heads = projects.revisions(session, project_id)
        stale = [link_id for link_id, revision in heads if not self._fresh(link_id, revision, house)]
        if len(stale) > FEW:
            wanted = set(stale)
            changed = [item for item in projects.links(session, project_id) if item.id in wanted]
        else:
            changed = [projects.link(session, link_id) for link_id in stale]
        figures = figures_of([item.link for item in changed], load_catalog(), house)
        for item, found in zip(changed, figures, strict=True):
            self._rows[item.id] = (item.revision, house, _row(item, found))
        return [self._rows[link_id][2] for link_id, _ in heads]

    def _fresh(self, link_id: int, revision: int, house: HouseRules) -> bool:
        known = self._rows.get(link_id)
        return known is not None and known[:2] == (revision, house)


def _row(stored: StoredLink, figures: Figures) -> LinkRowOut:
    ends = ports(stored.link)
    pieces = zip(stored.link.elements, figures.marks, strict=True)
    return LinkRowOut(
        id=stored.id,
        name=stored.link.name,
        from_place=ends[0].place if ends else "",
        to_place=ends[-1].place if ends else "",
        applications=figures.applications,
        length_m=figures.length_m,
        verdict=figures.verdict,
        verdict_text=figures.verdict_text,
        margin_db=figures.margin_db,
        stage=figures.stage,
        pieces=tuple(
            PieceMark(kind=element.kind, severity=severity, fiber=getattr(element, "fiber", ()))
            for element, severity in pieces
        ),
    )
