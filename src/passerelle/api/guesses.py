"""Wrong passphrases, counted by address and over all, so that whoever guesses waits and nobody else does."""

from __future__ import annotations

import ipaddress
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass

from cachetools import TTLCache

SLOWEST_S = 60.0
MOST_WRONG = 30
"""Wrong ones from devices that have not been in, over all addresses, before the next such one waits ..."""
EACH_S = 10.0
"""... for one of them to be forgotten, which happens at this pace."""
FORGOTTEN_S = 3600.0
MOST_ADDRESSES = 10_000


@dataclass
class _Tries:
    wrong: int = 0
    not_before: float = 0.0


class GuessLimits:
    """How long the next passphrase has to wait.

    Every wrong one doubles the wait of its address, from one second up to a minute; a right one ends that. Over all
    addresses thirty wrong ones are free, and one more each ten seconds. A device that has been in is counted by
    itself: strangers cannot make it wait. ``now`` answers with seconds that only rise.
    """

    def __init__(self, now: Callable[[], float] = time.monotonic) -> None:
        self._now, self._lock = now, threading.Lock()
        self._tries: TTLCache[str, _Tries] = TTLCache(MOST_ADDRESSES, FORGOTTEN_S, timer=now)
        self._wrong, self._counted_at = 0.0, now()

    def wait_s(self, address: str, device: str = "") -> float:
        """Seconds until a passphrase from an address or a known device is looked at; 0.0 is at once."""
        with self._lock:
            known = self._tries.get(_counted_as(address, device))
            own = known.not_before - self._now() if known else 0.0
            over_all = 0.0 if device else (self._forgotten() - MOST_WRONG + 1) * EACH_S
            return max(0.0, own, over_all)

    def wrong(self, address: str, device: str = "") -> float:
        """Count a wrong one; answers with the seconds that the next one waits."""
        with self._lock:
            key = _counted_as(address, device)
            tries = self._tries.get(key) or _Tries()
            tries.wrong += 1
            tries.not_before = self._now() + min(SLOWEST_S, 0.5 * 2**tries.wrong)
            self._tries[key] = tries
            if not device:
                self._wrong = self._forgotten() + 1
        return self.wait_s(address, device)

    def right(self, address: str, device: str = "") -> None:
        """Forget the wrong ones of an address or a device."""
        with self._lock:
            self._tries.pop(_counted_as(address, device), None)

    def _forgotten(self) -> float:
        """Wrong ones over all that are not forgotten by now."""
        now = self._now()
        self._wrong = max(0.0, self._wrong - (now - self._counted_at) / EACH_S)
        self._counted_at = now
        return self._wrong


def _counted_as(address: str, device: str) -> str:
    """A device by its own hash; an address by itself, or by its network of 64 bits, which one household has."""
    if device:
        return f"device {device}"
    try:
        found = ipaddress.ip_address(address)
    except ValueError:
        return address
    if found.version == 6 and found.ipv4_mapped is None:
        return str(ipaddress.ip_network((found, 64), strict=False))
    return str(found)
