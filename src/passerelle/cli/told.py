"""A review as the command line tells it."""

from __future__ import annotations

from typing import Any

import typer

from passerelle.core.review import Review
from passerelle.core.units import format_db


def as_dict(found: Review) -> dict[str, Any]:
    """A review for machines."""
    return {"verdict_text": found.verdict_text, **found.model_dump(mode="json")}


def print_review(name: str, found: Review) -> None:
    """A review in lines: the verdict, each finding, and its first fix."""
    margin = format_db(found.margin_db) if found.margin_db is not None else "no margin"
    typer.echo(f"{found.verdict_text.upper():20} {margin:>10}  {name}: {found.headline}")
    for finding in found.findings:
        typer.echo(f"    {finding.severity.value}: {finding.what} [{', '.join(finding.at)}]")
        for fix in finding.fixes[:1]:
            effect = f" (then: {fix.effect.verdict.value})" if fix.effect else ""
            typer.echo(f"        fix: {fix.label}{effect}")
