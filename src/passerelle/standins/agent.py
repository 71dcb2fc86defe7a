"""A simulated box that speaks SNMP v2c and v3 over a table of objects, through the same package as the client."""

from __future__ import annotations

import asyncio
import threading
from bisect import bisect_right
from collections.abc import Callable, Mapping
from typing import Any

from pysnmp.carrier.asyncio.dgram import udp
from pysnmp.entity import config, engine
from pysnmp.entity.rfc3413 import cmdrsp, context
from pysnmp.proto.api import v2c
from pysnmp.smi import error, instrum

Oid = tuple[int, ...]
Value = int | str | bytes | Oid
Objects = Mapping[Oid, Value]
WHOLE = (1,)
User = tuple[str, str, str]
"""A name of v3 with its two secrets."""


class Table:
    """The objects of a box now, made anew at most every ``fresh_s`` seconds of a clock."""

    def __init__(self, make: Callable[[], Objects], write: Callable[[Oid, Value], None]) -> None:
        self._make, self.write = make, write
        self.values: Objects = {}
        self.order: list[Oid] = []

    def refresh(self) -> None:
        """Read the box anew."""
        self.values = self._make()
        self.order = sorted(self.values)

    def after(self, oid: Oid) -> Oid | None:
        """The next object behind an identifier, None at the end."""
        at = bisect_right(self.order, oid)
        return self.order[at] if at < len(self.order) else None


class _Instrumentation(instrum.AbstractMibInstrumController):  # type: ignore[misc]
    def __init__(self, table: Table) -> None:
        self.table = table

    def read_variables(self, *asked: Any, **_more: Any) -> list[Any]:
        self.table.refresh()
        return [(name, self._value(tuple(name))) for name, _ in asked]

    def _value(self, oid: Oid) -> Any:
        found = self.table.values.get(oid)
        return v2c.NoSuchInstance() if found is None else as_value(oid, found)

    def read_next_variables(self, *asked: Any, **_more: Any) -> list[Any]:
        if not self.table.order or any(len(tuple(name)) < 12 for name, _ in asked):
            self.table.refresh()
        found = []
        for name, _ in asked:
            after = self.table.after(tuple(name))
            if after is None:
                found.append((name, v2c.EndOfMibView()))
            else:
                found.append((v2c.ObjectIdentifier(after), as_value(after, self.table.values[after])))
        return found

    def write_variables(self, *asked: Any, **_more: Any) -> list[Any]:
        for number, (name, value) in enumerate(asked):
            try:
                self.table.write(tuple(name), plain(value))
            except KeyError as missing:
                raise error.NotWritableError(idx=number + 1) from missing
            except ValueError as wrong:
                raise error.WrongValueError(idx=number + 1) from wrong
        self.table.refresh()
        return list(asked)


_COUNTERS_32 = ((1, 3, 6, 1, 2, 1, 2, 2, 1, 14),)
_COUNTERS_64 = ((1, 3, 6, 1, 2, 1, 31, 1, 1, 1, 6),)
_GAUGES = ((1, 3, 6, 1, 2, 1, 31, 1, 1, 1, 15),)


def as_value(oid: Oid, value: Value) -> Any:
    """A value as the protocol carries it."""
    if isinstance(value, tuple):
        return v2c.ObjectIdentifier(value)
    if isinstance(value, str | bytes):
        return v2c.OctetString(value)
    if oid[:-1] in _COUNTERS_32:
        return v2c.Counter32(value)
    if oid[:-1] in _COUNTERS_64:
        return v2c.Counter64(value)
    return v2c.Gauge32(value) if oid[:-1] in _GAUGES else v2c.Integer(value)


def plain(value: Any) -> Value:
    """A value of the protocol as a plain one."""
    if isinstance(value, v2c.ObjectIdentifier):
        return tuple(value)
    return bytes(value) if isinstance(value, v2c.OctetString) else int(value)


class Agent:
    """A box on a UDP port of the loopback, answering until it is stopped."""

    def __init__(
        self, port: int, table: Table, *, community: str, user: tuple[str, str, str] | None = None
    ) -> None:
        self.table, self.mood = table, "well"
        self._engine = engine.SnmpEngine()
        self._transport = udp.UdpTransport()
        self._loop = asyncio.get_event_loop()
        self._transport.open_server_mode(("127.0.0.1", port))
        config.add_transport(self._engine, udp.DOMAIN_NAME, self._transport)
        self._allow(community, user)
        around = context.SnmpContext(self._engine)
        around.unregister_context_name(v2c.OctetString(""))
        around.register_context_name(v2c.OctetString(""), _Instrumentation(table))
        for responder in (
            cmdrsp.GetCommandResponder,
            cmdrsp.NextCommandResponder,
            cmdrsp.BulkCommandResponder,
            cmdrsp.SetCommandResponder,
        ):
            responder(self._engine, around)

    def _allow(self, community: str, user: User | None) -> None:
        config.add_v1_system(self._engine, "reads", community)
        config.add_vacm_user(self._engine, 2, "reads", "noAuthNoPriv", WHOLE, WHOLE)
        if user:
            name, secret, privacy = user
            config.add_v3_user(
                self._engine,
                name,
                config.USM_AUTH_HMAC192_SHA256,
                secret,
                config.USM_PRIV_CFB128_AES,
                privacy,
            )
            config.add_vacm_user(self._engine, 3, name, "authPriv", WHOLE, WHOLE)

    async def ready(self) -> None:
        """Wait until it listens; raises OSError where its port is taken."""
        await self._transport._lport

    @property
    def port(self) -> int:
        """The port that it listens on."""
        return int(self._transport.transport.get_extra_info("sockname")[1])

    def close(self) -> None:
        """Stop listening."""
        self._engine.close_dispatcher()


class Agents:
    """Boxes that run in a thread of their own with a loop of their own."""

    def __init__(self) -> None:
        self.loop = asyncio.new_event_loop()
        self.agents: dict[str, Agent] = {}
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    def _run(self) -> None:
        asyncio.set_event_loop(self.loop)
        self.loop.run_forever()

    def start(self, name: str, port: int, table: Table, *, community: str, user: User | None = None) -> Agent:
        """Start a box; raises OSError where its port is taken."""

        async def made() -> Agent:
            agent = Agent(port, table, community=community, user=user)
            await agent.ready()
            return agent

        self.agents[name] = asyncio.run_coroutine_threadsafe(made(), self.loop).result(20)
        return self.agents[name]

    def stop_one(self, name: str) -> None:
        """Pull the plug of a box."""
        agent = self.agents.pop(name)
        self.loop.call_soon_threadsafe(agent.close)

    def stop(self) -> None:
        """Stop all."""
        for name in list(self.agents):
            self.stop_one(name)
        self.loop.call_soon_threadsafe(self.loop.call_later, 0.05, self.loop.stop)  # what was cancelled ends first
        self._thread.join(5)
