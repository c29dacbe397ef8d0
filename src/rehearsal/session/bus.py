"""How parts and views hear of each other: a record of what changed, and sentences for the user."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, TypeVar

from rehearsal.core.errors import RehearsalError

What = TypeVar("What")


class Signal(Generic[What]):
    """Listeners that are called in the order in which they came, on the thread that owns the session."""

    def __init__(self) -> None:
        self._listeners: list[Callable[[What], object]] = []

    def connect(self, listener: Callable[[What], object]) -> None:
        """Call this from now on."""
        self._listeners.append(listener)

    def emit(self, what: What) -> None:
        """Tell everybody."""
        for listener in tuple(self._listeners):
            listener(what)


@dataclass(frozen=True)
class Change:
    """What changed.

    Attributes:
        topics: ``take`` (another one is open) or its parts ``take.recipe``, ``take.frame`` ...; ``picture``, ``judgement``,
            ``first``, ``arrival``, ``lost``, ``near``, ``standing``, ``history``, ``road``, ``rival``,
            ``screen``, ``facts``, ``library``, ``jobs``; of the workbook ``takes``,
            ``masters``, ``conditions``, ``log``, ``habits``, ``accepted``, ``tests``.
    """

    topics: frozenset[str]

    def about(self, *wanted: str) -> bool:
        """True when one of the wanted topics changed, a part of it, or the whole it is a part of."""
        return any(
            topic == want or topic.startswith(f"{want}.") or want.startswith(f"{topic}.")
            for topic in self.topics
            for want in wanted
        )


@dataclass(frozen=True)
class Said:
    """A message for the user.

    Attributes:
        text: a sentence.
        is_error: it waits until it was seen.
        action: key of the next step that goes with it, empty for none; ``about`` is what that is told.
        is_question: it waits until it was answered or put away.
    """

    text: str
    is_error: bool = False
    action: str = ""
    about: str = ""
    is_question: bool = False

    @property
    def waits(self) -> bool:
        """True for what is not over by itself."""
        return self.is_error or self.is_question


class Bus:
    """The session's two signals."""

    def __init__(self) -> None:
        self.changed: Signal[Change] = Signal()
        self.said: Signal[Said] = Signal()

    def tell(self, *topics: str) -> None:
        """Something changed."""
        if topics:
            self.changed.emit(Change(frozenset(topics)))

    def on(self, topics: tuple[str, ...], work: Callable[[], object]) -> None:
        """Work to do whenever one of these topics changes."""
        self.changed.connect(lambda change: work() if change.about(*topics) else None)

    def say(self, text: str, action: str = "", about: str = "") -> None:
        """A sentence for the user, with the key of a next step."""
        if text:
            self.said.emit(Said(text, False, action, about))

    def ask(self, text: str, action: str) -> None:
        """A question to the user, with the key of where it is answered."""
        self.said.emit(Said(text, False, action, "", True))

    def say_wrong(self, text: str) -> None:
        """A sentence about what went wrong."""
        self.said.emit(Said(text, True))

    def say_error(self, error: RehearsalError) -> None:
        """An error of the user's world as a sentence."""
        self.say_wrong(error.words())
