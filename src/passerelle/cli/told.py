"""Reviews and figures as the command line tells them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from passerelle.core.units import format_db

if TYPE_CHECKING:
    from passerelle.core.batch import Figures
    from passerelle.core.link.chain import Link
    from passerelle.core.review import Review


def as_dict(found: Review) -> dict[str, Any]:
    """A review for machines."""
    return {"verdict_text": found.verdict_text, **found.model_dump(mode="json")}


def figures_as_dict(link: Link, found: Figures) -> dict[str, Any]:
    """The figures of a link for machines; ``marks`` are the pieces of which something is said, by id."""
    marks = {e.id: mark for e, mark in zip(link.elements, found.marks, strict=True) if mark}
    return {"verdict_text": found.verdict_text, **found._asdict(), "marks": marks}


def figures_line(name: str, found: Figures) -> str:
    """The verdict and margin of a link in a line."""
    return _head(name, found.verdict_text, found.margin_db)


def review_lines(name: str, found: Review) -> list[str]:
    """A review in lines: the verdict, each finding, and its first fix."""
    lines = [f"{_head(name, found.verdict_text, found.margin_db)}: {found.headline}"]
    for finding in found.findings:
        lines.append(f"    {finding.severity.value}: {finding.what} [{', '.join(finding.at)}]")
        for fix in finding.fixes[:1]:
            effect = f" (then: {fix.effect.verdict.value})" if fix.effect else ""
            lines.append(f"        fix: {fix.label}{effect}")
    return lines


def _head(name: str, verdict_text: str, margin_db: float | None) -> str:
    margin = format_db(margin_db) if margin_db is not None else "no margin"
    return f"{verdict_text.upper():20} {margin:>10}  {name}"
