"""Insertion loss of a link, term by term.

IL(λ) = Σ attenuation(λ)·length + Σ mated pairs + Σ splices + Σ inserted parts + Σ mismatches.
The plug in a module is not a mated pair: the test points of the clause already include it.
"""

from __future__ import annotations

import math
from functools import cache
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from passerelle.core.catalog.records import FiberGrade
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link, glass
from passerelle.core.link.elements import Attenuator, Glass, Module, Panel
from passerelle.core.match.joints import Joint, joiners_between
from passerelle.core.sources import Frozen, Source, derived, estimated
from passerelle.core.units import format_length

Direction = Literal["right", "left"]
NOMINAL_WINDOW_NM = 42
_DRAWS = 4096
_SEED = 20_259


class LossTerm(Frozen):
    """One contribution to the loss, in dB, with where each of its three values is from.

    ``part`` tells terms that stand side by side apart: fiber, mated pair, splice, attenuator, mismatch, reading.
    A reading stands at its longest piece and ``covers`` all those between its test points.
    """

    at: str
    part: Literal["fiber", "mated pair", "splice", "attenuator", "mismatch", "reading"]
    what: str
    worst_db: float
    worst_source: Source
    expected_db: float
    expected_source: Source
    least_db: float
    least_source: Source
    covers: tuple[str, ...] = ()


class LossSummary(Frozen):
    """Sums of all terms of one direction, in dB.

    ``q975_db`` is the 97.5 % quantile of the random sum, None where nobody looks at it.
    """

    worst_db: float
    expected_db: float
    least_db: float
    q975_db: float | None


def loss_terms(
    link: Link, joints: tuple[Joint, ...], catalog: Catalog, wavelengths_nm: tuple[int, ...], direction: Direction
) -> tuple[LossTerm, ...]:
    """Loss terms of a link for light going ``right`` or ``left``, in chain order; of several lanes the worst.

    Every piece of glass must have one candidate grade and a length; pieces that lack them, or whose grade
    has no figure at this wavelength, add no term (the review says so by a finding of its own).
    """
    terms: list[LossTerm] = []
    for piece in glass(link):
        term = _fiber_term(piece, catalog, wavelengths_nm)
        if term:
            terms.append(term)
    for joint in joints:
        terms += _joint_terms(joint, catalog)
    for element in link.elements:
        if isinstance(element, Attenuator):
            terms.append(_attenuator_term(element, catalog))
    terms += _mismatch_terms(link, catalog, direction)
    order = {element.id: position for position, element in enumerate(link.elements)}
    return tuple(sorted(terms, key=lambda term: order[term.at]))


def nominal_wavelength_nm(grade: FiberGrade, wavelength_nm: int) -> int | None:
    """The listed wavelength nearest to this one, within 42 nm; None when there is none."""
    near = min(grade.attenuation_db_per_km, key=lambda listed: abs(listed - wavelength_nm))
    return near if abs(near - wavelength_nm) <= NOMINAL_WINDOW_NM else None


def scattering_factor(grade: FiberGrade, wavelength_nm: int, nominal_nm: int) -> float:
    """How much more glass loses at a lane below the listed wavelength: the fourth power of the ratio.

    Scattering falls with the fourth power of the wavelength (Rayleigh). Above the listed wavelength, and in
    multimode glass, whose figures hold for the whole window, the listed figure is kept.
    """
    if grade.family == "multimode" or wavelength_nm >= nominal_nm:
        return 1.0
    return (nominal_nm / wavelength_nm) ** 4


def worst_db_per_km(grade: FiberGrade, wavelengths_nm: tuple[int, ...]) -> tuple[float, Source] | None:
    """The most that cabled glass of a grade loses at the shortest of some lanes, in dB/km, and from where that is.

    None where the grade has no figure at the shortest or at the longest of them (nm).
    """
    shortest_nm, longest_nm = min(wavelengths_nm), max(wavelengths_nm)
    nominal, upper = nominal_wavelength_nm(grade, shortest_nm), nominal_wavelength_nm(grade, longest_nm)
    if nominal is None or upper is None:
        return None
    factor = scattering_factor(grade, shortest_nm, nominal)
    source = grade.source_at(nominal)
    if factor > 1:
        scaled = f"{source.text}, carried from {nominal} to {shortest_nm} nm by the fourth power (scattering)"
        source = derived(scaled) if not source.estimate else estimated(scaled)
    return grade.attenuation_db_per_km[nominal] * factor, source


def _fiber_term(piece: Glass, catalog: Catalog, wavelengths_nm: tuple[int, ...]) -> LossTerm | None:
    if piece.length_m is None or len(piece.fiber) != 1:
        return None
    grade = catalog.fiber(piece.fiber[0])
    found = worst_db_per_km(grade, wavelengths_nm)
    shortest_nm, longest_nm = min(wavelengths_nm), max(wavelengths_nm)
    nominal, upper = nominal_wavelength_nm(grade, shortest_nm), nominal_wavelength_nm(grade, longest_nm)
    if found is None or nominal is None or upper is None:
        return None
    worst, source = found
    length_km = piece.length_m / 1000
    factor = scattering_factor(grade, shortest_nm, nominal)
    return LossTerm(
        at=piece.id,
        part="fiber",
        what=f"{format_length(piece.length_m)} of {grade.name} at {shortest_nm} nm, at most {worst:.3g} dB/km",
        worst_db=worst * length_km,
        worst_source=source,
        expected_db=grade.typical_attenuation_db_per_km[nominal] * factor * length_km,
        expected_source=grade.typical_source,
        least_db=grade.least_attenuation_db_per_km[upper] * length_km,
        least_source=grade.least_source,
    )


