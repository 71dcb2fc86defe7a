"""The catalog over the wire."""

from __future__ import annotations

from pydantic import BaseModel

from passerelle.core.catalog.copper_figures import CopperFigures
from passerelle.core.catalog.records import (
    Absent,
    Allowance,
    Application,
    Cage,
    Connector,
    Construction,
    FiberGrade,
    IngressClass,
    ModuleForm,
    Part,
    PolishGrade,
    TemperatureRange,
)
from passerelle.core.catalog.shelves import AttenuatorFigures, HouseRuleText, Marks, Teaching
from passerelle.core.parts.registry import Element
from passerelle.core.parts.spec import Drawing, FieldSpec


class LengthOut(BaseModel):
    """A typed length as it was understood."""

    length_m: float
    metres: str
    feet: str


class CarriesOut(BaseModel):
    """How far in m a grade carries an application where its own loss ends it before the clause's table."""

    application: str
    fiber: str
    reach_m: float


class KindOut(BaseModel):
    """A kind of piece as a screen shows it: its words, its fields with what may be chosen, and what a hand can do.

    ``turns``: turning it round changes it; ``joins``: it joins two faces; ``drawing`` is how it is drawn at least.
    """

    kind: str
    word: str
    title: str
    drawing: Drawing
    insertable: bool
    turns: bool
    joins: bool
    fields: tuple[FieldSpec, ...]


class AdapterOut(BaseModel):
    """What a hole of a panel frame can hold, and what it is called."""

    word: str
    piece: Element


class CatalogOut(BaseModel):
    """The whole catalog."""

    applications: tuple[Application, ...]
    fibers: tuple[FiberGrade, ...]
    connectors: tuple[Connector, ...]
    cages: tuple[Cage, ...]
    allowances: tuple[Allowance, ...]
    attenuator: AttenuatorFigures
    forms: tuple[ModuleForm, ...]
    temperature_classes: tuple[TemperatureRange, ...]
    house_rules: dict[str, HouseRuleText]
    polishes: tuple[PolishGrade, ...]
    constructions: tuple[Construction, ...]
    ingress_classes: tuple[IngressClass, ...]
    absent: tuple[Absent, ...]
    marks: Marks
    parts: tuple[Part, ...]
    teachings: tuple[Teaching, ...]
    copper: CopperFigures
    carries: tuple[CarriesOut, ...]
    kinds: tuple[KindOut, ...]
    adapters: tuple[AdapterOut, ...]
