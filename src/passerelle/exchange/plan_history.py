"""The log inside a plan file: its records, and whether every state that undo and redo would reach is a plan."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

from pydantic import AwareDatetime, Field, ValidationError

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.copies import copied_body, other_key
from passerelle.core.events import Event
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.names import check_names
from passerelle.core.parts.piece import Key
from passerelle.core.plant.records import ROWS, Row, Shelf
from passerelle.core.plant.riders import check_taken, laid, parts_in
from passerelle.core.plant.rows import Shelves
from passerelle.core.plant.site import Plant, check_plant_names
from passerelle.core.sources import Frozen

Number = Annotated[int, Field(ge=1, le=2**63 - 1)]
RecordName = Annotated[str, Field(min_length=1, max_length=64)]


class ProjectName(Frozen):
    """A project's name."""

    name: str = Field(min_length=1, max_length=120)


class LinkStep(Frozen):
    """What an entry of the history did to one link; None where the link did not exist."""

    entity: Literal["link"] = "link"
    link_id: Number
    position: Annotated[int, Field(ge=0, le=2**31)]
    before: RecordName | None
    after: RecordName | None


class WholeStep(Frozen):
    """What an entry did to the house rules or the name of the project."""

    entity: Literal["project", "name"]
    before: RecordName
    after: RecordName


class RowStep(Frozen):
    """What an entry did to one row of the plant; None where the row did not exist."""

    entity: Literal["row"] = "row"
    shelf: Shelf
    row: Annotated[str, Field(min_length=1, max_length=40)]
    was: float
    position: float
    before: RecordName | None
    after: RecordName | None


class EventStep(Frozen):
    """An event that an entry wrote down (``stands``) or withdrew; it holds nothing before or after itself."""

    entity: Literal["event"] = "event"
    link_id: Number | None
    event: Key
    stands: bool = True
    before: None = None
    after: None = None


Step = LinkStep | WholeStep | RowStep | EventStep


class PlanEntry(Frozen):
    """One entry of the history: when, what in words, who by their own word, and what it did."""

    at: AwareDatetime
    label: str = Field(max_length=300)
    who: str = Field(default="", max_length=60)
    link_id: Number | None = None
    state: Literal["done", "undone", "dropped"]
    changes: tuple[Annotated[Step, Field(discriminator="entity")], ...]


class PlanHistory(Frozen):
    """The history of a project, oldest first.

    ``numbers`` are those of the plan's links, in their order; ``records`` are what was before and after, each once,
    under the names by which the entries call them.
    """

    numbers: tuple[Number, ...]
    records: dict[RecordName, dict[str, Any]] = Field(default_factory=dict)
    entries: tuple[PlanEntry, ...]


MODELS: dict[str, type[Frozen]] = {"link": Link, "project": HouseRules, "name": ProjectName}


def _model(step: Step) -> type[Frozen]:
    return ROWS[step.shelf] if isinstance(step, RowStep) else MODELS[step.entity]


class HistoryError(ValueError):
    """A log that undo or redo would stumble over; the message names the place in it."""


class _State:
    """A project while its log is walked: the links by number, the plant and the house rules."""

    def __init__(self, links: dict[int, Link], plant: Plant, house: HouseRules, catalog: Catalog) -> None:
        self.links, self.house, self.catalog = dict(links), house, catalog
        self.shelves = Shelves.of(plant)
        self.plant = plant
        self.changed: dict[int, Link] = {}
        self.riding = {number: link for number, link in links.items() if parts_in(link)}

    def put(self, step: Step, content: Frozen | None, *, forwards: bool) -> None:
        """Take one step; raises HistoryError where its link is there, or not there, against what it says."""
        if isinstance(step, LinkStep):
            self._put_link(step.link_id, content)
        elif isinstance(step, RowStep):
            assert content is None or isinstance(content, Row)
            self.shelves.put(step.shelf, step.row, content, step.position if forwards else step.was)
        elif isinstance(content, HouseRules):
            self.house = content

    def _put_link(self, number: int, content: Frozen | None) -> None:
        self.riding.pop(number, None)
        if content is None:
            if self.links.pop(number, None) is None:
                raise HistoryError(f"link {number} would be taken away, but is not there")
            self.changed.pop(number, None)
        elif isinstance(content, Link):
            self.links[number] = self.changed[number] = link = with_ids(content)
            if parts_in(link):
                self.riding[number] = link

    def check(self, whole: bool) -> None:
        """Check what the last steps changed as a plan is checked, and all of it where the whole moved."""
        shown = house_catalog(self.catalog, self.house)
        for link in (self.links if whole else self.changed).values():
            check_names(link, shown)
        if whole:
            self.plant = self.shelves.plant()
            check_plant_names(self.plant, self.catalog)
        moved = [link for number, link in self.riding.items() if whole or number in self.changed]
        for link in moved:
            laid(link, self.plant)  # raises where its cable is not there
        if moved:
            check_taken(self.riding.values(), self.plant)
        self.changed = {}


