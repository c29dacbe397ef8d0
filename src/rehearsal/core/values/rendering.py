"""How a master is brought to a destination."""

from __future__ import annotations

from dataclasses import dataclass

#: Intent names in the order of the ICC codes.
INTENTS = ("perceptual", "relative", "saturation", "absolute")


@dataclass(frozen=True)
class Rendering:
    """How a master is brought to the printer: one of INTENTS, and black point compensation."""

    intent: str = "relative"
    compensate: bool = True

    def __post_init__(self) -> None:
        if self.intent not in INTENTS:
            raise ValueError(f"unknown intent {self.intent!r}")
