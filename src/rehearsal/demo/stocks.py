"""The demo's papers and printers. All names and all spectra are invented."""

from __future__ import annotations

from dataclasses import dataclass

from rehearsal.core.making.builder import build
from rehearsal.devices.cgats import parse
from rehearsal.devices.simulated.instrument import measure_chart
from rehearsal.devices.simulated.printer import PaperStock, SimulatedPrinter

GLOSS = PaperStock("Sluice Gloss", 0.925, 0.01, 0.135, 0.0022, 1.16, 0.13, 1.9, 3.1)
BARYTA = PaperStock("Windmill Baryta", 0.945, 0.045, 0.035, 0.0011, 1.22, 0.11, 1.8, 3.2)
DUNE = PaperStock("White Dune", 0.93, 0.02, 0.055, 0.0082, 0.60, 0.15, 2.2, 2.6)
QUAY = PaperStock("Old Quay", 0.90, 0.105, 0.0, 0.0112, 0.54, 0.17, 2.3, 2.4)
#: A machine whose own profile gains mostly in the darks, as custom profiles do.
MACHINE_AT_HAND = 9


@dataclass(frozen=True)
class DemoProfile:
    """How one demo profile is made: file name, description, paper, machine (0 is the average one), version."""

    file: str
    name: str
    stock: PaperStock
    machine: int
    version: float
    seed: int


PROFILES = (
    DemoProfile("SK24_SluiceGloss_Hi.icc", "Skarn 24 Sluice Gloss High", GLOSS, 0, 2.4, 11),
    DemoProfile("SK24_WindmillBaryta_Hi.icc", "Skarn 24 Windmill Baryta High", BARYTA, 0, 4.3, 12),
    DemoProfile("SK24_WhiteDune_Hi.icc", "Skarn 24 White Dune High", DUNE, 0, 2.4, 13),
    DemoProfile("SK24_WhiteDune_own.icc", "White Dune, our Skarn 24", DUNE, MACHINE_AT_HAND, 2.4, 14),
    DemoProfile("OS17_OldQuay_Fine.icc", "Ostrel 17 Old Quay Fine", QUAY, 0, 2.4, 15),
)


def printer_of(profile: DemoProfile) -> SimulatedPrinter:
    """The machine and paper a demo profile was measured on."""
    return SimulatedPrinter(profile.stock, profile.machine)


def make_profile(profile: DemoProfile) -> bytes:
    """Print the chart, read it, build the profile; the readings stay inside as text."""
    text = measure_chart(printer_of(profile), profile.name, profile.seed)
    table = parse(text)[0]
    rgb = table.columns(["RGB_R", "RGB_G", "RGB_B"]) / 100
    xyz = table.columns(["XYZ_X", "XYZ_Y", "XYZ_Z"]) / 100
    return build(rgb, xyz, profile.name, profile.version, text)
