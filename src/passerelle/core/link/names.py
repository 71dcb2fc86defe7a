"""Names in a link that the catalog must have."""

from __future__ import annotations

from passerelle.core.catalog.shelves import Catalog, CatalogError
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import EditError
from passerelle.core.link.elements import Assembly, Cord, Module, Pigtail, Port, Run


def check_names(link: Link, catalog: Catalog) -> None:
    """Check that every application, cage, fiber grade and construction in the link exists.

    Raises:
        EditError: one does not; the message names it and lists what the catalog has.
    """
    for element in link.elements:
        try:
            if isinstance(element, Module):
                field = "also"
                for name in element.also:
                    catalog.application(name)
                field = "application"
                forms = catalog.application(element.application).forms
                if element.form and element.form not in forms:
                    made = " or ".join(forms)
                    raise EditError("form", f"{element.application} is made as {made}, not as '{element.form}'")
            elif isinstance(element, Port):
                field = "cage"
                catalog.cage(element.cage)
            elif isinstance(element, Assembly):
                field = "left_form"
                catalog.form(element.left_form)
                field = "right_form"
                catalog.form(element.right_form)
            elif isinstance(element, Cord | Run | Pigtail):
                field = "fiber"
                for grade in element.fiber:
                    catalog.fiber(grade)
                if isinstance(element, Run) and element.construction:
                    field = "construction"
                    catalog.construction(element.construction)
        except CatalogError as error:
            raise EditError(field, f"{element.kind} {element.id}: {error}") from error
