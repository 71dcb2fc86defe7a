"""Commands that serve: an own database, or the demo; and the passphrase for others who reach it."""

from __future__ import annotations

import ipaddress
import socket
import threading
import time
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer
import uvicorn

from passerelle.api.app import create_app
from passerelle.api.connections import PacedProtocol
from passerelle.api.passphrase import Gate, write_passphrase
from passerelle.cli.words import DEMO, OWN, DatabaseOption, stop
from passerelle.core.house import HouseRules
from passerelle.core.plant.site import Plant
from passerelle.demo.network import demo_project
from passerelle.demo.port_aubier import PROJECT_NAME
from passerelle.store import projects
from passerelle.store.accepted import reach
from passerelle.store.database import Database
from passerelle.store.files import alone, clear_half_files, is_ours

if TYPE_CHECKING:
    from passerelle.standins.bench import StandIns

PortOption = Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)]
BindOption = Annotated[str, typer.Option(help="Address to listen on; loopback unless you say otherwise.")]
HostOption = Annotated[
    list[str] | None, typer.Option(help="Name under which others reach it, as in their address bar; repeatable.")
]
TrustProxyOption = Annotated[
    list[str] | None,
    typer.Option(
        help="Address of a proxy in front, whose word is taken for who asks and whether by https; repeatable."
    ),
]
PassphraseOption = Annotated[
    Path | None, typer.Option(help="File with the passphrase's hash, made by: passerelle passphrase FILE.")
]


def serve(
    port: PortOption = 8000,
    bind: BindOption = "127.0.0.1",
    host: HostOption = None,
    passphrase_file: PassphraseOption = None,
    trust_proxy: TrustProxyOption = None,
    database: DatabaseOption = OWN,
) -> None:
    """Serve the application over one database, which is made when it is missing."""
    keeper = _keeper(bind, host or (), passphrase_file)
    _check_port(bind, port)
    opened = Database(database)
    with opened.write() as session:
        if not projects.projects(session):
            projects.create_project(session, "My links", [], HouseRules())
    _run(opened, bind, port, host or (), keeper, trust_proxy or ())


def demo(
    port: PortOption = 8000,
    bind: BindOption = "127.0.0.1",
    host: HostOption = None,
    passphrase_file: PassphraseOption = None,
    trust_proxy: TrustProxyOption = None,
    database: DatabaseOption = DEMO,
    reset: Annotated[bool, typer.Option(help="Throw away all that is in the database first.")] = False,
    yes: Annotated[bool, typer.Option("--yes", help="With --reset: do not ask.")] = False,
    serve_it: Annotated[bool, typer.Option("--serve/--no-serve", help="Serve it, or only fill it.")] = True,
    with_standins: Annotated[
        bool, typer.Option("--standins/--no-standins", help="Start the simulated instruments beside it.")
    ] = True,
) -> None:
    """Fill a database with Port-Aubier, unless that was done before, and serve it."""
    keeper = _keeper(bind, host or (), passphrase_file)
    if serve_it:
        _check_port(bind, port)
    if reset:
        _throw_away(database, yes)
    opened = Database(database)
    with opened.write() as session:
        if not projects.projects(session):
            links, plant = demo_project()
            made = projects.create_project(session, PROJECT_NAME, links, HouseRules(), plant)
            for address in [row.address for row in plant.instruments] + [box.address for box in plant.boxes]:
                if address:
                    reach(session, made.id, address)
            _know_the_simulated(database, plant)
    if serve_it:
        running = _standins() if with_standins else None
        if running is not None:
            _plug_in(opened, running)
        try:
            _run(opened, bind, port, host or (), keeper, trust_proxy or ())
        finally:
            if running is not None:
                running.stop()
    opened.close()


def _plug_in(opened: Database, running: StandIns) -> None:
    """Write into the demo's plan where its simulated instruments and boxes answer, should that have changed."""
    boxes = running.network.addresses if running.network else {}
    with opened.write() as session:
        for project in projects.projects(session):
            if project.name != PROJECT_NAME:
                continue
            plant = projects.plant(session, project.id)
            moved = plant.changed(
                instruments=tuple(
                    row.model_copy(update={"address": running.addresses.get(row.kind, row.address)})
                    for row in plant.instruments
                ),
                boxes=tuple(
                    row.model_copy(update={"address": boxes.get(row.id, row.address)}) for row in plant.boxes
                ),
            )
            label = "Simulated instruments answer at other ports"
            projects.set_plant(session, project.id, projects.plant_revision(session, project.id), moved, label)
            for address in (*running.addresses.values(), *boxes.values()):
                reach(session, project.id, address)
            _know_the_simulated(opened.path, moved)


def _know_the_simulated(database: Path, plant: Plant) -> None:
    """The community of the simulated boxes, which is of no use anywhere else, for their addresses."""
    from passerelle.equipment.credentials import Credentials, CredentialsFile
    from passerelle.standins.boxes import COMMUNITY

    known = CredentialsFile.beside(database)
    for box in plant.boxes:
        if box.address:
            known.put(box.address, Credentials(version="v2c", community=COMMUNITY))


