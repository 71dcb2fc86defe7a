"""Heavy work in a process of its own, so that whoever types meanwhile is answered: threads would starve each other.

A job tells how far it is, can be stopped, and gives its memory back when it ends. Small jobs are done here. How
far a job is and its stop are answered on the event loop, which never waits for a thread.
"""

from __future__ import annotations

import multiprocessing
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass
from multiprocessing import forkserver
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from typing import Any, Literal, TypeVar

from fastapi import APIRouter, Request
from pydantic import BaseModel

from passerelle.api.address import ROOT
from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.stopped import CrowdedError, StoppedError
from passerelle.store.stored import NotFoundError

WORK_HEADER = "x-work"
AT_ONCE = 2
WAITING = 6
"""Jobs that wait for a place, of those that take something in and of those that give something out; one more is
refused: each holds a thread while it waits."""
PATIENCE_S = 600.0
PRELOADED = ("background", "errands", "routing")
"""What helpers are born with; the first of them makes them step back."""

SMALL = 100_000
"""Characters of text that are worked on here: about a second."""

MANY = 300
"""Links that are read and judged here; more of them in a process of their own."""

Made = TypeVar("Made")
Tell = Callable[[str, int, int], None]
Wait = Callable[[], None]

router = APIRouter(prefix=ROOT, tags=["work"], responses=PROBLEM_RESPONSES)


@dataclass
class Job:
    """How far a job is: what it does, and how many of how many."""

    words: str = "waiting for another import to end"
    done: int = 0
    of: int = 0
    stopped: bool = False


class Places:
    """Places for jobs: two work at once, six wait, and no more come in."""

    def __init__(self) -> None:
        self._free = threading.BoundedSemaphore(AT_ONCE)
        self._lock = threading.Lock()
        self._inside, self._took_s = 0, 5.0

    @contextmanager
    def place(self, job: Job) -> Iterator[None]:
        """Wait for a place and have it.

        Raises:
            CrowdedError: too many wait already.
            StoppedError: it was stopped while it waited.
        """
        with self._lock:
            if self._inside >= AT_ONCE + WAITING:
                raise CrowdedError(max(1, round(self._took_s * (WAITING + 1) / AT_ONCE)))
            self._inside += 1
        try:
            _wait_for(self._free, job)
            began = time.monotonic()
            try:
                yield
            finally:
                self._free.release()
                with self._lock:
                    self._took_s = 0.7 * self._took_s + 0.3 * (time.monotonic() - began)
        finally:
            with self._lock:
                self._inside -= 1


class Workroom:
    """Runs jobs in processes, at most two at once that take something in and two that give something out, and knows
    those that were given a name.
    """

    def __init__(self) -> None:
        self._jobs: dict[str, Job] = {}
        self._places = {way: Places() for way in ("in", "out")}
        self._context = multiprocessing.get_context("forkserver")
        self._context.set_forkserver_preload([f"passerelle.api.{name}" for name in PRELOADED])

    def prepare(self) -> None:
        """Begin the process that begins helpers, so that the first job finds it ready; returns at once."""
        threading.Thread(target=forkserver.ensure_running, daemon=True).start()

    def run(
        self, key: str, work: Callable[..., Made], *given: Any, alone: bool = True, way: Literal["in", "out"] = "in"
    ) -> Made:
        """Do ``work(tell, *given)`` and answer with what it makes; both must be able to travel between processes.

        Args:
            key: a name of the client's choosing, under which the job can be asked for and stopped; may be empty.
            alone: in a process of its own; otherwise here, at once.
            way: whether it takes something in or gives something out: a list never waits for two long imports.

        Raises:
            StoppedError: it was stopped, or took longer than ten minutes.
            CrowdedError: there is no place left to wait in.
            Exception: whatever the work raised.
        """
        if not alone:
            return work(_silent, *given)
        job = Job()
        if key:
            self._jobs[key] = job
        try:
            with self._places[way].place(job):
                job.words = "beginning"
                made: Made = self._watched(job, work, given)
                return made
        finally:
            self._jobs.pop(key, None)

    @contextmanager
    def place(self, way: Literal["in", "out"] = "out") -> Iterator[None]:
        """A place for work that is done here and takes seconds; raises CrowdedError."""
        with self._places[way].place(Job()):
            yield

    def write(
        self, work: Callable[..., Made], *given: Any, turn: Callable[[], AbstractContextManager[None]] | None
    ) -> Made:
        """Do ``work(wait, *given)``, which writes after it has waited for its turn.

        With a ``turn`` a helper does it, to its end and unstopped: what it needs has reached it before it waits,
        and the turn is held only while it writes. Without one it is done here, and who writes takes the turn.
        """
        if turn is None:
            return work(lambda: None, *given)
        ours, process = self._begun(_write, work, given)
        try:
            self._heard(Job(), ours, process)  # it waits
            with turn():
                ours.send("go")
                made: Made = self._heard(Job(), ours, process)
            return made
        finally:
            _ended(ours, process)

    def job(self, key: str) -> Job:
        """A job that is under way; raises NotFoundError."""
        try:
            return self._jobs[key]
        except KeyError:
            raise NotFoundError(f"no work is under way under the name '{key}': it ended, or never began") from None

    def _watched(self, job: Job, work: Callable[..., Any], given: tuple[Any, ...]) -> Any:
        ours, process = self._begun(_work, work, given)
        try:
            return self._heard(job, ours, process)
        finally:
            _ended(ours, process)

    def _begun(
        self, doing: Callable[..., None], work: Callable[..., Any], given: tuple[Any, ...]
    ) -> tuple[Connection, BaseProcess]:
        ours, theirs = self._context.Pipe()
        process = self._context.Process(target=doing, args=(theirs, work, given), daemon=True)
        process.start()
        theirs.close()
        return ours, process

    def _heard(self, job: Job, ours: Connection, process: BaseProcess) -> Any:
        until = time.monotonic() + PATIENCE_S
        while True:
            _go_on(job, until)
            if not ours.poll(0.1):
                continue
            try:
                kind, content = ours.recv()
            except EOFError:
                raise StoppedError(f"the work ended before it was done ({process.exitcode}): try again") from None
            if kind == "made":
                return content
            if kind == "error":
                raise _whole(*content)
            job.words, job.done, job.of = content


