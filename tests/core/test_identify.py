"""What a cable may be, from what is seen of it."""

from __future__ import annotations

import pytest

from passerelle.core.selection.identify import Evidence, Identified, grades_called, identify
from tests.core.plain import CATALOG


def seen(**evidence: str) -> Identified:
    return identify(Evidence.model_validate(evidence), CATALOG)


def likely(found: Identified) -> set[str]:
    return {candidate.grade for candidate in found.candidates if candidate.likely}


def marks() -> list[tuple[str, dict[str, str]]]:
    """Each grade with each of its own marks: jacket, plugs, print."""
    found = []
    for name, fiber in CATALOG.fibers.items():
        found += [(name, {"jacket": color}) for color in fiber.jacket_colors]
        found += [
            (name, {"connector": c}) for c, grades in CATALOG.marks.connector.colors.items() if name in grades
        ]
        found += [(name, {"print": form}) for form in CATALOG.marks.print[name]]
        found += [(name, {"print": form[:-1]}) for form in CATALOG.marks.print[name] if len(form) > 3]
    return found


@pytest.mark.parametrize(("grade", "evidence"), marks())
def test_every_grade_is_among_the_candidates_of_its_own_marks(grade: str, evidence: dict[str, str]) -> None:
    assert grade in likely(seen(**evidence))


def test_a_color_weighs_and_only_print_excludes() -> None:
    orange = seen(jacket="orange")
    assert orange.excluded == ()
    assert len(orange.candidates) == len(CATALOG.fibers)
    assert [c.grade for c in orange.candidates[:4]] == ["62.5/125-160", "OM1", "50/125-400", "OM2"]
    read = seen(jacket="orange", print="50/1")
    assert {"OM1", "62.5/125-160", "OS2"} <= set(read.excluded)
    assert not {"50/125-400", "OM2", "OM3"} & set(read.excluded)


def test_a_black_jacket_says_nothing() -> None:
    assert {c.share for c in seen(jacket="black").candidates} == {c.share for c in seen().candidates}


def test_colors_and_plugs_of_other_glass_are_named() -> None:
    assert {"62.5/125-160", "OM1"} == likely(seen(jacket="slate"))
    for color, glass in (("green", "100/140"), ("blue", "polarization-maintaining")):
        told = seen(jacket=color)
        assert glass in told.contradictions[0]
        assert len({c.share for c in told.candidates}) == 1  # it tells nothing between the grades of the catalog
    old = seen(shape="MIC")
    assert "hybrid cord" in old.contradictions[-1]
    assert old.candidates[0].grade in ("62.5/125-160", "OM1")


def test_contradictions_are_said_and_print_outranks_color() -> None:
    assert "blue plugs on an orange jacket" in seen(jacket="orange", connector="blue").contradictions[0]
    odd = seen(jacket="yellow", print="OM3")
    assert likely(odd) == {"OM3"}
    assert "printed outranks" in odd.contradictions[0]
    assert "nothing was excluded" in seen(print="xyz").contradictions[0]


def test_what_it_carries_is_the_worst_of_the_likely_candidates() -> None:
    found = {line.application: line for line in seen(jacket="orange").carries}
    assert (found["10GBASE-SR"].reach_m, found["10GBASE-SR"].worst_grade) == (26, "62.5/125-160")
    assert found["1000BASE-LX"].offset_launch
    assert "10GBASE-LR" not in found
    assert seen(print="OM4").carries[0].reach_m == 100


def test_the_next_look_is_print_first_and_none_when_it_is_decided() -> None:
    assert seen(jacket="orange").next_look.startswith("Read the print")
    assert seen(print="OM").next_look == "Look at the jacket's color next."
    assert seen(jacket="aqua", print="OM4").next_look == ""


@pytest.mark.parametrize(
    ("text", "grades"),
    [
        ("SMF", {"OS1", "OS2"}),
        ("50/125", {"OM2", "OM3", "OM4"}),
        ("OM3 or OM4", {"OM3", "OM4"}),
        ("MMF", {"OM1", "OM4"}),
    ],
)
def test_glass_as_people_call_it(text: str, grades: set[str]) -> None:
    called = set(grades_called(text, CATALOG))
    assert grades <= called
    assert ("OS2" in called) == ("OS2" in grades)
