"""The commands of turn-up: module pages, a diagnosis, a spanning tree, a hand-over."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from passerelle.cli.words import OWN, DatabaseOption, JsonOption, json_of, print_json, stop
from passerelle.core.errors import TurnUpError
from passerelle.core.turnup.belief import diagnose as believed_of
from passerelle.core.turnup.case_file import case_from, network_from
from passerelle.core.turnup.module_memory import read_module
from passerelle.core.turnup.module_pages import ModuleSeen, from_binary, pages_from
from passerelle.core.turnup.tree import tree_of, when_fails

MOST_BYTES = 16 * 1024 * 1024


def _bytes(file: Path) -> bytes:
    try:
        with file.open("rb") as opened:
            body = opened.read(MOST_BYTES + 1)
    except OSError as error:
        stop(f"{file}: cannot be read: {error.strerror}")
    if len(body) > MOST_BYTES:
        stop(f"{file}: it is larger than 16 MiB")
    return body


def _json(file: Path) -> Any:
    return json_of(file, _bytes(file))


def module(
    file: Annotated[Path, typer.Argument(help='JSON {"layout", "pages": {"a0": hex, ...}}, or a binary dump.')],
    as_json: JsonOption = False,
) -> None:
    """Print what the memory pages of a module say. Exit 2 with one sentence for a dump that cannot be read."""
    body = _bytes(file)
    try:
        if body.lstrip()[:1] == b"{":
            raw = json_of(file, body)
            pages = raw.get("pages")
            if not isinstance(pages, dict):
                stop(f"{file}: pages: an object of pages in hexadecimal is needed")
            layout = str(raw.get("layout", ""))
            seen = read_module(layout, pages_from(layout, pages))  # type: ignore[arg-type]
        else:
            seen = read_module(*from_binary(body))
    except TurnUpError as error:
        stop(f"{file}: {error.field}: {error}")
    except ValueError as error:
        stop(f"{file}: it is no JSON: {error}")
    if as_json:
        print_json(_module_told(seen))
        return
    for line in _module_lines(seen):
        typer.echo(line)


def _module_told(seen: ModuleSeen) -> dict[str, Any]:
    """A module for machines; lanes only where there are several."""
    told = seen.model_dump(mode="json")
    if len(seen.lanes) < 2:
        told.pop("lanes")
    return told


def _module_lines(seen: ModuleSeen) -> list[str]:
    if not seen.present or seen.identity is None:
        return ["no module"]
    who = seen.identity
    lines = [
        f"{who.identifier}, {', '.join(who.compliance) or 'no application told'}, {who.connector}",
        f"    part {who.part or '?'}, serial {who.serial or '?'}",
    ]
    if who.wavelength_nm:
        lines.append(f"    {who.wavelength_nm:g} nm")
    if not seen.diagnostics:
        lines.append("    no diagnostics")
    if seen.temperature_c is not None:
        lines.append(f"    {seen.temperature_c:.1f} °C, {seen.supply_v or 0:.2f} V")
    for lane in seen.lanes:
        sent = f"{lane.tx.dbm:.2f} dBm" if lane.tx and lane.tx.dbm is not None else "no light or not told"
        taken = f"{lane.rx.dbm:.2f} dBm" if lane.rx and lane.rx.dbm is not None else "no light or not told"
        lines.append(f"    lane {lane.lane}: sends {sent}, receives {taken} ({seen.received_power_kind})")
    lines += [f"    alarm: {one}" for one in seen.alarms] + [f"    warning: {one}" for one in seen.warnings]
    return lines + [f"    caution: {one}" for one in seen.problems]


def diagnose(
    case: Annotated[Path, typer.Argument(help="JSON with faults, tests and seen.")], as_json: JsonOption = False
) -> None:
    """Print what to believe after what was seen, and the tests that are left, the one that saves most first."""
    try:
        found = believed_of(*case_from(_json(case)))
    except TurnUpError as error:
        stop(f"{case}: {error.field}: {error}")
    if as_json:
        best = found.tests[0].test if found.tests else None
        print_json({**found.model_dump(mode="json"), "next": best})
        return
    for answer in found.impossible:
        typer.echo(f"impossible: {answer.test} = {answer.outcome}: no fault gives that with what was seen before")
    for name, share in sorted(found.belief.items(), key=lambda one: -one[1]):
        typer.echo(f"{share:7.1%}  {name}")
    for look in found.tests:
        typer.echo(f"next: {look.test}, {look.minutes:g} min, saves {look.saves_min:.1f} min")


def tree(
    network: Annotated[Path, typer.Argument(help="JSON with bridges and links.")], as_json: JsonOption = False
) -> None:
    """Print the root and the role of each port by IEEE 802.1Q, and what each failure does."""
    try:
        known = network_from(_json(network))
        found = tree_of(known)
        # what every failure does is only told of networks that a person reads
        failures = [when_fails(known, link) for link in known.links] if len(known.links) <= 200 else []
    except TurnUpError as error:
        stop(f"{network}: {error.field}: {error}")
    if as_json:
        told = found.model_dump(mode="json")
        told["blocking"] = [{"bridge": one.bridge, "port": one.port} for one in found.blocking]
        told["failures"] = [one.model_dump(mode="json") for one in failures]
        print_json(told)
        return
    typer.echo(f"root: {found.root or 'not known'}")
    for one in found.ports:
        typer.echo(f"    {one.bridge} port {one.port}: {one.role}")
    for words in found.unknown:
        typer.echo(f"unknown: {words}")
    for loop in found.loops:
        typer.echo(f"loop: {' - '.join(loop)}")


handover = typer.Typer(no_args_is_help=True, help="Check a signed hand-over.")


@handover.callback()
def _handover() -> None:
    """Check a signed hand-over."""


@handover.command("verify")
def verify_handover(
    file: Annotated[Path, typer.Argument(help="A handover package (ZIP).")],
    key: Annotated[str, typer.Option(help="The signer's public key, or its fingerprint, in hexadecimal.")] = "",
    receipt: Annotated[Path | None, typer.Option(help="The receipt that was given out with it.")] = None,
    own: Annotated[bool, typer.Option("--own", help="It should be signed with this installation's key.")] = False,
    digest: Annotated[str, typer.Option(help="As older sheets print it; it proves the files alone.")] = "",
    database: DatabaseOption = OWN,
    as_json: JsonOption = False,
) -> None:
    """Check a handover. Exit 0 when it is proven, 1 when it was changed, 3 when nobody vouches for it."""
    from passerelle.exchange.handover import ReceiptError, verified
    from passerelle.exchange.package_in import PackageError
    from passerelle.exchange.signing import SigningKey

    if own and not SigningKey.is_beside(database):
        stop(f"there is no signing key beside {database}: choose the installation with --database, or enter --key")
    known = SigningKey.beside(database).public if own else key
    said = _whole(receipt).decode("utf-8", "replace") if receipt else ""
    if receipt and not said.strip():
        stop(f"{receipt}: the receipt is empty")
    try:
        found = verified(_whole(file), key=known, receipt=said, digest=digest)
    except (PackageError, ReceiptError) as error:
        typer.echo(f"{file}: refused: {error}", err=True)
        raise typer.Exit(1) from error
    if as_json:
        print_json(found.model_dump(mode="json"))
    else:
        typer.echo(f"{found.words}")
        for problem in found.problems:
            typer.echo(f"    {problem}")
        typer.echo(f"    archive {found.archive_sha256}")
        if found.public_key:
            typer.echo(f"    key     {found.fingerprint}, {found.signer}, {found.on}")
    if not found.whole:
        raise typer.Exit(1)
    if not found.proven:
        raise typer.Exit(3)


def _whole(file: Path) -> bytes:
    try:
        return file.read_bytes()
    except OSError as error:
        stop(f"{file}: cannot be read: {error.strerror}")
