"""What a cable passes through, against its jacket, its metal, and what copper brings along."""

from __future__ import annotations

from collections.abc import Iterable

from passerelle.core.catalog.records import Jacket, Space
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule, Verdict, firmly
from passerelle.core.link.compose import Chain, Standing
from passerelle.core.parts.part import Traits
from passerelle.core.parts.registry import spec_of
from passerelle.core.sources import Source, estimated

CONSTRUCTION_UNKNOWN = Rule("construction.unknown", "match")
METAL_BESIDE_POWER = Rule("metal.beside_power", "match")
METAL_BONDING = Rule("metal.bonding", "match")
JACKET_NOT_KNOWN = Rule("jacket.not_known", "match")
JACKET_INDOORS = Rule("jacket.indoors", "match")
JACKET_NOT_RATED = Rule("jacket.not_rated", "match")
COPPER_BETWEEN_BUILDINGS = Rule("copper.between_buildings", "match")
COPPER_BESIDE_POWER = Rule("copper.beside_power", "match")
JACKET_UNKNOWN = Rule("jacket.unknown", "match")

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


def space_findings(chain: Chain, catalog: Catalog) -> list[Finding]:
    """Findings on each line whose surroundings are noted: by its construction where it has one, else its jacket."""
    found: list[Finding] = []
    for line in chain.lines:
        if not line.traits.spaces:
            continue
        if line.traits.construction is not None:
            found += _built(line, line.traits, catalog)
        else:
            found += _conductors(line)
            found += _line_jacket(line, line.traits)
    return found


def _built(line: Standing, run: Traits, catalog: Catalog) -> list[Finding]:
    at = (line.id,)
    if not run.construction:
        jacket = _unknown_construction(line, run)
        if "beside power" not in run.spaces:
            return jacket
        return [
            *jacket,
            CONSTRUCTION_UNKNOWN.undecided(
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
            METAL_BESIDE_POWER.fail(
                at,
                f"There is metal in this cable ({made.name}), and power conductors lie beside it.",
                f"A fault puts mains on the armor and on everything that it touches. {DEFER}",
                METAL_SOURCE,
            ).of(construction=made.name)
        )
    if made.metal and "between buildings" in run.spaces:
        found.append(
            METAL_BONDING.note(
                at,
                "The metal in this cable is bonded where it enters a building.",
                f"An electrician decides. {DEFER}",
                made.source,
            )
        )
    needed = [space for space in run.spaces if space not in _NOT_OF_JACKETS]
    printed = run.jacket or "unknown"
    unfit = [space for space in needed if space not in made.spaces and space not in _JACKET_STANDS[printed]]
    if unfit:
        rated = "" if printed == "unknown" else f" with a jacket for '{printed}'"
        found.append(_unfit(at, f"'{made.name}'{rated}", unfit, made.source))
    return found


def _unknown_construction(line: Standing, run: Traits) -> list[Finding]:
    """What the printed jacket alone says; nothing is taken for granted, and what is not known is told."""
    needed = [space for space in run.spaces if space not in _NOT_OF_JACKETS]
    open_to_doubt = [space for space in needed if space not in _JACKET_STANDS[run.jacket or "unknown"]]
    if not open_to_doubt:
        return []
    built_for = run.jacket == "outdoor" and set(open_to_doubt) <= {"buried", "aerial"}
    if run.jacket != "unknown" and not built_for:
        return [_unfit((line.id,), f"A jacket for '{run.jacket}'", open_to_doubt, JACKETS)]
    return [
        JACKET_NOT_KNOWN.caution(
            (line.id,),
            f"It is not known whether this cable is made for where it goes: {' and '.join(open_to_doubt)}.",
            f"Read the print, or note how it is built. {DEFER}",
            JACKETS,
        ).of(spaces=", ".join(open_to_doubt))
    ]


def _unfit(at: tuple[str, ...], what: str, unfit: list[Space], source: Source) -> Finding:
    """An outdoor cable indoors depends on how far it goes in; everything else is not built."""
    named = " and ".join(unfit)
    why = f"{'. '.join(_WHY_NOT[space] for space in unfit)}. {DEFER}"
    if unfit == ["indoors"]:
        words = f"{what} is not rated for indoors."
        return JACKET_INDOORS.caution(at, words, why, source, best=Verdict.MARGINAL).of(what=what)
    return JACKET_NOT_RATED.fail(at, f"{what} is not made for where it goes: {named}.", why, source).of(
        what=what, spaces=named
    )


def _conductors(line: Standing) -> list[Finding]:
    """What current in a line brings along."""
    at, spaces = (line.id,), line.traits.spaces
    if not line.traits.conductors:
        return []
    found: list[Finding] = []
    if "between buildings" in spaces:
        found.append(firmly(COPPER_BETWEEN_BUILDINGS.fail(at, POTENTIAL, DEFER, POTENTIAL_SOURCE)))
    if "beside power" in spaces:
        found.append(
            COPPER_BESIDE_POWER.caution(
                at,
                "Power conductors lie beside this copper.",
                f"Keep the separation that the building's cabling rules ask, or a metal divider. {DEFER}",
                Source(body="TIA", document="TIA-569", clause="separation from power", note="distances by case"),
                best=Verdict.MARGINAL,
            )
        )
    return found


def _line_jacket(line: Standing, traits: Traits) -> list[Finding]:
    """What a flexible or ready-made piece is rated for; a glass cord is not made to leave a building at all."""
    if traits.stays_indoors and "between buildings" in traits.spaces:
        return [_unfit((line.id,), "A cord", [s for s in traits.spaces if s != "beside power"], JACKETS)]
    needed = [space for space in traits.spaces if space not in _NOT_OF_JACKETS]
    jacket: Jacket = traits.jacket or "unknown"
    if jacket == "unknown" and needed:
        return [
            JACKET_UNKNOWN.undecided(
                (line.id,),
                "It is not known what this cable's jacket is rated for.",
                f"It goes through {' and '.join(needed)}: read the print. {DEFER}",
                JACKETS,
            ).of(spaces=", ".join(needed))
        ]
    stands = (traits.outdoor_rated or _JACKET_STANDS["outdoor"]) if jacket == "outdoor" else _JACKET_STANDS[jacket]
    unfit = [space for space in needed if space not in stands]
    what = f"A jacket for '{jacket}' on this {spec_of(line.piece).title}"
    return [_unfit((line.id,), what, unfit, JACKETS)] if unfit else []


def jacket_for(spaces: tuple[Space, ...]) -> Jacket:
    """The first rating of a twisted-pair jacket that stands all of these; ``outdoor`` where no other does."""
    needed = set(spaces) - _NOT_OF_JACKETS
    names: tuple[Jacket, ...] = ("general", "riser", "plenum")
    return next((name for name in names if needed <= _JACKET_STANDS[name]), "outdoor")
