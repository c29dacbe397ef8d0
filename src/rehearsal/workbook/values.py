"""The values a workbook keeps. All frozen; a change makes a new value."""

from __future__ import annotations

from dataclasses import asdict, dataclass, fields, replace
from typing import Any, TypeVar

from rehearsal.core.proof.chain import Rendering
from rehearsal.core.sheet.layout import Crop, PrintSize
from rehearsal.core.tuning.values import Tuning

Kept = TypeVar("Kept")


@dataclass(frozen=True)
class PrintCondition:
    """One printer, paper and profile and all that belongs to them.

    Attributes:
        made_by: who made the profile: maker, own, service, lab or standard (a working space).
        prescribed: the default intent is a lab's wish, not a habit.
        margins_mm: unprintable margins, top, right, bottom, left.
        panel_setting: what is set on the printer's own panel.
        surface: gloss, matte, baryta and the like; texture: how coarse, in words.
        instructions: path of the instruction sheet that came with the profile, empty when none did.
        shortlist: rehearsed by the paper scout.
    """

    id: int = 0
    printer: str = ""
    paper: str = ""
    profile_path: str = ""
    profile_digest: str = ""
    media_setting: str = ""
    preset: str = ""
    panel_setting: str = ""
    quality: str = ""
    black_mode: str = ""
    gloss_coat: str = ""
    high_speed: str = "off"
    ink: str = ""
    feed: str = ""
    margins_mm: tuple[float, float, float, float] = (3.0, 3.0, 3.0, 3.0)
    borderless: bool = False
    sheets: tuple[str, ...] = ("A4", "A3", "A3+")
    loading: str = ""
    default_intent: str = "relative"
    default_compensate: bool = True
    prescribed: bool = False
    made_by: str = "maker"
    notes: str = ""
    surface: str = ""
    texture: str = ""
    weight: str = ""
    instructions: str = ""
    shortlist: bool = True

    @property
    def name(self) -> str:
        """Paper and printer in one line, with the word own for a profile made for this very printer."""
        own = ", own profile" if self.made_by == "own" else ""
        return f"{self.paper} on {self.printer}{own}" if self.printer else self.paper

    @property
    def default(self) -> Rendering:
        """The rendering that stays when nothing speaks against it."""
        return Rendering(self.default_intent, self.default_compensate)


@dataclass(frozen=True)
class Master:
    """A finished picture, known by path and content; ``assumed`` names the profile an untagged one is read with."""

    id: int = 0
    path: str = ""
    digest: str = ""
    name: str = ""
    assumed: str = ""
    size_bytes: int = 0
    modified: float = 0.0


@dataclass(frozen=True)
class Take:
    """One rehearsal of one master for one print condition.

    Attributes:
        print_width_cm, print_height_cm: 0 when no size is set.
        route: ``printer`` for printer-ready pixels, ``space`` for a working-space file.
        space: working space of the second route: sRGB, opRGB, P3 or ROMM.
        not_wanted: stations set "not for this print".
        converter: who converts when printing: ``none``, ``program`` or ``driver``; empty is what the route needs.
        program_intent: intent set in the converting program; empty is the take's.
        driver_media, driver_feed: what is set in the driver; empty is the condition's.
        scale_percent: size set in the driver.
        learnt: the part of the tuning that came from earlier verdicts.
        pins: places whose readings are kept, x and y in fractions of the master.
        line: x, y of its start and its end in fractions of the master; empty when none is drawn.
    """

    id: int = 0
    master: int = 0
    condition: int = 0
    name: str = ""
    crop: Crop = Crop()  # noqa: RUF009
    print_width_cm: float = 0.0
    print_height_cm: float = 0.0
    fit: str = "crop"
    ppi: float = 300.0
    intent: str = "relative"
    compensate: bool = True
    view: str = "true-black"
    tuning: Tuning = Tuning()  # noqa: RUF009
    route: str = "printer"
    space: str = "opRGB"
    depth: int = 16
    borderless: bool = False
    sheet: str = "A4"
    notes: str = ""
    file: str = ""
    not_wanted: tuple[str, ...] = ()
    converter: str = ""
    program_intent: str = ""
    driver_media: str = ""
    driver_feed: str = ""
    scale_percent: float = 100.0
    learnt: Tuning = Tuning()  # noqa: RUF009
    pins: tuple[tuple[float, float], ...] = ()
    line: tuple[float, ...] = ()

    @property
    def rendering(self) -> Rendering:
        """Intent and compensation."""
        return Rendering(self.intent, self.compensate)

    @property
    def size(self) -> PrintSize | None:
        """Printed size, or None."""
        if self.print_width_cm <= 0 or self.print_height_cm <= 0:
            return None
        return PrintSize(self.print_width_cm, self.print_height_cm)


