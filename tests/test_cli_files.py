"""The command line and files: one sentence where something is wrong, copies, and who may be let in."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from typer.testing import CliRunner

from passerelle.cli import app
from passerelle.exchange.signing import SigningKey, key_path
from passerelle.store.files import clear_half_files
from passerelle.store.trouble import NewerError
from tests.store.test_trouble import TROUBLED

runner = CliRunner()
COMMANDS = [
    ["serve", "--port", "8999"],
    ["demo", "--no-serve"],
    ["export", "out.json"],
    ["backup", "copy.sqlite"],
    ["verify"],
]


def said(path: Path, *command: str) -> tuple[int, str]:
    answer = runner.invoke(app, [*command, "--database", str(path)])
    return answer.exit_code, answer.output


@pytest.mark.parametrize("command", COMMANDS, ids=lambda command: command[0])
@pytest.mark.parametrize(("made", "kind"), TROUBLED, ids=lambda one: getattr(one, "__name__", ""))
def test_a_file_in_trouble_is_one_sentence(
    command: list[str], made: object, kind: type, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    path = tmp_path / "x.sqlite"
    made(path)  # type: ignore[operator]
    code, output = said(path, *command)
    if command[0] == "backup" and kind is NewerError:
        assert code == 0  # a copy can be made of what is not understood
        return
    assert code == (1 if command[0] == "verify" and "damaged" in output else 2)
    assert "Traceback" not in output
    assert output.strip()
    assert len(output) < 900
    assert str(path) in output.replace("\n", "")


def test_a_database_that_is_not_there_or_locked_is_one_sentence(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("passerelle.store.database.PATIENCE_S", 0.05)
    for command in (["export", str(tmp_path / "p.json")], ["backup", str(tmp_path / "c.sqlite")], ["verify"]):
        code, output = said(tmp_path / "none.sqlite", *command)
        assert code == 2
        assert "no such database" in output
    path = tmp_path / "locked.sqlite"
    said(path, "demo", "--no-serve")
    with closing(sqlite3.connect(path, isolation_level=None)) as other:
        other.execute("BEGIN IMMEDIATE")
        code, output = said(path, "demo", "--no-serve")
    assert code == 2
    assert "busy" in output
    assert said(tmp_path / "locked.sqlite" / "x.sqlite", "demo", "--no-serve")[0] == 2


def test_a_strangers_file_is_never_touched(tmp_path: Path) -> None:
    path = tmp_path / "recipes.sqlite"
    with closing(sqlite3.connect(path)) as connection, connection:
        connection.execute("CREATE TABLE recipe (name TEXT)")
    before = path.read_bytes()
    for command in (["export", str(tmp_path / "p.json")], ["demo", "--no-serve", "--reset", "--yes"], ["serve"]):
        assert said(path, *command)[0] == 2
        assert path.read_bytes() == before


def test_a_reset_asks_before_it_throws_away(tmp_path: Path) -> None:
    path = tmp_path / "demo.sqlite"
    said(path, "demo", "--no-serve")
    before = path.read_bytes()
    asked = runner.invoke(app, ["demo", "--no-serve", "--reset", "--database", str(path)], input="n\n")
    assert asked.exit_code == 2
    assert "Port-Aubier" in asked.output
    assert path.read_bytes() == before
    assert (
        runner.invoke(app, ["demo", "--no-serve", "--reset", "--database", str(path)], input="y\n").exit_code == 0
    )


def test_what_is_served_is_not_thrown_away(tmp_path: Path) -> None:
    path = tmp_path / "demo.sqlite"
    said(path, "demo", "--no-serve")
    with closing(sqlite3.connect(path)) as served:
        served.execute("SELECT count(*) FROM link").fetchall()
        code, output = said(path, "demo", "--no-serve", "--reset", "--yes")
    assert code == 2
    assert "stop Passerelle first" in output.replace("\n", " ")
    assert said(path, "verify")[0] == 0


def test_a_copy_goes_out_and_is_put_back(tmp_path: Path) -> None:
    path, copy = tmp_path / "plans.sqlite", tmp_path / "copy.sqlite"
    said(path, "demo", "--no-serve")
    assert said(path, "backup", str(copy))[0] == 0
    assert said(path, "backup", str(copy))[0] == 2  # a copy never takes the place of another
    code, output = said(path, "restore", str(copy))
    assert code == 0
    assert "plans.replaced.sqlite" in output.replace("\n", "")
    code, output = said(path, "verify")
    assert code == 0
    assert "whole" in output


def test_secrets_go_along_when_that_is_asked_and_what_is_missing_is_said(tmp_path: Path) -> None:
    path, copy, bare = (tmp_path / name for name in ("plans.sqlite", "copy.sqlite", "bare.sqlite"))
    said(path, "demo", "--no-serve")
    key = SigningKey.beside(path)
    code, output = said(path, "backup", str(bare))
    assert (code, "--with-secrets copies it too" in output) == (0, True)
    assert not key_path(bare).exists()
    code, output = said(path, "backup", str(copy), "--with-secrets")
    assert (code, "keep it where only you can read it" in output) == (0, True)
    assert key_path(copy).stat().st_mode & 0o077 == 0
    key_path(path).unlink()
    code, output = said(path, "restore", str(bare))
    assert (code, "New handovers will be signed with a new key" in output.replace("\n", " ")) == (0, True)
    assert not key_path(path).exists()
    said(path, "restore", str(copy))
    assert SigningKey.beside(path).public == key.public
    key_path(copy).write_bytes(b"x")
    said(path, "restore", str(copy))
    assert SigningKey.beside(path).public == key.public  # what is here is never replaced


def test_what_a_killed_copy_left_is_cleared_and_nothing_else(tmp_path: Path) -> None:
    path, ours = tmp_path / "plans.sqlite", b"SQLite format 3\x00 half"
    left = ["copy.sqlite.part", "plans.restoring.sqlite", "plans.restoring-2.sqlite-journal"]
    stay = ["plans.replaced.sqlite", "plans.before-0013.sqlite", "plans.sqlite", "other.restoring.sqlite"]
    for name in (*left, *stay):
        (tmp_path / name).write_bytes(ours)
    (tmp_path / "film.part").write_bytes(b"somebody else's")
    now_s = path.stat().st_mtime
    assert clear_half_files(path, now_s + 590) == []  # a copy that is being made
    assert sorted(one.name for one in clear_half_files(path, now_s + 700)) == sorted(left)
    assert sorted(one.name for one in tmp_path.iterdir()) == sorted([*stay, "film.part"])


@pytest.mark.parametrize(
    ("options", "missing"),
    [
        ([], ["--host NAME", "--passphrase-file FILE"]),
        (["--host", "plans.example"], ["--passphrase-file FILE"]),
        (["--bind", "127.0.0.1", "--host", "plans.example"], ["--passphrase-file FILE"]),
    ],
)
def test_others_are_let_in_only_under_a_name_and_behind_a_passphrase(
    options: list[str], missing: list[str], tmp_path: Path
) -> None:
    code, output = said(tmp_path / "x.sqlite", "serve", "--bind", "0.0.0.0", *options)
    assert code == 2
    for word in missing:
        assert word in output
    assert "127.0.0.1" in output
    assert not (tmp_path / "x.sqlite").exists()


def test_a_passphrase_is_asked_for_twice_and_only_its_hash_is_kept(tmp_path: Path) -> None:
    path = tmp_path / "words"
    made = runner.invoke(app, ["passphrase", str(path)], input="four made-up words\nfour made-up words\n")
    assert made.exit_code == 0
    assert path.read_text().startswith("$argon2id$")
    assert path.stat().st_mode & 0o077 == 0
    short = runner.invoke(app, ["passphrase", str(path)], input="short\nshort\n")
    assert short.exit_code == 2
    assert "12" in short.output
