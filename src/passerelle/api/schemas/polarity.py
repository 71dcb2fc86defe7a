"""Polarity over the wire: a link to lay over a backbone."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from passerelle.api.schemas.common import Place
from passerelle.core.elsewhere import Elsewhere
from passerelle.core.link.build_arrays import Backbone
from passerelle.core.parts.piece import Label, LengthM
from passerelle.core.polarity.table import StrandTable


class Trial(BaseModel):
    """Where each lane would pass after some edits, and what they do to other links on the same shared parts."""

    table: StrandTable
    elsewhere: tuple[Elsewhere, ...]


class BackboneLink(BaseModel):
    """A link over a trunk of a set of parts: what runs on it, from where to where, how long the trunk is in m.

    ``front`` is the front of the cassettes that a pair takes; ``beside`` the parallel application that the trunk is
    made for.
    """

    backbone: Backbone
    application: Label
    from_place: Place
    to_place: Place
    length_m: LengthM | None = None
    front: Annotated[int, Field(ge=1, le=16)] = 1
    beside: Label = ""
