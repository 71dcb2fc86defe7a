"""The command that reviews a plan file."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from passerelle.cli.told import as_dict, print_review
from passerelle.cli.words import JsonOption, print_json, stop
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.review import review
from passerelle.exchange.plan_file import PlanFileError, read_plan


def check(
    plan: Annotated[Path, typer.Argument(help="A plan file.")],
    as_json: JsonOption = False,
    fixes: Annotated[
        bool, typer.Option("--fixes", help="Try the fixes of each finding too: it takes longer.")
    ] = False,
) -> None:
    """Review every link of a plan file. Exit 1 when one fails, 2 when the file is bad."""
    catalog = load_catalog()
    try:
        content = read_plan(plan.read_text(encoding="utf-8"), catalog)
    except OSError as error:
        stop(f"{plan}: cannot be read: {error.strerror}")
    except UnicodeDecodeError as error:
        stop(f"{plan}: byte {error.start}: a plan file is UTF-8 text")
    except PlanFileError as error:
        stop(f"{plan}: {error}")
    reviews = [(link, review(link, catalog, content.house_rules, with_fixes=fixes)) for link in content.links]
    if as_json:
        print_json([{"name": link.name, **as_dict(found)} for link, found in reviews])
    else:
        for link, found in reviews:
            print_review(link.name, found)
    if any(found.verdict.broken for _, found in reviews):
        raise typer.Exit(1)
