"""Faces under the scope: zones, what they may hold, which tool cleans them, what comes next."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from passerelle.core.accepted import Defect, FaceStep, Inspected
from passerelle.core.catalog.records import Family
from passerelle.core.catalog.testing_figures import FaceKind, FaceZone, Zone, testing_figures
from passerelle.core.parts.face import Face
from passerelle.core.sources import Frozen, Source

_SMALL = ("LC",)
LIGHT_CARE = (
    "Laser light is invisible. Unplug both ends and confirm darkness with a meter before a scope is "
    "used; no magnifier "
    "on arrays or amplified spans. Glass shards: eye protection, a black mat, a closed bin."
)


class Graded(Frozen):
    """What zones of a face hold, and whether that is allowed. ``beyond`` names what is too much, zone by zone."""

    passes: bool
    beyond: tuple[str, ...]
    counted: dict[str, int]
    source: Source


def kind_of_face(face: Face, family: Family) -> FaceKind:
    """Which criteria a face is held against."""
    if face.is_array:
        return "array, single-mode" if family == "single-mode" else "array"
    if family == "multimode":
        return "multimode"
    return "single-mode, angled" if face.polish == "APC" else "single-mode, flat"


def zone_at(face: FaceKind, from_middle_um: float) -> FaceZone | None:
    """The zone at a distance from the middle of the core in µm; None outside the last one.

    >>> zone_at("single-mode, flat", 20).zone
    'cladding'
    """
    zones = testing_figures().zones_of(face)
    return next((zone for zone in zones if 2 * from_middle_um <= zone.to_um), None)


def graded(face: FaceKind, defects: Sequence[Defect]) -> Graded:
    """Whether a face with these marks may be mated, by the zones and criteria of its kind.

    A mark counts in the innermost zone that it touches: its distance less half its size, in µm.
    """
    held: dict[Zone, dict[str, list[float]]] = {}
    for mark in defects:
        zone = zone_at(face, max(0.0, mark.from_middle_um - mark.size_um / 2))
        if zone is not None:
            held.setdefault(zone.zone, {}).setdefault(mark.kind, []).append(mark.size_um)
    beyond: list[str] = []
    zones = testing_figures().zones_of(face)
    for zone in zones:
        sizes = held.get(zone.zone, {})
        for kind, allowed in (("scratch", zone.scratches), ("defect", zone.defects)):
            beyond += _beyond(zone.zone, kind, sizes.get(kind, []), allowed)
    return Graded(
        passes=not beyond,
        beyond=tuple(beyond),
        counted={zone: sum(map(len, kinds.values())) for zone, kinds in held.items()},
        source=zones[0].source,
    )


def _beyond(zone: Zone, kind: str, sizes: list[float], allowed: tuple[tuple[float, int], ...]) -> list[str]:
    """What is too much in one zone: each row allows so many up to a size, and none beyond the last."""
    word = {"scratch": "scratches", "defect": "defects"}[kind]
    told: list[str] = []
    above = 0.0
    for most_um, count in allowed:
        here = [size for size in sizes if above < size <= most_um]
        if count >= 0 and len(here) > count:
            told.append(f"{zone}: {len(here)} {word} up to {most_um:g} µm, {count or 'none'} allowed")
        above = most_um
    larger = [size for size in sizes if size > above]
    if larger:
        size = f" larger than {above:g} µm" if above else ""
        told.append(f"{zone}: {len(larger)} {word}{size}, none allowed")
    return told


def cleaner_of(face: Face) -> str:
    """The tool that fits a face."""
    if face.is_array:
        pins = "between its pins" if face.pins else "across its holes"
        return f"array cleaner, {pins}" + (", angled" if face.polish == "APC" else "")
    ferrule = "1.25 mm" if face.shape in _SMALL else "2.5 mm"
    angled = ", with the angled tip" if face.polish == "APC" else ""
    if face.kind in ("adapter", "opening"):
        return f"stick or pen of {ferrule} through the adapter{angled}"
    return f"pen of {ferrule} or a cassette{angled}"


class NextStep(Frozen):
    """What to do at a face next: the step, how, and why. ``done``: nothing is left to do there."""

    step: FaceStep | Literal["none"]
    words: str
    done: bool = False


def next_step(face: Face, seen: Sequence[Inspected], *, fixed: bool, in_module: bool) -> NextStep:
    """What comes next at a face, from the records of its steps, oldest first.

    Args:
        fixed: it is an end of a cable that stays in the building: it is terminated again, not exchanged.
        in_module: it is the lens of a module, which cannot be graded.
    """
    if in_module:
        words = "The lens in a module cannot be graded: blow it out with a fitting dry stick if the light is low."
        return NextStep(step="leave the module", words=words, done=True)
    if not seen:
        return NextStep(step="inspect", words="Look at it before anything is mated.")
    last = seen[-1]
    if last.step in ("exchange", "terminate again"):
        return NextStep(step="inspect", words="A new face is looked at as well.")
    if last.step in ("clean dry", "clean wet to dry"):
        return NextStep(step="inspect", words="Look again: a cleaning can leave more than it takes.")
    if last.step == "damaged":
        return _renew(face, fixed, "Damage is not cleaned.")
    if last.passes:
        return NextStep(step="none", words="It passes: mate it now, or cap it.", done=True)
    cleaned = sum(1 for one in _since_new(seen) if one.step.startswith("clean"))
    most = testing_figures().inspection.cleanings
    if cleaned >= most:
        return _renew(face, fixed, f"{cleaned} cleanings did not help.")
    how = cleaner_of(face)
    if cleaned == 0:
        return NextStep(step="clean dry", words=f"Dry first: {how}.")
    return NextStep(
        step="clean wet to dry", words=f"A drop of solvent on a wipe, then dry: {how}. No flame near it."
    )


def _since_new(seen: Sequence[Inspected]) -> Sequence[Inspected]:
    """The steps since the face was last a new one."""
    new = [n for n, one in enumerate(seen) if one.step in ("exchange", "terminate again")]
    return seen[new[-1] + 1 :] if new else seen


def _renew(face: Face, fixed: bool, why: str) -> NextStep:
    if fixed:
        return NextStep(step="terminate again", words=f"{why} Terminate this end again.")
    return NextStep(step="exchange", words=f"{why} Exchange the cord.")
