"""The sheet a print lies on: which, where on it, what else is on it, and what is cut out round it."""

from __future__ import annotations

from dataclasses import dataclass, replace

#: Ways a mat holds a print: its opening covers the print's edge, or leaves paper to be seen round it.
MATS = ("over", "float")
#: Ways of laying more than one print on a sheet.
WAYS = ("grid", "most", "packed")


@dataclass(frozen=True)
class Mat:
    """A mat, all in mm.

    Attributes:
        way: one of MATS; empty for none.
        width, height: outside; 0 for as large as the sheet.
        overlap: how far the opening's edge lies over the print (``over``); show: paper to be seen round the print (``float``).
    """

    way: str = ""
    width: float = 0.0
    height: float = 0.0
    overlap: float = 2.0
    show: float = 10.0


@dataclass(frozen=True)
class Caption:
    """What is written on the sheet beside the print.

    Attributes:
        text: a line in the middle under the print.
        edition, of: number of this print and of all; 0 for none.
        signature: a name, set at the print's lower right.
        mark, mark_digest: file of a picture that signs in the name's stead, and its content (SHA-256).
        inside: name or mark lies in the print, not under it.
        opacity: of name or mark, per cent.
        hidden: all of it lies where the mat will cover it.
        size_mm: height of a capital.
    """

    text: str = ""
    edition: int = 0
    of: int = 0
    signature: str = ""
    mark: str = ""
    mark_digest: str = ""
    inside: bool = False
    opacity: float = 100.0
    hidden: bool = False
    size_mm: float = 2.5

    @property
    def number(self) -> str:
        """The edition as it is written, ``3/12``; empty for none."""
        return f"{self.edition}/{self.of}" if self.edition and self.of else str(self.edition or "")

    @property
    def is_empty(self) -> bool:
        """True when nothing is written."""
        return not (self.text or self.edition or self.signature or self.mark)


@dataclass(frozen=True)
class Several:
    """More than one print on the sheet.

    Attributes:
        way: one of WAYS; empty for a single print. ``grid``: columns × rows of equal cells; ``most``: as many of the print's size
            as fit; ``packed``: this take and others, each in its own size.
        gap: bare paper between two, mm; edge: least bare paper at the sheet's edges, mm.
        takes: numbers of the other takes of ``packed``.
        cut_marks: short lines that show where to cut.
    """

    way: str = ""
    columns: int = 2
    rows: int = 2
    gap: float = 3.0
    edge: float = 0.0
    takes: tuple[int, ...] = ()
    cut_marks: bool = False


@dataclass(frozen=True)
class Sheet:
    """The sheet of paper and the print on it.

    Attributes:
        name: of a common sheet (``A4``), ``30x40cm`` for one of an own size, ``roll 610mm`` for paper from a roll; empty for a sheet
            made for its print.
        borderless: printed to the paper's edges.
        place: ``centre``; ``foot:15``: sides alike and the foot 15 per cent higher than the top; ``30,45``: mm from the left and
            from the top.
    """

    name: str = "A4"
    borderless: bool = False
    place: str = "centre"
    mat: Mat = Mat()
    caption: Caption = Caption()
    several: Several = Several()

    @property
    def for_another(self) -> Sheet:
        """What of it holds for another picture or paper: not what is written of this one, nor which others lie on it."""
        caption = replace(self.caption, text="", edition=0)
        alone = Several() if self.several.way == "packed" else self.several
        return replace(self, caption=caption, several=alone)
