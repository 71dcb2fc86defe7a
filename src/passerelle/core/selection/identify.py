"""What cable is this: which grades remain possible from what can be seen, and which look would decide best next.

Evidence weighs: each grade's weight is the product of how likely it shows what was seen, all grades being equal
before the first look. Only print that was read excludes. The weights are estimates and say so.
"""

from __future__ import annotations

import math
import re
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.budget.carries import LimitedBy, carries
from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog, Marks
from passerelle.core.parts.piece import Label
from passerelle.core.selection.array_seen import ArraySeen, Rows, SeenKey, SeenPins, array_seen
from passerelle.core.sources import Frozen, Source

Look = Literal["jacket", "connector", "boot", "shape", "polish"]
Face = Literal["flat", "angled"]
LIKELY_OF_BEST = 0.15


class Evidence(Frozen):
    """What was seen; empty where nothing was. ``print_read`` may be half of what is printed.

    ``connector`` and ``boot`` are colors, ``shape`` that of the plug. ``fibers`` is how many were counted (0 where
    nobody did) and ``outdoors`` where it runs: neither tells the grade, both go with the cable into the project.
    ``rows``, ``pins`` and ``key`` are what is seen of an array plug, 0 or empty where nobody looked.
    """

    jacket: Label = ""
    connector: Label = ""
    boot: Label = ""
    shape: Label = ""
    fibers: Annotated[int, Field(ge=0, le=6912)] = 0
    outdoors: bool | None = None
    polish: Face | Literal[""] = ""
    rows: Rows = 0
    pins: SeenPins = ""
    key: SeenKey = ""
    print_read: Label = Field(default="", alias="print")


class Candidate(Frozen):
    """A grade that remains, with its share of the weight; likely where that is at least 15 % of the best one's."""

    grade: str
    share: float
    likely: bool


class Carries(Frozen):
    """What the glass carries whichever likely candidate it is: the worst reach in m, and the grade that sets it.

    ``limited_by`` says whether the clause's table or the loss of the glass itself ends it.
    """

    application: str
    rate_mbps: int
    reach_m: float
    limited_by: LimitedBy
    worst_grade: str
    offset_launch: bool
    source: Source


class Farthest(Frozen):
    """The application of a rate that goes farthest on one grade, how far in m, and what ends it there."""

    grade: str
    rate_mbps: int
    application: str
    reach_m: float
    limited_by: LimitedBy


class Identified(Frozen):
    """The candidates, likeliest first; what contradicts; what to look at next; what all, and what each, carries.

    ``array`` says what an array plug is, where one was seen.
    """

    candidates: tuple[Candidate, ...]
    excluded: tuple[str, ...]
    contradictions: tuple[str, ...]
    next_look: str
    carries: tuple[Carries, ...]
    each: tuple[Farthest, ...]
    array: ArraySeen | None = None
    sources: tuple[Source, ...]


def identify(evidence: Evidence, catalog: Catalog) -> Identified:
    """Weigh what was seen of a cable.

    Args:
        evidence: colors in words (``orange``), the ferrule's face, and what was read of the print.
    """
    marks = catalog.marks
    grades = list(catalog.fibers)
    printed = _fits_print(evidence.print_read, marks)
    left = [grade for grade in grades if grade in printed] if printed else grades
    weights = {grade: _weight(grade, evidence, catalog) for grade in left}
    total = sum(weights.values())
    shares = {grade: weight / total for grade, weight in weights.items()}
    ranked = sorted(shares.items(), key=lambda pair: -pair[1])
    likely = [grade for grade, share in ranked if share >= LIKELY_OF_BEST * ranked[0][1]]
    return Identified(
        candidates=tuple(
            Candidate(grade=grade, share=round(share, 4), likely=grade in likely) for grade, share in ranked
        ),
        excluded=tuple(grade for grade in grades if grade not in left),
        contradictions=tuple(_contradictions(evidence, left, bool(printed), catalog)),
        next_look=_next_look(evidence, shares, catalog),
        carries=_carries(likely, catalog),
        each=tuple(line for grade in likely for line in _farthest(grade, catalog)),
        array=array_seen(
            evidence.shape,
            evidence.rows,
            evidence.pins,
            evidence.key,
            evidence.fibers,
            evidence.polish == "angled" if evidence.polish else None,
        ),
        sources=(marks.jacket.source, marks.connector.source, marks.shape.source, marks.polish.source),
    )


