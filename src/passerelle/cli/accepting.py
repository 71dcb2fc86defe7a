"""The commands that say what a reading may be and what a trace record holds."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Literal, cast

import typer

from passerelle.cli.words import JsonOption, print_json, stop
from passerelle.core.acceptance.limits import plain_limit
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.catalog.testing_figures import CableUse, School
from passerelle.core.errors import AcceptanceError, CatalogError, UnitError
from passerelle.core.link.readings import ReferenceMethod
from passerelle.core.units import parse_length
from passerelle.exchange.trace_record import TraceRecordError
from passerelle.exchange.trace_record_in import MOST_BYTES, read_record

_METHODS: dict[str, ReferenceMethod] = {
    "one-cord": "one cord",
    "two-cord": "two cords",
    "three-cord": "three cords",
}
_SCHOOLS: dict[str, School] = {
    "TIA-568.3-D": "TIA-568.3-D",
    "ISO 11801": "ISO/IEC 11801-1",
    "ISO/IEC 11801": "ISO/IEC 11801-1",
    "ISO/IEC 11801-1": "ISO/IEC 11801-1",
}


def limit(
    fiber: Annotated[str, typer.Option(help="Fiber grade, such as OM3 or OS2.")],
    wavelength: Annotated[int, typer.Option(help="In nm, such as 850.")],
    length: Annotated[str, typer.Option(help="With its unit: 100m, 328ft, 2.9km.")],
    pairs: Annotated[int, typer.Option(help="Every mated pair, the two at the ends among them.", min=0, max=400)],
    method: Annotated[str, typer.Option(help="one-cord, two-cord or three-cord.")],
    splices: Annotated[int, typer.Option(help="Splices.", min=0, max=400)] = 0,
    cable: Annotated[str, typer.Option(help="Of single-mode: indoor, indoor-outdoor or outside.")] = "",
    reference_grade: Annotated[bool, typer.Option(help="The test cords' plugs are of reference grade.")] = False,
    allowances: Annotated[str, typer.Option(help="TIA-568.3-D or 'ISO 11801'.")] = "TIA-568.3-D",
    as_json: JsonOption = False,
) -> None:
    """Print the most that a reading of a plain piece of cabling may be."""
    if method not in _METHODS:
        stop(f"method: '{method}' is no reference: one-cord, two-cord or three-cord")
    if allowances not in _SCHOOLS:
        stop(f"allowances: '{allowances}' is not known: TIA-568.3-D or 'ISO 11801'")
    if cable not in ("", "indoor", "indoor-outdoor", "outside"):
        stop(f"cable: '{cable}' is no use of a cable: indoor, indoor-outdoor or outside")
    try:
        found = plain_limit(
            load_catalog(),
            fiber,
            wavelength,
            parse_length(length),
            pairs=pairs,
            splices=splices,
            method=_METHODS[method],
            school=_SCHOOLS[allowances],
            reference_grade=reference_grade,
            cable=cast("CableUse | Literal['']", cable),
        )
    except AcceptanceError as error:
        stop(f"{error.field}: {error}")
    except (CatalogError, UnitError) as error:
        stop(str(error))
    if as_json:
        print_json(found.model_dump(mode="json"))
        return
    typer.echo(f"limit: {found.limit_db:.2f} dB, with {found.pairs_counted} mated pairs")
    for part in found.parts:
        typer.echo(
            f"    {part.total_db:6.2f} dB  {part.count} x {part.what}, {part.each_db:g} each ({part.source.text})"
        )


def trace(
    file: Annotated[Path, typer.Argument(help="A trace record (.sor, version 2).")], as_json: JsonOption = False
) -> None:
    """Print what a trace record holds. Exit 2 with one sentence for a file that is refused."""
    try:
        with file.open("rb") as opened:
            record = read_record(opened.read(MOST_BYTES + 1))
    except OSError as error:
        stop(f"{file}: cannot be read: {error.strerror}")
    except TraceRecordError as error:
        stop(f"{file}: {error}")
    events = [
        {
            "at_m": round(record.metres(event.time), 3),
            "loss_db": event.loss / 1000,
            "reflectance_db": event.reflectance / 1000,
        }
        for event in record.events
    ]
    told = {
        "wavelength_nm": record.wavelength_nm,
        "pulse_ns": record.pulse_ns,
        "group_index": record.group_index,
        "range_m": round(record.range_m, 3),
        "points": len(record.raw),
        "checksum": record.checksum,
        "events": events,
    }
    if as_json:
        print_json(told)
        return
    typer.echo(", ".join(f"{name} {value}" for name, value in told.items() if name != "events"))
    if record.checksum == "wrong":
        typer.echo("warning: the checksum fits none of the ways in which it is counted: the file may be damaged")
    for event in events:
        typer.echo(f"    {event['at_m']:10.2f} m  {event['loss_db']:+.3f} dB  {event['reflectance_db']:.1f} dB")
