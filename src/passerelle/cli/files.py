"""Commands about files: a plan file of a project, copies of a database, whether it is whole."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Annotated

import typer

from passerelle.cli.words import DEMO, OWN, DatabaseOption, stop
from passerelle.equipment.credentials import CredentialsFile
from passerelle.exchange.plan_file import write_plan
from passerelle.exchange.signing import key_path
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
    secrets: Annotated[
        bool, typer.Option("--with-secrets", help="Also copy the signing key and the credentials of devices.")
    ] = False,
) -> None:
    """Copy a database, also while it is served: copying its file by other means loses what is newest."""
    beside = [(of, of_copy) for of, of_copy in _secrets(_there(database), file) if of.exists()]
    for _, of_copy in beside if secrets else ():
        if of_copy.exists():
            stop(f"{of_copy} exists already, and a copy never takes the place of another")
    copied(database, file)
    typer.echo(f"{file} holds all that was confirmed up to now.")
    for of, of_copy in beside:
        if secrets:
            _copy_secret(of, of_copy)
            typer.echo(f"{of_copy} holds a secret: keep it where only you can read it.")
        else:
            typer.echo(f"{of.name} is not in it; --with-secrets copies it too.")


def restore(
    copy: Annotated[Path, typer.Argument(help="A copy made by backup, or before a migration.")],
    database: DatabaseOption = OWN,
) -> None:
    """Put a copy in the place of a database that is not being served. The old file is kept beside it."""
    kept = put_back(copy, database)
    typer.echo(f"{database} is what {copy} was." + (f" The file before it is kept as {kept}." if kept else ""))
    for here, of_copy in _secrets(database, copy):
        if here.exists():
            typer.echo(f"{here} stays as it is.")
        elif of_copy.exists():
            _copy_secret(of_copy, here)
            typer.echo(f"{here} is put back.")
        else:
            lost = _SECRETS[here.name.removeprefix(database.name)]
            typer.echo(f"{lost}: {here.name} is missing here and in the copy.")


_SECRETS = {
    ".signing-key": "New handovers will be signed with a new key",
    ".credentials": "Devices will not be read until their credentials are entered again",
}


def _secrets(database: Path, copy: Path) -> list[tuple[Path, Path]]:
    """The files of secrets beside a database, and where they are beside a copy of it."""
    return [
        (key_path(database), key_path(copy)),
        (CredentialsFile.beside(database).path, CredentialsFile.beside(copy).path),
    ]


def _copy_secret(source: Path, target: Path) -> None:
    """Copy a file of secrets, so that nobody else may read it at any moment."""
    with os.fdopen(os.open(target, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
        out.write(source.read_bytes())
        out.flush()
        os.fsync(out.fileno())


def verify(database: DatabaseOption = OWN) -> None:
    """Read all that is in a database. Exit 1 when something is damaged."""
    lines, damaged = look_over(_there(database))
    for line in (*lines, *damaged):
        typer.echo(line)
    if damaged:
        stop(f"{database} is damaged: keep it as it is, and go on from a copy with 'passerelle restore'", 1)
    typer.echo(f"{database} is whole.")
