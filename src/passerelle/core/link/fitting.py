"""A piece that fits where it is put: shape, polish and glass taken from its neighbors."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, cast, get_args

from passerelle.core.catalog.records import Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import EditError
from passerelle.core.link.chain import Link, glass, modules, ports
from passerelle.core.link.compose import Joiner, Standing, compose
from passerelle.core.parts.face import NOTHING, Face
from passerelle.core.parts.piece import Plug, Shape, Strands
from passerelle.core.parts.registry import INSERTABLE, SPEC_OF, Element
from passerelle.core.parts.spec import Gap

if TYPE_CHECKING:
    Insertable = str
else:
    Insertable = Literal[INSERTABLE]
    """What can be put into a chain, by its kind."""


def fitting_piece(link: Link, after: str, kind: str, catalog: Catalog) -> Element:
    """A piece of one kind, made to fit behind the piece ``after``.

    Raises:
        EditError: the link has no piece ``after``, or there is no kind of that name that can be put in.
    """
    try:
        position = link.index(after)
    except KeyError:
        raise EditError("after", f"the link has no piece '{after}': reload the link") from None
    spec = SPEC_OF.get(kind)
    if spec is None or spec.fitted is None:
        raise EditError("kind", f"there is no piece '{kind}' to put in: choose one of {', '.join(INSERTABLE)}")
    piece: Element = spec.fitted(_gap(link, position, catalog))
    return piece


def _gap(link: Link, position: int, catalog: Catalog) -> Gap:
    """What the space behind a piece asks of what is put into it."""
    places = compose(link, catalog).places
    left = places[position]
    right = places[position + 1] if position + 1 < len(places) else None
    grades = _grade_near(link, position)
    known = modules(link)
    takes = [frozenset(catalog.cage(port.cage).accepts) for port in ports(link)]
    return Gap(
        left=left.right if isinstance(left, Standing) else NOTHING,
        right=right.left if isinstance(right, Standing) else NOTHING,
        left_part=left.part if isinstance(left, Standing) else left.mating,
        right_part=right.part if isinstance(right, Standing) else right.mating if right else None,
        left_shape=_shape(left, left.right if isinstance(left, Standing) else NOTHING),
        right_shape=_shape(right, right.left if isinstance(right, Standing) else NOTHING),
        grades=grades,
        strands=_strands(link),
        polish=_polish_near(link, position, grades, catalog),
        application=known[0].application if known else next(iter(catalog.applications)),
        fastest_mbps=_fastest(link, catalog),
        forms=frozenset.intersection(*takes) if takes else frozenset(),
    )


def _strands(link: Link) -> Strands:
    return 1 if any(piece.width == 1 for piece in glass(link)) else 2


def _shape(place: Standing | Joiner | None, face: Face) -> Shape:
    """The shape that is wanted towards a neighbor: of its adapter or its plug; LC where it says nothing."""
    shape = place.mating.shape if isinstance(place, Joiner) else face.shape if face.kind == "plug" else ""
    return cast(Shape, shape) if shape in get_args(Shape) else "LC"


def _fastest(link: Link, catalog: Catalog) -> int:
    """The fastest speed in Mb/s that both ports can run, or their cages could."""
    ends = ports(link)
    common = set.intersection(*(set(port.rates_mbps) for port in ends)) if ends else set()
    return max(common, default=min((catalog.cage(port.cage).max_rate_mbps for port in ends), default=10_000))


def _grade_near(link: Link, position: int) -> tuple[str, ...]:
    pieces = sorted(glass(link), key=lambda piece: abs(link.index(piece.id) - position))
    return pieces[0].fiber if pieces else ()


def _polish_near(link: Link, position: int, grade: tuple[str, ...], catalog: Catalog) -> Polish:
    pieces = sorted(glass(link), key=lambda piece: abs(link.index(piece.id) - position))
    for piece in pieces:
        for plug in (piece.__dict__.get("left"), piece.__dict__.get("right")):
            if isinstance(plug, Plug) and plug.polish != "APC":
                return plug.polish
    multimode = any(catalog.fiber(name).family == "multimode" for name in grade)
    return "PC" if multimode else "UPC"
