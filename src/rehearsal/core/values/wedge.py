"""What an eye told apart on a paper's wedges."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class WedgeSeen:
    """First steps of the wedges told apart, in L* of the medium: from black and from white; below 0 for not looked at.

    Attributes:
        lux, kelvin: of the light it was seen in.
    """

    black: float = -1.0
    white: float = -1.0
    lux: float = 0.0
    kelvin: float = 0.0
