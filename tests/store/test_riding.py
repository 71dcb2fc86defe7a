"""What the plant knows of its links is what the links say, whatever became of them since it was asked last."""

from __future__ import annotations

from sqlalchemy.orm import Session

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.link.chain import Link, modules, ports
from passerelle.core.plant.outages import Rider
from passerelle.core.plant.riders import runs_of, takes_of
from passerelle.store import links as stored_links
from passerelle.store.database import Database
from passerelle.store.history import undo
from passerelle.store.riding import riders

CATALOG = load_catalog()


def rate(name: str) -> int:
    return CATALOG.application(name).rate_mbps


def plain(number: int, link: Link) -> Rider:
    """A link as the plant sees it, read from the whole link."""
    ends = [port.place for port in ports(link)]
    runs = runs_of(link)
    return Rider(
        id=number,
        name=link.name,
        near=ends[0] if ends else "",
        far=ends[-1] if ends else "",
        rate_mbps=min((rate(m.application) for m in modules(link)), default=0),
        cables=tuple(run.part for run in runs),
        strands=tuple(run.positions for run in runs),
        takes=takes_of(link),
    )


def agree(session: Session) -> list[Rider]:
    found = riders(session, 1, rate)
    assert found == [plain(item.id, item.link) for item in stored_links.links(session, 1)]
    return found


def test_riders_are_what_the_links_say_after_every_change(database: Database) -> None:
    with database.read() as session:
        first = agree(session)
        assert any(rider.takes for rider in first)
        item = stored_links.link(session, 2)
    with database.write() as session:
        renamed = item.link.model_copy(update={"name": "Pier"})
        made = stored_links.change_link(session, 2, item.revision, renamed, "rename")
        agree(session)
    with database.read() as session:
        assert agree(session)[1].name == "Pier"
    with database.write() as session:
        stored_links.remove_link(session, 1, "remove", stored_links.link(session, 1).revision)
        stored_links.add_link(session, 1, made.link.model_copy(update={"name": "other", "readings": ()}), "add")
        agree(session)
    with database.read() as session:
        agree(session)
    for _ in range(3):
        with database.write() as session:
            undo(session, 1)
        with database.read() as session:
            last = agree(session)
    assert last == first
