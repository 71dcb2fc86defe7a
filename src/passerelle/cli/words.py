"""What the commands share: their words, options, and one sentence where something is wrong."""

from __future__ import annotations

import gc
import json
from importlib import import_module
from pathlib import Path
from types import ModuleType
from typing import Annotated, Any, ClassVar, NoReturn

import typer
from typer.core import TyperCommand, TyperGroup
from typer.main import get_command_from_info, get_group
from typer.models import CommandInfo

JsonOption = Annotated[bool, typer.Option("--json", help="Machine-readable output.")]
DatabaseOption = Annotated[Path, typer.Option(help="The database file.")]
DEMO = Path("var/demo.sqlite")
OWN = Path("var/passerelle.sqlite")


class Commands(TyperGroup):
    """Commands that are read when they are asked for: each has its module and what the list says of it.

    Their errors are one sentence and exit code 2, never a traceback.
    """

    known: ClassVar[dict[str, tuple[str, str]]] = {}
    _lists = False

    def list_commands(self, ctx: Any) -> list[str]:
        """Their names, in the order of the list."""
        return list(self.known)

    def get_command(self, ctx: Any, cmd_name: str) -> Any:
        """One command; while all are listed only its name and words."""
        if cmd_name not in self.known:
            return None
        module, words = self.known[cmd_name]
        if self._lists:
            return TyperCommand(cmd_name, help=words)
        callback = getattr(_module(f"passerelle.cli.{module}"), cmd_name)
        if isinstance(callback, typer.Typer):
            group = get_group(callback)
            group.name = cmd_name
            return group
        info = CommandInfo(name=cmd_name, callback=callback)
        return get_command_from_info(info, pretty_exceptions_short=True, rich_markup_mode=None)

    def format_help(self, ctx: Any, formatter: Any) -> None:
        """What there is, without reading any of it."""
        self._lists = True
        try:
            super().format_help(ctx, formatter)
        finally:
            self._lists = False

    def invoke(self, ctx: Any) -> Any:
        """Run a command; say what is wrong with a file in its own words."""
        try:
            return super().invoke(ctx)
        except (RuntimeError, ValueError) as error:
            if not _is_told(error):
                raise
            stop(str(error))
        except OSError as error:
            stop(f"{error.filename or 'a file'}: {error.strerror or error}")


def _module(name: str) -> ModuleType:
    """A module with all that it imports. What is read there stays until the end, so nothing is searched for
    garbage meanwhile or later: that takes a quarter of the start of a server.
    """
    gc.disable()
    try:
        return import_module(name)
    finally:
        gc.freeze()
        gc.enable()


def _is_told(error: Exception) -> bool:
    """Whether an error says in its own words what is wrong and what to do."""
    from passerelle.api.passphrase import PassphraseError  # read where something went wrong, not at every start
    from passerelle.store.trouble import DatabaseTroubleError

    return isinstance(error, DatabaseTroubleError | PassphraseError)


def stop(message: str, code: int = 2) -> NoReturn:
    """End with a message on the error stream."""
    typer.echo(message, err=True)
    raise typer.Exit(code)


def print_json(value: Any) -> None:
    """Print a value for machines."""
    typer.echo(json.dumps(value, indent=1, ensure_ascii=False))


def json_of(file: Path, body: bytes | str) -> Any:
    """What a JSON file holds; ends the program with one sentence where it is none, or no program can hold it."""
    try:
        return json.loads(body)
    except json.JSONDecodeError as error:
        stop(f"{file}: line {error.lineno}: this is no JSON: {error.msg}")
    except RecursionError:
        stop(f"{file}: it is nested too deeply: no such file needs more than a few levels")
    except ValueError:
        stop(f"{file}: it holds a number of thousands of digits, or text that is not UTF-8")