def _wait_for(places: threading.BoundedSemaphore, job: Job) -> None:
    until = time.monotonic() + PATIENCE_S
    while not places.acquire(timeout=0.1):
        _go_on(job, until)


def _go_on(job: Job, until: float) -> None:
    if job.stopped:
        raise StoppedError("stopped: nothing was changed")
    if time.monotonic() > until:
        raise StoppedError(f"this took longer than {PATIENCE_S / 60:.0f} minutes and was stopped: split the file")


def _silent(_words: str, _done: int, _of: int) -> None:
    """Tells nobody."""


def _ended(ours: Connection, process: BaseProcess) -> None:
    process.kill()
    process.join()
    ours.close()


def _work(pipe: Connection, work: Callable[..., Any], given: tuple[Any, ...]) -> None:
    last = 0.0

    def tell(words: str, done: int, of: int) -> None:
        nonlocal last
        if time.monotonic() - last > 0.1:
            last = time.monotonic()
            pipe.send(("told", (words, done, of)))

    _answered(pipe, lambda: work(tell, *given))


def _write(pipe: Connection, work: Callable[..., Any], given: tuple[Any, ...]) -> None:
    def wait() -> None:
        pipe.send(("made", None))
        pipe.recv()

    _answered(pipe, lambda: work(wait, *given))


def _answered(pipe: Connection, doing: Callable[[], Any]) -> None:
    try:
        made = doing()
    except Exception as error:
        pipe.send(("error", (type(error), error.args, vars(error))))
    else:
        pipe.send(("made", made))


def _whole(kind: type[Exception], said: tuple[Any, ...], more: dict[str, Any]) -> Exception:
    """An error as it was on the other side, whatever its own way of being made asks for."""
    error: Exception = kind.__new__(kind, *said)
    vars(error).update(more)
    return error


class JobOut(BaseModel):
    """How far a job is."""

    words: str
    done: int
    of: int


def workroom_of(request: Request) -> Workroom:
    """The workroom of this application."""
    room: Workroom = request.app.state.workroom
    return room


def key_of(request: Request) -> str:
    """The name that the client gave to what it asks for, so that it can look after it."""
    return request.headers.get(WORK_HEADER, "")[:64]


@router.get("/work/{key}")
async def get_work(request: Request, key: str) -> JobOut:
    """How far a job is that was begun with this name in its ``X-Work`` header. 404 when it is not under way."""
    job = workroom_of(request).job(key)
    return JobOut(words=job.words, done=job.done, of=job.of)


@router.delete("/work/{key}")
async def stop_work(request: Request, key: str) -> JobOut:
    """Stop a job; what it was asked for is answered with 409, and nothing is changed."""
    job = workroom_of(request).job(key)
    job.stopped = True
    return JobOut(words=job.words, done=job.done, of=job.of)
