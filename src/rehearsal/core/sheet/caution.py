"""Something that needs a look before paper is used."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Caution:
    """One of them.

    Attributes:
        key: what it is about.
        text: a sentence.
        mend: key of what puts it right (``words``), empty when only hands can.
        can_be_ticked: it may be right as it is: a person can say so, once for this print.
    """

    key: str
    text: str
    mend: str = ""
    can_be_ticked: bool = False
