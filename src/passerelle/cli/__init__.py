"""The command line: serve, demo, passphrase; check, catalog, reach, budget; export, backup, restore, verify."""

from __future__ import annotations

import typer

from passerelle.cli import figures, files, published, serving
from passerelle.cli.words import OneSentence

app = typer.Typer(
    cls=OneSentence, no_args_is_help=True, add_completion=False, help="Plan fiber links, figure by figure."
)
for command in (
    serving.serve,
    serving.demo,
    serving.passphrase,
    figures.check,
    figures.catalog,
    figures.reach,
    figures.budget,
    files.export,
    files.backup,
    files.restore,
    files.verify,
    published.schema,
    published.openapi,
):
    app.command()(command)
