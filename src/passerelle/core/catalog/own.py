"""Own figures: a project's value in the place of a catalog figure, with the source that guarantees it.

The data files stay as they are; a catalog with own figures is another catalog, so restoring is leaving one out.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field, ValidationError

from passerelle.core.catalog.records import Allowance, Application, FiberGrade
from passerelle.core.catalog.shelves import AttenuatorFigures, Catalog
from passerelle.core.errors import CatalogError
from passerelle.core.sources import Frozen, Source

ShelfName = Literal["application", "fiber", "allowance", "attenuator"]
Path = tuple[str | int, ...]
AnyRecord = Application | FiberGrade | Allowance | AttenuatorFigures
Record = TypeVar("Record", Application, FiberGrade, Allowance, AttenuatorFigures)


class OwnFigure(Frozen):
    """One figure of a project: where it belongs, its value in the catalog's unit, and who guarantees it.

    ``figure`` is the path of the figure in its record: ``rx_power_dbm.overload``, ``reaches.OS2.reach_m``,
    ``attenuation_db_per_km.1310``, ``worst_db``.
    """

    shelf: ShelfName
    name: Annotated[str, Field(min_length=1, max_length=120)]
    figure: Annotated[str, Field(min_length=1, max_length=120)]
    value: Annotated[float, Field(ge=-100, le=1_000_000, allow_inf_nan=False)]
    source: Annotated[str, Field(min_length=3, max_length=200, description="datasheet, guarantee or contract")]

    @property
    def key(self) -> tuple[str, str, str]:
        """What an own figure stands in the place of."""
        return self.shelf, self.name, self.figure


class FigureLine(Frozen):
    """One figure of the catalog that a project may replace; ``own`` where this project did."""

    shelf: ShelfName
    name: str
    figure: str
    label: str
    value: float
    unit: str
    source: Source
    own: bool = False


@dataclass(frozen=True)
class _Slot:
    """Where a figure stands in the dumped record, and where its source stands."""

    path: Path
    label: str
    unit: str
    source: Path
    row: str = ""

    @property
    def key(self) -> str:
        """The path as it is written in an own figure; a reach row goes by its fiber."""
        steps = ("reaches", self.row, self.path[-1]) if self.row else self.path
        return ".".join(map(str, steps))


def with_own(catalog: Catalog, figures: tuple[OwnFigure, ...]) -> Catalog:
    """The catalog with a project's own figures in the place of its own.

    Raises:
        CatalogError: a figure that does not exist, stands twice, or breaks the order of its record.
    """
    return _with_own(catalog, figures) if figures else catalog


def figure_lines(catalog: Catalog, figures: tuple[OwnFigure, ...]) -> list[FigureLine]:
    """Every figure that can be replaced, with the value that holds in this project."""
    own = {figure.key for figure in figures}
    shown = with_own(catalog, figures)
    lines: list[FigureLine] = []
    for shelf, records in _shelves(shown).items():
        for record in records.values():
            content = record.model_dump()
            for slot in _slots(record):
                lines.append(
                    FigureLine(
                        shelf=shelf,
                        name=record.name,
                        figure=slot.key,
                        label=slot.label,
                        value=_at(content, slot.path),
                        unit=slot.unit,
                        source=Source.model_validate(_at(content, slot.source)),
                        own=(shelf, record.name, slot.key) in own,
                    )
                )
    return lines


@lru_cache(maxsize=16)
def _with_own(catalog: Catalog, figures: tuple[OwnFigure, ...]) -> Catalog:
    if len({figure.key for figure in figures}) < len(figures):
        raise CatalogError("an own figure stands twice: keep one of them")
    wanted: dict[tuple[ShelfName, str], list[OwnFigure]] = defaultdict(list)
    for figure in figures:
        wanted[figure.shelf, figure.name].append(figure)
    applications, fibers, allowances = dict(catalog.applications), dict(catalog.fibers), dict(catalog.allowances)
    attenuator = catalog.attenuator
    for (shelf, name), own in wanted.items():
        if shelf == "application":
            applications[name] = _replaced(catalog.application(name), own)
        elif shelf == "fiber":
            fibers[name] = _replaced(catalog.fiber(name), own)
        elif shelf == "allowance":
            allowances[name] = _replaced(catalog.allowance(name), own)
        else:
            attenuator = _replaced(attenuator, own)
    return replace(catalog, applications=applications, fibers=fibers, allowances=allowances, attenuator=attenuator)


def _shelves(catalog: Catalog) -> dict[ShelfName, Mapping[str, AnyRecord]]:
    return {
        "application": catalog.applications,
        "fiber": catalog.fibers,
        "allowance": catalog.allowances,
        "attenuator": {catalog.attenuator.name: catalog.attenuator},
    }


def _replaced(record: Record, own: list[OwnFigure]) -> Record:
    slots = {slot.key: slot for slot in _slots(record)}
    content = record.model_dump()
    by_source: dict[Path, list[OwnFigure]] = defaultdict(list)
    for figure in own:
        if figure.figure not in slots:
            raise CatalogError(
                f"{record.name} has no figure '{figure.figure}' that can be replaced: it has {', '.join(slots)}"
            )
        slot = slots[figure.figure]
        _put(content, slot.path, figure.value)
        by_source[slot.source].append(figure)
    for path, figures in by_source.items():
        sharing = [slot for slot in slots.values() if slot.source == path]
        before = Source.model_validate(_at(content, path))
        _put(content, path, _shared_source(figures, slots, before, len(sharing)).model_dump())
    try:
        return type(record).model_validate(content)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = " ".join(str(step) for step in first["loc"])
        reason = first["msg"].removeprefix("Value error, ")
        reason = reason.removeprefix(f"{record.name}: ")
        raise CatalogError(f"{record.name}: {f'{where}: ' if where else ''}{reason}") from error


def _shared_source(own: list[OwnFigure], slots: dict[str, _Slot], before: Source, sharing: int) -> Source:
    """The source of a group of figures of which some are a project's own: none is lent to the others."""
    parts = [f"{slots[figure.figure].label} {figure.source}" for figure in own]
    if len(own) == sharing:
        notes = {figure.source for figure in own}
        return Source(body="datasheet", note=notes.pop() if len(notes) == 1 else "; ".join(parts))
    return Source(body="datasheet", note="; ".join([*parts, f"the rest {before.text}"]), estimate=before.estimate)


