"""Loading the catalog's data files and looking things up in them."""

from __future__ import annotations

import tomllib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Annotated, Any, TypeVar

from pydantic import Field, ValidationError

from passerelle.core.catalog.records import (
    LEG,
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
    ReachRow,
    SelfHeating,
    TemperatureRange,
)
from passerelle.core.errors import CatalogError
from passerelle.core.remembered import by_identity
from passerelle.core.sources import Frozen, Source, derived

Item = TypeVar(
    "Item",
    Application,
    FiberGrade,
    Connector,
    PolishGrade,
    Cage,
    ModuleForm,
    Allowance,
    Construction,
    Part,
    TemperatureRange,
    IngressClass,
)


class AttenuatorFigures(Frozen):
    """Tolerance of a fixed attenuator (dB), of a variable one as it is set, and the fixed values that are sold."""

    name: str = "attenuator"
    tolerance_db: Annotated[float, Field(ge=0)]
    tolerance_share: Annotated[float, Field(ge=0)]
    source: Source
    variable_tolerance_db: Annotated[float, Field(ge=0)]
    variable_source: Source
    steps_db: tuple[float, ...]
    steps_source: Source

    def tolerance_of(self, value_db: float) -> float:
        """Deviation in dB to expect of an attenuator marked ``value_db``."""
        return max(self.tolerance_db, self.tolerance_share * value_db)


class JacketMarks(Frozen):
    """How jackets tell grades: ``other`` is the weight of a grade whose scheme has another color.

    ``silent`` colors say nothing; ``elsewhere`` names the glass of colors that no grade of the catalog has;
    ``military`` the grades of colors that only military cable has.
    """

    title: str
    other: float
    silent: tuple[str, ...]
    source: Source
    elsewhere: dict[str, str]
    elsewhere_source: Source
    military: dict[str, tuple[str, ...]]


class ConnectorMarks(Frozen):
    """Which grades a connector color stands for."""

    title: str
    other: float
    colors: dict[str, tuple[str, ...]]
    source: Source


class BootMarks(Frozen):
    """How well the color of a boot tells what the color of its plug does; boots are exchanged more often."""

    title: str
    other: float
    source: Source


class ShapeMarks(Frozen):
    """Which grades a plug of a shape was usually put on; a shape that is not listed tells nothing.

    ``older`` shapes are only named, with how they are met: no link of the catalog has them.
    """

    title: str
    other: float
    older: dict[str, str]
    usual: dict[str, tuple[str, ...]]
    source: Source


class PolishMarks(Frozen):
    """Which grades a face stands for; a face that is not listed tells nothing."""

    title: str
    other: float
    faces: dict[str, tuple[str, ...]]
    source: Source


class ColorCode(Frozen):
    """An order of colors of strands and tubes, repeated with a tracer beyond its end; empty: by number only."""

    name: str
    order: tuple[str, ...]
    source: Source

    def color(self, number: int) -> str:
        """The color of a position from 1 on, with tracers beyond the order's end; empty in a code without colors.

        >>> ColorCode(name="x", order=("blue", "orange"), source="estimate; example").color(3)
        'blue with tracer'
        """
        if not self.order:
            return ""
        tracers, position = divmod(number - 1, len(self.order))
        marked = {0: "", 1: " with tracer"}.get(tracers, f" with {tracers} tracers")
        return f"{self.order[position]}{marked}"


class StrandColors(Frozen):
    """The color codes of cables; the first is taken where a cable does not say its own."""

    codes: tuple[ColorCode, ...]

    @property
    def order(self) -> tuple[str, ...]:
        """The first code's order."""
        return self.codes[0].order

    def code(self, name: str) -> ColorCode:
        """The code of this name; raises CatalogError."""
        found = next((code for code in self.codes if code.name == name), None)
        if found is None:
            known = ", ".join(code.name for code in self.codes)
            raise CatalogError(f"no color code is called '{name}': the catalog has {known}")
        return found


class Marks(Frozen):
    """What can be seen of a cable, the color order of its strands, and the print by grade."""

    jacket: JacketMarks
    connector: ConnectorMarks
    boot: BootMarks
    shape: ShapeMarks
    polish: PolishMarks
    strands: StrandColors
    print: dict[str, tuple[str, ...]]


class Teaching(Frozen):
    """A disputed teaching that people bring along, and the answer with the rows of the catalog that decide it."""

    claim: str
    answer: str
    rows: tuple[tuple[str, str], ...]
    sources: tuple[Source, ...]


class HouseRuleText(Frozen):
    """A house rule's default, why it is what it is, and what each of its choices means."""

    default: float | str
    title: str
    reason: str
    unit: str = ""
    choices: dict[str, str] = Field(default_factory=dict)
    source: Source


