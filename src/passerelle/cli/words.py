"""What the commands share: their words, options, and one sentence where something is wrong."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer
from typer.core import TyperGroup

from passerelle.api.passphrase import PassphraseError
from passerelle.store.trouble import DatabaseTroubleError

JsonOption = Annotated[bool, typer.Option("--json", help="Machine-readable output.")]
DatabaseOption = Annotated[Path, typer.Option(help="The database file.")]
DEMO = Path("var/demo.sqlite")
OWN = Path("var/passerelle.sqlite")


class OneSentence(TyperGroup):
    """Commands whose errors are one sentence and exit code 2, never a traceback."""

    def invoke(self, ctx: Any) -> Any:
        """Run a command; say what is wrong with a file in its own words."""
        try:
            return super().invoke(ctx)
        except (DatabaseTroubleError, PassphraseError) as error:
            stop(str(error))
        except OSError as error:
            stop(f"{error.filename or 'a file'}: {error.strerror or error}")


def stop(message: str, code: int = 2) -> NoReturn:
    """End with a message on the error stream."""
    typer.echo(message, err=True)
    raise typer.Exit(code)


def print_json(value: Any) -> None:
    """Print a value for machines."""
    typer.echo(json.dumps(value, indent=1, ensure_ascii=False))
