"""A session without a window, on small pictures."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from time import monotonic

import pytest
from tests.known import known_already, known_figures

from rehearsal.core.values.frame import PrintSize
from rehearsal.session.home import PlainHome
from rehearsal.session.session import Session
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Take

#: A busy machine is slow; only what never comes is given up.
PATIENCE_SECONDS = 240.0


class Desk:
    """A session and the thread that owns it; remembers what was said and what changed."""

    def __init__(self, book: Workbook) -> None:
        self.home = PlainHome()
        self.session = Session(book, self.home)
        self.said: list[str] = []
        self.topics: list[frozenset[str]] = []
        self.session.bus.said.connect(lambda message: self.said.append(message.text))
        self.session.bus.changed.connect(lambda change: self.topics.append(change.topics))

    def until(self, ready: Callable[[], bool], seconds: float = PATIENCE_SECONDS) -> None:
        """Turn until something is so."""
        end = monotonic() + seconds
        while not ready():
            assert monotonic() < end, self.session.jobs.running
            self.home.turn()

    def settle(self) -> None:
        """Turn until nothing is being worked on and the open take is judged."""
        calm = [0]

        def quiet() -> bool:
            session = self.session
            busy = session.jobs.running or session.roads.is_settling
            calm[0] = 0 if busy or not session.judging.is_current else calm[0] + 1
            return calm[0] > 3

        self.until(quiet)

    def settle_but_writing(self) -> None:
        """Turn until nothing but writing is going on."""
        self.until(
            lambda: self.session.judging.is_current and {j.kind for j in self.session.jobs.running} <= {"write", "test"}
        )

    @property
    def take(self) -> Take:
        """The open take, as it is kept."""
        take = self.session.now.take
        assert take is not None
        kept = self.session.book.get(Take, take.id)
        assert kept == take
        return take


@pytest.fixture
def book(demo_book: Workbook) -> Workbook:
    """The demo workbook with its pictures exchanged for small ones."""
    return demo_book


@pytest.fixture
def desk(book: Workbook) -> Iterator[Desk]:
    """A session with its first take open and judged."""
    made = Desk(book)
    for take in book.all(Take):  # small prints: what is written is written quickly
        size = take.frame.size
        small = PrintSize(9.0, 6.0) if size is None or size.width_cm > size.height_cm else PrintSize(6.0, 9.0)
        frame, hand_over = replace(take.frame, size=small), replace(take.hand_over, ppi=100.0)
        book.put(replace(take, frame=frame, hand_over=hand_over))
    swap = known_already()
    made.session.takes.open(book.all(Take)[0])
    made.settle()
    swap.undo()
    swap = known_figures()
    yield made
    made.session.close()
    swap.undo()
