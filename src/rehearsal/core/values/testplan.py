"""What a test sheet varies, and what is kept of one that was printed. Keys and numbers only."""

from __future__ import annotations

from dataclasses import dataclass, field

from rehearsal.core.values.frame import Crop
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.wedge import WedgeSeen

#: Kinds of test sheet.
KINDS = ("bracket", "two", "mixed", "renderings", "strength", "sharpening", "takes", "papers")
#: Ways of laying variants on a sheet: columns, or one under the other.
LAYOUTS = ("2x2", "3x3", "strips")
#: What a look at a dry patch may say of it.
PATCH_WORDS = ("blocked", "burnt", "flat", "too-much")
#: Answers to a paper.
PAPER_WORDS = ("yes", "maybe", "no")
#: How a look at a sheet ended: a choice, none of them but further one way, the untouched one.
ENDINGS = ("chosen", "further-up", "further-down", "none-better")
#: At most so many pieces of a picture lie on a sheet.
MOST_PIECES = 4


@dataclass(frozen=True)
class TestPlan:
    """What is wished for.

    Attributes:
        kind: one of KINDS.
        first, second: controls that are stepped; ``second`` only for two at once.
        count: variants of a bracket, at most.
        apart: visible steps between neighbours.
        step: in the first control's own unit instead of visible steps; 0 for these.
        pieces: of the master, chosen by hand; empty for offered ones. many: how many are offered. whole: the whole picture instead.
        layout: one of LAYOUTS, empty for the one that serves; sheet: name, empty for the smallest that serves.
        step_number: of the recipe's step whose strength is varied; -1 for the last.
        beyond: of the first control: begin outward from this value on one side (``side`` above 0: upward), as none before was enough.
        members: numbers of takes, or of papers.
    """

    __test__ = False

    kind: str = "bracket"
    first: str = "lightness"
    second: str = "contrast"
    count: int = 6
    apart: float = 1.0
    step: float = 0.0
    pieces: tuple[Crop, ...] = ()
    many: int = 1
    whole: bool = False
    layout: str = ""
    sheet: str = ""
    step_number: int = -1
    beyond: float = 0.0
    side: int = 0
    members: tuple[int, ...] = ()


@dataclass(frozen=True)
class Variant:
    """One field of a sheet.

    Attributes:
        number: from 1, as it stands beside the field.
        rendition: what is printed there, the crop apart.
        values: of what is varied, in the order of the sheet's names.
        take, condition: whose it is; 0 for the plan's own.
        black: a field of the printer's deepest black, not of the picture.
    """

    number: int = 0
    rendition: Rendition = Rendition()  # noqa: RUF009
    values: tuple[float, ...] = ()
    take: int = 0
    condition: int = 0
    black: bool = False


@dataclass(frozen=True)
class PatchSaid:
    """What was said of a field: keys of PATCH_WORDS, or one of PAPER_WORDS with the user's own reason."""

    number: int = 0
    words: tuple[str, ...] = ()
    why: str = ""


@dataclass(frozen=True)
class Looked:
    """What a look at the dry sheet gave.

    Attributes:
        ending: one of ENDINGS; empty while nobody has said.
        chosen: number of a field, or of the two on both sides of a gap.
        said: words of single fields.
    """

    ending: str = ""
    chosen: tuple[int, ...] = ()
    said: tuple[PatchSaid, ...] = field(default_factory=tuple)
    wedges: WedgeSeen = WedgeSeen()  # noqa: RUF009

    def of(self, number: int) -> PatchSaid:
        """What was said of a field."""
        return next((s for s in self.said if s.number == number), PatchSaid(number))