@dataclass(frozen=True, eq=False)
class Catalog:
    """All shelves, by name. Look-ups raise CatalogError with the names that do exist."""

    applications: Mapping[str, Application]
    fibers: Mapping[str, FiberGrade]
    connectors: Mapping[str, Connector]
    polishes: Mapping[str, PolishGrade]
    constructions: Mapping[str, Construction]
    cages: Mapping[str, Cage]
    forms: Mapping[str, ModuleForm]
    temperature_classes: Mapping[str, TemperatureRange]
    ingress_classes: Mapping[str, IngressClass]
    self_heating: SelfHeating
    allowances: Mapping[str, Allowance]
    parts: Mapping[str, Part]
    attenuator: AttenuatorFigures
    house_rules: Mapping[str, HouseRuleText]
    marks: Marks
    absent: tuple[Absent, ...] = ()
    teachings: tuple[Teaching, ...] = ()
    reel_m: float = 6000.0
    calibration_days: float = 365.0

    def application(self, name: str) -> Application:
        """The application of this clause name."""
        if name not in self.applications:
            whole, _, legs = name.partition(LEG)
            if legs.isdecimal() and whole in self.applications:
                split = self.applications[whole].split_into(int(legs))
                if split is not None:
                    return _leg(
                        self.applications[whole], (split.legs, self.applications[split.speaks].interoperates)
                    )
            for missing in self.absent:
                if name in missing.names:
                    raise CatalogError(f"'{name}' exists and is not offered: {missing.reason}")
        return _find(self.applications, name, "application")

    def fiber(self, name: str) -> FiberGrade:
        """The fiber grade of this name."""
        return _find(self.fibers, name, "fiber")

    def cage(self, name: str) -> Cage:
        """The cage of this name."""
        return _find(self.cages, name, "cage")

    def form(self, name: str) -> ModuleForm:
        """The module form of this name."""
        return _find(self.forms, name, "module form")

    def temperature_class(self, name: str) -> TemperatureRange:
        """The temperature class of this name."""
        return _find(self.temperature_classes, name, "temperature class")

    def construction(self, name: str) -> Construction:
        """The cable construction of this name."""
        return _find(self.constructions, name, "cable construction")

    def allowance(self, name: str) -> Allowance:
        """The allowance of this name."""
        return _find(self.allowances, name, "allowance")


@by_identity
def _leg(whole: Application, how: tuple[int, tuple[str, ...]]) -> Application:
    leg = whole.leg(*how)
    assert leg is not None  # only asked for what it is split into
    return leg


def _find(shelf: Mapping[str, Item], name: str, what: str) -> Item:
    found = shelf.get(name)
    if found is None:
        raise CatalogError(f"no {what} is called '{name}': the catalog has {', '.join(shelf)}")
    return found


@cache
def load_catalog() -> Catalog:
    """Read the data files that ship with the program.

    Raises:
        CatalogError: a file has a wrong or missing figure; the message names the file and the row.
    """
    fibers = _toml("fibers.toml")
    parts = _toml("parts.toml")
    plugs = _toml("connectors.toml")
    environment = _toml("environment.toml")
    rules = _toml("house_rules.toml")
    common = fibers["defaults"]
    return Catalog(
        applications=_shelf(Application, map(_with_rows, _applications())),
        fibers=_shelf(FiberGrade, ({**common, **row} for row in fibers["fiber"])),
        connectors=_shelf(Connector, plugs["connector"]),
        polishes=_shelf(PolishGrade, plugs["polish"]),
        cages=_shelf(Cage, plugs["cage"]),
        forms=_shelf(ModuleForm, plugs["form"]),
        temperature_classes=_shelf(TemperatureRange, environment["temperature_class"]),
        ingress_classes=_shelf(IngressClass, environment["ingress_class"]),
        self_heating=SelfHeating.model_validate(environment["self_heating"]),
        allowances=_shelf(Allowance, parts["allowance"]),
        constructions=_shelf(Construction, parts["construction"]),
        parts=_shelf(Part, parts["part"]),
        attenuator=AttenuatorFigures.model_validate(parts["attenuator"]),
        marks=Marks.model_validate(_toml("marks.toml")),
        absent=tuple(Absent.model_validate(row) for row in _toml("absent.toml")["absent"]),
        teachings=tuple(Teaching.model_validate(row) for row in _toml("teachings.toml")["teaching"]),
        house_rules={name: HouseRuleText.model_validate(rule) for name, rule in rules.items()},
    )


def _toml(name: str) -> dict[str, Any]:
    path = resources.files("passerelle.core.catalog") / "data" / name
    return tomllib.loads(path.read_text(encoding="utf-8"))


def _applications() -> Iterable[dict[str, Any]]:
    """The rows of all files of applications, slowest first: their names sort by speed."""
    folder = resources.files("passerelle.core.catalog") / "data" / "applications"
    for path in sorted(folder.iterdir(), key=lambda item: item.name):
        yield from tomllib.loads(path.read_text(encoding="utf-8"))["application"]


def _shelf(record: type[Item], rows: Iterable[dict[str, Any]]) -> Mapping[str, Item]:
    shelf: dict[str, Item] = {}
    for row in rows:
        try:
            item = record.model_validate(row)
        except ValidationError as error:
            raise CatalogError(f"{record.__name__} '{row.get('name')}': {error}") from error
        if item.name in shelf:
            raise CatalogError(f"{record.__name__} '{item.name}' stands twice in its data file")
        shelf[item.name] = item
    return shelf


def _with_rows(raw: dict[str, Any]) -> dict[str, Any]:
    """One reach row for each fiber that a row of the data file names."""
    rows: list[ReachRow] = []
    for row in raw.get("row", ()):
        shared = {key: value for key, value in row.items() if key != "fibers"}
        budget = shared.setdefault("power_budget_db", raw.get("power_budget_db"))
        if budget is None:
            shared["penalties_db"] = None
        elif "penalties_db" not in shared:
            # The clause's allocation is not at hand: all that the channel does not use is set aside.
            shared["penalties_db"] = round(budget - shared["max_insertion_loss_db"], 3)
            shared["penalties_source"] = derived("power budget less channel insertion loss of the same clause")
        else:
            shared["penalties_source"] = shared["loss_source"]
        rows += [ReachRow.model_validate({"fiber": fiber, **shared}) for fiber in row["fibers"]]
    return {key: value for key, value in raw.items() if key != "row"} | {"reaches": rows}
