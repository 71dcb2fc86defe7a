"""What is missing is said, and where a joint is."""

from __future__ import annotations

import pytest

from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.build_arrays import duplex_link, usual_backbone
from passerelle.core.link.chain import with_ids
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.kinds.port import Port
from passerelle.core.review import review
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules(margin_db=0.0)


@pytest.mark.parametrize("grade", ["OM3", "OM4"])
def test_glass_without_a_figure_at_the_wavelength_says_so(grade: str) -> None:
    """10GBASE-LX4 reaches 1349 nm, 49 nm beyond the 1300 nm for which multimode glass has a figure."""
    found = review(plain_link("10GBASE-LX4", grade, 62.0, cord_m=0.0), CATALOG, HOUSE, with_fixes=False)
    assert found.verdict is Verdict.UNKNOWN
    said = next(f for f in found.findings if f.code == "loss.no_figure")
    assert said.what == f"What {grade} loses at 1349 nm is not known, so 10GBASE-LX4 cannot be judged on it."
    assert "Figures are at hand for 850 nm, 940 nm, 1300 nm" in said.why
    assert found.headline == said.what


def test_listed_wavelengths_ask_for_nothing() -> None:
    found = review(plain_link("1000BASE-LX", "OM2", 300.0), CATALOG, HOUSE, with_fixes=False)
    assert "loss.no_figure" not in {f.code for f in found.findings}


def test_an_angled_plug_in_a_cassette_is_not_said_to_be_in_a_module() -> None:
    ports = tuple(Port(place=p, label="1", cage="SFP+", rates_mbps=(10_000,)) for p in ("a", "b"))
    link = with_ids(duplex_link("rows", ports, "10GBASE-SR", ("OM4",), 20.0, usual_backbone(angled=False)))
    cord = next(e for e in link.elements if e.kind == "cord")
    right = cord.right.model_dump() | {"polish": "APC"}
    bad = apply_edits(link, (SetFields(element=cord.id, values={"right": right}),))
    said = next(
        f.what for f in review(bad, CATALOG, HOUSE, with_fixes=False).findings if f.code == "mating.angled_flat"
    )
    assert said == "An angled ferrule is pressed on a flat one in this cassette."
