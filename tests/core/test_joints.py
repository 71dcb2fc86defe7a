"""Where pieces touch: the joints of a chain, and what is said where one does not close."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.compose import compose
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.module import Module
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.kinds.pigtail import Pigtail
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.kinds.splice import Splice
from passerelle.core.parts.piece import Plug
from passerelle.core.parts.registry import Element
from tests.core.plain import CATALOG, plain_link

LC = Plug(shape="LC", polish="UPC")
PORT = Port(cage="SFP+", rates_mbps=(10000,))
MODULE = Module(application="10GBASE-LR")
CORD = Cord(length_m=1, fiber=("OS2",), left=LC, right=LC)
RUN = Run(length_m=10, fiber=("OS2",), left=LC, right=LC)
BARE = Run(length_m=10, fiber=("OS2",))
TAIL = Pigtail(length_m=1, fiber=("OS2",), left=LC)
PANEL = Panel(shape="LC")
SPLICE = Splice()
PAD = Attenuator(value_db=5, shape="LC", polish="UPC", plug_side="left")


def chain(*pieces: Element) -> Link:
    return with_ids(Link(name="chain", elements=pieces))


def kinds(*pieces: Element) -> list[str]:
    return [joint.kind for joint in compose(chain(*pieces), CATALOG).joints]


def test_the_plain_chain_closes_everywhere() -> None:
    found = [joint.kind for joint in compose(plain_link(), CATALOG).joints]
    assert found == ["cage", "receptacle", "adapter", "adapter", "receptacle", "cage"]


def test_splices_join_bare_ends_and_pads_are_plugged() -> None:
    turned = TAIL.model_copy(update={"left": None, "right": LC})
    spliced = (PORT, MODULE, CORD, PANEL, TAIL, SPLICE, BARE, SPLICE, turned, MODULE, PORT)
    assert kinds(*spliced) == ["cage", "receptacle", "adapter", "splice", "splice", "receptacle", "cage"]
    assert kinds(PORT, MODULE, PAD, CORD, MODULE, PORT) == [
        "cage",
        "receptacle",
        "receptacle",
        "receptacle",
        "cage",
    ]


@pytest.mark.parametrize(
    ("pieces", "words"),
    [
        ((PORT, MODULE, CORD, CORD, MODULE, PORT), "two plugs need an adapter"),
        ((PORT, MODULE, CORD, PANEL, BARE, BARE, PANEL, CORD, MODULE, PORT), "two bare ends need a splice"),
        ((PORT, CORD, MODULE, PORT), "the port has no module"),
        ((PORT, MODULE, CORD, MODULE, CORD, MODULE, PORT), "the module stands in no port"),
        ((PORT, MODULE, MODULE, PORT), "a cord is missing between the two openings"),
        ((PORT, MODULE, PANEL, CORD, MODULE, PORT), "an adapter needs a plug on each side"),
        ((PORT, MODULE, CORD, SPLICE, BARE, PANEL, CORD, MODULE, PORT), "a splice needs bare fiber"),
        ((PORT, MODULE, CORD, PANEL, PANEL, CORD, MODULE, PORT), "two joints stand side by side"),
        ((PORT, MODULE, CORD, BARE, SPLICE, BARE, CORD, MODULE, PORT), "splice a pigtail on"),
        ((PORT, MODULE, CORD), "does not end in a port"),
        ((CORD, MODULE, PORT), "does not end in a port"),
        ((PORT, MODULE, CORD, PORT, CORD, MODULE, PORT), "middle of the chain"),
        ((PANEL,), "does not end in a port"),
    ],
)
def test_an_open_joint_says_what_is_missing(pieces: tuple[Element, ...], words: str) -> None:
    told = [joint.missing for joint in compose(chain(*pieces), CATALOG).joints if joint.kind == "open"]
    assert any(words in text for text in told), told


def test_an_empty_chain_has_no_closed_joint() -> None:
    assert all(joint.kind == "open" for joint in compose(chain(), CATALOG).joints)


def test_a_module_turns_its_opening_to_the_glass() -> None:
    first, *_, last = compose(plain_link(pairs=0), CATALOG).joints
    assert (first.left.piece.kind, first.right.piece.kind) == ("port", "module")  # type: ignore[union-attr]
    assert (last.left.piece.kind, last.right.piece.kind) == ("module", "port")  # type: ignore[union-attr]


def test_the_opening_of_the_oldest_form_is_another() -> None:
    old = Module(application="1000BASE-SX", form="GBIC")
    [_, mouth, *_] = compose(chain(PORT, old, CORD, MODULE, PORT), CATALOG).joints
    assert mouth.left_face.shape == "SC"  # type: ignore[union-attr]


PIECES = st.sampled_from([PORT, MODULE, CORD, RUN, BARE, TAIL, PANEL, SPLICE, PAD])


@given(st.lists(PIECES, max_size=9))
def test_any_chain_is_walked_and_each_solid_piece_is_seen(pieces: list[Element]) -> None:
    link = chain(*pieces)
    found = compose(link, CATALOG).joints
    seen = {e.id for joint in found for e in (joint.left, joint.right) if e is not None}
    solid = {e.id for e in link.elements if e.kind not in ("panel", "splice")}
    alone = len(solid) == 1 and link.elements[0].kind == "port"
    assert alone or solid <= seen
