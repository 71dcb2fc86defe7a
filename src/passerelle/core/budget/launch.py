"""Offset launch: 1310 nm lasers on legacy multimode, and the mode-conditioning cords that they need."""

from __future__ import annotations

from passerelle.core.catalog.records import Application, ReachRow
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Verdict, caution, fail
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, called, glass, length_m
from passerelle.core.link.elements import Cord, Module
from passerelle.core.sources import Source
from passerelle.core.units import format_length

CORDS = Source(
    body="IEEE",
    document="802.3-2022",
    clause="38.11.4",
    note="offset-launch mode-conditioning patch cord",
)


LONG_WAVE_NM = 1260
LASER_OPTIMIZED = ("OM3", "OM4", "OM5")


def launch_findings(
    link: Link, application: Application, row: ReachRow, catalog: Catalog, house: HouseRules
) -> list[Finding]:
    """Where a mode-conditioning cord is missing, turned round, of the wrong core, or not wanted at all."""
    cords = [c for c in glass(link) if isinstance(c, Cord) and c.offset_launch]
    if row.launch != "offset-launch":
        return [_not_wanted(cord, application, row) for cord in cords]
    found: list[Finding] = []
    for position, element in enumerate(link.elements):
        if isinstance(element, Module) and element.application == application.name:
            found += _at_module(link, position, application, row, house)
    for cord in cords:
        found += _core(link, cord, catalog)
    return found


def _at_module(
    link: Link, position: int, application: Application, row: ReachRow, house: HouseRules
) -> list[Finding]:
    right = position < len(link.elements) / 2
    beside = position + 1 if right else position - 1
    cord = link.elements[beside] if 0 <= beside < len(link.elements) else None
    source = row.launch_source or CORDS
    module = link.elements[position]
    if not isinstance(cord, Cord) or cord.offset_launch is None:
        return [_missing(link, module.id, application, row, source, house)]
    if cord.offset_launch != ("left" if right else "right"):
        return [
            fail(
                "launch.flipped",
                (module.id, cord.id),
                "The mode-conditioning cord is the wrong way round.",
                "Its single-mode leg belongs on the transmitter; at the other end it does nothing.",
                source,
            )
        ]
    return []


def _missing(
    link: Link, module: str, application: Application, row: ReachRow, source: Source, house: HouseRules
) -> Finding:
    total_m = length_m(link)
    what = f"{application.name} on {row.fiber} needs an offset-launch (mode-conditioning) cord at each end."
    if total_m is not None and total_m < house.offset_launch_from_m:
        return caution(
            "launch.omitted",
            (module,),
            f"No offset-launch cord: a house rule of this project, below "
            f"{format_length(house.offset_launch_from_m)}, and a departure from the clause.",
            f"{what} The clause asks for them at any length.",
            source,
            best=Verdict.MARGINAL,
        )
    if row.fiber in LASER_OPTIMIZED:
        return caution(
            "launch.not_said",
            (module,),
            f"{application.name} on {row.fiber}: the clause prefers an offset-launch cord at each end, or says "
            "nothing of this glass.",
            "Laser-optimized glass has no dip in the middle of its core, which is what the offset avoids; many "
            "links run without. With the cords the clause is kept.",
            source,
            best=Verdict.MARGINAL,
        )
    return fail(
        "launch.offset_missing",
        (module,),
        what,
        "The single-mode laser lights only the middle of the multimode core; without the offset the pulse "
        "splits. The clause asks for the cords at any length.",
        source,
    )


def _not_wanted(cord: Cord, application: Application, row: ReachRow) -> Finding:
    if row.fiber in LASER_OPTIMIZED and application.wavelength_nm >= LONG_WAVE_NM:
        return caution(
            "launch.not_said",
            (cord.id,),
            f"The clause says nothing of a mode-conditioning cord under {application.name} on {row.fiber}.",
            "Laser-optimized glass does not need the offset; a plain cord loses less.",
            CORDS,
            best=Verdict.MARGINAL,
        )
    return fail(
        "launch.not_wanted",
        (cord.id,),
        f"A mode-conditioning cord does not belong under {application.name} on this glass.",
        "It is made for a 1310 nm laser into legacy multimode; elsewhere its offset loses light.",
        CORDS,
    )


def _core(link: Link, cord: Cord, catalog: Catalog) -> list[Finding]:
    own = catalog.fiber(cord.fiber[0]).core_um if cord.fiber else None
    others = [(p, catalog.fiber(p.fiber[0]).core_um) for p in glass(link) if p.id != cord.id and p.fiber]
    odd = [(piece, core) for piece, core in others if core != own]
    if own is None or not odd:
        return []
    piece, core_um = odd[0]
    return [
        fail(
            "launch.core",
            (cord.id, piece.id),
            f"The mode-conditioning cord is made for {own:g} µm, {called(link, piece)} is {core_um:g} µm.",
            "The offset is right for one core only.",
            CORDS,
        )
    ]
