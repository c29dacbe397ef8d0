"""Real size on the screen, checked with a ruler or a card laid on the glass."""

from __future__ import annotations

from rehearsal.core.errors import RehearsalError

#: Width and height in mm of a bank or identity card (ISO/IEC 7810 ID-1, from memory).
CARD_MM = (85.60, 53.98)
MM_PER_INCH = 25.4
_LEAST, _MOST = 50.0, 700.0


def ppi_from_length(pixels: float, millimetres: float) -> float:
    """Pixels per inch of a screen on which a bar of so many device pixels is so many millimetres long.

    Raises:
        RehearsalError: no screen has such a resolution (below 50 or above 700 ppi).
    """
    if pixels <= 0 or millimetres <= 0:
        raise RehearsalError("the length is not possible", "", "measure the bar again in millimetres")
    ppi = pixels / millimetres * MM_PER_INCH
    if not _LEAST <= ppi <= _MOST:
        raise RehearsalError(
            f"{millimetres:g} mm for this bar would be {ppi:.0f} ppi", "", "measure the bar again in millimetres"
        )
    return ppi


def pixels_of(millimetres: float, ppi: float) -> float:
    """Device pixels of a length on a screen."""
    return millimetres / MM_PER_INCH * ppi
