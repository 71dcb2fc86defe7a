"""A card for the hand: how the two fibers of a pair are crossed at one plug, by the kind of plug."""

from __future__ import annotations

from passerelle.core.errors import EditError
from passerelle.core.link.chain import Link, called
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.sources import Frozen, Source, estimated

PRACTICE = estimated("careful hand work at a duplex plug; the maker's own instruction for its clip comes first")
CAUTION = (
    "Laser light is invisible: switch off or unplug both ends and confirm darkness with a meter before a cap comes "
    "off. Look at a ferrule through a video scope only. Local rules and the owner's permit come first."
)
_OPEN: dict[str, str] = {
    "LC": "Open the clip that holds the two LC plugs: lift its tab, and slide the clip back along both boots.",
    "SC": "Part the two SC plugs: spread the clip at the side without the keys, and lift one plug out.",
    "ST": "Nothing holds an ST pair together: turn each bayonet a quarter to the left and pull it off.",
    "FC": "Nothing holds an FC pair together: unscrew each nut, and pull straight, so that no key scratches.",
}
_SEAT: dict[str, str] = {
    "LC": "Put each LC plug into the other seat, its latch on the same side as before, and slide the clip forward "
    "until it snaps.",
    "SC": "Put each SC plug into the other seat of the clip, both keys on one side, and press the clip shut.",
    "ST": "Turn each bayonet home in the other opening, its key in the slot.",
    "FC": "Screw each nut on at the other opening, its key in the slot, finger-tight.",
}


class CrossingCard(Frozen):
    """What is done at one end of a cord, step by step, what it changes, and what the clip cannot do afterwards."""

    title: str
    plug: str
    possible: bool
    before: str
    after: str
    steps: tuple[str, ...]
    afterwards: tuple[str, ...]
    caution: str = CAUTION
    source: Source = PRACTICE


def crossing_card(link: Link, element: str) -> CrossingCard:
    """The card for crossing a cord of a link by hand at one of its ends.

    Raises:
        EditError: there is no such piece, or it is no duplex cord.
    """
    piece = next((e for e in link.elements if e.id == element), None)
    if not isinstance(piece, Cord) or piece.strands != 2:
        raise EditError(
            "element", f"'{element}' is no duplex cord: a pair is crossed by hand at a duplex plug only"
        )
    shape = piece.right.shape
    name = called(link, piece)
    words = {True: "crossed, A to B", False: "straight, A to A"}
    if piece.clip == "fixed":
        return CrossingCard(
            title=f"Crossing {name}",
            plug=f"{shape}/{piece.right.polish}",
            possible=False,
            before=words[piece.crossed],
            after=words[not piece.crossed],
            steps=("The clip of this cord does not open. Do not force it: exchange the cord.",),
            afterwards=(f"Order a cord that is {words[not piece.crossed]}.",),
        )
    return CrossingCard(
        title=f"Crossing {name}",
        plug=f"{shape}/{piece.right.polish}",
        possible=True,
        before=words[piece.crossed],
        after=words[not piece.crossed],
        steps=(
            "Switch off or unplug both ends of the link, and confirm darkness with a meter.",
            "Choose one end only: crossed at both ends is as before.",
            "Mark one of the two strands behind its boot, so that it can be told afterwards.",
            _OPEN[shape],
            "Exchange the two plugs. Turn no boot, bend no fiber tighter than the radius at rest.",
            _SEAT[shape],
            "Inspect both ferrules with a scope, clean them, and inspect again.",
            "Plug it in. With a light source at the far end, see with a meter that the marked strand now leads to "
            "the other position; or see both ends report light.",
            f"Write on the cord at both ends: {words[not piece.crossed]}.",
        ),
        afterwards=(
            "The clip no longer says which way the cord is made: only the label does.",
            "A clip that was opened several times holds less: exchange the cord when it does not snap.",
        ),
    )
