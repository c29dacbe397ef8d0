"""The print condition: one printer, paper and profile and all that belongs to them."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rehearsal.core.values.destination import SPACE_NAMES, space_of
from rehearsal.core.values.queue import QueueWord
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.trueplace import TruePlace
from rehearsal.core.values.wedge import WedgeSeen

#: What must be set in every driver: nobody having told it is named.
TO_TELL = ("printer", "media_setting", "quality", "resolution", "ink", "feed")


#: What a new card holds because it is usual: nobody's, until a person says it or says something else.
USUAL = ("margins_mm", "borderless", "high_speed", "sheets")


@dataclass(frozen=True)
class PrintCondition:
    """One printer, paper and profile and all that belongs to them.

    Attributes:
        made_by: who made the profile: maker, own, service, lab or standard (a working space); empty when nobody said.
        resolution: set in the driver, as it names it.
        read: names of the fields that were only read from the profile's names; a person has not said yes to them.
        told: which of what is usual a person has said yes to.
        unread: what of the profile's file name was not understood (its tail often is the medium).
        prescribed: the default intent is a lab's wish, not a habit.
        margins_mm: unprintable margins, top, right, bottom, left.
        panel_setting: what is set on the printer's own panel.
        surface: gloss, matte, baryta and the like; texture: how coarse, in words.
        instructions: path of the instruction sheet that came with the profile, empty when none did.
        shortlist: rehearsed by the paper scout.
        loading: what the hands do, a line for each step.
        ink_set: the inks the profile was made with, as the printer's maker names them.
        brightener: none, some or full; empty when nobody said.
        dry_hours: hours a print dries before it is judged; 0 when nobody said.
        lab: the printer is a lab: it sets its driver itself; ``lab_space``, ``lab_price`` and ``lab_days`` are what it asks for.
        true_place: where this printer, tray and paper really put a page; None while nobody has measured it.
        sigma_um: spread of light and ink as measured at an edge, µm; 0 while only the surface tells it.
        queue_words: what its settings are called at the queues it was printed at.
        stock: sheets left; -1 while nobody counts them. roll_m: of a roll what is left, m; below 0 while nobody measures it.
        sheet_price, sheet_sold: price of a sheet in the user's money, and which sheet that is of (others by their area); 0 while nobody
            told. ink_price: of a millilitre; ink_ml: millilitres a square metre of the deepest black takes.
        wedges: what was told apart on its wedges, as seen.
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
    resolution: str = ""
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
    made_by: str = ""
    notes: str = ""
    surface: str = ""
    texture: str = ""
    weight: str = ""
    instructions: str = ""
    shortlist: bool = True
    read: tuple[str, ...] = ()
    unread: str = ""
    ink_set: str = ""
    brightener: str = ""
    dry_hours: float = 0.0
    lab: bool = False
    lab_space: str = ""
    lab_price: str = ""
    lab_days: str = ""
    true_place: TruePlace | None = None
    sigma_um: float = 0.0
    queue_words: tuple[QueueWord, ...] = ()
    stock: int = -1
    roll_m: float = -1.0
    sheet_price: float = 0.0
    sheet_sold: str = "A4"
    ink_price: float = 0.0
    ink_ml: float = 0.0
    wedges: WedgeSeen = WedgeSeen()  # noqa: RUF009
    told: tuple[str, ...] = ()

    @property
    def steps(self) -> tuple[str, ...]:
        """Steps of loading in their order."""
        return tuple(line.strip() for line in self.loading.splitlines() if line.strip())

    @property
    def name(self) -> str:
        """Paper and printer in one line, with the word own for a profile made for this very printer."""
        own = ", own profile" if self.made_by == "own" else ""
        return f"{self.paper} on {self.printer}{own}" if self.printer else self.paper

    def touched(self, **fields: object) -> PrintCondition:
        """With fields as a person told them: they are not only read, or usual, any more."""
        read = tuple(name for name in self.read if name not in fields)
        told = tuple(dict.fromkeys((*self.told, *(name for name in USUAL if name in fields))))
        return replace(self, **fields, read=read, told=told)  # type: ignore[arg-type]

    def state(self, field: str) -> str:
        """``told`` by a person, ``read`` from a name, ``usual`` and nobody's, or ``empty``; of ink, either of its two fields counts."""
        if field in USUAL:
            usual = field not in self.told and getattr(self, field) == getattr(PrintCondition(), field)
            return "usual" if usual else "told"
        names = ("ink", "black_mode") if field == "ink" else (field,)
        filled = [name for name in names if getattr(self, name)]
        if not filled:
            return "empty"
        return "read" if all(name in self.read for name in filled) else "told"

    def fields_that_are(self, state: str) -> tuple[str, ...]:
        """Which of the fields a print depends on are in a state; none where there is no printer, or a lab's."""
        return tuple(name for name in TO_TELL if self.state(name) == state) if self.is_ours else ()

    @property
    def is_ours(self) -> bool:
        """True for a paper of an own printer, whether that has a name yet or not; not for a lab's, nor for a file of a space."""
        return not self.lab and not self.space and self.made_by != "standard"

    @property
    def space(self) -> str:
        """The working space that stands for the destination; empty for a printer's profile."""
        return space_of(self.profile_path)

    @property
    def space_wanted(self) -> str:
        """What a lab asks its files to hold: a working space, ``printer`` for its own profile, or empty where nobody can tell."""
        text = self.lab_space.lower() if self.lab else ""
        named = [name for name in SPACE_NAMES if name.lower() in text]
        if named:
            return named[0] if len(named) == 1 else ""
        return "printer" if "profile" in text else ""

    @property
    def default(self) -> Rendering:
        """The rendering that stays when nothing speaks against it."""
        return Rendering(self.default_intent, self.default_compensate)
