"""The demo's two monitors as matrix profiles: a standard-gamut and a wide-gamut one."""

from __future__ import annotations

from rehearsal.core.icc.standard import colorants
from rehearsal.core.icc.write import gamma_tag, matrix_profile
from rehearsal.devices.simulated.display import SimulatedDisplay

SCREENS = {
    "desk-screen-standard.icc": (
        "Desk screen, standard gamut, 90 cd/m2",
        ((0.638, 0.334), (0.303, 0.604), (0.151, 0.063)),
        (0.3455, 0.3583),
    ),
    "desk-screen-wide.icc": (
        "Desk screen, wide gamut, 90 cd/m2",
        ((0.678, 0.312), (0.211, 0.709), (0.151, 0.057)),
        (0.3457, 0.3587),
    ),
}


def make_screen(file: str) -> bytes:
    """Profile bytes of one demo monitor."""
    name, primaries, white = SCREENS[file]
    return matrix_profile(name, colorants(primaries, white), gamma_tag(2.2))


def simulated_display(file: str) -> SimulatedDisplay:
    """The display a demo monitor profile was made for."""
    _name, primaries, white = SCREENS[file]
    return SimulatedDisplay(primaries, white)
