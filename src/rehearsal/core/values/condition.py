"""The print condition: one printer, paper and profile and all that belongs to them."""

from __future__ import annotations

from dataclasses import dataclass

from rehearsal.core.values.destination import space_of
from rehearsal.core.values.rendering import Rendering


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
    def space(self) -> str:
        """The working space that stands for the destination; empty for a printer's profile."""
        return space_of(self.profile_path)

    @property
    def default(self) -> Rendering:
        """The rendering that stays when nothing speaks against it."""
        return Rendering(self.default_intent, self.default_compensate)
