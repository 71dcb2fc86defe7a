"""What every event has."""

from __future__ import annotations

from typing import Annotated

from pydantic import AwareDatetime, Field

from passerelle.core.parts.piece import Key
from passerelle.core.sources import Frozen


class Happening(Frozen):
    """What every event has: its ``key``, when it was written down (None where that was not kept), and by whom."""

    key: Key
    at: AwareDatetime | None = None
    who: Annotated[str, Field(max_length=60)] = ""
