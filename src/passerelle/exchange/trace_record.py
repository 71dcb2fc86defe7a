"""Trace records of the vendor-neutral format (Telcordia SR-4731, ``.sor``, version 2).

Distances in a record are one-way times; the group index makes metres of them. Little-endian throughout.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

LIGHT_M_PER_S = 299_792_458.0
VERSION = 200
START_CRC = 0xFFFF
Checksum = Literal["ok", "absent", "wrong"]


class TraceRecordError(ValueError):
    """A record that cannot be read. The message names the byte and says what to do."""

    def __init__(self, at: int, what: str) -> None:
        super().__init__(f"byte {at}: {what}")
        self.at = at


@dataclass(frozen=True)
class Block:
    """A block that is kept as it is: its name, revision and content after the name."""

    name: str
    revision: int
    content: bytes


@dataclass(frozen=True)
class General:
    """What the record is of. Offsets as they are written."""

    language: str = "EN"
    cable: str = ""
    fiber: str = ""
    fiber_type: int = 652
    wavelength_nm: int = 1550
    origin: str = ""
    destination: str = ""
    cable_code: str = ""
    condition: str = "BC"
    user_offset: int = 0
    user_offset_distance: int = 0
    operator: str = ""
    comment: str = ""


@dataclass(frozen=True)
class Supplier:
    """With what it was taken."""

    name: str = ""
    mainframe: str = ""
    mainframe_serial: str = ""
    module: str = ""
    module_serial: str = ""
    software: str = ""
    other: str = ""


@dataclass(frozen=True)
class Fixed:
    """The settings of the acquisition in the units of the file.

    ``wavelength`` in 0.1 nm, ``pulses`` in ns, ``spacings`` in 1e-14 s (one way), ``index`` in 1e-5,
    ``backscatter``
    in -0.1 dB, ``range_time`` and offsets in 0.1 ns, thresholds in 0.001 dB.
    """

    taken_at: int = 0
    unit: str = "mt"
    wavelength: int = 15500
    offset: int = 0
    offset_distance: int = 0
    pulses: tuple[int, ...] = (100,)
    spacings: tuple[int, ...] = (0,)
    counts: tuple[int, ...] = (0,)
    index: int = 146_820
    backscatter: int = 815
    averages: int = 0
    averaging_time: int = 0
    range_time: int = 0
    range_distance: int = 0
    front_offset: int = 0
    noise_level: int = 0
    noise_scale: int = 0
    first_point: int = 0
    loss_threshold: int = 0
    reflectance_threshold: int = 0
    end_threshold: int = 0
    kind: str = "ST"
    window: tuple[int, int, int, int] = (0, 0, 0, 0)


@dataclass(frozen=True)
class Event:
    """An event in the units of the file: one-way time in 0.1 ns, slope, loss and reflectance in 0.001 dB."""

    number: int
    time: int
    slope: int = 0
    loss: int = 0
    reflectance: int = 0
    code: str = "0F9999LS"
    marks: tuple[int, int, int, int, int] = (0, 0, 0, 0, 0)
    comment: str = ""


@dataclass(frozen=True)
class Total:
    """End-to-end loss and return loss as the instrument has them, in 0.001 dB, with their places in 0.1 ns."""

    loss: int = 0
    start: int = 0
    finish: int = 0
    return_loss: int = 0
    return_start: int = 0
    return_finish: int = 0


@dataclass(frozen=True)
class TraceRecord:
    """A trace: settings, points and events. ``raw`` holds the points as they are stored, shape (n,).

    ``others`` are blocks that are not read, kept with the place that they had among the blocks; ``rests`` what
    stood behind the known fields of a known block.
    """

    fixed: Fixed
    raw: NDArray[np.uint16]
    scale: int = 1000
    general: General = field(default_factory=General)
    supplier: Supplier = field(default_factory=Supplier)
    events: tuple[Event, ...] = ()
    total: Total = field(default_factory=Total)
    order: tuple[str, ...] = ("GenParams", "SupParams", "FxdParams", "KeyEvents", "DataPts", "Cksum")
    revisions: tuple[tuple[str, int], ...] = ()
    others: tuple[Block, ...] = ()
    rests: tuple[tuple[str, bytes], ...] = ()
    checksum: Checksum = "absent"

    @property
    def wavelength_nm(self) -> float:
        """The wavelength of the pulse in nm."""
        return self.fixed.wavelength / 10

    @property
    def pulse_ns(self) -> float:
        """The length of the pulse in ns."""
        return float(self.fixed.pulses[0])

    @property
    def group_index(self) -> float:
        """The group index that makes metres of times."""
        return self.fixed.index / 1e5

    @property
    def spacing_m(self) -> float:
        """The distance between two points in m."""
        return self.fixed.spacings[0] * 1e-14 * LIGHT_M_PER_S / self.group_index

    @property
    def range_m(self) -> float:
        """How far the acquisition reached, in m; by its points where the record does not say it."""
        if self.fixed.range_time > 0:
            return self.metres(self.fixed.range_time)
        return self.spacing_m * len(self.raw)

    def metres(self, time: int) -> float:
        """A one-way time in 0.1 ns as a distance in m."""
        return time * 1e-10 * LIGHT_M_PER_S / self.group_index

    @cached_property
    def levels_db(self) -> NDArray[np.float64]:
        """The level at each point in dB (one way), falling from the start, shape (n,)."""
        return np.asarray(self.raw * (-self.scale * 1e-6), dtype=np.float64)

    @property
    def distances_m(self) -> NDArray[np.float64]:
        """The distance of each point in m, shape (n,)."""
        return np.asarray(np.arange(len(self.raw)) * self.spacing_m, dtype=np.float64)

    def same_as(self, other: TraceRecord) -> bool:
        """Whether two records hold the same, whatever their checksums are."""
        bare = [replace(one, raw=np.empty(0, np.uint16), checksum="absent") for one in (self, other)]
        return _plain(bare[0]) == _plain(bare[1]) and np.array_equal(self.raw, other.raw)


def _plain(record: TraceRecord) -> dict[str, object]:
    return {name: value for name, value in vars(record).items() if name not in ("raw", "levels_db")}
