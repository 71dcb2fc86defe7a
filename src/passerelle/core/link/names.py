"""Names in a link that the catalog must have."""

from __future__ import annotations

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import CatalogError, EditError
from passerelle.core.link.chain import Link
from passerelle.core.parts.registry import spec_of


def check_names(link: Link, catalog: Catalog) -> None:
    """Check that every application, cage, fiber grade and construction in the link exists.

    Raises:
        EditError: one does not; the message names it and lists what the catalog has.
    """
    for element in link.elements:
        for field, look_up in spec_of(element).names(element, catalog):
            try:
                look_up()
            except CatalogError as error:
                raise EditError(field, f"{element.kind} {element.id}: {error}") from error
