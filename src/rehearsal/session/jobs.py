"""Work away from the owning thread: one ending each, late answers dropped, stop at known steps.

A job is known by its kind and by what it is about (mostly a rendition), so that several takes can be worked on at once.
"""

from __future__ import annotations

import contextlib
import functools
import threading
from collections.abc import Callable, Hashable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

from rehearsal.core.errors import Stopped
from rehearsal.core.work.memory import give_back
from rehearsal.core.work.pool import cores, give_way, heeding
from rehearsal.session.bus import Signal
from rehearsal.session.home import Home

#: How long closing waits for work that was told to stop.
_PATIENCE_SECONDS = 0.8
_IDLE_MS = 900


@dataclass(frozen=True)
class Job:
    """What is being worked on."""

    kind: str
    what: Hashable = None


class _Request:
    """One request; ``stop`` is polled by the progress function."""

    def __init__(self, job: Job, answer: Callable[[Any], None], part: Callable[[Any], None] | None) -> None:
        self.job, self.answer, self.part = job, answer, part
        self.stop = threading.Event()


class JobProgress:
    """What work is given: call it with the share done and words (it raises Stopped when the work is not wanted any more)."""

    def __init__(
        self, stop: threading.Event, step: Callable[[float, str], None], part: Callable[[object], None]
    ) -> None:
        self._stop, self._step, self._part = stop, step, part

    def check(self) -> None:
        """Raise Stopped when the work is not wanted any more."""
        if self._stop.is_set():
            raise Stopped

    def __call__(self, share: float, text: str) -> None:
        self.check()
        self._step(share, text)

    def tell(self, value: object) -> None:
        """Hand over a part of the result before the end."""
        self.check()
        self._part(value)


Work = Callable[[JobProgress], Any]


class Jobs:
    """Runs work on as many threads as the machine has cores, two at least. A new request for a job stops the earlier one."""

    def __init__(self, home: Home) -> None:
        self._home = home
        self.progressed: Signal[tuple[Job, float, str]] = Signal()
        self.ended: Signal[Job] = Signal()
        self.failed: Signal[tuple[Job, BaseException]] = Signal()
        #: Tells of work a person has stopped, after it has ended.
        self.stopped: Signal[Job] = Signal()
        self._pool = ThreadPoolExecutor(max(2, cores()), thread_name_prefix="job", initializer=give_way)
        self._quick = ThreadPoolExecutor(1, thread_name_prefix="quick")
        self._patient = ThreadPoolExecutor(2, thread_name_prefix="patient", initializer=give_way)
        self._current: dict[Job, _Request] = {}
        self._calm = threading.Condition()
        self._at_work = 0
        self._idle = home.timer(_IDLE_MS, self._rest)

    def run(
        self, job: Job, work: Work, answer: Callable[[Any], None], quick: bool = False,
        part: Callable[[Any], None] | None = None, alone: bool = True,
    ) -> None:  # fmt: skip
        """Start work(progress) for a job; answer(result) is called on the owning thread.

        Args:
            quick: what the eye waits for; it has a thread of its own.
            part: gets what the work tells on its way.
            alone: only the newest job of its kind is wanted; the others are stopped. Those that go on side by side
                have threads of their own, so that nothing else waits for them.
        """
        self.stop(job.kind if alone else job)
        request = _Request(job, answer, part)
        self._current[job] = request
        pool = self._quick if quick else self._pool if alone else self._patient
        pool.submit(self._body, request, work)

    def _body(self, request: _Request, work: Work) -> None:
        post = self._home.post
        progress = JobProgress(
            request.stop,
            lambda share, text: post(lambda: self._on_step(request, share, text)),
            lambda value: post(lambda: self._on_part(request, value)),
        )
        result, error = None, None
        with self._calm:
            self._at_work += 1
        try:
            progress.check()
            with heeding(progress.check):
                result = work(progress)
        except BaseException as caught:
            # what the frames of the work hold would be held with it
            error = caught.with_traceback(None)
        with self._calm:
            self._at_work -= 1
            self._calm.notify_all()
        post(functools.partial(self._on_done, request, result, error))
        del work, result, error
        give_back()

    def _rest(self) -> None:
        """Nothing has ended for a moment: what the last job freed goes back as well."""
        with contextlib.suppress(RuntimeError):  # closed already
            self._pool.submit(give_back)

    def _is_wanted(self, request: _Request) -> bool:
        return self._current.get(request.job) is request

    def _on_step(self, request: _Request, share: float, text: str) -> None:
        if self._is_wanted(request):
            self.progressed.emit((request.job, share, text))

    def _on_part(self, request: _Request, value: Any) -> None:
        if self._is_wanted(request) and request.part is not None:
            request.part(value)

    def _on_done(self, request: _Request, result: Any, error: BaseException | None) -> None:
        self._idle.start()
        if not self._is_wanted(request):
            return
        del self._current[request.job]
        self.ended.emit(request.job)
        if error is None:
            request.answer(result)
        elif not isinstance(error, Stopped):
            self.failed.emit((request.job, error))

    def stop(self, which: Job | str) -> None:
        """Stop a job, or all jobs of a kind."""
        for job in [j for j in self._current if which in (j, j.kind)]:
            self._current.pop(job).stop.set()
            self.ended.emit(job)

    def stop_by_hand(self, job: Job) -> None:
        """A person stops a job: only then is it called stopped."""
        if job in self._current:
            self.stop(job)
            self.stopped.emit(job)

    @property
    def running(self) -> list[Job]:
        """Jobs under way."""
        return list(self._current)

    def is_running(self, kind: str) -> bool:
        """True while a job of this kind is under way."""
        return any(job.kind == kind for job in self._current)

    def close(self) -> bool:
        """Stop everything and wait for it, a moment at most; False when something is still at work that did not heed."""
        self._idle.stop()
        for job in self.running:
            self.stop(job)
        pools = (self._pool, self._quick, self._patient)
        for pool in pools:
            pool.shutdown(wait=False, cancel_futures=True)
        with self._calm:
            calm = self._calm.wait_for(lambda: self._at_work == 0, _PATIENCE_SECONDS)
        if calm:
            for pool in pools:
                pool.shutdown(wait=True)
        return calm
