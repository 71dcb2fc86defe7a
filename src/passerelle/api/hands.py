"""The hands of a project: a fitter that plugs and cleans by itself, where it has one. Else a person does it."""

from __future__ import annotations

from contextlib import suppress
from typing import Literal

from sqlalchemy.orm import Session

from passerelle.equipment import instruments as scpi
from passerelle.store import projects as stored
from passerelle.store.accepted import is_reached


def fitter_of(session: Session, project_id: int) -> str:
    """The address of the hands, empty without them."""
    rows = [row for row in stored.plant(session, project_id).instruments if row.kind == "fitter" and row.address]
    return rows[0].address if rows and is_reached(session, project_id, rows[0].address) else ""


def at_face(fitter: str, act: Literal["LOOK", "CLEAN"], link: str, element: str, face: str) -> None:
    """Have the hands look at a face, or clean it; without them nothing happens: a person does it."""
    with suppress(scpi.InstrumentError):
        scpi.fit(fitter, f"ROUT:{act} {scpi.quoted(link)},{element},{face}")
