"""Which cures are worth trying for which finding."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.chain import Link
from passerelle.core.repairs.copper import (
    category_cures,
    coding_cures,
    glass_cures,
    jacket_cures,
    mixed_cures,
    temperature_cures,
)
from passerelle.core.repairs.effort import caution_for
from passerelle.core.repairs.exchange import core_cures, joint_cures, launch_cures, strand_cures
from passerelle.core.repairs.light import attenuator_cures, loss_cures
from passerelle.core.repairs.optics import grade_cures, ingress_cures, medium_cures, module_cures
from passerelle.core.repairs.polarity import polarity_cures

Cure = Callable[[Link, Finding, Catalog], Iterator[Fix]]


def _launch_or_medium(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    yield from launch_cures(link, finding, catalog)
    yield from medium_cures(link, finding, catalog)


_CURES: dict[str, Cure] = {
    "mating.angled_flat": joint_cures,
    "mating.angled_needed": joint_cures,
    "mating.shape": joint_cures,
    "chain.open": joint_cures,
    "core.mode": core_cures,
    "core.size": core_cures,
    "polarity.dark": polarity_cures,
    "speed.ends_differ": module_cures,
    "speed.port": module_cures,
    "speed.below_wanted": medium_cures,
    "application.differs": module_cures,
    "application.mixed": module_cures,
    "cage.form": module_cures,
    "coding.refused": coding_cures,
    "coding.unknown": coding_cures,
    "fiber.not_for_application": medium_cures,
    "reach.exceeded": medium_cures,
    "launch.offset_missing": _launch_or_medium,
    "launch.omitted": launch_cures,
    "launch.not_said": launch_cures,
    "launch.flipped": launch_cures,
    "launch.not_wanted": launch_cures,
    "mating.strands": strand_cures,
    "pair.same_side": module_cures,
    "temperature.outside": temperature_cures,
    "temperature.unknown": temperature_cures,
    "ingress.too_low": ingress_cures,
    "ingress.unknown": ingress_cures,
    "copper.meets_glass": mixed_cures,
    "copper.between_buildings": glass_cures,
    "copper.too_long": category_cures,
    "copper.category": category_cures,
    "copper.conditional": category_cures,
    "jacket.not_rated": jacket_cures,
    "jacket.indoors": jacket_cures,
    "jacket.unknown": jacket_cures,
    "metal.beside_power": jacket_cures,
    "construction.unknown": jacket_cures,
    "panel.class_not_for_glass": grade_cures,
    "loss.over_limit": loss_cures,
    "margin.thin": loss_cures,
    "light.too_bright": attenuator_cures,
    "light.damage": attenuator_cures,
}


def candidate_cures(link: Link, finding: Finding, catalog: Catalog) -> list[Fix]:
    """All cures worth trying for a finding, least effort first; not yet checked."""
    cure = _CURES.get(finding.code)
    found = list(cure(link, finding, catalog)) if cure else []
    careful = (fix.model_copy(update={"caution": caution_for(fix.effort)}) for fix in found)
    return sorted(careful, key=lambda fix: fix.effort)
