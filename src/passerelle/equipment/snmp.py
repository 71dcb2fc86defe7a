"""A client of SNMP, v2c and v3 (RFC 3416, RFC 3414), over UDP: read some objects, walk a column, write one.

Identifiers are numeric: nothing is compiled or looked up at run time.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from pysnmp.hlapi.v3arch import asyncio as hlapi
from pysnmp.proto.api import v2c

from passerelle.equipment.credentials import Credentials
from passerelle.equipment.objects import SILENT, BoxError, Oid, Value

TIMEOUT_S = 1.0
RETRIES = 1
AT_ONCE = 20
"""Objects in one question: an answer must fit one datagram."""
MOST_ROWS = 20_000
_AUTH = {
    "none": hlapi.USM_AUTH_NONE,
    "SHA-256": hlapi.USM_AUTH_HMAC192_SHA256,
    "SHA-1": hlapi.USM_AUTH_HMAC96_SHA,
    "MD5": hlapi.USM_AUTH_HMAC96_MD5,
}
_PRIVACY = {
    "none": hlapi.USM_PRIV_NONE,
    "AES-128": hlapi.USM_PRIV_CFB128_AES,
    "DES": hlapi.USM_PRIV_CBC56_DES,
}


class Session:
    """A box at ``host:port``, asked with its secret."""

    def __init__(self, engine: Any, address: str, secret: Credentials, *, timeout_s: float = TIMEOUT_S) -> None:
        self.address, self._engine, self._timeout_s = address, engine, timeout_s
        self._auth = _as_auth(secret)
        self._target: Any = None

    async def _asked(self, ask: Any, *more: Any) -> Any:
        if self._target is None:
            self._target = await _target(self.address, self._timeout_s)
        trouble, status, index, found = await ask(
            self._engine, self._auth, self._target, hlapi.ContextData(), *more, lookupMib=False
        )
        if trouble:
            raise BoxError(self.address, _words(str(trouble)))
        if int(status):
            named = status.prettyPrint() if hasattr(status, "prettyPrint") else str(status)
            raise BoxError(self.address, f"it refused object {int(index)}: {named}")
        return found

    async def get(self, oids: Iterable[Oid]) -> dict[Oid, Value]:
        """Some objects; those that the box does not have are left out.

        Raises:
            BoxError: it is silent, or refuses.
        """
        wanted, found = list(oids), dict[Oid, Value]()
        for at in range(0, len(wanted), AT_ONCE):
            some = [hlapi.ObjectType(hlapi.ObjectIdentity(oid)) for oid in wanted[at : at + AT_ONCE]]
            for name, value in await self._asked(hlapi.get_cmd, *some):
                if (known := _plain(value)) is not None:
                    found[tuple(name)] = known
        return found

    async def walk(self, column: Oid) -> dict[Oid, Value]:
        """A column of a table by the index of its rows.

        Raises:
            BoxError: it is silent, refuses, or goes round in circles.
        """
        found, at = dict[Oid, Value](), column
        while True:
            asked = hlapi.ObjectType(hlapi.ObjectIdentity(at))
            rows = await self._asked(hlapi.bulk_cmd, 0, AT_ONCE, asked)
            for name, value in rows:
                oid = tuple(name)
                if oid[: len(column)] != column or _plain(value) is None:
                    return found
                if oid <= at or len(found) >= MOST_ROWS:
                    raise BoxError(self.address, "its table does not end: it does not keep to the protocol")
                at = oid
                found[oid[len(column) :]] = _plain(value)  # type: ignore[assignment]
            if not rows:
                return found

    async def put(self, values: Mapping[Oid, int | Oid]) -> None:
        """Write objects, all or none.

        Raises:
            BoxError: it is silent, or refuses.
        """
        some = [hlapi.ObjectType(hlapi.ObjectIdentity(oid), _typed(value)) for oid, value in values.items()]
        await self._asked(hlapi.set_cmd, *some)


def _as_auth(secret: Credentials) -> Any:
    if secret.version == "v2c":
        return hlapi.CommunityData(secret.community, mpModel=1)
    return hlapi.UsmUserData(
        secret.user,
        secret.auth_secret or None,
        secret.privacy_secret or None,
        authProtocol=_AUTH[secret.auth],
        privProtocol=_PRIVACY[secret.privacy],
    )


async def _target(address: str, timeout_s: float) -> Any:
    host, _, port = address.rpartition(":")
    if not host:
        host, port = address, "161"
    if not port.isdecimal():
        raise BoxError(address, "an address reads host:port, such as 192.0.2.10:161")
    kind = hlapi.Udp6TransportTarget if host.startswith("[") else hlapi.UdpTransportTarget
    try:
        return await kind.create((host.strip("[]"), int(port)), timeout=timeout_s, retries=RETRIES)
    except Exception as error:  # the package has one error for a name, a family and a route
        raise BoxError(address, "this name or address leads nowhere: check it") from error


def _words(trouble: str) -> str:
    low = trouble.lower()
    if "timeout" in low or "no snmp response" in low:
        return f"{SILENT}: is it on, does this way lead there, is the secret the one of this box?"
    if "user" in low or "digest" in low or "decrypt" in low or "cipher" in low:
        return "it knows this user or its secrets not: type them again"
    return f"it answers otherwise than expected ({trouble[:80]}): read again"


def _plain(value: Any) -> Value | None:
    """A value as an integer, bytes or an identifier; None where the box has none."""
    if isinstance(value, v2c.NoSuchObject | v2c.NoSuchInstance | v2c.EndOfMibView | v2c.Null):
        return None
    if isinstance(value, v2c.ObjectIdentifier):
        return tuple(value)
    if isinstance(value, v2c.OctetString):
        return bytes(value)
    return int(value)


def _typed(value: int | Oid) -> Any:
    return v2c.ObjectIdentifier(value) if isinstance(value, tuple) else v2c.Integer(value)