def _joint_terms(joint: Joint, catalog: Catalog) -> list[LossTerm]:
    if joint.kind == "adapter" and isinstance(joint.via, Panel):
        return [_allowance_term(joint.via.id, joint.via.loss_class, "mated pair", catalog)]
    if joint.kind == "splice" and joint.via is not None:
        return [_allowance_term(joint.via.id, "splice", "splice", catalog)]
    if joint.kind == "receptacle" and not _is_module_joint(joint):
        opening = joint.left if isinstance(joint.left, Attenuator) else joint.right
        assert opening is not None
        return [_allowance_term(opening.id, "mated pair, standard", "mated pair", catalog)]
    return []


def _is_module_joint(joint: Joint) -> bool:
    return isinstance(joint.left, Module) or isinstance(joint.right, Module)


def _allowance_term(at: str, name: str, part: Literal["mated pair", "splice"], catalog: Catalog) -> LossTerm:
    allowance = catalog.allowance(name)
    return LossTerm(
        at=at,
        part=part,
        what=allowance.name,
        worst_db=allowance.worst_db,
        worst_source=allowance.worst_source,
        expected_db=allowance.typical_db,
        expected_source=allowance.typical_source,
        least_db=allowance.least_db,
        least_source=allowance.least_source,
    )


def _attenuator_term(element: Attenuator, catalog: Catalog) -> LossTerm:
    figures = catalog.attenuator
    tolerance_db = figures.variable_tolerance_db if element.variable else figures.tolerance_of(element.value_db)
    source = figures.variable_source if element.variable else figures.source
    return LossTerm(
        at=element.id,
        part="attenuator",
        what=f"{'variable ' if element.variable else ''}attenuator {element.value_db:g} dB ± {tolerance_db:g} dB",
        worst_db=element.value_db + tolerance_db,
        worst_source=source,
        expected_db=element.value_db,
        expected_source=derived(
            "the value set with a meter" if element.variable else "the value marked on the part"
        ),
        least_db=max(0.0, element.value_db - tolerance_db),
        least_source=source,
    )


def _mismatch_terms(link: Link, catalog: Catalog, direction: Direction) -> list[LossTerm]:
    terms: list[LossTerm] = []
    for left, right in pairwise(glass(link)):
        if len(left.fiber) != 1 or len(right.fiber) != 1:
            continue
        sender, receiver = (left, right) if direction == "right" else (right, left)
        loss_db = core_mismatch_db(catalog.fiber(sender.fiber[0]), catalog.fiber(receiver.fiber[0]))
        if loss_db > 0:
            source = estimated("ratio of core areas and apertures, all modes filled; no clause gives a figure")
            terms.append(
                LossTerm(
                    at=next(iter(joiners_between(link, left, right)), receiver.id),
                    part="mismatch",
                    what=f"{sender.fiber[0]} into {receiver.fiber[0]}",
                    worst_db=loss_db,
                    worst_source=source,
                    expected_db=loss_db / 2,
                    expected_source=source,
                    least_db=0.0,
                    least_source=derived("light that fills only the middle of the core passes"),
                )
            )
    return terms


def core_mismatch_db(sender: FiberGrade, receiver: FiberGrade) -> float:
    """Loss in dB of light going from one glass into another with a smaller core.

    With all modes filled the share that passes is (core ratio · aperture ratio)². Numerical apertures are
    the nominal 0.275 of 62.5 µm and 0.20 of 50 µm glass (IEC 60793-2-10, types A1b and A1a). Multimode into
    single-mode is the same with the core area alone, a lower bound on what is lost.
    """
    if receiver.core_um >= sender.core_um:
        return 0.0
    apertures = {62.5: 0.275, 50.0: 0.20}
    ratio = receiver.core_um / sender.core_um
    if sender.family == receiver.family == "multimode":
        ratio *= apertures[receiver.core_um] / apertures[sender.core_um]
    return -20 * math.log10(ratio)


def summarize(terms: tuple[LossTerm, ...], *, spread: bool = True) -> LossSummary:
    """Sums of the terms, and the 97.5 % quantile when each is drawn from a triangular distribution.

    The triangle spans least to worst with its peak at expected; terms are independent; the seed is fixed,
    so the same terms always give the same number.
    """
    worst = sum(term.worst_db for term in terms)
    return LossSummary(
        worst_db=worst,
        expected_db=sum(term.expected_db for term in terms),
        least_db=sum(term.least_db for term in terms),
        q975_db=min(worst, _quantile(terms)) if spread else None,
    )


def _quantile(terms: tuple[LossTerm, ...]) -> float:
    spread = [t for t in terms if t.worst_db > t.least_db]
    fixed = sum(t.worst_db for t in terms if t.worst_db <= t.least_db)
    if not spread:
        return fixed
    least, peak, worst = (
        np.array([getattr(t, f"{name}_db") for t in spread]) for name in ("least", "expected", "worst")
    )
    draws = _triangular(_uniforms(len(spread)), least, peak, worst).sum(axis=1)
    return float(np.quantile(draws, 0.975)) + fixed


@cache
def _uniforms(n: int) -> NDArray[np.float64]:
    """The same draws every time: shape (4096, n)."""
    return np.random.default_rng(_SEED).random((_DRAWS, n))


def _triangular(
    uniform: NDArray[np.float64],
    least: NDArray[np.float64],
    peak: NDArray[np.float64],
    worst: NDArray[np.float64],
) -> NDArray[np.float64]:
    """Triangular draws by the inverse of the distribution; the last three of shape (n,)."""
    width = worst - least
    rising = least + np.sqrt(uniform * width * (peak - least))
    falling = worst - np.sqrt((1 - uniform) * width * (worst - peak))
    return np.where(uniform * width < peak - least, rising, falling)
