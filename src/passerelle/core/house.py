"""House rules: what a project decides for itself."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from typing import Annotated, Any, Literal

from pydantic import Field

from passerelle.core.catalog.datasheet import Datasheet, with_datasheets
from passerelle.core.catalog.own import OwnFigure, with_own
from passerelle.core.catalog.prices import OwnPrice
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.catalog.testing_figures import School
from passerelle.core.parts.need import SPARE_CLASSES, SpareClass
from passerelle.core.sources import Frozen

Profile = Literal["standard maximum", "typical field", "low-loss guaranteed", "custom"]
FiberSchool = Literal["multimode where it reaches", "single-mode everywhere"]
JointSchool = Literal["pre-terminated", "spliced", "mounted on site"]
LengthUnit = Literal["m", "ft"]
TestReference = Literal["one cord", "two cords", "three cords"]
TestCords = Literal["reference grade", "ordinary"]
TestDirections = Literal["where it pays", "one", "always both"]
TestTraces = Literal["where it pays", "never", "always"]
PathCost = Literal["unknown", "long", "short"]
LabelScheme = Literal["place and number", "kind and number", "place, kind and number"]
Metres = Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]
_STAND_INS: dict[Profile, dict[str, str]] = {
    "standard maximum": {},
    "typical field": {},
    "low-loss guaranteed": {"mated pair": "mated pair, low-loss", "splice": "splice, low-loss"},
    "custom": {"mated pair": "mated pair, own", "splice": "splice, own"},
}


def _default(name: str) -> Callable[[], Any]:
    return lambda: load_catalog().house_rules[name].default


def _plugged_default(given: dict[str, Any]) -> float:
    """The margin of plugged links where none is given: whoever asked for more than the usual one asked for all."""
    rules = load_catalog().house_rules
    own = float(given.get("margin_db", 0.0))
    return own if own > float(rules["margin_db"].default) else float(rules["plugged_margin_db"].default)


class SpareRule(Frozen):
    """Spares of a class of parts: a share in % of each line, never less than ``at_least`` of one.

    ``far_site``: of each line at least one for every far place that uses it.
    """

    of: SpareClass
    percent: Annotated[float, Field(ge=0, le=200, allow_inf_nan=False)]
    at_least: Annotated[int, Field(ge=0, le=100)] = 0
    far_site: bool = False


class HouseRules(Frozen):
    """What a project decides; the reason for each default stands in the catalog.

    ``reel_m``: a run that does not say its splices has one for each such length that ends on its way; 0: none.
    ``plugged_most_m``: longer runs are spliced to pigtails, whatever the school.
    ``margin_db``: a low-light margin between zero and this reads marginal; ``plugged_margin_db`` stands in its
    place, where it is less, for indoor multimode whose every joint is a plug. ``offset_launch_from_m``: below
    this length in metres a missing offset-launch cord is a named departure instead of a failure. ``profile``:
    what joints without a class of their own count. ``spares_percent``: share of spare modules and cords,
    ``strand_spares_percent`` of spare strands in a cable.
    ``fiber_school`` and ``joint_school``: how a new link is made. ``unit``: how lengths are shown at first.
    ``end_slack_m`` is left at each end of a cable, ``loop_m`` at each closure on its way, in m; with
    ``termination_waste_m`` an end and ``test_waste_m`` a cable they make the length that is ordered.
    ``least_useful_m``: what is shorter and left on a reel is scrap. ``spares`` are rules by class, in the place of
    the share; ``reel_sizes_m`` the lengths that are sold, empty for the usual ones. ``base_address`` is where this
    installation is reached, for codes on labels; empty for the address by which it is opened.
    ``limit_school`` says by whose allowances readings are held, ``test_reference`` and ``test_cords`` how they are
    taken, ``test_directions`` and ``test_traces`` how many; traces pay from ``trace_from_m`` on. A reference holds
    ``reference_hours``, a calibration ``calibration_days``. ``path_cost`` is how the boxes reckon the cost of
    a port in the spanning tree.
    ``own_figures``: figures that stand in the place of the catalog's; ``own_prices`` likewise, in ``currency``.
    ``own_modules``: modules from their datasheets, beside the catalog's applications.
    """

    margin_db: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = Field(
        default_factory=_default("margin_db")
    )
    plugged_margin_db: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = Field(
        default_factory=_plugged_default
    )
    reel_m: Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)] = Field(
        default_factory=_default("reel_m")
    )
    plugged_most_m: Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)] = Field(
        default_factory=_default("plugged_most_m")
    )
    offset_launch_from_m: Annotated[float, Field(ge=0, le=550, allow_inf_nan=False)] = Field(
        default_factory=_default("offset_launch_from_m")
    )
    profile: Profile = Field(default_factory=_default("profile"))
    spares_percent: Annotated[float, Field(ge=0, le=200, allow_inf_nan=False)] = Field(
        default_factory=_default("spares_percent")
    )
    strand_spares_percent: Annotated[float, Field(ge=0, le=400, allow_inf_nan=False)] = Field(
        default_factory=_default("strand_spares_percent")
    )
    fiber_school: FiberSchool = Field(default_factory=_default("fiber_school"))
    joint_school: JointSchool = Field(default_factory=_default("joint_school"))
    unit: LengthUnit = Field(default_factory=_default("unit"))
    end_slack_m: Metres = Field(default_factory=_default("end_slack_m"))
    loop_m: Metres = Field(default_factory=_default("loop_m"))
    termination_waste_m: Metres = Field(default_factory=_default("termination_waste_m"))
    test_waste_m: Metres = Field(default_factory=_default("test_waste_m"))
    least_useful_m: Metres = Field(default_factory=_default("least_useful_m"))
    label_scheme: LabelScheme = Field(default_factory=_default("label_scheme"))
    spares: Annotated[tuple[SpareRule, ...], Field(max_length=len(SPARE_CLASSES))] = ()
    reel_sizes_m: Annotated[tuple[Annotated[float, Field(gt=0, le=100_000)], ...], Field(max_length=20)] = ()
    base_address: Annotated[str, Field(max_length=200, pattern=r"^(https?://[^\s<>\"']+)?$")] = Field(
        default_factory=_default("base_address")
    )
    limit_school: School = Field(default_factory=_default("limit_school"))
    test_reference: TestReference = Field(default_factory=_default("test_reference"))
    test_cords: TestCords = Field(default_factory=_default("test_cords"))
    test_directions: TestDirections = Field(default_factory=_default("test_directions"))
    test_traces: TestTraces = Field(default_factory=_default("test_traces"))
    trace_from_m: Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)] = Field(
        default_factory=_default("trace_from_m")
    )
    reference_hours: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] = Field(
        default_factory=_default("reference_hours")
    )
    calibration_days: Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)] = Field(
        default_factory=_default("calibration_days")
    )
    path_cost: PathCost = Field(default_factory=_default("path_cost"))
    own_figures: Annotated[tuple[OwnFigure, ...], Field(max_length=500)] = ()
    own_modules: Annotated[tuple[Datasheet, ...], Field(max_length=200)] = ()
    own_prices: Annotated[tuple[OwnPrice, ...], Field(max_length=2000)] = ()
    currency: Annotated[str, Field(max_length=12)] = "units"


def describe_change(before: HouseRules, after: HouseRules) -> str:
    """What differs between two sets of rules, in words for the log.

    >>> describe_change(HouseRules(margin_db=1.0), HouseRules(margin_db=2.5))
    'house rules: House margin 2.5 dB; House margin, plugged indoors 2.5 dB'
    """
    texts = load_catalog().house_rules
    old, new = dict(before), dict(after)
    words = [
        f"{text.title} {new[name]:g} {text.unit}" if isinstance(new[name], float) else f"{text.title} {new[name]}"
        for name, text in texts.items()
        if old[name] != new[name]
    ]
    known, wanted = {f.key: f for f in before.own_figures}, {f.key: f for f in after.own_figures}
    words += [
        f"own figure {f.value:g} for {f.figure} of {f.name}" for f in after.own_figures if known.get(f.key) != f
    ]
    words += [f"{f.figure} of {f.name} restored" for f in before.own_figures if f.key not in wanted]
    before_sheets, sheets = {m.name: m for m in before.own_modules}, {m.name: m for m in after.own_modules}
    words += [f"module {m.name} from its datasheet" for m in after.own_modules if before_sheets.get(m.name) != m]
    words += [f"module {m.name} taken out" for m in before.own_modules if m.name not in sheets]
    priced, paid = {p.item: p for p in before.own_prices}, {p.item: p for p in after.own_prices}
    words += [f"price of {p.item} {p.price:g}" for p in after.own_prices if priced.get(p.item) != p]
    words += [f"price of {p.item} restored" for p in before.own_prices if p.item not in paid]
    if before.currency != after.currency:
        words.append(f"currency {after.currency}")
    text = f"house rules: {'; '.join(words)}" if words else "house rules"
    return text if len(text) <= 300 else f"{text[:297]}..."


def house_catalog(catalog: Catalog, house: HouseRules) -> Catalog:
    """The catalog as this house counts: with its own figures, and joints by its allowance profile.

    Raises:
        CatalogError: an own figure that the catalog has no place for.
    """
    days = house.calibration_days
    return _house_catalog(catalog, house.profile, house.own_figures, house.own_modules, house.reel_m, days)


@lru_cache(maxsize=16)
def _house_catalog(
    catalog: Catalog,
    profile: Profile,
    figures: tuple[OwnFigure, ...],
    modules: tuple[Datasheet, ...],
    reel_m: float,
    calibration_days: float,
) -> Catalog:
    shown = with_datasheets(with_own(catalog, figures), modules)
    if (reel_m, calibration_days) != (shown.reel_m, shown.calibration_days):
        shown = replace(shown, reel_m=reel_m, calibration_days=calibration_days)
    stand_ins = {name: shown.allowance(other) for name, other in _STAND_INS[profile].items()}
    return replace(shown, allowances={**shown.allowances, **stand_ins}) if stand_ins else shown
