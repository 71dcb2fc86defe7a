"""The catalog, and lengths as people type them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request

from passerelle.api.address import ROOT
from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.routing import CarefulRoute
from passerelle.api.schemas.catalog import AdapterOut, CarriesOut, CatalogOut, KindOut, LengthOut
from passerelle.api.schemas.common import RowId
from passerelle.api.state import database_of
from passerelle.api.views import catalog_of
from passerelle.core.budget.carries import carries
from passerelle.core.catalog.consistency import CheckLine, check_catalog
from passerelle.core.catalog.copper_figures import copper_figures
from passerelle.core.catalog.own import FigureLine, figure_lines
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.parts.registry import KINDS, Element, adapters, spec_of
from passerelle.core.parts.spec import KindSpec, alike
from passerelle.core.selection.identify import Evidence, Identified, identify
from passerelle.core.units import format_length, parse_length
from passerelle.store import projects as stored

router = APIRouter(prefix=ROOT, tags=["catalog"], route_class=CarefulRoute)


def catalog_view(house: HouseRules | None = None) -> CatalogOut:
    """The catalog as lists, in the order of the data files, a project's own modules last of the applications."""
    catalog = load_catalog() if house is None else catalog_of(house)
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
        constructions=tuple(catalog.constructions.values()),
        polishes=tuple(catalog.polishes.values()),
        ingress_classes=tuple(catalog.ingress_classes.values()),
        absent=catalog.absent,
        marks=catalog.marks,
        parts=tuple(catalog.parts.values()),
        teachings=catalog.teachings,
        copper=copper_figures(),
        carries=tuple(_carried(catalog)),
        kinds=tuple(map(_kind, KINDS)),
        adapters=tuple(_adapter(piece) for piece in adapters()),
    )


def _kind(spec: KindSpec[Any]) -> KindOut:
    return KindOut(
        kind=spec.kind,
        word=spec.word,
        title=spec.title,
        drawing=spec.drawing,
        insertable=spec.fitted is not None,
        turns=spec.turned not in (None, alike),
        joins=spec.joins,
        fields=spec.fields,
    )


def _adapter(piece: Element) -> AdapterOut:
    shape = getattr(piece, "shape", "")
    return AdapterOut(word=f"{shape} {spec_of(piece).word}".strip(), piece=piece)


def _carried(catalog: Catalog) -> Iterator[CarriesOut]:
    """Where the glass itself ends an application before the clause's table does."""
    for application in catalog.applications.values():
        for row in application.reaches:
            found = carries(application, row.fiber, catalog)
            if found is not None and found.limited_by == "loss":
                yield CarriesOut(application=application.name, fiber=row.fiber, reach_m=found.reach_m)


@router.get("/catalog")
def get_catalog() -> CatalogOut:
    """Everything that exists, each figure with its source."""
    return catalog_view()


@router.get("/projects/{project_id}/catalog", responses=PROBLEM_RESPONSES)
def get_project_catalog(request: Request, project_id: RowId) -> CatalogOut:
    """The catalog as a project has it: with its own figures, and its modules from their datasheets."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
    return catalog_view(house)


@router.get("/catalog/checks")
def get_checks() -> list[CheckLine]:
    """The catalog checked against itself, line by line."""
    return list(check_catalog(load_catalog()))


@router.get("/projects/{project_id}/figures", responses=PROBLEM_RESPONSES)
def get_figures(request: Request, project_id: RowId) -> list[FigureLine]:
    """Every figure that a project may replace, as it holds in this one."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
    return figure_lines(load_catalog(), house.own_figures)


@router.post("/identify", responses=PROBLEM_RESPONSES)
def identify_cable(evidence: Evidence) -> Identified:
    """Which grades a cable may be, from what can be seen of it; which look decides best next."""
    return identify(evidence, load_catalog())


@router.get("/length", responses={422: PROBLEM_RESPONSES[422]})
def read_length(text: Annotated[str, Query(max_length=60)]) -> LengthOut:
    """A typed length as it is understood; 422 says why not."""
    length_m = parse_length(text)
    return LengthOut(length_m=length_m, metres=format_length(length_m), feet=format_length(length_m, "ft"))
