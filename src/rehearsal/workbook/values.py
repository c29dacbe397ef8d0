"""The values a workbook keeps. All frozen; a change makes a new value. What is kept is keys, never words of a language."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import TypeVar

from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Crop, Frame
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.plain import from_plain, to_plain
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Sheet
from rehearsal.core.values.testplan import Looked, TestPlan, Variant


@dataclass(frozen=True)
class Master:
    """A finished picture, known by path and content.

    Attributes:
        assumed: names the profile an untagged one is read with.
        lift: stops by which each new take of it is lighter (negative: darker) from the start.
    """

    id: int = 0
    path: str = ""
    digest: str = ""
    name: str = ""
    assumed: str = ""
    size_bytes: int = 0
    modified: float = 0.0
    lift: float = 0.0


@dataclass(frozen=True)
class Marks:
    """What is marked in the picture, in fractions of the master.

    Attributes:
        pins: places whose readings are kept.
        line: x, y of its start and its end; empty when none is drawn.
    """

    pins: tuple[tuple[float, float], ...] = ()
    line: tuple[float, ...] = ()


@dataclass(frozen=True)
class Written:
    """A print file that was written, what went into it, and when (ISO 8601, local time; empty for those kept without).

    Attributes:
        file: empty for a page that a queue printed.
        printed: when a person said that the file was printed; a file alone is no print.
    """

    file: str
    rendition: Rendition
    when: str = ""
    printed: str = ""

    @property
    def print_when(self) -> str:
        """When it came out of a printer, as far as anybody has said; empty for a file nobody has printed."""
        return self.printed or ("" if self.file else self.when)


@dataclass(frozen=True)
class Take:
    """One rehearsal of one master for one print condition.

    Attributes:
        master, condition: numbers in the workbook.
        name: the user's own; empty for one that is named after its paper and intent.
        view: paper view the take is looked at in.
        frame, recipe, rendering, sheet, hand_over: with master and condition the :class:`Rendition`.
        marks: pins and line.
        not_wanted: keys of stations set "not for this print".
        written: the last print file.
        ticked: keys of cautions and steps that were ticked off for the next print.
    """

    id: int = 0
    master: int = 0
    condition: int = 0
    name: str = ""
    notes: str = ""
    view: str = "true-black"
    frame: Frame = Frame()  # noqa: RUF009
    recipe: Recipe = Recipe()  # noqa: RUF009
    rendering: Rendering = Rendering()  # noqa: RUF009
    sheet: Sheet = Sheet()  # noqa: RUF009
    hand_over: HandOver = HandOver()  # noqa: RUF009
    marks: Marks = Marks()
    not_wanted: tuple[str, ...] = ()
    written: Written | None = None
    ticked: tuple[str, ...] = ()

    def rendition(self, master: Master, destination: Destination) -> Rendition:
        """What goes on paper."""
        return Rendition(
            master=master.digest,
            assumed=master.assumed,
            frame=self.frame.alone,
            recipe=self.recipe,
            rendering=self.rendering,
            destination=destination,
            sheet=self.sheet,
            hand_over=self.hand_over,
        )

    @property
    def file(self) -> str:
        """The written print file, or empty."""
        return self.written.file if self.written else ""


@dataclass(frozen=True)
class Moment:
    """A state of a take, to go back to.

    Attributes:
        take: number of the take.
        when: ISO 8601, local time.
        after: number of the state it was made of; 0 for the first.
        name: the user's own, empty for none.
        condition, frame, recipe, rendering, sheet: of the take as it was afterwards.
    """

    id: int = 0
    take: int = 0
    when: str = ""
    after: int = 0
    name: str = ""
    condition: int = 0
    frame: Frame = Frame()  # noqa: RUF009
    recipe: Recipe = Recipe()  # noqa: RUF009
    rendering: Rendering = Rendering()  # noqa: RUF009
    sheet: Sheet = Sheet()  # noqa: RUF009


@dataclass(frozen=True)
class TestSheet:
    """A test sheet that was written, as it was printed, and what a look at it gave.

    Attributes:
        take: number of the take.
        when: it was written; printed: it came out of the printer, as its user said (ISO 8601, local time; empty: not said).
        rendition: of the untouched print.
        sheet: name of the sheet; layout: one of LAYOUTS.
        plan: what was wished for; names: of what is varied; variants: with the values as they were printed; none in sheets that
            only know that they were written.
        pieces: of the picture, in fractions of the master; none for the whole.
        differences: median ΔE₀₀ of neighbours of a row that was measured.
        caption: the line at its foot.
        files: of a plan with a sheet for each paper, in the variants' order; ``file`` is the only one of the others.
    """

    __test__ = False

    id: int = 0
    take: int = 0
    when: str = ""
    rendition: Rendition = Rendition()  # noqa: RUF009
    sheet: str = ""
    file: str = ""
    plan: TestPlan = TestPlan()  # noqa: RUF009
    names: tuple[str, ...] = ()
    variants: tuple[Variant, ...] = ()
    pieces: tuple[Crop, ...] = ()
    layout: str = ""
    differences: tuple[float, ...] = ()
    looked: Looked = Looked()  # noqa: RUF009
    printed: str = ""
    caption: str = ""
    files: tuple[str, ...] = ()

    @property
    def out(self) -> str:
        """When it came out, as far as that is known: no sheet is older than its file."""
        return self.printed or self.when


@dataclass(frozen=True)
class PlaceSaid:
    """What was said of a place of a print: x, y in fractions of the master, and a key: blocked, burnt, strong, weak or cast."""

    x: float = 0.0
    y: float = 0.0
    what: str = ""


@dataclass(frozen=True)
class LogEntry:
    """What was printed, how, and how it came out.

    Attributes:
        darker: sixths of a stop the print was darker than the screen (negative: lighter).
        cooler: how much cooler than the screen, in steps of 5 mired (negative: warmer).
        flatter: how much flatter, in steps of 5 (negative: harder).
        verdict: key: good, usable, again or given-up.
        light: key of the light it was seen in, or the user's own text; lux on the print, kelvin of its colour (0: not known).
        words: the user's own.
        rendition: what was printed; None in entries that do not know.
        view: paper view it was compared in.
        condition_card: the condition as it was.
        print_id: number of the page it is about; 0 for a print that was made elsewhere. printed: when it came out, or its file was
            written (ISO 8601, local time; empty: not known).
        places: what was said of single places.
        photo: file of a photograph of the print.
        cause: key of what went wrong at the printer; such a print teaches nothing about light.
        cost: of the print in the user's money; below 0 while nobody told prices.
        screen_profile: digest of the screen's profile it was compared on.
    """

    id: int = 0
    when: str = ""
    picture: str = ""
    condition: int = 0
    condition_name: str = ""
    light: str = ""
    lux: float = 0.0
    kelvin: float = 0.0
    screen_white: float = 0.0
    darker: float = 0.0
    cooler: float = 0.0
    flatter: float = 0.0
    verdict: str = ""
    words: str = ""
    file: str = ""
    rendition: Rendition | None = None
    view: str = ""
    condition_card: PrintCondition | None = None
    print_id: int = 0
    printed: str = ""
    places: tuple[PlaceSaid, ...] = ()
    photo: str = ""
    cause: str = ""
    cost: float = -1.0
    screen_profile: str = ""


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
    """What is done again: any of a tuning, an intent, a compensation and a view.

    Attributes:
        condition: number of the print condition it was kept on; 0 for one of every paper.
        values: tuning; nothing for none.
        intent: empty for none; compensate: None for none; view: empty for none.
        starts: every new take on its condition begins with it.
    """

    id: int = 0
    name: str = ""
    condition: int = 0
    values: Values = field(default_factory=Values)
    intent: str = ""
    compensate: bool | None = None
    view: str = ""
    starts: bool = False


@dataclass(frozen=True)
class PatchOff:
    """A patch of a check: what was sent to the screen (0 to 1), and how far the reading is off, ΔE₀₀."""

    red: float
    green: float
    blue: float
    off: float

    @classmethod
    def each(cls, rgb: Iterable[Sequence[float]], off: Iterable[float]) -> tuple[PatchOff, ...]:
        """All patches of a check: colours (m, 3) and differences (m,)."""
        rows = zip(rgb, off, strict=True)
        return tuple(cls(float(r), float(g), float(b), round(float(each), 3)) for (r, g, b), each in rows)


@dataclass(frozen=True)
class ScreenReading:
    """One check of a screen.

    Attributes:
        luminance, black: cd/m²; black is 0 when it was not read.
        temperature, white_gap: of the white: kelvin, and distance from the aim in u′v′; 0 when not read.
        mean, worst: ΔE₀₀ against the profile; -1 when no colours were read.
        state: good, usable or calibrate.
        source: key of where the reading comes from.
        patches: each colour that was read.
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
    patches: tuple[PatchOff, ...] = ()