@dataclass(frozen=True)
class LogEntry:
    """What was printed, how, and how it came out.

    Attributes:
        darker: sixths of a stop the print was darker than the screen (negative: lighter).
        cooler: how much cooler than the screen, in steps of 5 mired (negative: warmer).
        flatter: how much flatter, in steps of 5 (negative: harder).
        take: the take as it was, plain values.
        condition_card: the condition as it was.
    """

    id: int = 0
    when: str = ""
    picture: str = ""
    condition: int = 0
    condition_name: str = ""
    light: str = ""
    lux: float = 0.0
    screen_white: float = 0.0
    darker: float = 0.0
    cooler: float = 0.0
    flatter: float = 0.0
    verdict: str = ""
    words: str = ""
    file: str = ""
    take: dict[str, Any] | None = None
    condition_card: dict[str, Any] | None = None


@dataclass(frozen=True)
class Accepted:
    """An area that is "fine as it is": remembered for a condition, a hue and a cause, with a word why."""

    id: int = 0
    condition: int = 0
    hue: str = ""
    cause: str = ""
    why: str = ""


@dataclass(frozen=True)
class Habit:
    """A saved tuning that can be applied again."""

    id: int = 0
    name: str = ""
    condition: int = 0
    tuning: Tuning = Tuning()  # noqa: RUF009


@dataclass(frozen=True)
class ScreenReading:
    """One check of a screen.

    Attributes:
        luminance, black: cd/m²; black is 0 when it was not read.
        temperature, white_gap: of the white: kelvin, and distance from the aim in u′v′; 0 when not read.
        mean, worst: ΔE₀₀ against the profile; -1 when no colours were read.
        state: good, usable or calibrate.
    """

    when: str = ""
    luminance: float = 0.0
    black: float = 0.0
    temperature: float = 0.0
    white_gap: float = 0.0
    mean: float = -1.0
    worst: float = -1.0
    state: str = ""
    source: str = ""


@dataclass(frozen=True)
class ScreenRecord:
    """What is known about a screen and the light on the prints.

    Attributes:
        white: luminance of the screen's white now, cd/m²; contrast: its white to black.
        interval_days, interval_hours: when to calibrate again; hours count when ``hours_a_day`` is above 0.
        aim_luminance, aim_white: what it is calibrated to: cd/m², and D50, D55 or D65.
        ppi: real resolution, checked on the glass; 0 when only the screen's own report is known.
        readings: checks, oldest first.
    """

    profile_path: str = ""
    source: str = ""
    white: float = 100.0
    contrast: float = 1000.0
    calibrated: str = ""
    interval_days: int = 21
    light: str = "desk lamp for prints"
    lux: float = 500.0
    ppi: float = 0.0
    interval_hours: float = 200.0
    hours_a_day: float = 0.0
    aim_luminance: float = 100.0
    aim_white: str = "D50"
    readings: tuple[ScreenReading, ...] = ()


def screen_from_json(data: dict[str, Any]) -> ScreenRecord:
    """A screen record from plain data."""
    readings = tuple(from_json(ScreenReading, row) for row in data.get("readings") or [])
    return replace(from_json(ScreenRecord, {k: v for k, v in data.items() if k != "readings"}), readings=readings)


_NESTED = {"crop": lambda d: Crop(**d), "tuning": Tuning.from_json, "learnt": Tuning.from_json}


def to_json(value: Any) -> dict[str, Any]:
    """Plain data of a kept value."""
    return asdict(value)


def from_json(kind: type[Kept], data: dict[str, Any]) -> Kept:
    """A kept value from plain data; names this version does not know are left out."""
    known = {f.name for f in fields(kind)}  # type: ignore[arg-type]
    given: dict[str, Any] = {}
    for name, item in data.items():
        if name not in known:
            continue
        made = _NESTED[name](item) if name in _NESTED and isinstance(item, dict) else item
        given[name] = tuple(tuple(v) if isinstance(v, list) else v for v in made) if isinstance(made, list) else made
    return kind(**given)


def with_id(value: Kept, number: int) -> Kept:
    """A copy with its place in the workbook."""
    return replace(value, id=number)  # type: ignore[type-var]
