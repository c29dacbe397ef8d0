"""How a print is handed over: route, file, and what is set where it is printed."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class FileFormat:
    """A kind of file: bits a channel and the ending of its name."""

    depth: int
    suffix: str


#: Kinds of print file by key.
FORMATS = {
    "tiff16": FileFormat(16, ".tif"), "tiff8": FileFormat(8, ".tif"), "jpeg": FileFormat(8, ".jpg"), "png16": FileFormat(16, ".png"),
    "png8": FileFormat(8, ".png"), "pdf": FileFormat(8, ".pdf"),
}  # fmt: skip
#: Formats of a single print, and of a whole page.
PRINT_FORMATS, PAGE_FORMATS = ("tiff16", "tiff8", "jpeg", "png16", "png8"), ("tiff16", "tiff8", "png16", "png8", "pdf")
#: The file holds the printer's own values, or those of a working space.
ROUTES = ("printer", "space")
#: Who can convert when printing.
CONVERTERS = ("none", "program", "driver")


_ENDINGS = {
    ".tif": ("tiff16", "tiff8"), ".tiff": ("tiff16", "tiff8"), ".png": ("png16", "png8"), ".jpg": ("jpeg",), ".jpeg": ("jpeg",),
    ".pdf": ("pdf",),
}  # fmt: skip


def format_by(ending: str, now: str) -> str:
    """The format a file's ending asks for: the present one where it has that ending, else the first; empty for none that is known."""
    known = _ENDINGS.get(ending.lower(), ())
    return now if now in known else known[0] if known else ""


@dataclass(frozen=True)
class HandOver:
    """What is given away, and what is set where it is printed.

    Attributes:
        route: one of ROUTES.
        space: working space of the route ``space``.
        format: one of FORMATS.
        ppi: resolution of the file.
        converter: one of CONVERTERS; empty is what the route needs.
        program_intent: intent set in the converting program; empty is the rendition's.
        media, feed: what is set in the driver; empty is the condition's.
        scale_percent: size set in the driver.
        sharpen: per cent of what the paper's spread takes that is given back beforehand, 0 to 150; sigma_um: that spread, µm,
            0 while the surface is not known.
        queue: name of the print queue the page is sent to; empty when a file is written. whole: the file holds the whole page.
        quality, ink, coat, speed, mode: what is set in the driver: quality, black ink, gloss coat, high speed (``on``), and ``grey``
            for a black-and-white mode; empty is as the card says, and in colour.
        copies: so many are printed of it.
        program_compensation: black point compensation in the converting program, ``on`` or ``off``; empty is the rendition's.
    """

    route: str = "printer"
    space: str = "opRGB"
    format: str = "tiff16"
    ppi: float = 300.0
    converter: str = ""
    program_intent: str = ""
    media: str = ""
    feed: str = ""
    scale_percent: float = 100.0
    program_compensation: str = ""
    sharpen: float = 0.0
    sigma_um: float = 0.0
    queue: str = ""
    whole: bool = False
    quality: str = ""
    ink: str = ""
    coat: str = ""
    speed: str = ""
    mode: str = ""
    copies: int = 1

    @property
    def file(self) -> FileFormat:
        """Depth and ending of the file."""
        return FORMATS[self.format]

    @property
    def sharpens(self) -> bool:
        """True when the print is sharpened for its paper."""
        return self.sharpen > 0 and self.sigma_um > 0

    @property
    def via(self) -> str:
        """Working space the pixels go through on their way to the printer; empty when they are converted straight to it."""
        return self.space if self.route == "space" else ""

    @property
    def converts(self) -> str:
        """Who converts when printing; what the route needs unless it was set otherwise."""
        return self.converter or ("none" if self.route == "printer" else "program")
