"""The catalog, and lengths as people type them."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.schemas import CatalogOut, LengthOut
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.units import format_length, parse_length

router = APIRouter(tags=["catalog"])


def catalog_view() -> CatalogOut:
    """The catalog as lists, in the order of the data files."""
    catalog = load_catalog()
    return CatalogOut(
        applications=tuple(catalog.applications.values()),
        fibers=tuple(catalog.fibers.values()),
        connectors=tuple(catalog.connectors.values()),
        cages=tuple(catalog.cages.values()),
        allowances=tuple(catalog.allowances.values()),
        attenuator=catalog.attenuator,
        forms=tuple(catalog.forms.values()),
        temperature_classes=tuple(catalog.temperature_classes.values()),
        house_rules=dict(catalog.house_rules),
        parts=tuple(catalog.parts.values()),
    )


@router.get("/catalog")
def get_catalog() -> CatalogOut:
    """Everything that exists, each figure with its source."""
    return catalog_view()


@router.get("/length", responses={422: PROBLEM_RESPONSES[422]})
def read_length(text: Annotated[str, Query(max_length=60)]) -> LengthOut:
    """A typed length as it is understood; 422 says why not."""
    length_m = parse_length(text)
    return LengthOut(length_m=length_m, metres=format_length(length_m), feet=format_length(length_m, "ft"))
