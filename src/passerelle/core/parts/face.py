"""A face: what a hand sees and mates at one end of a part."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from passerelle.core.catalog.records import Polish

FaceKind = Literal["plug", "opening", "adapter", "bare", "cage", "edge", "contacts", "nothing"]
Key = Literal["up", "down"]
DUPLEX = 2


@dataclass(frozen=True, slots=True)
class Face:
    """One end of a part.

    ``plug`` goes into an ``opening`` (a receptacle) or an ``adapter``; ``bare`` fiber is spliced; the ``edge`` of a
    module goes into a ``cage``; ``contacts`` are electrical, of the shape ``plug`` or ``jack``; ``nothing`` is the
    side of a part on which a chain ends. Positions stand in ``rows`` of ``columns``, in ``plugs`` side by side;
    ``filled`` names those that hold a fiber, all where it is empty. ``key`` is how a plug enters an opening or
    adapter whose positions are counted on its own front: ``up`` aligned with it, ``down`` opposed; without one
    positions are named by what enters. ``mated_as`` is the allowance that a plug in this face counts, empty where
    the test points of the clause already hold it.
    """

    kind: FaceKind
    shape: str = ""
    rows: int = 1
    columns: int = 2
    plugs: int = 1
    filled: tuple[int, ...] = ()
    polish: Polish | None = None
    pins: bool | None = None
    key: Key | None = None
    mated_as: str = ""

    @property
    def positions(self) -> tuple[int, ...]:
        """The positions that hold a fiber, from 1.

        >>> Face("plug", "array", columns=12, filled=(1, 2, 3, 4, 9, 10, 11, 12)).positions[-1]
        12
        """
        return self.filled or tuple(range(1, self.size + 1))

    @property
    def size(self) -> int:
        """How many positions it has, whether they hold a fiber or not."""
        return self.plugs * self.rows * self.columns

    @property
    def is_array(self) -> bool:
        """Whether it is more than one or two strands."""
        return self.size > DUPLEX


NOTHING = Face("nothing")
BARE = Face("bare")
