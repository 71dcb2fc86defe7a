"""A factory-made end is pulled with its head on: against the bore, through the bends, which end leads, how long."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from passerelle.core.catalog.plant_figures import plant_figures
from passerelle.core.parts.piece import NEW_STATES
from passerelle.core.plant.records import Cable, Way
from passerelle.core.plant.site import Plant, cable_length_m
from passerelle.core.sources import Frozen, Source, derived

HEAD = derived("geometry: a stiff cylinder in a round bore, and at a bend between its inner and its outer wall")


class PullWarning(Frozen):
    """Something to mind at the pull; ``breaks`` when a limit is not kept."""

    what: str
    breaks: bool
    source: Source | None = None


def leading_end(cables: Sequence[Cable]) -> Literal["near", "far"] | None:
    """The end that must lead because only it has a pulling head; None where either may, or nothing is known."""
    heads = {cable.head_at for cable in cables if cable.head_at in ("near", "far")}
    return heads.pop() if len(heads) == 1 else None


def passes_bend(head_mm: float, head_length_mm: float, bore_mm: float, radius_m: float) -> bool:
    """Whether a stiff head goes round a bend of a bore.

    The bore's inner wall is at r − D/2 from the bend's center, its outer wall at r + D/2. A head of diameter d and
    length l that lies on the inner wall has its far corners at √((r − D/2 + d)² + (l/2)²), which must be inside the
    outer wall.

    Args:
        head_mm: diameter of the head in mm.
        head_length_mm: its stiff length in mm.
        bore_mm: inner diameter of the bore in mm.
        radius_m: radius of the bend's center line in m.

    >>> passes_bend(20, 60, 32, 0.3), passes_bend(30, 300, 32, 0.3)
    (True, False)
    """
    radius_mm = radius_m * 1000
    inner, outer = radius_mm - bore_mm / 2, radius_mm + bore_mm / 2
    if inner < 0 or head_mm > bore_mm:
        return False
    return (inner + head_mm) ** 2 + (head_length_mm / 2) ** 2 <= outer**2


def head_warnings(cable: Cable, ways: Sequence[Way], plant: Plant) -> list[PullWarning]:
    """What a factory-made cable's head and length mean for these ways; nothing for a cable that is cut on site."""
    found = [*_too_short(cable, plant)]
    if not cable.factory_made:
        return found
    bores = [way for way in ways if way.bore_mm is not None]
    if cable.head_mm is None and bores:
        what = f"The head of {cable.name} is not known: its plugs are pulled with it, measure it against the bore."
        return [*found, PullWarning(what=what, breaks=False)]
    found += [warning for way in bores for warning in _through(cable, way, plant)]
    if cable.head_at == "unknown":
        what = f"It is not known which end of {cable.name} has its pulling head: that end leads."
        found.append(PullWarning(what=what, breaks=False))
    return found


def _through(cable: Cable, way: Way, plant: Plant) -> list[PullWarning]:
    head, bore = cable.head_mm or 0.0, way.bore_mm or 0.0
    if head >= bore:
        what = f"The head of {cable.name}, {head:g} mm, does not enter {way.name}, {bore:g} mm inside."
        return [PullWarning(what=what, breaks=True, source=HEAD)]
    others = [
        c.diameter_mm for c in plant.cables_in[way.id] if c.id != cable.id and c.state not in (*NEW_STATES, "dead")
    ]
    known = [diameter for diameter in others if diameter is not None]
    if known and head + max(known) > bore:
        what = (
            f"The head of {cable.name}, {head:g} mm, does not pass the cable of {max(known):g} mm that lies in "
            f"{way.name}, {bore:g} mm inside."
        )
        return [PullWarning(what=what, breaks=True, source=HEAD)]
    if not any(way.bends_deg):
        return []
    if cable.head_length_mm is None:
        what = f"The stiff length of the head of {cable.name} is not known: try it in the bends of {way.name}."
        return [PullWarning(what=what, breaks=False)]
    radius_m = way.bend_radius_m or plant_figures().pull.bend_radius_m
    if passes_bend(head, cable.head_length_mm, bore, radius_m):
        return []
    what = (
        f"The head of {cable.name}, {head:g} mm and {cable.head_length_mm:g} mm long, does not go round a bend of "
        f"{radius_m:g} m in {way.name}, {bore:g} mm inside."
    )
    return [PullWarning(what=what, breaks=True, source=HEAD)]


def _too_short(cable: Cable, plant: Plant) -> list[PullWarning]:
    if cable.sold_length_m is None:
        return []
    needed_m = cable_length_m(cable, plant)
    missing_m = needed_m - cable.sold_length_m
    if missing_m > 0:
        bought = f"{cable.name} was bought at {cable.sold_length_m:g} m"
        what = f"{bought}, the way takes {needed_m:g} m: {missing_m:g} m short."
        return [PullWarning(what=what, breaks=True)]
    left_m = -missing_m
    if cable.factory_made and left_m > 0:
        return [
            PullWarning(what=f"{left_m:g} m of {cable.name} are left: plan where they lie coiled.", breaks=False)
        ]
    return []
