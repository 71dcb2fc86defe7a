"""Commands about files: a plan file of a project, copies of a database, whether it is whole."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from passerelle.cli.words import DEMO, OWN, DatabaseOption, stop
from passerelle.exchange.plan_file import write_plan
from passerelle.store import links as stored_links
from passerelle.store import projects
from passerelle.store.database import Database
from passerelle.store.events import of_project
from passerelle.store.files import copied, is_ours, put_back
from passerelle.store.stored import NotFoundError
from passerelle.store.wholeness import look_over


def _there(database: Path) -> Path:
    if not is_ours(database):
        stop(f"{database}: there is no such database, or nothing is in it: name one with --database FILE")
    return database


def export(
    plan: Annotated[Path, typer.Argument(help="The plan file to write.")],
    database: DatabaseOption = DEMO,
    project: Annotated[int, typer.Option(help="Number of the project.")] = 1,
) -> None:
    """Write a project as a plan file."""
    opened = Database(_there(database))
    with opened.read() as session:
        try:
            found = projects.project(session, project)
        except NotFoundError as error:
            stop(str(error))
        links = [stored.link for stored in stored_links.links(session, project)]
        plant, happened = projects.plant(session, project), of_project(session, project)
    text = write_plan(found.name, found.house, links, plant=plant, events=happened, key=found.key)
    plan.write_text(text, encoding="utf-8")
    opened.close()


def backup(
    file: Annotated[Path, typer.Argument(help="The copy to write; it must not exist yet.")],
    database: DatabaseOption = OWN,
) -> None:
    """Copy a database, also while it is served: copying its file by other means loses what is newest."""
    copied(_there(database), file)
    typer.echo(f"{file} holds all that was confirmed up to now.")


def restore(
    copy: Annotated[Path, typer.Argument(help="A copy made by backup, or before a migration.")],
    database: DatabaseOption = OWN,
) -> None:
    """Put a copy in the place of a database that is not being served. The old file is kept beside it."""
    kept = put_back(copy, database)
    typer.echo(f"{database} is what {copy} was." + (f" The file before it is kept as {kept}." if kept else ""))


def verify(database: DatabaseOption = OWN) -> None:
    """Read all that is in a database. Exit 1 when something is damaged."""
    lines, damaged = look_over(_there(database))
    for line in (*lines, *damaged):
        typer.echo(line)
    if damaged:
        stop(f"{database} is damaged: keep it as it is, and go on from a copy with 'passerelle restore'", 1)
    typer.echo(f"{database} is whole.")
