"""What is in place and cannot be used never carries a plan: the piece, its cable, the pathway that it lies in."""

from __future__ import annotations

import pytest

from passerelle.core.batch import figures_of
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.kinds.run import Run
from passerelle.core.plant.placing import lay_on_plan
from passerelle.core.plant.records import Place, Way
from passerelle.core.plant.riders import laid
from passerelle.core.plant.site import Plant
from passerelle.core.review import Review, review
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules()
LINKS = {
    "a pair": plain_link(splices=1),
    "parallel lanes": plain_link("40GBASE-SR4", "OM4", 50),
}


def judge(link: Link) -> Review:
    return review(link, CATALOG, HOUSE)


@pytest.mark.parametrize(
    ("name", "element"), [(name, piece.id) for name, link in LINKS.items() for piece in link.elements]
)
def test_a_dead_piece_fails_and_another_one_like_it_is_the_fix(name: str, element: str) -> None:
    """Ports, modules, cords, panels, runs, splices, adapters: each alone, in the review and in the list."""
    sound = LINKS[name]
    dead = apply_edits(sound, (SetFields(element=element, values={"state": "dead"}),))
    found = judge(dead)
    assert found.verdict is Verdict.FAIL
    (finding,) = [one for one in found.findings if one.code == "piece.dead"]
    assert finding.at == (element,)
    assert figures_of([dead], CATALOG, HOUSE)[0].verdict is Verdict.FAIL
    mended = judge(apply_edits(dead, finding.fixes[0].edits))
    assert (mended.verdict, mended.margin_db) == (judge(sound).verdict, judge(sound).margin_db)


def ridden(plant: Plant) -> tuple[Link, Plant]:
    link = plain_link(length_m=130)
    first, *middle, last = link.elements
    ends = (first.model_copy(update={"place": "A"}), *middle, last.model_copy(update={"place": "B"}))
    found = lay_on_plan(link.model_copy(update={"elements": ends}), plant, [])
    assert found.on_plan
    return found.link, found.plant


@pytest.mark.parametrize("dead", ["cable", "pathway"])
def test_a_run_on_a_dead_cable_or_in_a_dead_pathway_fails(dead: str) -> None:
    places = (Place(id="a", name="A"), Place(id="b", name="B"))
    link, plant = ridden(Plant(places=places, ways=(Way(id="ab", name="ab", start="a", end="b", length_m=100),)))
    assert "piece.dead" not in {one.code for one in judge(link).findings}
    gone = {"state": "dead"}
    after = (
        plant.changed(cables=tuple(one.model_copy(update=gone) for one in plant.cables))
        if dead == "cable"
        else plant.changed(ways=tuple(one.model_copy(update=gone) for one in plant.ways))
    )
    moved = judge(laid(link, after))
    run = next(piece for piece in link.elements if isinstance(piece, Run))
    assert [one.at for one in moved.findings if one.code == "piece.dead"] == [(run.id,)]
    assert moved.verdict is Verdict.FAIL
    assert judge(laid(laid(link, after), plant)).verdict == judge(link).verdict  # repaired, it carries again
