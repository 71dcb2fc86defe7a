"""Commands that print what is published: the plan file's schema, the api's description."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

import typer

from passerelle.api.app import create_app
from passerelle.api.lists import screen_lists
from passerelle.cli.words import print_json
from passerelle.exchange.plan_file import PlanFile
from passerelle.store.database import Database


def schema() -> None:
    """Print the JSON Schema of the plan file."""
    print_json(PlanFile.model_json_schema(mode="validation"))


def openapi() -> None:
    """Print the api's description, from which the screens' types are made."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "empty.sqlite")
        print_json(create_app(database).openapi())
        database.close()


def lists() -> None:
    """Print the lists of words that the screens offer, as a TypeScript module made from the core's own types."""
    typer.echo("// Made by 'make types' from the core: not written by hand.")
    for name, values in screen_lists().items():
        typer.echo(f"export const {name} = {json.dumps(values, ensure_ascii=False)} as const;")
