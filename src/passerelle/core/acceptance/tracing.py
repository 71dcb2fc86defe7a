"""How a trace of a link is planned: its stretch, the way that a pulse goes, the pulse, the cords."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from passerelle.core.acceptance.backscatter import (
    Floats,
    Pulse,
    Way,
    best_pulse,
    cords_m,
    expected_db,
    pulse_m,
    pulses,
    way_of,
)
from passerelle.core.acceptance.proof import school_catalog
from passerelle.core.acceptance.stretch import Stretch, Taken, permanent_link, stretch_between
from passerelle.core.budget.loss import Direction
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.errors import AcceptanceError
from passerelle.core.house import HouseRules
from passerelle.core.link.candidates import variants
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose

AVERAGING_S = 15.0


@dataclass(frozen=True)
class Tracing:
    """How a trace of a stretch is planned: the stretch, the way that the pulse goes, the pulse, the cords'
    length.
    """

    stretch: Stretch
    way: Way
    pulse: Pulse
    cords_m: float


def tracing(
    link: Link,
    catalog: Catalog,
    house: HouseRules,
    wavelength_nm: int,
    direction: Direction,
    *,
    pulse_ns: float | None = None,
    launch_m: float | None = None,
    receive_m: float | None = None,
    start: str = "",
    end: str = "",
    lengths_m: dict[str, float] | None = None,
) -> Tracing:
    """Plan a trace: the pulse is the shortest that reaches, the cords as long as it needs, where nothing is said.

    Raises:
        AcceptanceError: the link has no fixed cable between panels, or its grade is not known.
    """
    chain = compose((variants(link) or [link])[0], catalog)
    catalog = school_catalog(catalog, house, chain)
    stretch = stretch_between(chain, start, end) if start and end else permanent_link(chain)
    if stretch is None or not stretch.chain.glass:
        raise AcceptanceError("link", "there is no fixed cable between two panels here: a trace needs one")
    family = stretch.family(catalog)
    if family is None:
        raise AcceptanceError("fiber", "the grade of the glass is not known: say it on the run, then plan a trace")
    grade = house.test_cords == "reference grade"
    taken = Taken("launch and receive cords", wavelength_nm, direction, grade, "trace, one direction")
    bare = way_of(stretch, taken, catalog, launch_m=0.0, receive_m=0.0, lengths_m=lengths_m)
    known = {pulse.pulse_ns: pulse for pulse in pulses(bare, AVERAGING_S)}
    pulse = best_pulse(bare, AVERAGING_S)
    if pulse_ns is not None:
        length = pulse_m(pulse_ns, bare.index)
        other = Pulse(
            pulse_ns=round(pulse_ns),
            length_m=length,
            event_dead_m=length + 0.5,
            loss_dead_m=length + testing_figures().trace.recovery_m,
            range_db=pulse.range_db,
            reaches=True,
        )
        pulse = known.get(round(pulse_ns), other)
    cords = cords_m(family, pulse)
    way = way_of(
        stretch,
        taken,
        catalog,
        launch_m=cords if launch_m is None else launch_m,
        receive_m=cords if receive_m is None else receive_m,
        lengths_m=lengths_m,
    )
    return Tracing(stretch, way, pulse, cords)


def lift_db(planned: Tracing, distances: Floats, levels: Floats) -> float:
    """What lifts a measured trace, in dB, onto the expected one where both are clean fiber: in the launch cord."""
    way = planned.way
    first, last = planned.pulse.loss_dead_m, max(way.launch_m, planned.pulse.loss_dead_m * 2 + 5)
    inside = (distances > first) & (distances < last - 1)
    if not inside.any():
        return 0.0
    return float(np.median(expected_db(way, planned.pulse.pulse_ns, distances[inside]) - levels[inside]))
