"""What a cable passes through, against its jacket, its metal, and what copper brings along."""

from __future__ import annotations

from collections.abc import Iterable

from passerelle.core.catalog.records import Jacket, Space
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Verdict, caution, fail, firmly, note, undecided
from passerelle.core.link.chain import Link
from passerelle.core.link.elements import Assembly, Cord, Run, Twisted
from passerelle.core.sources import Source, estimated

DEFER = "Local codes and licensed people decide."
POTENTIAL = "Copper between buildings carries lightning and differences of ground potential: glass does not."
POTENTIAL_SOURCE = estimated("practice of the trade; surge protection and bonding are licensed work")
METAL_SOURCE = Source(
    body="NFPA",
    document="NFPA 70",
    clause="Article 770",
    note="conductive optical fiber cable and power conductors do not share a raceway",
)
_WHY_NOT: dict[Space, str] = {
    "plenum": "Spaces that carry air ask for a jacket that is rated for them",
    "riser": "A shaft between floors asks for a jacket that does not carry fire upwards",
    "wet": "Water wicks along an indoor cable and freezes in it",
    "sunlight": "Ultraviolet light cracks a jacket that is not made for it",
    "buried": "In the ground a cable is pressed, gnawed at and soaked",
    "aerial": "Between poles a cable carries itself, wind and ice",
    "duct": "A duct fills with water sooner or later",
    "indoors": "Outdoor cable is not rated for fire and goes inside only as far as local code says",
    "between buildings": "A cord ends in the room where it is plugged: outside it is crushed, soaked and cut",
}
_JACKET_STANDS: dict[Jacket, frozenset[Space]] = {
    "unknown": frozenset(),
    "general": frozenset({"indoors"}),
    "low smoke, no halogen": frozenset({"indoors"}),
    "riser": frozenset({"indoors", "riser"}),
    "plenum": frozenset({"indoors", "riser", "plenum"}),
    "outdoor": frozenset({"duct", "wet", "sunlight"}),
}
_OUTDOOR_COPPER: frozenset[Space] = frozenset({"duct", "buried", "aerial", "wet", "sunlight"})
JACKETS = estimated("what jackets of these names are usually rated for: the print and local codes decide")
_NOT_OF_JACKETS: frozenset[Space] = frozenset({"beside power", "between buildings"})


def one_room(spaces: Iterable[Space]) -> bool:
    """Whether a way with these spaces stays in one room or rack, so that a bare cord may be all of it."""
    return set(spaces) <= {"indoors"}


def construction_for(spaces: tuple[Space, ...], catalog: Catalog) -> str:
    """The first construction whose jacket is made for all of these and which has no metal; empty where none is."""
    needed = set(spaces) - _NOT_OF_JACKETS
    fits = (c.name for c in catalog.constructions.values() if needed <= set(c.spaces) and not c.metal)
    return next(fits, "")


def space_findings(link: Link, catalog: Catalog) -> list[Finding]:
    """Findings on each fixed piece whose surroundings are noted."""
    found: list[Finding] = []
    for element in link.elements:
        if isinstance(element, Run) and element.spaces:
            found += _run(element, catalog)
        elif isinstance(element, (Twisted, Assembly)) and element.spaces:
            found += _line(element)
        elif isinstance(element, Cord) and element.spaces:
            found += _line_jacket(element)
    return found


def _run(run: Run, catalog: Catalog) -> list[Finding]:
    at = (run.id,)
    if not run.construction:
        jacket = _unknown_construction(run)
        if "beside power" not in run.spaces:
            return jacket
        return [
            *jacket,
            undecided(
                "construction.unknown",
                at,
                "Power conductors lie beside this run, and it is not known whether there is metal in it.",
                f"Only all-dielectric cable may lie beside them, where the local code says so. {DEFER}",
                METAL_SOURCE,
            ),
        ]
    made = catalog.construction(run.construction)
    found: list[Finding] = []
    if made.metal and "beside power" in run.spaces:
        found.append(
            fail(
                "metal.beside_power",
                at,
                f"There is metal in this cable ({made.name}), and power conductors lie beside it.",
                f"A fault puts mains on the armor and on everything that it touches. {DEFER}",
                METAL_SOURCE,
            )
        )
    if made.metal and "between buildings" in run.spaces:
        found.append(
            note(
                "metal.bonding",
                at,
                "The metal in this cable is bonded where it enters a building.",
                f"An electrician decides. {DEFER}",
                made.source,
            )
        )
    needed = [space for space in run.spaces if space not in _NOT_OF_JACKETS]
    unfit = [space for space in needed if space not in made.spaces and space not in _JACKET_STANDS[run.jacket]]
    if unfit:
        rated = "" if run.jacket == "unknown" else f" with a jacket for '{run.jacket}'"
        found.append(_unfit(at, f"'{made.name}'{rated}", unfit, made.source))
    return found