def _standins() -> StandIns | None:
    """The simulated instruments, or a word why they do not run."""
    from passerelle.standins.bench import start_standins
    from passerelle.standins.truth import shipped_truth

    try:
        links, plant = demo_project()
        return start_standins(links, shipped_truth(), plant.boxes)
    except OSError as error:
        typer.echo(f"The simulated instruments do not run: {error.strerror}. Others may hold their ports.")
        return None


def standins() -> None:
    """Run the simulated instruments of the demo's plant until Ctrl+C."""
    running = _standins()
    if running is None:
        raise typer.Exit(1)
    for kind, address in running.addresses.items():
        typer.echo(f"{kind:18} {address}")
    for name, address in running.network.addresses.items() if running.network else ():
        typer.echo(f"{name:18} {address} (SNMP)")
    typer.echo("Ctrl+C stops them.")
    try:
        threading.Event().wait()
    except KeyboardInterrupt:
        pass
    finally:
        running.stop()


def passphrase(file: Annotated[Path, typer.Argument(help="The file to write; only you may read it.")]) -> None:
    """Ask for a passphrase and write its hash to a file, for --passphrase-file."""
    said = typer.prompt("Passphrase", hide_input=True, confirmation_prompt=True)
    write_passphrase(file, said)
    typer.echo(f"{file} is written. A new passphrase ends all sessions once Passerelle is started again.")


def _throw_away(database: Path, yes: bool) -> None:
    if is_ours(database):
        held = Database(database)
        with held.read() as session:
            names = ", ".join(f"'{item.name}'" for item in projects.projects(session)) or "no project"
        held.close()
        if not yes and not typer.confirm(f"Throw away all that is in {database} ({names})?"):
            stop(f"{database} is left as it was; --yes throws it away unasked")
        alone(database)
    for suffix in ("", "-wal", "-shm"):
        database.with_name(database.name + suffix).unlink(missing_ok=True)


def _keeper(bind: str, hosts: Sequence[str], file: Path | None) -> Gate | None:
    """Who keeps the gate; others are let in only under a name that was given and behind a passphrase.

    Listening on loopback under another name is what one does behind a proxy: that lets others in too.
    """
    if not _is_loopback(bind) or not all(map(_is_loopback, hosts)):
        missing = [word for word, said in (("--host NAME", hosts), ("--passphrase-file FILE", file)) if not said]
        if missing:
            known = f" as {hosts[0]}" if hosts else ""
            stop(
                f"listening on {bind}{known} lets others in: say also {' and '.join(missing)}. NAME is what stands "
                "in their address bar; FILE is made by 'passerelle passphrase FILE'. Without them use "
                "--bind 127.0.0.1 alone"
            )
    return Gate(file) if file else None


def _is_loopback(bind: str) -> bool:
    if bind == "localhost":
        return True
    try:
        return ipaddress.ip_address(bind.strip("[]")).is_loopback
    except ValueError:
        return False


def _check_port(bind: str, port: int) -> None:
    with socket.socket(socket.AF_INET6 if ":" in bind else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((bind, port))
        except OSError as error:
            stop(
                f"port {port} on {bind} cannot be used ({error.strerror}): "
                f"stop what listens there, or choose another with --port {port + 1}",
                1,
            )


def _run(
    database: Database,
    bind: str,
    port: int,
    hosts: Sequence[str],
    keeper: Gate | None,
    proxies: Sequence[str],
) -> None:
    for left in clear_half_files(database.path, time.time()):
        typer.echo(f"{left.name} was left half done by a copy that was stopped: removed.")
    shown = hosts[0] if hosts else f"[{bind}]" if ":" in bind else bind
    typer.echo(f"Passerelle is at http://{shown}:{port} (Ctrl+C stops it; data in {database.path})")
    if not _is_loopback(bind):
        typer.echo("What is said to it travels open: put a proxy with TLS before it on a shared network.")
    application = create_app(database, [*hosts, *([bind] if _is_loopback(bind) else [])], keeper)
    uvicorn.run(application, host=bind, port=port, log_level="warning", **connection_settings(proxies))


def connection_settings(proxies: Sequence[str]) -> dict[str, Any]:
    """How connections are served: dripping ones end, and only named proxies say who asks.

    Raises:
        typer.Exit: a proxy is no address; it was said.
    """
    for proxy in proxies:
        try:
            ipaddress.ip_network(proxy)
        except ValueError:
            stop(f"--trust-proxy {proxy}: enter the proxy's address, for example 127.0.0.1 or 10.0.0.0/24")
    return {
        "http": PacedProtocol,
        "ws": "none",
        "proxy_headers": bool(proxies),
        "forwarded_allow_ips": list(proxies),
    }
