"""What a print queue offers, and what is set there."""

from __future__ import annotations

from dataclasses import dataclass

#: What an option of a queue is about, as far as the program knows: all others are sent as the queue has them by default.
ROLES = ("size", "media", "feed", "quality", "mode", "speed", "coat", "ink")


@dataclass(frozen=True)
class QueueOption:
    """One setting of a queue, in its own words.

    Attributes:
        key: as it is sent; words: as it is shown.
        role: one of ROLES; empty for all others.
        default: what it is set to now, as it was left by the last job or by the machine's owner.
    """

    key: str
    words: str
    choices: tuple[str, ...]
    default: str
    role: str = ""


@dataclass(frozen=True)
class QueueOffers:
    """A queue and what can be set there.

    Attributes:
        name: as the print service knows it.
        options: all of its settings.
        scale: per cent to which its own options would scale a page; 100 when they leave it alone, 0 when they fit it to the sheet.
        stopped: why nothing goes through it now, in words; empty while it works.
        simulated: the one that ships.
    """

    name: str
    options: tuple[QueueOption, ...] = ()
    scale: float = 100.0
    stopped: str = ""
    simulated: bool = False

    def option(self, role: str) -> QueueOption | None:
        """Its setting of a role, or None."""
        return next((o for o in self.options if o.role == role), None)


@dataclass(frozen=True)
class QueueWord:
    """What a setting of a paper's card is called at a queue; told once and kept with the card.

    Attributes:
        queue: name of the queue; role: one of ROLES; word: the queue's own.
    """

    queue: str
    role: str
    word: str


@dataclass(frozen=True)
class SentState:
    """How far a page that was sent has come.

    Attributes:
        key: ``waiting``, ``held``, ``printing``, ``done``, ``stopped`` or ``failed``.
        words: what the queue says about it; empty for nothing.
    """

    key: str
    words: str = ""
