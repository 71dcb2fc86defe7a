"""Offset launch: 1310 nm lasers on legacy multimode, and the mode-conditioning cords that they need."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from passerelle.core.catalog.records import Application, ReachRow
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule, Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import called
from passerelle.core.link.compose import Chain, Standing
from passerelle.core.rules.by_length import FAIL, MARGINAL, Bools, Links, Pointed, Ranks, if_firm
from passerelle.core.sources import Source
from passerelle.core.units import format_length

LAUNCH_FLIPPED = Rule("launch.flipped", "budget")
LAUNCH_OMITTED = Rule("launch.omitted", "budget")
LAUNCH_NOT_SAID = Rule("launch.not_said", "budget")
LAUNCH_OFFSET_MISSING = Rule("launch.offset_missing", "budget")
LAUNCH_NOT_WANTED = Rule("launch.not_wanted", "budget")
LAUNCH_CORE = Rule("launch.core", "budget")

CORDS = Source(
    body="IEEE",
    document="802.3-2022",
    clause="38.11.4",
    note="offset-launch mode-conditioning cord",
)


LONG_WAVE_NM = 1260
LASER_OPTIMIZED = ("OM3", "OM4", "OM5")


def launch_findings(chain: Chain, application: Application, row: ReachRow, catalog: Catalog) -> list[Finding]:
    """Where a mode-conditioning cord is turned round, of the wrong core, or not wanted at all."""
    cords = [line for line in chain.glass if line.traits.offset_launch]
    if row.launch != "offset-launch":
        return [_not_wanted(cord, application, row) for cord in cords]
    found = [
        _flipped(end, beside, row)
        for end, beside, right in _ends(chain, application)
        if beside and beside.traits.offset_launch and beside.traits.offset_launch != ("left" if right else "right")
    ]
    for cord in cords:
        found += _core(chain, cord, catalog)
    return found


def launch_rules(chain: Chain, application: Application, row: ReachRow, house: HouseRules) -> list[MissingLaunch]:
    """A rule for each module that has no mode-conditioning cord and whose row asks for one."""
    if row.launch != "offset-launch":
        return []
    return [
        MissingLaunch(chain, end, application, row, house)
        for end, beside, _ in _ends(chain, application)
        if beside is None or beside.traits.offset_launch is None
    ]


def _ends(chain: Chain, application: Application) -> Iterator[tuple[Standing, Standing | None, bool]]:
    """Each module of an application, the part beside it towards the middle, and whether that is to the right."""
    for end in chain.ends:
        if end.traits.optics is None or end.traits.optics.application != application.name:
            continue
        right = end.position < len(chain.places) / 2
        beside = end.position + (1 if right else -1)
        place = chain.places[beside] if 0 <= beside < len(chain.places) else None
        yield end, place if isinstance(place, Standing) else None, right


def _flipped(end: Standing, cord: Standing, row: ReachRow) -> Finding:
    return LAUNCH_FLIPPED.fail(
        (end.id, cord.id),
        "The mode-conditioning cord is the wrong way round.",
        "Its single-mode leg belongs on the transmitter; at the other end it does nothing.",
        row.launch_source or CORDS,
    )


@dataclass(frozen=True)
class MissingLaunch:
    """A module without the offset-launch cord that its row asks for.

    Below the house's length it is a named departure, on laser-optimized glass a doubt, else it breaks the link.
    """

    chain: Chain
    end: Standing
    application: Application
    row: ReachRow
    house: HouseRules

    def rank(self, links: Links) -> Ranks:
        """Marginal where it is omitted on purpose or the clause does not insist, else a fail."""
        insists = MARGINAL if self.row.fiber in LASER_OPTIMIZED else FAIL
        return np.where(self._omitted(links), MARGINAL, insists)

    def firm(self, links: Links) -> Ranks:
        """What the clause asks where it is no estimate."""
        return if_firm(self.rank(links), self.source)

    def points(self, links: Links) -> list[Pointed]:
        """The module."""
        return [(self.end.position, self.rank(links))]

    def say(self, links: Links) -> list[Finding]:
        """The cord that is missing."""
        if self._omitted(links)[0]:
            return [self._departure().of(fiber=self.row.fiber, house_from_m=self.house.offset_launch_from_m)]
        found = self._doubt() if self.rank(links)[0] == MARGINAL else self._missing()
        return [found.of(fiber=self.row.fiber)]

    @property
    def source(self) -> Source:
        """Where the launch is asked for."""
        return self.row.launch_source or CORDS

    @property
    def _what(self) -> str:
        cord = "an offset-launch (mode-conditioning) cord"
        return f"{self.application.name} on {self.row.fiber} needs {cord} at each end."

    def _omitted(self, links: Links) -> Bools:
        return (links.total < self.house.offset_launch_from_m) & links.known

    def _departure(self) -> Finding:
        return LAUNCH_OMITTED.caution(
            (self.end.id,),
            f"No offset-launch cord: a house rule of this project, below "
            f"{format_length(self.house.offset_launch_from_m)}, and a departure from the clause.",
            f"{self._what} The clause asks for them at any length.",
            self.source,
            best=Verdict.MARGINAL,
        ).of(below_m=self.house.offset_launch_from_m)

    def _doubt(self) -> Finding:
        return LAUNCH_NOT_SAID.caution(
            (self.end.id,),
            f"{self.application.name} on {self.row.fiber}: the clause prefers an offset-launch cord at each end, "
            "or says nothing of this glass.",
            "Laser-optimized glass has no dip in the middle of its core, which is what the offset avoids; many "
            "links run without. With the cords the clause is kept.",
            self.source,
            best=Verdict.MARGINAL,
        ).of(application=self.application.name, fiber=self.row.fiber)

    def _missing(self) -> Finding:
        return LAUNCH_OFFSET_MISSING.fail(
            (self.end.id,),
            self._what,
            "The single-mode laser lights only the middle of the multimode core; without the offset the pulse "
            "splits. The clause asks for the cords at any length.",
            self.source,
        )


def _not_wanted(cord: Standing, application: Application, row: ReachRow) -> Finding:
    if row.fiber in LASER_OPTIMIZED and application.wavelength_nm >= LONG_WAVE_NM:
        return LAUNCH_NOT_SAID.caution(
            (cord.id,),
            f"The clause says nothing of a mode-conditioning cord under {application.name} on {row.fiber}.",
            "Laser-optimized glass does not need the offset; a plain cord loses less.",
            CORDS,
            best=Verdict.MARGINAL,
        ).of(application=application.name, fiber=row.fiber)
    return LAUNCH_NOT_WANTED.fail(
        (cord.id,),
        f"A mode-conditioning cord does not belong under {application.name} on this glass.",
        "It is made for a 1310 nm laser into legacy multimode; elsewhere its offset loses light.",
        CORDS,
    ).of(application=application.name)


def _core(chain: Chain, cord: Standing, catalog: Catalog) -> list[Finding]:
    grades = cord.traits.grades
    own = catalog.fiber(grades[0]).core_um if grades else None
    others = [
        (line, catalog.fiber(line.traits.grades[0]).core_um)
        for line in chain.glass
        if line.id != cord.id and line.traits.grades
    ]
    odd = [(line, core) for line, core in others if core != own]
    if own is None or not odd:
        return []
    line, core_um = odd[0]
    return [
        LAUNCH_CORE.fail(
            (cord.id, line.id),
            f"The mode-conditioning cord is made for {own:g} µm, {called(chain.link, line.piece)} is "
            f"{core_um:g} µm.",
            "The offset is right for one core only.",
            CORDS,
        ).of(cord_core_um=own, glass_core_um=core_um)
    ]
