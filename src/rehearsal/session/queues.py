"""The print queues as the session knows them: which there are, and how each stands."""

from __future__ import annotations

from collections.abc import Callable

from rehearsal.core.values.queue import QueueOffers
from rehearsal.devices.protocols import PrintQueue
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, Jobs
from rehearsal.tasks import queues


class Queues:
    """Owner of what is known of print queues. They are asked away from the window, and never by themselves for paper."""

    def __init__(self, bus: Bus, jobs: Jobs, open_queue: Callable[[str], PrintQueue] = queues.open_queue) -> None:
        self._bus, self._jobs = bus, jobs
        #: Opens a queue by its name.
        self.open = open_queue
        #: Names of all queues that were found; the one that ships is always there.
        self.names: list[str] = [queues.SIMULATED]
        self._offers: dict[str, QueueOffers] = {}
        self._asked: set[str] = set()

    def look(self) -> None:
        """Look which queues there are."""

        def answer(names: list[str]) -> None:
            self.names = names
            self._bus.tell("queues")

        self._jobs.run(Job("queues"), lambda _p: queues.all_queues(), answer)

    def offers(self, name: str) -> QueueOffers | None:
        """How a queue stands, as it was asked last; None while it was not, and then it is."""
        if name and name not in self._asked:
            self.ask(name)
        return self._offers.get(name)

    def ask(self, name: str) -> None:
        """Ask a queue how it stands."""
        self._asked.add(name)

        def answer(found: QueueOffers) -> None:
            if self._offers.get(name) != found:
                self._offers[name] = found
                self._bus.tell("queues")

        self._jobs.run(Job("queue", name), lambda _p: self.open(name).offers(), answer, alone=False)

    def know(self, found: QueueOffers) -> None:
        """What was heard of a queue on another way."""
        self._asked.add(found.name)
        if self._offers.get(found.name) != found:
            self._offers[found.name] = found
            self._bus.tell("queues")

    def unscale(self, name: str) -> None:
        """Take scaling out of what a queue has saved."""

        def work(_progress: object) -> QueueOffers:
            queue = self.open(name)
            queue.unscale()
            return queue.offers()

        self._jobs.run(Job("unscale", name), work, self.know, alone=False)
