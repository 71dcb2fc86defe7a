"""One word for one thing: what docs/words.md does not say stands in no source that people read."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SPELLING = ("fibre", "colour", "grey")
READ = ("web/src/**/*.ts", "web/src/**/*.tsx", "src/passerelle/**/*.py", "src/passerelle/**/*.toml", "docs/*.md")
UNDERSTOOD = ("_in.py", "link_import.py", "requirements.py", "plant_table.py", "words.md")
"""Where the words of other people are read, and the list itself."""


def avoided() -> list[str]:
    """The last column of the tables."""
    rows = re.findall(r"^\|(?!--)(.+)\|$", (ROOT / "docs/words.md").read_text(encoding="utf-8"), re.MULTILINE)
    last = [row.split("|")[-1].strip() for row in rows]
    return [word.strip() for cell in last if cell != "not said" for word in cell.split(",") if word.strip()]


def sources() -> list[tuple[Path, str]]:
    """Everything that people read, with its text; what is generated follows from it."""
    found = [path for pattern in READ for path in ROOT.glob(pattern) if "generated" not in path.parts]
    return [
        (path, path.read_text(encoding="utf-8").lower())
        for path in found
        if not path.name.endswith(UNDERSTOOD) and "static" not in path.parts
    ]


def test_the_list_has_words_that_are_not_said() -> None:
    assert {"jumper", "splice box", "drum"} <= set(avoided())
    asked_for = {"patch cord", "patch panel", "transceiver", "pathway", "preference"}
    assert not asked_for & set(avoided())
    assert len(sources()) > 400


@pytest.mark.parametrize("word", [*avoided(), *SPELLING])
def test_what_is_not_said_is_not_said(word: str) -> None:
    apart = re.compile(rf"(?<![\w./-]){re.escape(word.lower())}s?(?![\w(./-])")
    said = [(str(path.relative_to(ROOT)), line) for path, text in SOURCES for line in lines_with(apart, text)]
    assert said == []


def lines_with(apart: re.Pattern[str], text: str) -> list[str]:
    """The lines in which a word stands, without those that quote the title of a source."""
    return [
        line.strip()
        for line in text.splitlines()
        if apart.search(line) and not re.search(r"\bsource\b|^\s*note=|_source", line)
    ]


SOURCES = sources()