def _unknown_construction(run: Run) -> list[Finding]:
    """What the printed jacket alone says; nothing is taken for granted, and what is not known is told."""
    needed = [space for space in run.spaces if space not in _NOT_OF_JACKETS]
    open_to_doubt = [space for space in needed if space not in _JACKET_STANDS[run.jacket]]
    if not open_to_doubt:
        return []
    built_for = run.jacket == "outdoor" and set(open_to_doubt) <= {"buried", "aerial"}
    if run.jacket != "unknown" and not built_for:
        return [_unfit((run.id,), f"A jacket for '{run.jacket}'", open_to_doubt, JACKETS)]
    return [
        caution(
            "jacket.not_known",
            (run.id,),
            f"It is not known whether this cable is made for where it goes: {' and '.join(open_to_doubt)}.",
            f"Read the print, or note how it is built. {DEFER}",
            JACKETS,
        )
    ]


def _unfit(at: tuple[str, ...], what: str, unfit: list[Space], source: Source) -> Finding:
    """An outdoor cable indoors depends on how far it goes in; everything else is not built."""
    named = " and ".join(unfit)
    why = f"{'. '.join(_WHY_NOT[space] for space in unfit)}. {DEFER}"
    if unfit == ["indoors"]:
        words = f"{what} is not rated for indoors."
        return caution("jacket.indoors", at, words, why, source, best=Verdict.MARGINAL)
    return fail("jacket.not_rated", at, f"{what} is not made for where it goes: {named}.", why, source)


def _line(line: Twisted | Assembly) -> list[Finding]:
    at = (line.id,)
    found: list[Finding] = []
    optical = isinstance(line, Assembly) and line.made == "active optical"
    if "between buildings" in line.spaces and not optical:
        found.append(firmly(fail("copper.between_buildings", at, POTENTIAL, DEFER, POTENTIAL_SOURCE)))
    if "beside power" in line.spaces and not optical:
        found.append(
            caution(
                "copper.beside_power",
                at,
                "Power conductors lie beside this copper.",
                f"Keep the separation that the building's cabling rules ask, or a metal divider. {DEFER}",
                Source(body="TIA", document="TIA-569", clause="separation from power", note="distances by case"),
                best=Verdict.MARGINAL,
            )
        )
    return [*found, *_line_jacket(line)]


def _line_jacket(line: Twisted | Assembly | Cord) -> list[Finding]:
    """What a flexible or ready-made piece is rated for; a glass cord is not made to leave a building at all."""
    if isinstance(line, Cord) and "between buildings" in line.spaces:
        return [_unfit((line.id,), "A patch cord", [s for s in line.spaces if s != "beside power"], JACKETS)]
    needed = [space for space in line.spaces if space not in _NOT_OF_JACKETS]
    jacket: Jacket = "general" if isinstance(line, Assembly) else line.jacket
    if jacket == "unknown" and needed:
        return [
            undecided(
                "jacket.unknown",
                (line.id,),
                "It is not known what this cable's jacket is rated for.",
                f"It goes through {' and '.join(needed)}: read the print. {DEFER}",
                JACKETS,
            )
        ]
    outdoors = _OUTDOOR_COPPER if isinstance(line, Twisted) else _JACKET_STANDS["outdoor"]
    stands = outdoors if jacket == "outdoor" else _JACKET_STANDS[jacket]
    unfit = [space for space in needed if space not in stands]
    what = {
        "twisted": f"A twisted-pair jacket for '{jacket}'",
        "assembly": "An assembly's jacket",
        "cord": f"A patch cord with a jacket for '{jacket}'",
    }[line.kind]
    return [_unfit((line.id,), what, unfit, JACKETS)] if unfit else []


def jacket_for(spaces: tuple[Space, ...]) -> Jacket:
    """The first rating of a twisted-pair jacket that stands all of these; ``outdoor`` where no other does."""
    needed = set(spaces) - _NOT_OF_JACKETS
    names: tuple[Jacket, ...] = ("general", "riser", "plenum")
    return next((name for name in names if needed <= _JACKET_STANDS[name]), "outdoor")
