"""The command line: serve, demo, passphrase; check, catalog, reach, budget; export, backup, restore, verify.

Each command is read when it is asked for, so that a figure does not wait for the web and the database.
"""

from __future__ import annotations

from typing import ClassVar

import typer

from passerelle.cli.words import Commands


class All(Commands):
    """Every command, with its module and what the list says of it."""

    known: ClassVar = {
        "serve": ("serving", "Serve the application over one database, which is made when it is missing."),
        "demo": ("serving", "Fill a database with Port-Aubier, unless that was done before, and serve it."),
        "standins": ("serving", "Run the simulated instruments of the demo's plant until Ctrl+C."),
        "passphrase": ("serving", "Ask for a passphrase and write its hash to a file, for --passphrase-file."),
        "check": ("checking", "Review every link of a plan file. Exit 1 when one fails, 2 when the file is bad."),
        "catalog": ("shelves", "Print the catalog: applications, fibers, connectors, parts."),
        "reach": (
            "reaching",
            "Print how far an application reaches on a fiber grade",
        ),
        "budget": ("budgeting", "Print the loss budget of a plain link."),
        "order": ("ordering", "Print what is still to be ordered for a plan"),
        "reels": ("ordering", "Print which run is cut from which reel"),
        "limit": ("accepting", "Print the most that a reading of a plain piece of cabling may be."),
        "trace": (
            "accepting",
            "Print what a trace record holds",
        ),
        "module": ("turning_up", "Print what the memory pages of a module say."),
        "diagnose": ("turning_up", "Print what to believe after what was seen"),
        "tree": (
            "turning_up",
            "Print the root and the role of each port by IEEE 802.1Q, and what each failure does.",
        ),
        "handover": ("turning_up", "Check a signed hand-over."),
        "export": ("files", "Write a project as a plan file."),
        "backup": (
            "files",
            "Copy a database, also while it is served",
        ),
        "restore": (
            "files",
            "Put a copy in the place of a database that is not being served.",
        ),
        "verify": ("files", "Read all that is in a database. Exit 1 when something is damaged."),
        "schema": ("published", "Print the JSON Schema of the plan file."),
        "openapi": ("published", "Print the api's description, from which the screens' types are made."),
        "lists": (
            "published",
            "Print the lists of words that the screens offer",
        ),
    }


app = typer.Typer(cls=All, no_args_is_help=True, add_completion=False, help="Plan fiber links, figure by figure.")


@app.callback()
def _commands() -> None:
    """Each command is read when it is asked for."""