@dataclass(frozen=True)
class ScreenRecord:
    """What is known about a screen and the light on the prints.

    Attributes:
        white: luminance of the screen's white now, cd/m²; contrast: its white to black.
        light: key of the light the prints are seen in (``words``), or the user's own text; lux on the print, kelvin of its
            colour, 0 when it is not known.
        source: key of where the profile comes from.
        interval_days, interval_hours: when to calibrate again; ``by_hours``: the hours count.
        hours: of light since the calibration, as the screen or its user counted them; 0 when not told.
        limited: contrast to which the whole screen is limited already; 0 when it is not.
        aim_luminance, aim_white: what it is calibrated to: cd/m², and D50, D55 or D65.
        ppi: real resolution, checked on the glass; 0 when only the screen's own report is known.
        readings: checks, oldest first.
        known: who said white, contrast and lux: pairs of the field's name and ``told``, ``read`` or ``camera`` (half a stop).
            What is not there is nobody's: its value is usual, and nothing is concluded from it.
        beside: a perfect white in the light on the prints : the screen's white, matched by eye; 0 when that was not done.
    """

    profile_path: str = ""
    source: str = ""
    white: float = 100.0
    contrast: float = 1000.0
    calibrated: str = ""
    interval_days: int = 21
    light: str = "desk-lamp"
    lux: float = 500.0
    kelvin: float = 0.0
    ppi: float = 0.0
    interval_hours: float = 200.0
    by_hours: bool = False
    hours: float = 0.0
    limited: float = 0.0
    aim_luminance: float = 100.0
    aim_white: str = "D50"
    readings: tuple[ScreenReading, ...] = ()
    known: tuple[tuple[str, str], ...] = ()
    beside: float = 0.0

    def origin(self, name: str) -> str:
        """Who said a value: ``told``, ``read``, ``camera``, or empty for nobody."""
        return dict(self.known).get(name, "")

    def saying(self, name: str, origin: str) -> ScreenRecord:
        """The record with another origin of a value; an empty one makes it nobody's, and usual again."""
        rest = tuple(pair for pair in self.known if pair[0] != name)
        if origin:
            return replace(self, known=(*rest, (name, origin)))
        return replace(self, known=rest, **{name: getattr(ScreenRecord(), name)})


