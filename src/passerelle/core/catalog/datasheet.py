"""A module from its datasheet: an application of a project's own, with the figures that its maker guarantees."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field, model_validator

from passerelle.core.catalog.records import (
    Application,
    Family,
    Polish,
    ReachRow,
    ReceivePower,
    TransmitPower,
)
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import CatalogError
from passerelle.core.sources import Frozen, Source, derived, estimated
from passerelle.core.units import typed_length

Dbm = Annotated[float, Field(ge=-60, le=40, allow_inf_nan=False)]
Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^\S(.*\S)?$")]
Metres = Annotated[float, BeforeValidator(typed_length), Field(gt=0, le=1e6, allow_inf_nan=False)]
ZERO_DISPERSION_NM = (1300.0, 1324.0)
SLOPE_PS_PER_NM2_KM = 0.092
DISPERSION = Source(
    body="ITU-T",
    document="G.652 (11/2016)",
    clause="Table 2, chromatic dispersion",
    note="zero between 1300 and 1324 nm, slope at most 0.092 ps/nm²·km",
)
_UNSAID_PENALTY_DB = 2.0


class GradeReach(Frozen):
    """How far the datasheet says that the module goes on a grade, in m."""

    grade: str
    reach_m: Metres


class Datasheet(Frozen):
    """A module as its datasheet has it. Powers are average, in dBm a lane; None where the sheet does not say.

    ``like`` is the class of the catalog that it is nearest to: what the sheet leaves open is taken from there and
    makes verdicts *on estimate*. ``works_with`` names applications that the sheet says it may face; ``partner`` is
    the other side of a pair over one strand. ``source`` is title and date.
    """

    name: Name
    like: Name
    rate_mbps: Annotated[int, Field(gt=0, le=1_000_000)]
    wavelengths_nm: Annotated[
        tuple[Annotated[int, Field(ge=600, le=1700)], ...], Field(min_length=1, max_length=16)
    ]
    families: Annotated[tuple[Family, ...], Field(min_length=1, max_length=2)] = ("single-mode",)
    fibers: Literal[1, 2] = 2
    partner: Annotated[str, Field(max_length=60)] = ""
    works_with: Annotated[tuple[Name, ...], Field(max_length=12)] = ()
    connector: Literal["LC", "SC", "ST", "FC"] = "LC"
    polish: Polish = "UPC"
    forms: Annotated[tuple[Name, ...], Field(min_length=1, max_length=6)]
    launch_min_dbm: Dbm | None = None
    launch_max_dbm: Dbm | None = None
    sensitivity_dbm: Dbm | None = None
    overload_dbm: Dbm | None = None
    damage_dbm: Dbm | None = None
    penalty_db: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] | None = None
    dispersion_ps_per_nm: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)] | None = None
    reaches: Annotated[tuple[GradeReach, ...], Field(max_length=20)] = ()
    source: Annotated[str, Field(min_length=3, max_length=200, description="title and date of the datasheet")]

    @model_validator(mode="after")
    def _ordered(self) -> Datasheet:
        pairs = (
            ("launch_min_dbm", "launch_max_dbm"),
            ("sensitivity_dbm", "overload_dbm"),
            ("overload_dbm", "damage_dbm"),
        )
        for low, high in pairs:
            one, other = getattr(self, low), getattr(self, high)
            if one is not None and other is not None and one > other:
                raise ValueError(f"{low} ({one:g}) is above {high} ({other:g}): they are swapped, or one is off")
        if (self.fibers == 1) != bool(self.partner):
            raise ValueError(
                "partner: a module for one strand names the other side of its pair, and only such a one"
            )
        return self

    @property
    def guaranteed(self) -> Source:
        """The datasheet as a source."""
        return Source(body="datasheet", note=self.source)


def dispersion_ps_per_nm_km(wavelength_nm: float) -> float:
    """The most that G.652 glass spreads light of a wavelength in nm, as |D| in ps/nm·km (ITU-T G.652, Table 2).

    D(λ) = S₀/4 · (λ − λ₀⁴/λ³) with the zero λ₀ between 1300 and 1324 nm and the slope S₀ at most 0.092 ps/nm²·km;
    of all such glass the worst counts.

    >>> round(dispersion_ps_per_nm_km(1550), 1)
    18.0
    """
    return max(
        abs(SLOPE_PS_PER_NM2_KM / 4 * (wavelength_nm - zero**4 / wavelength_nm**3)) for zero in ZERO_DISPERSION_NM
    )


def application_of(sheet: Datasheet, catalog: Catalog) -> Application:
    """The application that a datasheet makes, with every figure that it lacks taken from its nearest class.

    Raises:
        CatalogError: the nearest class or a form does not exist, no reach is known for any glass, or a figure is
            out of order with one that was taken from the class.
    """
    near = catalog.application(sheet.like)
    for form in sheet.forms:
        catalog.form(form)
    if sheet.rate_mbps != near.rate_mbps:
        rate = f"{sheet.rate_mbps} Mb/s"
        raise CatalogError(f"{sheet.name}: {near.name} runs at another rate: start from a class of {rate}")
    tx = _launch(sheet, near)
    rx = _receiver(sheet, near)
    if tx.min > tx.max or rx.sensitivity > rx.overload:
        raise CatalogError(
            f"{sheet.name}: launch {tx.min:g} to {tx.max:g} dBm and receiver {rx.sensitivity:g} to "
            f"{rx.overload:g} dBm do not follow each other: what the sheet leaves open came from {near.name}, say "
            "it too"
        )
    rows = tuple(row for grade in catalog.fibers if (row := _row(sheet, near, grade, tx, rx, catalog)) is not None)
    if not rows:
        families = " or ".join(sheet.families)
        raise CatalogError(f"{sheet.name}: say how far it goes: {near.name} has no row for {families}")
    return Application(
        name=sheet.name,
        partner=sheet.partner or None,
        rate_mbps=sheet.rate_mbps,
        lanes=len(sheet.wavelengths_nm),
        fibers=sheet.fibers,
        family=sheet.families[0],
        wavelengths_nm=sheet.wavelengths_nm,
        connector=sheet.connector,
        polish=sheet.polish,
        forms=sheet.forms,
        tx_power_dbm=tx,
        rx_power_dbm=rx,
        reaches=rows,
        interoperates=sheet.works_with,
        interoperates_source=sheet.guaranteed if sheet.works_with else None,
        sources=(sheet.guaranteed,),
        note=f"From its datasheet; nearest to {near.name}.",
    )


def _from_sheet(sheet: Datasheet, near: Application, *given: float | None) -> Source:
    """The sheet, where it has all of these; else an estimate that says from where the rest is."""
    if None not in given:
        return sheet.guaranteed
    return estimated(f"datasheet {sheet.source}; what it does not say is taken from {near.name}")


def _launch(sheet: Datasheet, near: Application) -> TransmitPower:
    low, high = sheet.launch_min_dbm, sheet.launch_max_dbm
    return TransmitPower(
        min=low if low is not None else near.tx_power_dbm.min,
        max=high if high is not None else near.tx_power_dbm.max,
        kind="average",
        per_lane=True,
        source=_from_sheet(sheet, near, low, high),
    )


def _receiver(sheet: Datasheet, near: Application) -> ReceivePower:
    """A damage level that the sheet does not give is that of the class; where it has none it is the overload."""
    low, high, burnt = sheet.sensitivity_dbm, sheet.overload_dbm, sheet.damage_dbm
    overload = high if high is not None else near.rx_power_dbm.overload
    known = burnt if burnt is not None else near.rx_power_dbm.damage
    return ReceivePower(
        sensitivity=low if low is not None else near.rx_power_dbm.sensitivity,
        overload=overload,
        damage=known if known is None or known >= overload else overload,
        kind="average",
        per_lane=True,
        source=_from_sheet(sheet, near, low, high),
    )


def _row(
    sheet: Datasheet, near: Application, grade: str, tx: TransmitPower, rx: ReceivePower, catalog: Catalog
) -> ReachRow | None:
    fiber = catalog.fiber(grade)
    if fiber.family not in sheet.families:
        return None
    reach = _reach(sheet, near, grade, fiber.family)
    if reach is None:
        return None
    reach_m, source = reach
    penalty_db = sheet.penalty_db if sheet.penalty_db is not None else _UNSAID_PENALTY_DB
    given = (sheet.launch_min_dbm, sheet.sensitivity_dbm, sheet.penalty_db)
    like = near.row(grade)
    return ReachRow(
        fiber=grade,
        reach_m=reach_m,
        min_length_m=2.0,
        max_insertion_loss_db=max(0.0, round(tx.min - rx.sensitivity - penalty_db, 6)),
        no_split="the datasheet has powers, no split into connections and cable",
        launch=like.launch if like else "any",
        launch_source=like.launch_source if like else None,
        source=source,
        loss_source=_from_sheet(sheet, near, *given),
    )


def _reach(sheet: Datasheet, near: Application, grade: str, family: Family) -> tuple[float, Source] | None:
    """How far in m, and from where: said for the grade, by the dispersion that it stands, or the class's row."""
    said = next((one.reach_m for one in sheet.reaches if one.grade == grade), None)
    found: list[tuple[float, Source]] = []
    if said is not None:
        found.append((said, sheet.guaranteed))
    if family == "single-mode" and sheet.dispersion_ps_per_nm is not None:
        worst = max(dispersion_ps_per_nm_km(nm) for nm in sheet.wavelengths_nm)
        tolerance = f"{sheet.dispersion_ps_per_nm:g} ps/nm of the datasheet"
        told = f"{tolerance} over at most {worst:.1f} ps/nm·km ({DISPERSION.text})"
        found.append((round(sheet.dispersion_ps_per_nm / worst * 1000, 3), derived(told)))
    if found:
        return min(found, key=lambda one: one[0])
    row = near.row(grade)
    if row is None:
        return None
    return row.reach_m, estimated(f"reach of {near.name}: the datasheet {sheet.source} does not say how far")


def with_datasheets(catalog: Catalog, sheets: tuple[Datasheet, ...]) -> Catalog:
    """The catalog with a project's own modules among its applications.

    Raises:
        CatalogError: a name that exists already, a partner that does not, or what ``application_of`` raises.
    """
    return _with_datasheets(catalog, sheets) if sheets else catalog


@lru_cache(maxsize=16)
def _with_datasheets(catalog: Catalog, sheets: tuple[Datasheet, ...]) -> Catalog:
    applications = dict(catalog.applications)
    for sheet in sheets:
        if sheet.name in applications:
            raise CatalogError(f"'{sheet.name}' stands in the catalog already: give the module another name")
        applications[sheet.name] = application_of(sheet, catalog)
    for sheet in sheets:
        for name in (*sheet.works_with, *((sheet.partner,) if sheet.partner else ())):
            if name not in applications:
                raise CatalogError(f"{sheet.name}: there is no '{name}' that it could face: add that module first")
        if sheet.partner and applications[sheet.partner].fibers != 1:
            raise CatalogError(f"{sheet.name}: its partner {sheet.partner} is not made for one strand")
    return replace(catalog, applications=applications)
