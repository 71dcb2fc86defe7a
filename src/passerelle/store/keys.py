"""What a permanent key is the key of: the code on a label is found again, whatever became of numbers and names."""

from __future__ import annotations

from typing import NamedTuple

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from passerelle.store.stored import NotFoundError
from passerelle.store.tables import LinkRow, ProjectRow


class FoundKey(NamedTuple):
    """A piece of a link or a row of the plan, and its project."""

    project: int
    link: int | None = None
    element: str = ""
    shelf: str = ""
    row: str = ""


_OF_PIECE = text(
    """
    SELECT link.project_id, link.id, json_extract(piece.value, '$.id')
    FROM link, json_each(link.body, '$.elements') AS piece
    WHERE json_extract(piece.value, '$.key') = :key
    """
)
_OF_ROW = text("SELECT project_id, shelf, row FROM plant_row WHERE json_extract(body, '$.key') = :key")


def found_key(session: Session, key: str) -> FoundKey:
    """What has this key.

    Raises:
        NotFoundError: nothing has it, or its project was removed.
    """
    found = _found(session, key)
    if found is None or session.get_one(ProjectRow, found.project).removed:
        raise NotFoundError(
            f"nothing here has the key '{key}': the piece was taken out, or another installation has it"
        )
    return found


def _found(session: Session, key: str) -> FoundKey | None:
    link = session.scalar(select(LinkRow).where(LinkRow.key == key))
    if link is not None:
        return FoundKey(link.project_id, link.id)
    if row := session.execute(_OF_PIECE, {"key": key}).first():
        return FoundKey(row[0], row[1], row[2])
    if row := session.execute(_OF_ROW, {"key": key}).first():
        return FoundKey(row[0], None, "", row[1], row[2])
    return None
