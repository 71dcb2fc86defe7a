"""The position table of a link: every face along the chain, and where each lane passes it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain, Standing, compose
from passerelle.core.parts.face import Face
from passerelle.core.polarity.trace import Followed, followed, lost_at
from passerelle.core.sources import Frozen

Side = Literal["left", "right"]
SIXTEEN = "TIA-598, units of 16"


class FaceSeen(Frozen):
    """A face as it is seen from the front, its key up: rows of columns, what holds a fiber, pins, and its colors.

    ``name`` is what the part calls it (``rear``, ``3``), ``side`` where it looks in the chain. ``colors`` are those
    of its positions in their order, empty for a pair, whose positions are A and B.
    """

    element: str
    side: Side
    name: str
    kind: str
    shape: str
    rows: int
    columns: int
    plugs: int
    filled: tuple[int, ...]
    pins: bool | None
    polish: str
    colors: tuple[str, ...]


class LaneSeen(Frozen):
    """A lane with its position at every face, from left to right; None where its light does not come."""

    sender: str
    receiver: str
    goes: Side
    number: int
    lights: bool
    heard_as: int | None
    lost_at: str
    positions: tuple[int | None, ...]


class StrandTable(Frozen):
    """Faces from the left end's opening to the right end's, and the lanes of both directions.

    ``why_not`` says why there is nothing to trace, where there are no lanes.
    """

    faces: tuple[FaceSeen, ...]
    lanes: tuple[LaneSeen, ...]
    why_not: str = ""


def strand_table(link: Link, catalog: Catalog) -> StrandTable:
    """The position table of a link.

    Raises:
        CatalogError: a piece names something that the catalog does not have (``check_names``).
    """
    chain = compose(link, catalog)
    lanes = tuple(lane for one in followed(chain) for lane in _seen(one))
    return StrandTable(
        faces=tuple(_faces(chain, catalog)),
        lanes=lanes,
        why_not="" if lanes else _why_not(chain),
    )


def _why_not(chain: Chain) -> str:
    if len(chain.ends) != 2:
        return "Lanes run from module to module: the link has no module at one of its ends."
    if not chain.closed:
        return "The chain does not close yet: lanes can be followed only from port to port."
    return "One strand carries both directions here: there is nothing to cross."


def _faces(chain: Chain, catalog: Catalog) -> list[FaceSeen]:
    """The faces between the two ends; all faces of fiber while there are not two."""
    if len(chain.ends) == 2:
        first, last = chain.ends
        between = [part for part in chain.parts if first.position < part.position < last.position]
        return [
            _face(first, "right", catalog),
            *(_face(part, side, catalog) for part in between for side in ("left", "right")),
            _face(last, "left", catalog),
        ]
    glass = [part for part in chain.parts if part.traits.realm == "light"]
    return [
        _face(part, side, catalog)
        for part in glass
        for side in ("left", "right")
        if part.face(side).kind not in ("edge", "nothing")
    ]


def _face(part: Standing, side: Literal["left", "right"], catalog: Catalog) -> FaceSeen:
    name = part.enter if side == "left" else part.leave
    return face_seen(part.face(side), catalog, element=part.id, side=side, name=name)


def face_seen(face: Face, catalog: Catalog, *, element: str, side: Side, name: str) -> FaceSeen:
    """A face as it is drawn from the front."""
    return FaceSeen(
        element=element,
        side=side,
        name=name,
        kind=face.kind,
        shape=face.shape,
        rows=face.rows,
        columns=face.columns,
        plugs=face.plugs,
        filled=face.positions,
        pins=face.pins,
        polish=face.polish or "",
        colors=colors_of(face, catalog),
    )


def colors_of(face: Face, catalog: Catalog) -> tuple[str, ...]:
    """The color of each position of an array, by its number within a plug; none for a pair."""
    if not face.is_array:
        return ()
    codes = catalog.marks.strands
    code = codes.code(SIXTEEN) if face.columns > len(codes.order) else codes.codes[0]
    plug = face.rows * face.columns
    return tuple(code.color(position % plug + 1) for position in range(face.size))


def _seen(one: Followed) -> Iterator[LaneSeen]:
    """The lanes of one direction, their positions from left to right."""
    rightward = one.sender.position < one.receiver.position
    for number, passed in enumerate(one.passed, start=1):
        positions = tuple(position or None for position in passed)
        end = positions[-1]
        yield LaneSeen(
            sender=one.sender.id,
            receiver=one.receiver.id,
            goes="right" if rightward else "left",
            number=number,
            lights=end in one.hears,
            heard_as=one.hears.index(end) + 1 if end in one.hears else None,
            lost_at="" if end else lost_at(one, passed),
            positions=positions if rightward else positions[::-1],
        )
