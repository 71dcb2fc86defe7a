"""A dark link: what to look at next and why, what each outcome would mean, and what was answered."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from fastapi import Request, status
from sqlalchemy.orm import Session

from passerelle.api.live import live_of, secrets_of
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.turnup import (
    AnswerOut,
    CureWish,
    DiagnosisOut,
    FaultBelief,
    LookWish,
    PieceBelief,
    SituationWish,
)
from passerelle.api.state import database_of, writing
from passerelle.api.turning import neighbors, of_link, with_live
from passerelle.api.views import catalog_of, figures
from passerelle.core.catalog.turnup_figures import SPARE_MODULE, turnup_figures
from passerelle.core.errors import TurnUpError
from passerelle.core.findings import Severity
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.turned_up import FaultFound, Looked
from passerelle.core.turnup.belief import Answer, Diagnosis, diagnose
from passerelle.core.turnup.handover import answers_of, chain_of, drawn, tried_of, turn_up
from passerelle.core.turnup.hidden import LinkCase, Situation, alive_first, case_of
from passerelle.core.turnup.plan_network import at_boxes
from passerelle.core.turnup.symptoms import read_answers
from passerelle.equipment.credentials import CredentialsError
from passerelle.equipment.objects import SILENT
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.accepted import put_records
from passerelle.store.stored import StoredLink

router = api_router("turn-up")
FIRST = ("symptom", "worked", "touched")
SURE = 0.9


@router.post("/links/{link_id}/diagnosis")
def get_diagnosis(request: Request, link_id: RowId, wish: SituationWish) -> DiagnosisOut:
    """What to believe of a dark link, and what to look at next from where one is. Nothing is stored."""
    with database_of(request).read() as session:
        return _out(request, session, stored_links.link(session, link_id), wish)


def _out(request: Request, session: Session, item: StoredLink, wish: SituationWish) -> DiagnosisOut:
    house = stored.project(session, item.project_id).house
    plant = stored.plant(session, item.project_id)
    found = figures(item.link, house)
    happened = drawn(item.link, events.of_links(session, item.project_id, [item.link.key]))
    chain = chain_of(item.link, catalog_of(house))
    if len(chain.ends) != 2 or not chain.glass:
        return _nothing(
            "There is no module of light at both ends: say them in the link, then look for the dark one."
        )
    at = at_boxes(item.link, plant.boxes)
    reads = {end: _reads(request, session, item.project_id, one.box.address) for end, one in at.items()}
    where = Situation(
        **wish.model_dump(exclude={"leave_out"}),
        reads_left=reads.get("left", False),
        reads_right=reads.get("right", False),
    )
    case = case_of(chain, catalog_of(house), found.findings, where)
    told = turn_up(
        item.link,
        with_live(request, happened, item.link, plant),
        catalog_of(house),
        house,
        neighbors(at),
        found=found,
    )
    silent = [end for end, one in at.items() if _is_silent(request, one.box.address)]
    read = [*read_answers(told, case), *(Answer(test=f"box · {end}", outcome="silent") for end in silent)]
    asked = [one for one in answers_of(happened) if one.test in case.case.likelihoods]
    said = {one.test for one in asked}
    taken = [one for one in read if one.test not in said and one.test not in wish.leave_out]
    answers = [*taken, *(Answer(test=one.test, outcome=one.outcome) for one in asked)]
    tried = tuple(dict.fromkeys(one.fault for one in tried_of(happened)))
    belief = diagnose(case.without(tried), answers)
    bad = tuple(f for f in found.findings if f.severity in (Severity.FAIL, Severity.DAMAGE))
    return DiagnosisOut(
        first=tuple(look for look in case.looks if look.sign in FIRST),
        looks=case.looks,
        ranked=alive_first([one for one in belief.tests if one.test not in FIRST], case, answers)[:8],
        faults=_faults(case, belief)[:12],
        pieces=_pieces(case, belief),
        answers=_answers(case, asked, taken, belief),
        findings=bad,
        cure=next(
            (
                FaultBelief(fault=one, share=belief.belief[one.name])
                for one in case.faults
                if one.name == belief.cure
            ),
            None,
        ),
        cure_first=_cure_first(belief),
        left_min=belief.left_min,
        tried=tried,
        tools=_tools(),
        words=_words(case, belief),
    )


def _is_silent(request: Request, address: str) -> bool:
    """Whether a box did not answer when it was read last: a refusal, or a table that breaks off, is an answer."""
    live = live_of(request).of(address)
    return live is not None and not live.ports and SILENT in live.trouble


def _case(link: Link, house: HouseRules) -> LinkCase:
    catalog = catalog_of(house)
    return case_of(chain_of(link, catalog), catalog, figures(link, house).findings)


def _nothing(why: str) -> DiagnosisOut:
    return DiagnosisOut(
        first=(),
        looks=(),
        ranked=(),
        faults=(),
        pieces=(),
        answers=(),
        findings=(),
        cure=None,
        cure_first=False,
        left_min=0,
        tried=(),
        tools=_tools(),
        words="",
        why_not=why,
    )


def _tools() -> tuple[str, ...]:
    """Tools that looks need, beside the spare module."""
    tools = dict.fromkeys(tool for sign in turnup_figures().sign for tool in sign.tools)
    return tuple(tool for tool in tools if tool != SPARE_MODULE)


def _reads(request: Request, session: Session, project_id: int, address: str) -> bool:
    try:
        return bool(address) and secrets_of(request).of(address) is not None
    except CredentialsError:
        return False


def _faults(case: LinkCase, belief: Diagnosis) -> tuple[FaultBelief, ...]:
    found = [FaultBelief(fault=one, share=belief.belief[one.name]) for one in case.faults]
    return tuple(sorted(found, key=lambda one: -one.share))


def _pieces(case: LinkCase, belief: Diagnosis) -> tuple[PieceBelief, ...]:
    """The belief over the pieces of the chain: a fault at several is shared among them."""
    shares: dict[str, float] = defaultdict(float)
    for fault in case.faults:
        for element in fault.at:
            shares[element] += belief.belief[fault.name] / len(fault.at)
    return tuple(PieceBelief(element=element, share=share) for element, share in shares.items())


def _answers(
    case: LinkCase, asked: Sequence[Looked], read: Sequence[Answer], belief: Diagnosis
) -> tuple[AnswerOut, ...]:
    looks = {look.name: look for look in case.looks}
    odd = {(one.test, one.outcome) for one in belief.impossible}
    pairs = [(one.test, one.outcome, "") for one in read] + [(one.test, one.outcome, one.key) for one in asked]
    return tuple(
        AnswerOut(
            key=key,
            test=test,
            asks=looks[test].asks,
            outcome=outcome,
            outcome_words=looks[test].outcomes.get(outcome, outcome),
            read=not key,
            impossible=(test, outcome) in odd,
        )
        for test, outcome, key in pairs
        if test in looks
    )


def _cure_first(belief: Diagnosis) -> bool:
    """Whether trying the likeliest cure is worth more than any look."""
    best = next((one for one in belief.tests if one.test not in FIRST), None)
    return best is None or best.saves_min <= 0 or max(belief.belief.values()) >= SURE


def _words(case: LinkCase, belief: Diagnosis) -> str:
    """The next step and why, in a sentence."""
    names = {one.name: one.words for one in case.faults}
    if belief.impossible:
        return (
            "No fault of the list gives all these answers together: one of them is wrong, or there are two faults. "
            "Take the one back that you are least sure of."
        )
    if _cure_first(belief):
        return f"Put it right: {names[belief.cure]} ({_percent(belief.belief[belief.cure])})."
    best = next(one for one in belief.tests if one.test not in FIRST)
    asks = next(look.asks for look in case.looks if look.name == best.test)
    told = f"{names[best.tells]} ({_percent(belief.belief[best.tells])})"
    return (
        f"{asks} It says most about: {told}. It saves {best.saves_min:.0f} min on average for {best.minutes:.0f}."
    )


def _percent(share: float) -> str:
    """A share in words that never round a doubt away."""
    return "less than 1 %" if 0 < share < 0.01 else "over 99 %" if 0.99 < share < 1 else f"{share * 100:.0f} %"


@router.post("/links/{link_id}/looks", status_code=status.HTTP_201_CREATED)
def put_look(request: Request, link_id: RowId, wish: LookWish) -> dict[str, str]:
    """Write an answer down; a later one to the same look counts instead."""
    with writing(request) as session:
        item, case = _at(session, link_id)
        look = next((one for one in case.looks if one.name == wish.test), None)
        if look is None:
            raise TurnUpError("test", f"there is no look '{wish.test}' at this link: reload the page")
        if wish.outcome not in look.outcomes:
            raise TurnUpError("outcome", f"it comes out as {', '.join(look.outcomes)}, not as '{wish.outcome}'")
        record = Looked(**wish.model_dump(), **of_link(item, events.stamp(session)))
        return _recorded(session, item, record, f"{look.asks} {look.outcomes[wish.outcome]}")


@router.post("/links/{link_id}/cures", status_code=status.HTTP_201_CREATED)
def put_cure(request: Request, link_id: RowId, wish: CureWish) -> dict[str, str]:
    """Write down that a cure was tried, and whether that was it; then the next diagnosis begins anew."""
    with writing(request) as session:
        item, case = _at(session, link_id)
        fault = next((one for one in case.faults if one.name == wish.fault), None)
        if fault is None:
            raise TurnUpError("fault", f"there is no fault '{wish.fault}' at this link: reload the page")
        record = FaultFound(**wish.model_dump(), words=fault.words, **of_link(item, events.stamp(session)))
        told = "that was it" if wish.helped else "that was not it"
        return _recorded(session, item, record, f"{fault.words}, {told}")


def _at(session: Session, link_id: int) -> tuple[StoredLink, LinkCase]:
    item = stored_links.link(session, link_id)
    return item, _case(item.link, stored.project(session, item.project_id).house)


def _recorded(session: Session, item: StoredLink, record: Looked | FaultFound, words: str) -> dict[str, str]:
    put_records(session, item.project_id, [record], f"{item.link.name}: {words}"[:300], item.id)
    return {"key": record.key}
