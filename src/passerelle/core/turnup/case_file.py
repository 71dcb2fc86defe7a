"""A diagnosis case and a network as a script writes them down: every usual way of saying the same is read."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from passerelle.core.errors import TurnUpError
from passerelle.core.turnup.belief import Answer, Case, Fault, Look
from passerelle.core.turnup.bridges import Network

Made = TypeVar("Made", bound=BaseModel)
_METHODS = {"long": "long", "802.1q": "long", "32-bit": "long", "short": "short", "802.1d-1998": "short"}


def case_from(raw: Any) -> tuple[Case, tuple[Answer, ...]]:
    """A case and what was seen.

    ``faults`` is a list of ``{"name", "prior", "cure_min"}`` or an object of priors by name; ``tests`` a list of
    ``{"name", "minutes", "outcomes": {outcome: {fault: likelihood}}}``. Likelihoods may also stand with the fault,
    as ``"likelihoods": {test: {outcome: likelihood}}``, or with the test by fault. ``seen`` is a list of
    ``{"test", "outcome"}`` or an object of outcomes by test.

    Raises:
        TurnUpError: what cannot be read, with its place.
    """
    if not isinstance(raw, Mapping):
        raise TurnUpError("case", "a case is an object with faults, tests and seen")
    faults = _faults(raw.get("faults"))
    tests = _tests(raw.get("tests", []))
    beside = {f["name"]: f.pop("likelihoods", None) or {} for f in faults}
    made = tuple(_made(Fault, f"faults[{n}]", fault) for n, fault in enumerate(faults))
    looks = tuple(_look(n, test, beside) for n, test in enumerate(tests))
    return Case(made, looks), _seen(raw.get("seen") or [])


def _faults(raw: Any) -> list[dict[str, Any]]:
    if isinstance(raw, Mapping):
        raw = [{"name": name, **(one if isinstance(one, Mapping) else {"prior": one})} for name, one in raw.items()]
    if not isinstance(raw, list) or not raw:
        raise TurnUpError("faults", "a list of faults with name and prior is needed")
    found = []
    for number, one in enumerate(raw):
        if not isinstance(one, Mapping):
            raise TurnUpError(f"faults[{number}]", "a fault is an object with name and prior")
        values = dict(one)
        name = _name(values, f"faults[{number}]")
        if "prior" not in values:
            raise TurnUpError(f"faults[{number}].prior", f"'{name}' has no prior")
        likelihoods = values.pop("likelihoods", values.pop("likelihood", None))
        kept = {key: values[key] for key in ("prior", "cure_min") if key in values}
        found.append({"name": name, **kept, "likelihoods": likelihoods})
    return found


def _name(values: dict[str, Any], field: str) -> str:
    name = values.get("name", values.get("id", values.get("code")))
    if not isinstance(name, str) or not name:
        raise TurnUpError(f"{field}.name", "a name is needed")
    return name


def _tests(raw: Any) -> list[dict[str, Any]]:
    if isinstance(raw, Mapping):
        raw = [{"name": name, **one} for name, one in raw.items()]
    if not isinstance(raw, list):
        raise TurnUpError("tests", "a list of tests with name, minutes and outcomes is needed")
    found = []
    for number, one in enumerate(raw):
        if not isinstance(one, Mapping):
            raise TurnUpError(f"tests[{number}]", "a test is an object with name, minutes and outcomes")
        values = dict(one)
        found.append({**values, "name": _name(values, f"tests[{number}]")})
    return found


def _look(number: int, test: dict[str, Any], beside: Mapping[str, Any]) -> Look:
    field = f"tests[{number}]"
    if "minutes" not in test:
        raise TurnUpError(f"{field}.minutes", f"'{test['name']}' does not say how many minutes it takes")
    raw = test.get("likelihoods", test.get("outcomes"))
    if isinstance(raw, list):  # the outcomes by name alone: their likelihoods stand with the faults
        if all(isinstance(one, Mapping) for one in raw):
            raw = {_name(dict(one), f"{field}.outcomes"): one.get("likelihoods", {}) for one in raw}
        else:
            raw = {str(one): {} for one in raw}
    if raw is None:
        raw = {}
    if not isinstance(raw, Mapping):
        raise TurnUpError(f"{field}.outcomes", "an object of likelihoods by outcome and fault is needed")
    outcomes = _by_outcome(raw, set(beside))
    for fault, said in beside.items():
        shares = said.get(test["name"]) if isinstance(said, Mapping) else None
        for outcome, share in (shares or {}).items():
            outcomes.setdefault(outcome, {})[fault] = share
    values = {"name": test["name"], "minutes": test["minutes"], "outcomes": outcomes}
    return _made(Look, field, values)


def _by_outcome(raw: Mapping[str, Any], faults: set[str]) -> dict[str, dict[str, Any]]:
    """Likelihoods by outcome, also where they were written by fault."""
    if raw and set(raw) <= faults and all(isinstance(one, Mapping) for one in raw.values()):
        turned: dict[str, dict[str, Any]] = {}
        for fault, shares in raw.items():
            for outcome, share in shares.items():
                turned.setdefault(outcome, {})[fault] = share
        return turned
    return {outcome: dict(shares) if isinstance(shares, Mapping) else {} for outcome, shares in raw.items()}


def _seen(raw: Any) -> tuple[Answer, ...]:
    if isinstance(raw, Mapping):
        raw = [{"test": test, "outcome": outcome} for test, outcome in raw.items()]
    if not isinstance(raw, list):
        raise TurnUpError("seen", "a list of answers with test and outcome is needed")
    pairs = [{"test": one[0], "outcome": one[1]} if isinstance(one, list) and len(one) == 2 else one for one in raw]
    return tuple(_made(Answer, f"seen[{number}]", one) for number, one in enumerate(pairs))


def network_from(raw: Any) -> Network:
    """A network: ``bridges`` with name, priority, address and protocol; ``links`` with two ends and a rate.

    An end is ``{"bridge", "port"}`` or the text ``bridge:port``. ``path_cost`` is ``long``, ``short`` or absent
    where nobody knows. Bridges that say no protocol speak what the network says, RSTP where it says none.

    Raises:
        TurnUpError: what cannot be read, with its place.
    """
    if not isinstance(raw, Mapping):
        raise TurnUpError("network", "a network is an object with bridges and links")
    protocol = raw.get("protocol", "RSTP")
    bridges = _listed(raw.get("bridges", raw.get("switches", raw.get("nodes"))), "bridges")
    links = _listed(raw.get("links", raw.get("edges", [])), "links")
    method = raw.get("path_cost", raw.get("path_cost_method", raw.get("cost_method")))
    if method is not None and str(method).lower() not in (*_METHODS, "unknown"):
        raise TurnUpError("path_cost", f"'{method}' is no method: long, short, or leave it out")
    values = {
        "bridges": [_bridge(n, one, protocol) for n, one in enumerate(bridges)],
        "links": [_link(n, one) for n, one in enumerate(links)],
        "path_cost": _METHODS.get(str(method).lower()),
    }
    return _made(Network, "network", values)


def _listed(raw: Any, field: str) -> list[dict[str, Any]]:
    if isinstance(raw, Mapping):
        raw = [{"name": name, **one} for name, one in raw.items()]
    if not isinstance(raw, list):
        raise TurnUpError(field, "a list is needed")
    for number, one in enumerate(raw):
        if not isinstance(one, Mapping):
            raise TurnUpError(f"{field}[{number}]", "an object is needed")
    return [dict(one) for one in raw]


def _bridge(number: int, raw: dict[str, Any], protocol: str) -> dict[str, Any]:
    spoken = raw.get("protocol", protocol)
    if raw.get("stp") is False:
        spoken = "none"
    known = {"rstp": "RSTP", "stp": "STP", "mstp": "MSTP", "none": "none", "unknown": "unknown"}
    return {
        "name": _name(raw, f"bridges[{number}]"),
        "priority": raw.get("priority", 32_768),
        "address": raw.get("address", raw.get("mac", "")),
        "protocol": known.get(str(spoken).lower(), "other"),
        "filters": bool(raw.get("filters", raw.get("bpdu_filter", False))),
    }


def _link(number: int, raw: dict[str, Any]) -> dict[str, Any]:
    field = f"links[{number}]"
    values = {
        "name": raw.get("name", raw.get("id", "")),
        "a": _end(raw, "a", f"{field}.a", number),
        "b": _end(raw, "b", f"{field}.b", number),
        "group": str(raw.get("group", raw.get("aggregation", "")) or ""),
        "up": bool(raw.get("up", True)),
    }
    rates = [raw[key] for key in ("rate_mbps", "rate", "speed_mbps", "speed", "mbps") if raw.get(key) is not None]
    if rates:
        values["rate_mbps"] = rates[0]
    return values


def _end(raw: dict[str, Any], side: str, field: str, number: int) -> dict[str, Any]:
    both = raw.get("ends", raw.get("endpoints"))
    if isinstance(both, list) and len(both) == 2:
        raw = {**raw, "a": both[0], "b": both[1]}
    said = raw.get(side, raw.get({"a": "from", "b": "to"}[side]))
    if isinstance(said, list) and len(said) == 2:
        said = {"bridge": said[0], "port": said[1]}
    if isinstance(said, str):
        port = raw.get(f"{side}_port", raw.get(f"port_{side}"))
        if port is None and ":" in said:
            said, _, port = said.partition(":")
        said = {"bridge": said, "port": port if port is not None else f"#{number + 1}"}
    if not isinstance(said, Mapping):
        raise TurnUpError(field, "an end is {bridge, port} or the text bridge:port")
    cost = said.get("cost", raw.get(f"cost_{side}", raw.get(f"{side}_cost", raw.get("cost"))))
    return {
        "bridge": next((said[key] for key in ("bridge", "switch", "node", "name", "id") if key in said), ""),
        "port": str(said.get("port", f"#{number + 1}")),
        "priority": said.get("priority", said.get("port_priority", 128)),
        "cost": cost,
        "filters": bool(said.get("filters", said.get("bpdu_filter", False))),
    }


def _made(record: type[Made], field: str, values: Any) -> Made:
    try:
        return record.model_validate(values)
    except ValidationError as error:
        first = error.errors()[0]
        place = "".join(f"[{one}]" if isinstance(one, int) else f".{one}" for one in first["loc"])
        raise TurnUpError(f"{field}{place}".replace("network.", "", 1), str(first["msg"]).lower()) from error