def _shows(look: Look, grade: str, seen: str, catalog: Catalog) -> float:
    """How likely a cable of this grade shows what was seen."""
    marks = catalog.marks
    if look == "jacket":
        if seen in marks.jacket.silent:
            return 1.0
        schemes = (
            *catalog.fiber(grade).jacket_colors,
            *(c for c, of in marks.jacket.military.items() if grade in of),
        )
        return 1.0 if seen in schemes else marks.jacket.other
    if look == "connector":
        return 1.0 if grade in marks.connector.colors.get(seen, ()) else marks.connector.other
    if look == "boot":
        return 1.0 if grade in marks.connector.colors.get(seen, ()) else marks.boot.other
    if look == "shape":
        usual = marks.shape.usual.get(seen)
        return 1.0 if usual is None or grade in usual else marks.shape.other
    faces = marks.polish.faces.get(seen)
    return 1.0 if faces is None or grade in faces else marks.polish.other


def _seen(evidence: Evidence) -> dict[Look, str]:
    looks: dict[Look, str] = {
        "jacket": evidence.jacket,
        "connector": evidence.connector,
        "boot": evidence.boot,
        "shape": evidence.shape,
        "polish": evidence.polish,
    }
    return {look: seen for look, seen in looks.items() if seen}


def _weight(grade: str, evidence: Evidence, catalog: Catalog) -> float:
    return math.prod(_shows(look, grade, seen, catalog) for look, seen in _seen(evidence).items())


def _plain(text: str) -> str:
    return re.sub(r"[\s·]", "", text).lower()


def _fits_print(text: str, marks: Marks) -> set[str]:
    """The grades whose print holds every word that was read; empty where nothing was read or understood."""
    words = [_plain(word) for word in re.split(r"[\s;]+", text.strip()) if word]
    known = [
        word for word in words if any(word in _plain(form) for forms in marks.print.values() for form in forms)
    ]
    if not known:
        return set()
    return {
        grade
        for grade, forms in marks.print.items()
        if all(any(word in _plain(form) for form in forms) for word in known)
    }


def grades_called(text: str, catalog: Catalog) -> tuple[str, ...]:
    """The grades that a person means: by name whatever the case, by a print such as ``50/125`` or ``SMF``.

    Raises:
        CatalogError: nothing of it is a name or a print of glass.
    """
    by_name = {name.lower(): name for name in catalog.fibers}
    found: list[str] = []
    for part in (one.strip() for one in re.split(r"\s+or\s+|;", text) if one.strip()):
        printed = _fits_print(part, catalog.marks)
        if part.lower() in by_name:
            found.append(by_name[part.lower()])
        elif printed and all(_known_print(word, catalog.marks) for word in part.split()):
            found += [grade for grade in catalog.fibers if grade in printed]
        else:
            catalog.fiber(part)
    return tuple(dict.fromkeys(found))


def _known_print(word: str, marks: Marks) -> bool:
    """Whether a word is a print of its own, and no part of one: ``M`` alone says nothing."""
    return any(_plain(word) == _plain(form) for forms in marks.print.values() for form in forms)


def _contradictions(evidence: Evidence, left: list[str], printed: bool, catalog: Catalog) -> list[str]:
    found = []
    seen = _seen(evidence)
    if evidence.print_read.strip() and not printed:
        found.append(f"No grade has all of the print '{evidence.print_read}': nothing was excluded by it.")
    odd = {"jacket": "jacket", "connector": "plugs", "boot": "boots", "shape": "plugs", "polish": "ferrules"}
    for look, value in seen.items():
        if printed and all(_shows(look, grade, value, catalog) < 1 for grade in left):
            found.append(f"{value} {odd[look]} do not go with the print: what is printed outranks the color.")
        elif look == "jacket" and value in catalog.marks.jacket.elsewhere:
            glass = catalog.marks.jacket.elsewhere[value]
            found.append(f"A {value} jacket is that of {glass} by the scheme, which is not in the catalog.")
        elif all(_shows(look, grade, value, catalog) < 1 for grade in left):
            found.append(f"No grade's scheme has {value} {odd[look]}: they tell nothing here.")
    if "jacket" in seen and "connector" in seen:
        by_jacket = {g for g in left if _shows("jacket", g, seen["jacket"], catalog) == 1}
        by_plugs = {g for g in left if _shows("connector", g, seen["connector"], catalog) == 1}
        if by_jacket and by_plugs and not by_jacket & by_plugs:
            pair = f"{seen['connector']} plugs on {_article(seen['jacket'])} jacket"
            found.append(f"{pair}: one of them was replaced, or follows no scheme.")
    if "connector" in seen and "boot" in seen:
        plugs = set(catalog.marks.connector.colors.get(seen["connector"], left))
        boots = set(catalog.marks.connector.colors.get(seen["boot"], left))
        if not plugs & boots:
            found.append(
                f"{seen['boot']} boots on {seen['connector']} plugs: look at the ferrule and at the print."
            )
    if (met := catalog.marks.shape.older.get(evidence.shape)) is not None:
        found.append(f"{evidence.shape}: {met}.")
    if evidence.outdoors and seen.get("jacket") in catalog.marks.jacket.silent:
        found.append(f"{_article(seen['jacket'])} jacket outdoors says nothing of the glass.".capitalize())
    return found