@dataclass(frozen=True)
class PrintJob:
    """A page on its way to a queue, and what became of it.

    Attributes:
        take, condition: numbers in the workbook; picture: name of the picture.
        queue: where it is sent.
        renditions: what is on the page, this take's first; their profiles' bytes are kept.
        masters: numbers of their pictures.
        card: the condition as it was.
        options: every setting as it was sent.
        state: ``waiting``, ``making``, ``sent``, ``held``, ``done``, ``stopped`` or ``failed``.
        number: of the page at the queue, empty until it is sent; words: what the queue said last.
        asked, printed: moments (ISO 8601, local time).
    """

    id: int = 0
    take: int = 0
    condition: int = 0
    picture: str = ""
    queue: str = ""
    renditions: tuple[Rendition, ...] = ()
    masters: tuple[int, ...] = ()
    card: PrintCondition = PrintCondition()  # noqa: RUF009
    options: tuple[tuple[str, str], ...] = ()
    state: str = "waiting"
    number: str = ""
    words: str = ""
    asked: str = ""
    printed: str = ""

    @property
    def rendition(self) -> Rendition:
        """This take's."""
        return self.renditions[0] if self.renditions else Rendition()

    @property
    def is_over(self) -> bool:
        """True when nothing more happens with it by itself."""
        return self.state in ("done", "stopped", "failed")


AnyKept = PrintCondition | Master | Take | LogEntry | Habit | Accepted | TestSheet | Moment | PrintJob
Kept = TypeVar("Kept", bound=AnyKept)
#: What is kept: the table of each kind in the workbook, and its topic in a change record.
KINDS: dict[type[AnyKept], str] = {
    PrintCondition: "conditions",
    Master: "masters",
    Take: "takes",
    LogEntry: "log",
    Habit: "habits",
    Accepted: "accepted",
    TestSheet: "test_sheets",
    Moment: "moments",
    PrintJob: "prints",
}


def with_id(value: Kept, number: int) -> Kept:
    """A copy with its place in the workbook."""
    return replace(value, id=number)


__all__ = [
    "KINDS", "Accepted", "AnyKept", "Habit", "Kept", "LogEntry", "Marks", "Master", "Moment", "PlaceSaid", "PrintCondition",
    "PrintJob", "ScreenReading", "ScreenRecord", "Take", "TestSheet", "Written", "from_plain", "to_plain", "with_id",
]  # fmt: skip
