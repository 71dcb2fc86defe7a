"""A module's memory, by the layout that it has."""

from __future__ import annotations

from passerelle.core.turnup.cmis import read_cmis
from passerelle.core.turnup.module_pages import Layout, ModuleSeen, Pages
from passerelle.core.turnup.sff_8472 import read_sff_8472
from passerelle.core.turnup.sff_8636 import read_sff_8636

_READ = {"SFF-8472": read_sff_8472, "SFF-8636": read_sff_8636, "CMIS": read_cmis}


def read_module(layout: Layout, pages: Pages) -> ModuleSeen:
    """What a module's pages say, by SFF-8472, SFF-8636 or CMIS.

    Raises:
        TurnUpError: a page is missing or too short.
    """
    return _READ[layout](pages)