def check_history(
    log: PlanHistory,
    links: tuple[Link, ...],
    plant: Plant,
    house: HouseRules,
    catalog: Catalog,
    events: Sequence[Event],
) -> None:
    """Walk a log back from the plan as it is to its beginning, and forth to its end, and check every state.

    Raises:
        HistoryError: a record is missing or wrong, the entries stand in an order that no log has, or a state that
            would be reached is no plan.
    """
    _check_order(log)
    _check_events(log, {event.key for event in events})
    contents = _contents(log)
    now = dict(zip(log.numbers, links, strict=True))
    back = _State(now, plant, house, catalog)
    for place, entry in reversed([pair for pair in enumerate(log.entries) if pair[1].state == "done"]):
        _walk(back, place, entry, contents, forwards=False)
    forth = _State(now, plant, house, catalog)
    for place, entry in enumerate(log.entries):
        if entry.state == "undone":
            _walk(forth, place, entry, contents, forwards=True)


Contents = dict[tuple[type[Frozen], str], Frozen]


def _walk(state: _State, place: int, entry: PlanEntry, contents: Contents, *, forwards: bool) -> None:
    for step in entry.changes if forwards else reversed(entry.changes):
        name = step.after if forwards else step.before
        try:
            state.put(step, None if name is None else contents[_model(step), name], forwards=forwards)
        except HistoryError as error:
            raise HistoryError(f"history.entries[{place}] '{entry.label}': {error}") from error
    try:
        state.check(any(step.entity not in ("link", "event") for step in entry.changes))
    except ValueError as error:
        way = "redo" if forwards else "undo"
        raise HistoryError(
            f"history.entries[{place}] '{entry.label}': {way} would lead to no plan: {error}"
        ) from error


def _check_order(log: PlanHistory) -> None:
    states = [entry.state for entry in log.entries if entry.state != "dropped"]
    if "undone" in states and "done" in states[states.index("undone") :]:
        raise HistoryError("history.entries: an entry is done after one that is undone: no log comes to that")


def _check_events(log: PlanHistory, known: set[str]) -> None:
    for place, entry in enumerate(log.entries):
        for n, step in enumerate(entry.changes):
            if isinstance(step, EventStep) and step.event not in known:
                raise HistoryError(f"history.entries[{place}].changes[{n}].event: there is no event '{step.event}'")


def _contents(log: PlanHistory) -> Contents:
    """Every record as what it is used for; each is read once."""
    found: Contents = {}
    for place, entry in enumerate(log.entries):
        for n, step in enumerate(entry.changes):
            for side, name in _sides(step):
                where = f"history.entries[{place}].changes[{n}].{side}"
                model = _model(step)
                if (model, name) not in found:
                    found[model, name] = _content(log, model, name, where)
    return found


def _sides(step: Step) -> Iterator[tuple[str, str]]:
    for side, name in (("before", step.before), ("after", step.after)):
        if name is not None:
            yield side, name


def _content(log: PlanHistory, model: type[Frozen], name: str, where: str) -> Frozen:
    if name not in log.records:
        raise HistoryError(f"{where}: there is no record '{name}' in history.records")
    try:
        return model.model_validate(log.records[name])
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        inside = ".".join(str(part) for part in first["loc"])
        raise HistoryError(f"{where}: record '{name}', {inside}: {first['msg']}") from error


def copied_history(log: PlanHistory, salt: str) -> PlanHistory:
    """The log of a copy: its records, and the events that it names, under other keys."""
    records = {name: copied_body(body, salt) for name, body in log.records.items()}
    entries = tuple(
        entry.model_copy(update={"changes": tuple(_copied(step, salt) for step in entry.changes)})
        for entry in log.entries
    )
    return log.model_copy(update={"records": records, "entries": entries})


def _copied(step: Step, salt: str) -> Step:
    return step.model_copy(update={"event": other_key(step.event, salt)}) if isinstance(step, EventStep) else step
