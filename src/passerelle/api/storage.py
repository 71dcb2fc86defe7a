"""What the database takes, and making it smaller without forgetting anything."""

from __future__ import annotations

from fastapi import Request
from pydantic import BaseModel

from passerelle.api.routing import api_router
from passerelle.api.state import database_of, writing
from passerelle.store.accepted import forget_uploads

router = api_router("storage")


class StorageOut(BaseModel):
    """Bytes of the database: all, the records of the log in it and how many these are, what could be given back."""

    all_bytes: int
    record_bytes: int
    records: int
    free_bytes: int


@router.get("/storage")
def get_storage(request: Request) -> StorageOut:
    """What the database takes."""
    return StorageOut(**vars(database_of(request).size()))


@router.post("/storage/compact")
def compact_storage(request: Request) -> StorageOut:
    """Give free room back to the disk. The log stays complete; files that no record names end."""
    with writing(request) as session:
        forget_uploads(session)
    database_of(request).compact()
    return get_storage(request)