def _slots(record: AnyRecord) -> Iterator[_Slot]:
    match record:
        case Application():
            yield from _application_slots(record)
        case FiberGrade():
            for kind, word in (("", "worst"), ("typical_", "typical"), ("least_", "least")):
                group = f"{kind}attenuation_db_per_km"
                source: Path = ("attenuation_source",) if not kind else (f"{kind}source",)
                for wavelength_nm in getattr(record, group):
                    apart = not kind and wavelength_nm in record.attenuation_sources
                    yield _Slot(
                        (group, wavelength_nm),
                        f"{word} attenuation at {wavelength_nm} nm",
                        "dB/km",
                        ("attenuation_sources", wavelength_nm) if apart else source,
                    )
        case AttenuatorFigures():
            yield _Slot(("tolerance_db",), "tolerance of a fixed one", "dB", ("source",))
            yield _Slot(("tolerance_share",), "tolerance of a fixed one, share of its value", "", ("source",))
            yield _Slot(("variable_tolerance_db",), "tolerance of a variable one", "dB", ("variable_source",))
        case Allowance():
            for word in ("worst", "typical", "least"):
                yield _Slot((f"{word}_db",), word, "dB", (f"{word}_source",))


def _application_slots(record: Application) -> Iterator[_Slot]:
    tx, rx = ("tx_power_dbm", "source"), ("rx_power_dbm", "source")
    yield _Slot(("tx_power_dbm", "min"), "launch minimum", "dBm", tx)
    yield _Slot(("tx_power_dbm", "max"), "launch maximum", "dBm", tx)
    yield _Slot(("rx_power_dbm", "sensitivity"), "receiver minimum", "dBm", rx)
    yield _Slot(("rx_power_dbm", "overload"), "receiver maximum", "dBm", rx)
    if record.rx_power_dbm.damage is not None:
        yield _Slot(("rx_power_dbm", "damage"), "receiver damage level", "dBm", rx)
    for number, row in enumerate(record.reaches):
        at: Path = ("reaches", number)
        loss = (*at, "loss_source")
        yield _Slot((*at, "reach_m"), f"reach on {row.fiber}", "m", (*at, "source"), row.fiber)
        yield _Slot((*at, "max_insertion_loss_db"), f"channel loss on {row.fiber}", "dB", loss, row.fiber)
        if row.power_budget_db is not None and row.penalties_db is not None:
            penalties = (*at, "penalties_source")
            yield _Slot((*at, "power_budget_db"), f"power budget on {row.fiber}", "dB", loss, row.fiber)
            yield _Slot((*at, "penalties_db"), f"penalties on {row.fiber}", "dB", penalties, row.fiber)


def _at(content: Any, path: Path) -> Any:
    for step in path:
        content = content[step]
    return content


def _put(content: Any, path: Path, value: Any) -> None:
    for step in path[:-1]:
        content = content[step]
    content[path[-1]] = value
