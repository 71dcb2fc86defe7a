"""What the database takes, and making it smaller without forgetting anything."""

from __future__ import annotations

from fastapi import APIRouter, Request
from pydantic import BaseModel

from passerelle.api.address import ROOT
from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.state import database_of

router = APIRouter(prefix=ROOT, tags=["storage"], responses=PROBLEM_RESPONSES)


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
    """Give free room back to the disk. The log stays complete."""
    database_of(request).compact()
    return get_storage(request)
