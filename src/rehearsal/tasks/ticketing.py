"""The ticket: each setting of a print once, for the route taken, checked against the take and the condition."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from pathlib import Path

from rehearsal.core.picture.reduce import viewing_distance, wanted_ppi
from rehearsal.core.proof.advice import rendering_name
from rehearsal.core.sheet.layout import effective_ppi, fits_sheet, sheet_size
from rehearsal.core.tuning.values import in_words
from rehearsal.workbook.values import PrintCondition, Take

CONVERTERS = {
    "none": "no colour conversion anywhere: the file holds the printer's own values",
    "program": "the printing program converts, once; colour correction in the driver is off",
    "driver": "the driver decides",
}
SPACES = {
    "sRGB": "sRGB IEC 61966-2-1",
    "opRGB": "opRGB IEC 61966-2-5",
    "P3": "Display P3",
    "ROMM": "ROMM RGB ISO 22028-2",
}


@dataclass(frozen=True)
class TicketRequest:
    """Everything a ticket is made from.

    Attributes:
        pixels: width and height of the master inside the crop.
        judged: the take the figures on screen belong to, or None when it was not judged.
        profile_name: description of the condition's profile.
        file: the written file, or empty.
    """

    take: Take
    condition: PrintCondition
    picture: str
    pixels: tuple[int, int]
    profile_name: str
    judged: Take | None
    file: str = ""


@dataclass(frozen=True)
class Ticket:
    """Sections of rows (label, value), cautions as sentences."""

    title: str
    sections: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]
    cautions: tuple[str, ...]


def converter_of(take: Take) -> str:
    """Who converts when printing; what the route needs unless it was set otherwise."""
    return take.converter or ("none" if take.route == "printer" else "program")


def make_ticket(request: TicketRequest) -> Ticket:
    """Compose the ticket and check it."""
    sections = (
        ("The print", _print_rows(request)),
        ("Colour", _colour_rows(request)),
        ("Driver and paper", _driver_rows(request)),
        ("Before printing", _handling_rows(request.condition)),
    )
    return Ticket(f"{request.picture} on {request.condition.paper}", sections, tuple(cautions(request)))


def _print_rows(request: TicketRequest) -> tuple[tuple[str, str], ...]:
    take = request.take
    rows = [("Picture", request.picture)]
    if take.size is not None:
        width, height = sheet_size(take.sheet, take.size)
        rows += [
            ("Print size", f"{take.size.in_words}, at 100 %, not scaled to fit"),
            ("Sheet", f"{take.sheet}, {width:.1f} × {height:.1f} cm"),
            ("Resolution", f"{take.ppi:.0f} ppi"),
        ]
    rows.append(("Tuning", "; ".join(in_words(take.tuning)) or "none"))
    if request.file:
        rows.append(("File", Path(request.file).name))
    rows.append(("Ticket of", date.today().isoformat()))
    return tuple(rows)


def _colour_rows(request: TicketRequest) -> tuple[tuple[str, str], ...]:
    take = request.take
    rendering = rendering_name(take.rendering)
    if take.route == "printer":
        return (
            ("File holds", f"printer-ready pixels for {request.profile_name}"),
            ("Converted", f"here, once, {rendering}"),
            ("When printing", CONVERTERS["none"]),
        )
    return (
        ("File holds", f"pixels in {SPACES.get(take.space, take.space)}, profile embedded"),
        ("Converts", CONVERTERS["program"]),
        ("Profile there", request.profile_name),
        ("Intent there", rendering),
    )


def _driver_rows(request: TicketRequest) -> tuple[tuple[str, str], ...]:
    c, take = request.condition, request.take
    rows = (
        ("Printer", c.printer),
        ("Paper", c.paper),
        ("Media setting", take.driver_media or c.media_setting),
        ("Preset", c.preset),
        ("Printer's panel", c.panel_setting),
        ("Quality", c.quality),
        ("High speed", c.high_speed if c.printer else ""),
        ("Black", c.ink or c.black_mode),
        ("Gloss coat", c.gloss_coat),
        ("Feed", take.driver_feed or c.feed),
        ("Borderless", "yes" if take.borderless else "no"),
    )
    return tuple((label, value) for label, value in rows if value)


def _handling_rows(condition: PrintCondition) -> tuple[tuple[str, str], ...]:
    rows = [("Loading", condition.loading)] if condition.loading else []
    rows.append(("Check", "nozzles; coated side to the head; one sheet, dust-free"))
    rows.append(
        ("Afterwards", "let it dry before judging; coat or frame only as the maker's sheet and local rules say")
    )
    return tuple(rows)


def cautions(request: TicketRequest) -> list[str]:
    """What the ticket will not be silent about."""
    return [
        *_conversion_cautions(request),
        *_judged_cautions(request),
        *_driver_cautions(request),
        *_size_cautions(request),
    ]


def _conversion_cautions(request: TicketRequest) -> list[str]:
    take = request.take
    who = converter_of(take)
    notes = []
    if take.route == "printer" and who == "program":
        notes.append(
            "Two converters: the file is already in the printer's space. Switch colour conversion off in the printing "
            "program (naming the very same profile at both ends does nothing twice)."
        )
    if who == "driver":
        notes.append(
            "The driver is left to decide about colour: it may convert a second time, or differently. Switch it off."
        )
    if take.route == "space" and who == "none":
        notes.append(
            "Nobody converts: a working-space file sent unconverted prints wrong. Let the printing program convert."
        )
    return notes


def _judged_cautions(request: TicketRequest) -> list[str]:
    take, judged = request.take, request.judged
    notes = []
    if judged is None:
        notes.append("This take has not been judged yet.")
    elif judged.condition != take.condition:
        notes.append("The take was judged with another profile than the one it is printed with. Judge again.")
    elif judged.rendering != take.rendering:
        notes.append("The take was judged with another rendering intent than the one it is printed with. Judge again.")
    elif judged.tuning != take.tuning or judged.crop != take.crop:
        notes.append("Tuning or crop changed after judging. Judge again.")
    if take.route == "space" and take.program_intent and take.program_intent != take.intent:
        notes.append(
            f"The printing program is set to {take.program_intent}, but {rendering_name(take.rendering)} was judged."
        )
    if request.condition.prescribed and take.intent != request.condition.default_intent:
        notes.append(f"The lab prescribes {request.condition.default_intent}; this take uses {take.intent}.")
    return notes


def _driver_cautions(request: TicketRequest) -> list[str]:
    take, c = request.take, request.condition
    notes = []
    if take.driver_media and take.driver_media != c.media_setting:
        notes.append(
            f"The media setting is “{take.driver_media}”, but the profile was made for “{c.media_setting or 'not known'}”."
        )
    if take.driver_feed and c.feed and take.driver_feed != c.feed:
        notes.append(f"This paper is fed from “{c.feed}”, not from “{take.driver_feed}”.")
    if take.borderless and not c.borderless:
        notes.append("This paper must not be printed borderless.")
    if abs(take.scale_percent - 100) > 0.01:
        notes.append(
            f"The driver is set to {take.scale_percent:g} %: the print will not have its size. Set it to 100 %."
        )
    return notes


def _size_cautions(request: TicketRequest) -> list[str]:
    take = request.take
    size = take.size
    if size is None:
        return ["No print size is set."]
    notes = []
    have = effective_ppi(request.pixels[0], size.width_cm)
    want = min(wanted_ppi(viewing_distance(size.width_cm, size.height_cm)), take.ppi)
    if have < want * 0.97:
        notes.append(
            f"The picture gives only {have:.0f} ppi at this size; {want:.0f} ppi can be seen from its usual distance."
        )
    problem = fits_sheet(size, take.sheet, request.condition.margins_mm, take.borderless)
    return [*notes, problem] if problem else notes


def ticket_html(ticket: Ticket) -> str:
    """The ticket as simple HTML for the screen."""
    from html import escape

    parts = [f"<h3>{escape(ticket.title)}</h3>"]
    if ticket.cautions:
        parts.append("<p><b>Needs a look</b></p><ul>")
        parts += [f"<li>{escape(text)}</li>" for text in ticket.cautions]
        parts.append("</ul>")
    for name, rows in ticket.sections:
        parts.append(f"<p><b>{escape(name)}</b></p><table cellspacing='2'>")
        parts += [f"<tr><td>{escape(k)}&nbsp;&nbsp;</td><td>{escape(v)}</td></tr>" for k, v in rows]
        parts.append("</table>")
    return "".join(parts)


def write_ticket_pdf(ticket: Ticket, path: Path) -> None:
    """The ticket as one A4 page.

    Raises:
        PictureError: the file cannot be written.
    """
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.units import mm
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    from reportlab.pdfgen.canvas import Canvas

    from rehearsal.core.errors import PictureError

    for name, file in (("Plain", "Vera.ttf"), ("Strong", "VeraBd.ttf")):
        pdfmetrics.registerFont(TTFont(name, file))
    temporary = path.with_name(f".rehearsal-{path.name}")
    try:
        page = Canvas(str(temporary), pagesize=A4)
        page.setTitle(ticket.title)
        _draw(page, ticket, A4[1] - 25 * mm, mm)
        page.save()
        temporary.replace(path)
    except OSError as error:
        temporary.unlink(missing_ok=True)
        raise PictureError(
            f"the ticket cannot be written ({error.strerror})", path, "choose a folder you can write to"
        ) from error


def _draw(page, ticket: Ticket, top: float, mm: float) -> None:  # type: ignore[no-untyped-def]
    from reportlab.lib.utils import simpleSplit

    y = top
    page.setFont("Strong", 15)
    page.drawString(20 * mm, y, ticket.title)
    y -= 10 * mm

    def line(x: float, text: str, font: str, size: float, width: float) -> float:
        rows = simpleSplit(text, font, size, width) or [""]
        page.setFont(font, size)
        for i, row in enumerate(rows):
            page.drawString(x, y - i * size * 1.35, row)
        return len(rows) * size * 1.35

    if ticket.cautions:
        page.setFont("Strong", 10.5)
        page.drawString(20 * mm, y, "Needs a look")
        y -= 6 * mm
        for text in ticket.cautions:
            y -= line(24 * mm, f"– {text}", "Plain", 9.5, 162 * mm) + 1.5
        y -= 4 * mm
    for name, rows in ticket.sections:
        page.setFont("Strong", 10.5)
        page.drawString(20 * mm, y, name)
        y -= 6 * mm
        for label, value in rows:
            page.setFont("Plain", 9.5)
            page.drawString(24 * mm, y, label)
            y -= line(62 * mm, value, "Plain", 9.5, 124 * mm) + 1.5
        y -= 4 * mm
