"""Every kind of piece is known whole, and a kind that is described in one module is known everywhere."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from passerelle.core.errors import EditError
from passerelle.core.link.edits import Flip, Insert, SetFields, apply_edits
from passerelle.core.link.fitting import fitting_piece
from passerelle.core.parts.part import Mating, Part
from passerelle.core.parts.registry import INSERTABLE, KINDS, part_of
from tests.core.plain import CATALOG, plain_link

HERE = Path(__file__).parent


@pytest.fixture(scope="module")
def seen(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    """What a link with the foreign kind went through, in a process that has that kind."""
    folder = tmp_path_factory.mktemp("live")
    run = subprocess.run(
        [sys.executable, "-W", "ignore", "-m", "tests.kinds.live", str(folder)],
        capture_output=True,
        text=True,
        cwd=HERE.parent.parent,
        check=False,
    )
    assert run.returncode == 0, run.stderr
    answer: dict[str, Any] = json.loads(run.stdout)
    return answer


def test_a_foreign_kind_is_fitted_to_its_neighbors(seen: dict[str, Any]) -> None:
    assert (seen["fitted"]["left"]["shape"], seen["fitted"]["fiber"]) == ("LC", ["OS2"])


def test_a_foreign_kind_is_reviewed_and_traced(seen: dict[str, Any]) -> None:
    assert seen["codes"] == ["polarity.dark"], "a straight piece in the place of a crossed one leaves the link dark"
    assert "Flip one duplex clip on the furcation at far" in seen["fixes"]
    assert seen["loss"] == [0.4], "what the part itself loses is a term"


def test_a_foreign_kind_is_priced_changed_and_turned(seen: dict[str, Any]) -> None:
    assert seen["cost"]["armored tail"] == 2, "the foreign kind is bought by its own words"
    assert seen["regraded"] == 3
    assert seen["flipped"]["kind"] == "furcation"


def test_a_foreign_kind_is_listed_written_and_read_again(seen: dict[str, Any]) -> None:
    assert seen["listed"]["pieces"][6]["kind"] == "furcation"
    assert seen["opened"]["kind"] == "furcation"
    assert "plain,near,far" in seen["table"]


def test_a_foreign_kind_is_shared_and_a_change_of_it_moves_every_link_on_it(seen: dict[str, Any]) -> None:
    assert seen["shared"] == {"positions": [2], "moved": 2, "lengths": [7, 7]}


def test_a_foreign_kind_is_told_to_the_screens(seen: dict[str, Any]) -> None:
    told = seen["told"]
    assert (told["title"], told["insertable"], told["turns"]) == ("armored tail", True, True)
    length = next(field for field in told["fields"] if field["name"] == "length_m")
    assert (length["word"], length["editor"], length["unit"]) == ("Length", "length", "m")


@pytest.mark.parametrize("kind", INSERTABLE)
def test_every_kind_fits_somewhere_and_what_it_joins_is_said(kind: str) -> None:
    piece = fitting_piece(plain_link(), "cord-1", kind, CATALOG)
    spec = next(spec for spec in KINDS if spec.kind == kind)
    part = part_of(piece, CATALOG)
    assert isinstance(part, Mating) is spec.joins
    if isinstance(part, Part):
        ends = {path.a.face for path in part.paths} | {path.b.face for path in part.paths}
        assert ends <= set(part.faces), "a path runs between faces that are there"


@pytest.mark.parametrize("kind", INSERTABLE)
def test_a_piece_that_is_turned_shows_its_faces_the_other_way(kind: str) -> None:
    """Where a kind does not turn, that is said; where it does, left and right change places."""
    spec = next(spec for spec in KINDS if spec.kind == kind)
    link = plain_link()
    piece = fitting_piece(link, "cord-1", kind, CATALOG)
    for name, value in LOPSIDED.get(kind, {}).items():
        piece = type(piece).model_validate({**piece.model_dump(), name: value})
    link = apply_edits(link, (Insert(after="cord-1", piece=piece),))
    added = link.elements[link.index("cord-1") + 1]
    if spec.turned is None:
        with pytest.raises(EditError, match="cannot be turned"):
            apply_edits(link, (Flip(element=added.id),))
        return
    turned = apply_edits(link, (Flip(element=added.id),)).element(added.id)
    before, after = part_of(added, CATALOG), part_of(turned, CATALOG)
    if isinstance(before, Part) and isinstance(after, Part):
        assert (after.face("left"), after.face("right")) == (before.face("right"), before.face("left"))
    if kind in LOPSIDED:
        assert turned != added
    assert apply_edits(link, (Flip(element=added.id), Flip(element=added.id))) == link


LOPSIDED: dict[str, dict[str, object]] = {
    "cord": {"left": {"shape": "SC", "polish": "APC"}},
    "run": {"left": None},
    "pigtail": {},
    "attenuator": {},
    "assembly": {"left_form": "SFP28", "left_coding": "make A"},
}
"""What makes the two ends of a kind differ, so that turning it shows."""


@pytest.mark.parametrize("kind", INSERTABLE)
def test_every_choice_that_a_screen_is_told_can_be_set(kind: str) -> None:
    piece = fitting_piece(plain_link(), "cord-1", kind, CATALOG)
    link = apply_edits(plain_link(), (Insert(after="cord-1", piece=piece),))
    added = link.elements[link.index("cord-1") + 1]
    spec = next(spec for spec in KINDS if spec.kind == kind)
    for field in spec.fields:
        for choice in field.choices:
            value = (choice.value,) if field.editor == "choices" else choice.value
            changed = apply_edits(link, (SetFields(element=added.id, values={field.name: value}),))
            assert changed.element(added.id).__dict__[field.name] == value
