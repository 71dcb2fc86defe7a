"""Ports and modules: cage, speed, coding, and whether the two ends speak to each other."""

from __future__ import annotations

from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, caution, fail, note, undecided
from passerelle.core.link.chain import Link, modules, ports
from passerelle.core.link.elements import Module, Port
from passerelle.core.match.coding import PRACTICE, SURVEY, coding_findings
from passerelle.core.match.environment import ingress_findings, temperature_findings
from passerelle.core.match.joints import Joint
from passerelle.core.match.spaces import space_findings
from passerelle.core.units import format_rate


def port_findings(link: Link, joints: tuple[Joint, ...], catalog: Catalog) -> list[Finding]:
    """Findings on each port with its module, and on the two modules against each other."""
    found: list[Finding] = []
    for joint in joints:
        pair = (joint.left, joint.right)
        port = next((e for e in pair if isinstance(e, Port)), None)
        module = next((e for e in pair if isinstance(e, Module)), None)
        if joint.kind == "cage" and port and module:
            application = catalog.application(module.application)
            found += _cage(port, module, application, catalog)
            found += _speed(port, module, application)
            found += coding_findings(port, module.id, module.coding, application.rate_mbps)
            found += temperature_findings(port, module, catalog)
    for port in ports(link):
        found += ingress_findings(port, catalog)
    found += space_findings(link, catalog)
    found += _ends(link, catalog)
    return found


def _cage(port: Port, module: Module, application: Application, catalog: Catalog) -> list[Finding]:
    cage = catalog.cage(port.cage)
    forms = (module.form,) if module.form else application.forms
    if any(form in cage.accepts for form in forms):
        return []
    takes = f"takes {' and '.join(cage.accepts)} modules" if cage.accepts else "takes no module"
    return [
        fail(
            "cage.form",
            (port.id, module.id),
            f"A {application.name} module does not work in a {cage.name} cage.",
            f"{application.name} is made as {' or '.join(forms)}; the {cage.name} cage {takes}, "
            f"up to {format_rate(cage.max_rate_mbps)}.",
            cage.source,
        )
    ]


def _speed(port: Port, module: Module, application: Application) -> list[Finding]:
    at = (port.id, module.id)
    rate = format_rate(application.rate_mbps)
    if not port.rates_mbps:
        return [
            undecided(
                "speed.unknown",
                at,
                "It is not known which speeds this port can be set to.",
                f"The module runs at {rate} only; a port that cannot be set to that stays dark.",
            )
        ]
    known = ", ".join(format_rate(r) for r in port.rates_mbps)
    if application.rate_mbps not in port.rates_mbps:
        fixed = (
            f"The port is fixed at {known} and cannot be set."
            if port.fixed_rate
            else f"The port can be set to {known}."
        )
        return [
            fail(
                "speed.port",
                at,
                f"The module runs at {rate}, the port does not.",
                f"{fixed} Optical modules of one rate do not negotiate another.",
                SURVEY,
            )
        ]
    if len(port.rates_mbps) > 1 and application.rate_mbps < max(port.rates_mbps):
        return [
            note(
                "speed.set_port",
                at,
                f"Set this port to {rate} by hand before the link is lit.",
                f"The port can run at {known}; with a slower module many ports do not find the speed themselves.",
                PRACTICE,
            )
        ]
    return []


def _ends(link: Link, catalog: Catalog) -> list[Finding]:
    ends = modules(link)
    at = tuple(m.id for m in ends)
    found: list[Finding] = []
    if len(ends) == 2:
        a, b = (catalog.application(m.application) for m in ends)
        found += _facing(a, b, (ends[0].id, ends[1].id))
    else:
        found.append(
            undecided(
                "chain.modules",
                at,
                f"The link has {len(ends) or 'no'} module{'s' * (len(ends) != 1)}: it needs one at each end.",
                "What is sent and what is received is not known without both.",
            )
        )
    slowest = min((catalog.application(m.application).rate_mbps for m in ends), default=None)
    if link.wanted_rate_mbps and slowest is not None and slowest < link.wanted_rate_mbps:
        found.append(
            fail(
                "speed.below_wanted",
                at,
                f"{format_rate(link.wanted_rate_mbps)} is wanted, the modules carry {format_rate(slowest)}.",
                "The slowest piece of the path is the speed that people get.",
                SURVEY,
            )
        )
    return found


def _facing(a: Application, b: Application, at: tuple[str, str]) -> list[Finding]:
    if a.speaks_to(b):
        return []
    if a.name == b.name:
        return [
            fail(
                "pair.same_side",
                at,
                f"Both modules are the same side of a two-wavelength pair: {a.name}.",
                f"Both send at {a.wavelength_nm} nm and listen for the other wavelength: "
                f"one end must be {a.partner}.",
                *a.sources,
            )
        ]
    if a.rate_mbps != b.rate_mbps:
        return [
            fail(
                "speed.ends_differ",
                at,
                f"A {format_rate(a.rate_mbps)} module faces a {format_rate(b.rate_mbps)} module.",
                f"{a.name} and {b.name} signal at different rates; neither negotiates, so neither end comes up.",
                *a.sources,
                *b.sources,
            )
        ]
    source = a.interoperates_source or b.interoperates_source
    if a.works_with(b) and source:
        return [
            caution(
                "application.mixed",
                at,
                f"{a.name} faces {b.name}: they are said to work together.",
                "Each direction is judged with its own transmitter and receiver; the shorter reach and the smaller "
                "channel loss of the two are kept.",
                source,
            )
        ]
    return [
        fail(
            "application.differs",
            at,
            f"{a.name} faces {b.name}.",
            f"Same rate, different light: {a.wavelength_nm} nm against {b.wavelength_nm} nm, or a receiver "
            "that is made for other power. No clause lets them work together.",
            *a.sources,
            *b.sources,
        )
    ]
