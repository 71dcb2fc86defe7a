"""Insertion loss of a link, term by term.

IL(λ) = Σ attenuation(λ)·length + Σ mated pairs + Σ splices + Σ inserted parts + Σ mismatches.
The plug in a module is not a mated pair: the test points of the clause already include it.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from itertools import pairwise
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from passerelle.core.catalog.records import Application, FiberGrade
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Chain, Joiner, Joint, Standing
from passerelle.core.parts.part import OfAllowance, OfFigures, OfGlass
from passerelle.core.parts.piece import NEW_STATES
from passerelle.core.remembered import by_identity
from passerelle.core.rules.by_length import Floats, Sums
from passerelle.core.sources import Frozen, Source, derived, estimated
from passerelle.core.units import format_length

ATTENUATION_UNKNOWN = Rule("loss.no_figure", "match")

Direction = Literal["right", "left"]
TermPart = Literal["fiber", "mated pair", "splice", "attenuator", "mismatch", "reading"]
M_PER_KM = 1000
NOMINAL_WINDOW_NM = 42
_DRAWS = 4096
_SEED = 20_259


class LossTerm(Frozen):
    """One contribution to the loss, in dB, with where each of its three values is from.

    ``part`` tells terms that stand side by side apart: fiber, mated pair, splice, attenuator, mismatch, reading.
    A reading stands at its longest piece and ``covers`` all those between its test points.
    """

    at: str
    part: TermPart
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


@dataclass(frozen=True, slots=True)
class Term:
    """One contribution to the loss of a kind of chain, before its lengths are known.

    Of glass (``column`` is its place among the lines) the three values are in dB/m, else in dB; of splices that are
    assumed ``every_m`` of it in dB each. ``existing``: they are in cable that is there. A reading that ``proves``
    nothing counts against the link only. ``what`` may hold ``{length}`` and ``{count}``, where those are said.
    ``position`` is that of its piece in the chain.
    """

    at: str
    position: int
    part: TermPart
    what: str
    worst: float
    worst_source: Source
    expected: float
    expected_source: Source
    least: float
    least_source: Source
    column: int | None = None
    covers: tuple[str, ...] = ()
    every_m: float = 0.0
    existing: bool = False
    proves: bool = True

    def factor(self, lengths_m: Floats) -> Floats:
        """By what the values are multiplied for lines of these lengths in m: those of its column, any shape.

        A splice ``every_m`` is there for each such length that ends on the way: none up to one, one up to two.
        """
        if not self.every_m:
            return lengths_m
        reels: Floats = np.ceil(lengths_m / self.every_m - 1e-9)
        return np.asarray(np.maximum(0.0, reels - 1))

    @property
    def values(self) -> tuple[float, float, float]:
        """Worst, expected and least."""
        return self.worst, self.expected, self.least

    def of(self, lengths_m: Sequence[float]) -> LossTerm:
        """The term of a link whose lines are this long in m."""
        by = 1.0 if self.column is None else float(self.factor(np.array(lengths_m[self.column])))
        length = "" if self.column is None else format_length(lengths_m[self.column])
        return LossTerm(
            at=self.at,
            part=self.part,
            what=self.what.replace("{length}", length).replace("{count}", f"{by:g}"),
            worst_db=self.worst * by,
            worst_source=self.worst_source,
            expected_db=self.expected * by,
            expected_source=self.expected_source,
            least_db=self.least * by,
            least_source=self.least_source,
            covers=self.covers,
        )


def loss_terms(
    chain: Chain, catalog: Catalog, wavelengths_nm: tuple[int, ...], direction: Direction
) -> tuple[Term, ...]:
    """Loss terms of a chain for light going ``right`` or ``left``, in its order; of several lanes the worst.

    Every piece of glass must have one candidate grade and a length; pieces that lack them, or whose grade
    has no figure at this wavelength, add no term (the review says so by a finding of its own).
    """
    terms: list[Term] = []
    for joint in chain.joints:
        terms += joint_terms(joint, catalog)
    for standing in chain.parts:
        terms += part_terms(chain, standing, catalog, wavelengths_nm)
    terms += mismatch_terms(chain, catalog, direction)
    return tuple(sorted(terms, key=lambda term: term.position))


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


@by_identity
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


def told_terms(terms: Iterable[Term], lengths_m: Sequence[float]) -> tuple[LossTerm, ...]:
    """The terms of a link whose lines are this long in m; splices of which none is assumed are left out."""
    told = ((term, term.of(lengths_m)) for term in terms)
    return tuple(one for term, one in told if not term.every_m or one.worst_db > 0)


def without_figures(chain: Chain, catalog: Catalog, application: Application) -> list[Finding]:
    """A finding for each piece of glass whose grade has no attenuation at a wavelength of the application."""
    found = []
    for line in chain.glass:
        grade = line.traits.grades[0] if line.traits.grades else ""
        if not grade or worst_db_per_km(catalog.fiber(grade), application.wavelengths_nm) is not None:
            continue
        listed = catalog.fiber(grade).attenuation_db_per_km
        reached = [
            nm for nm in application.wavelengths_nm if nominal_wavelength_nm(catalog.fiber(grade), nm) is None
        ]
        at_nm = " and ".join(f"{nm} nm" for nm in dict.fromkeys(reached))
        found.append(
            ATTENUATION_UNKNOWN.undecided(
                (line.id,),
                f"What {grade} loses at {at_nm} is not known, so {application.name} cannot be judged on it.",
                f"Figures are at hand for {', '.join(f'{nm} nm' for nm in listed)}. Measure the loss at that "
                "wavelength and enter the reading, or use an application of a listed one.",
                catalog.fiber(grade).attenuation_source,
            ).of(fiber=grade, application=application.name)
        )
    return found


def part_terms(
    chain: Chain, standing: Standing, catalog: Catalog, wavelengths_nm: tuple[int, ...]
) -> Iterator[Term]:
    """What a part itself loses, on the first of its ways that light of these wavelengths can take."""
    ways = standing.part.between(standing.enter, standing.leave)
    way = next((one for one in ways if all(map(one.passes, wavelengths_nm))), None)
    for of in way.terms if way else ():
        if isinstance(of, OfGlass):
            yield from _fiber_term(chain, standing, catalog, wavelengths_nm)
        elif isinstance(of, OfAllowance):
            yield _allowance_term(standing.id, standing.position, of, catalog)
        else:
            yield _figure_term(standing, of)


def _figure_term(standing: Standing, of: OfFigures) -> Term:
    return Term(
        at=standing.id,
        position=standing.position,
        part=of.name,
        what=of.what,
        worst=of.worst_db,
        worst_source=of.worst_source,
        expected=of.expected_db,
        expected_source=of.expected_source,
        least=of.least_db,
        least_source=of.least_source,
    )


@by_identity
def _glass_term(grade: FiberGrade, wavelengths_nm: tuple[int, ...]) -> dict[str, Any] | None:
    """What every metre of a grade loses at the worst of some lanes; None where it has no figure there."""
    found = worst_db_per_km(grade, wavelengths_nm)
    shortest_nm, longest_nm = min(wavelengths_nm), max(wavelengths_nm)
    nominal, upper = nominal_wavelength_nm(grade, shortest_nm), nominal_wavelength_nm(grade, longest_nm)
    if found is None or nominal is None or upper is None:
        return None
    worst, source = found
    factor = scattering_factor(grade, shortest_nm, nominal)
    return {
        "part": "fiber",
        "what": f"{{length}} of {grade.name} at {shortest_nm} nm, at most {worst:.3g} dB/km",
        "worst": worst / M_PER_KM,
        "worst_source": source,
        "expected": grade.typical_attenuation_db_per_km[nominal] * factor / M_PER_KM,
        "expected_source": grade.typical_source,
        "least": grade.least_attenuation_db_per_km[upper] / M_PER_KM,
        "least_source": grade.least_source,
    }


def _fiber_term(
    chain: Chain, standing: Standing, catalog: Catalog, wavelengths_nm: tuple[int, ...]
) -> Iterator[Term]:
    traits = standing.traits
    if traits.length_m is None or len(traits.grades) != 1:
        return
    found = _glass_term(catalog.fiber(traits.grades[0]), wavelengths_nm)
    if found is not None:
        yield Term(at=standing.id, position=standing.position, column=chain.column_of[standing.position], **found)
        yield from _splice_terms(chain, standing, catalog)


ASSUMED = "splices assumed"


def _splice_terms(chain: Chain, standing: Standing, catalog: Catalog) -> Iterator[Term]:
    """The splices on the way of a run: as many as were said, else one for each reel that ends, in the dark only."""
    count, traits = standing.traits.splices, standing.traits
    allowance = catalog.allowance(traits.splice_class)
    if count:
        yield Term(
            at=standing.id,
            position=standing.position,
            part="splice",
            what=f"{count} splice{'s' * (count > 1)} on its way",
            worst=allowance.worst_db * count,
            worst_source=allowance.worst_source,
            expected=allowance.typical_db * count,
            expected_source=allowance.typical_source,
            least=allowance.least_db * count,
            least_source=allowance.least_source,
        )
    elif count is None and traits.spliced_by_length and catalog.reel_m > 0:
        source = estimated(f"a reel of {format_length(catalog.reel_m)}, and {allowance.worst_db:g} dB a splice")
        yield Term(
            at=standing.id,
            position=standing.position,
            part="splice",
            what=f"{{count}} {ASSUMED}, one for each {format_length(catalog.reel_m)}",
            worst=allowance.worst_db,
            worst_source=source,
            expected=0.0,
            expected_source=source,
            least=0.0,
            least_source=derived("splices that nobody counted are not counted on against too much light"),
            column=chain.column_of[standing.position],
            every_m=catalog.reel_m,
            existing=standing.piece.state not in NEW_STATES,
        )


def joint_terms(joint: Joint, catalog: Catalog) -> list[Term]:
    """A mated pair in a joiner, a splice, or a plug in an opening that counts one."""
    if joint.kind in ("adapter", "splice") and joint.via is not None and joint.via.mating.term is not None:
        return [_allowance_term(joint.via.id, joint.via.position, joint.via.mating.term, catalog)]
    if joint.kind == "receptacle":
        for standing, face in ((joint.left, joint.left_face), (joint.right, joint.right_face)):
            if standing is not None and face.mated_as:
                of = OfAllowance(face.mated_as, "mated pair")
                return [_allowance_term(standing.id, standing.position, of, catalog)]
    return []


def _allowance_term(at: str, position: int, of: OfAllowance, catalog: Catalog) -> Term:
    allowance = catalog.allowance(of.allowance)
    return Term(
        at=at,
        position=position,
        part=of.name,
        what=allowance.name,
        worst=allowance.worst_db,
        worst_source=allowance.worst_source,
        expected=allowance.typical_db,
        expected_source=allowance.typical_source,
        least=allowance.least_db,
        least_source=allowance.least_source,
    )


def mismatch_terms(chain: Chain, catalog: Catalog, direction: Direction) -> Iterator[Term]:
    for left, right in pairwise(chain.glass):
        if len(left.traits.grades) != 1 or len(right.traits.grades) != 1:
            continue
        sender, receiver = (left, right) if direction == "right" else (right, left)
        names = sender.traits.grades[0], receiver.traits.grades[0]
        loss_db = core_mismatch_db(catalog.fiber(names[0]), catalog.fiber(names[1]))
        if loss_db > 0:
            source = estimated("ratio of core areas and apertures, all modes filled; no clause gives a figure")
            between = [p for p in chain.places[left.position + 1 : right.position] if isinstance(p, Joiner)]
            at = between[0] if between else receiver
            yield Term(
                at=at.id,
                position=at.position,
                part="mismatch",
                what=f"{names[0]} into {names[1]}",
                worst=loss_db,
                worst_source=source,
                expected=loss_db / 2,
                expected_source=source,
                least=0.0,
                least_source=derived("light that fills only the middle of the core passes"),
            )


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


def summarize(terms: tuple[LossTerm, ...], sums: Sums, *, spread: bool = True) -> LossSummary:
    """The sums of a link, and the 97.5 % quantile of its terms when each is drawn from a triangular distribution.

    The triangle spans least to worst with its peak at expected; terms are independent; the seed is fixed,
    so the same terms always give the same number.
    """
    worst = float(sums.worst[0])
    return LossSummary(
        worst_db=worst,
        expected_db=float(sums.expected[0]),
        least_db=float(sums.least[0]),
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