def _article(word: str) -> str:
    return f"an {word}" if word[0] in "aeiou" else f"a {word}"


def _next_look(evidence: Evidence, shares: dict[str, float], catalog: Catalog) -> str:
    """The look that is expected to leave the least doubt, by entropy; empty when one grade is left."""
    if max(shares.values(), default=1.0) > 0.95 or len(shares) < 2:
        return ""
    if not evidence.print_read.strip():
        return "Read the print on the jacket, even half of it: it is the one look that excludes."
    values: dict[Look, list[str]] = {
        "jacket": sorted({color for grade in catalog.fibers.values() for color in grade.jacket_colors}),
        "connector": list(catalog.marks.connector.colors),
        "boot": list(catalog.marks.connector.colors),
        "shape": list(catalog.marks.shape.usual),
        "polish": ["flat", "angled"],
    }
    open_looks = [look for look in values if look not in _seen(evidence)]
    if not open_looks:
        return "Nothing more can be told by looking: plan for every grade that remains, or measure the bandwidth."
    best = min(open_looks, key=lambda look: _doubt_after(look, values[look], shares, catalog))
    titles = {
        "jacket": "the jacket's color",
        "connector": "the color of the plugs",
        "boot": "the color of the boots",
        "shape": "the shape of the plugs",
        "polish": "the ferrule, through a video scope",
    }
    return f"Look at {titles[best]} next."


def _doubt_after(look: Look, values: list[str], shares: dict[str, float], catalog: Catalog) -> float:
    doubt = 0.0
    for value in values:
        weights = [share * _shows(look, grade, value, catalog) / len(values) for grade, share in shares.items()]
        total = sum(weights)
        doubt -= sum(w * math.log2(w / total) for w in weights if w > 0)
    return doubt


def _carries(grades: list[str], catalog: Catalog) -> tuple[Carries, ...]:
    """What every candidate carries, the fastest first; an application that one of them lacks is not listed."""
    found = [
        line for application in catalog.applications.values() if (line := _worst(application, grades, catalog))
    ]
    return tuple(sorted(found, key=lambda line: (-line.rate_mbps, -line.reach_m)))


def _farthest(grade: str, catalog: Catalog) -> list[Farthest]:
    """For each rate the application that goes farthest on a grade."""
    best: dict[int, Farthest] = {}
    for application in catalog.applications.values():
        carried, rate = carries(application, grade, catalog), application.rate_mbps
        if carried is not None and (rate not in best or carried.reach_m > best[rate].reach_m):
            best[rate] = Farthest(
                grade=grade,
                rate_mbps=rate,
                application=application.name,
                reach_m=carried.reach_m,
                limited_by=carried.limited_by,
            )
    return [best[rate] for rate in sorted(best)]


def _worst(application: Application, grades: list[str], catalog: Catalog) -> Carries | None:
    found = [carries(application, grade, catalog) for grade in grades]
    known = [carried for carried in found if carried is not None]
    if not known or len(known) < len(found):
        return None
    worst = min(known, key=lambda carried: carried.reach_m)
    return Carries(
        application=application.name,
        rate_mbps=application.rate_mbps,
        reach_m=worst.reach_m,
        limited_by=worst.limited_by,
        worst_grade=worst.row.fiber,
        offset_launch=any(carried.row.launch != "any" for carried in known),
        source=worst.source,
    )
