"""The ticket: each setting of a print once, for the route taken, checked against the take and the condition."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from pathlib import Path

from rehearsal.core.icc.standard import SPACES
from rehearsal.core.picture.reduce import viewing_distance, wanted_ppi
from rehearsal.core.proof.advice import rendering_name
from rehearsal.core.sheet.layout import effective_ppi, enlarged_words, enlargement, fits_sheet, sheet_size
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.words import values_words

_CONVERTED = {
    "none": "no colour conversion anywhere: the file holds the printer's own values",
    "program": "the printing program converts, once; colour correction in the driver is off",
    "driver": "the driver decides",
}
#: Fewer pixels than this share of what the eye can use are named.
_ENOUGH = 0.97


@dataclass(frozen=True)
class TicketRequest:
    """What a ticket is made from.

    Attributes:
        rendition: what is printed.
        condition: as it stands on the shelf.
        picture: name of the picture.
        pixels: width and height of the master inside the crop.
        profile_name: description of the condition's profile.
        judged: the rendition the figures on screen belong to, or None when nothing was judged.
        file: the written file, or empty.
    """

    rendition: Rendition
    condition: PrintCondition
    picture: str
    pixels: tuple[int, int]
    profile_name: str
    judged: Rendition | None = None
    file: str = ""


@dataclass(frozen=True)
class Ticket:
    """Sections of rows (label, value), cautions as sentences."""

    title: str
    sections: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]
    cautions: tuple[str, ...]


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
    rendition = request.rendition
    rows = [("Picture", request.picture)]
    size, sheet = rendition.frame.size, rendition.sheet
    if size is not None:
        width, height = sheet_size(sheet.name, size)
        larger = enlarged_words(enlargement(request.pixels[0], size.width_cm, rendition.hand_over.ppi))
        rows += [
            ("Print size", f"{size.in_words}, at 100 %, not scaled to fit"),
            ("Sheet", f"{sheet.name}, {width:.1f} × {height:.1f} cm"),
            ("Resolution", f"{rendition.hand_over.ppi:.0f} ppi{f', {larger}' if larger else ''}"),
        ]
    rows.append(("Tuning", "; ".join(recipe_words(rendition.recipe)) or "none"))
    if request.file:
        rows.append(("File", Path(request.file).name))
    rows.append(("Ticket of", date.today().isoformat()))
    return tuple(rows)


def recipe_words(recipe: Recipe) -> list[str]:
    """What a recipe does, for the ticket: everywhere, then at its places."""
    return [*values_words(recipe.total), *(f"at a place: {', '.join(values_words(s.values))}" for s in recipe.placed)]


def _colour_rows(request: TicketRequest) -> tuple[tuple[str, str], ...]:
    hand_over = request.rendition.hand_over
    rendering = rendering_name(request.rendition.rendering)
    if hand_over.route == "printer":
        return (
            ("File holds", f"printer-ready pixels for {request.profile_name}"),
            ("Converted", f"here, once, {rendering}"),
            ("When printing", _CONVERTED["none"]),
        )
    return (
        ("File holds", f"pixels in {SPACES.get(hand_over.space, hand_over.space)}, profile embedded"),
        ("Converts", _CONVERTED["program"]),
        ("Profile there", request.profile_name),
        ("Intent there", rendering),
    )


def _driver_rows(request: TicketRequest) -> tuple[tuple[str, str], ...]:
    c, hand_over = request.condition, request.rendition.hand_over
    rows = (
        ("Printer", c.printer),
        ("Paper", c.paper),
        ("Media setting", hand_over.media or c.media_setting),
        ("Preset", c.preset),
        ("Printer's panel", c.panel_setting),
        ("Quality", c.quality),
        ("High speed", c.high_speed if c.printer else ""),
        ("Black", c.ink or c.black_mode),
        ("Gloss coat", c.gloss_coat),
        ("Feed", hand_over.feed or c.feed),
        ("Borderless", "yes" if request.rendition.sheet.borderless else "no"),
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
    hand_over = request.rendition.hand_over
    who = hand_over.converts
    notes = []
    if hand_over.route == "printer" and who == "program":
        notes.append(
            "Two converters: the file is already in the printer's space. Switch colour conversion off in the printing "
            "program (naming the very same profile at both ends does nothing twice)."
        )
    if who == "driver":
        notes.append(
            "The driver is left to decide about colour: it may convert a second time, or differently. Switch it off."
        )
    if hand_over.route == "space" and who == "none":
        notes.append(
            "Nobody converts: a working-space file sent unconverted prints wrong. Let the printing program convert."
        )
    return notes


def _judged_cautions(request: TicketRequest) -> list[str]:
    rendition, judged = request.rendition, request.judged
    wanted, intent = rendition.hand_over.program_intent, rendition.rendering.intent
    notes = []
    if rendition.recipe.is_old:
        notes.append(
            "The take was tuned by an earlier arithmetic: the same numbers give another print now. Look at it at Tune first."
        )
    elif judged is None:
        notes.append("This take has not been judged yet.")
    elif judged != rendition:
        notes.append(f"{_what_differs(judged, rendition)} Judge again.")
    if rendition.hand_over.route == "space" and wanted and wanted != intent:
        notes.append(f"The printing program is set to {wanted}, but {rendering_name(rendition.rendering)} was judged.")
    if request.condition.prescribed and intent != request.condition.default_intent:
        notes.append(f"The lab prescribes {request.condition.default_intent}; this take uses {intent}.")
    return notes


def _what_differs(judged: Rendition, rendition: Rendition) -> str:
    if (judged.master, judged.assumed) != (rendition.master, rendition.assumed):
        return "Another version of the picture was judged than the one that is printed."
    if judged.destination != rendition.destination:
        return "The take was judged with another profile than the one it is printed with."
    if judged.rendering != rendition.rendering:
        return "The take was judged with another rendering intent than the one it is printed with."
    if judged.recipe != rendition.recipe or judged.frame.crop != rendition.frame.crop:
        return "Tuning or crop changed after judging."
    if judged.frame != rendition.frame:
        return "The print size changed after judging."
    return "Sheet, route or file changed after judging."


def _driver_cautions(request: TicketRequest) -> list[str]:
    hand_over, c = request.rendition.hand_over, request.condition
    notes = []
    if hand_over.media and hand_over.media != c.media_setting:
        notes.append(
            f"The media setting is “{hand_over.media}”, but the profile was made for “{c.media_setting or 'not known'}”."
        )
    if hand_over.feed and c.feed and hand_over.feed != c.feed:
        notes.append(f"This paper is fed from “{c.feed}”, not from “{hand_over.feed}”.")
    if request.rendition.sheet.borderless and not c.borderless:
        notes.append("This paper must not be printed borderless.")
    if abs(hand_over.scale_percent - 100) > 0.01:
        notes.append(
            f"The driver is set to {hand_over.scale_percent:g} %: the print will not have its size. Set it to 100 %."
        )
    return notes


def _size_cautions(request: TicketRequest) -> list[str]:
    rendition = request.rendition
    size = rendition.frame.size
    if size is None:
        return ["No print size is set."]
    notes = []
    have = effective_ppi(request.pixels[0], size.width_cm)
    want = min(wanted_ppi(viewing_distance(size.width_cm, size.height_cm)), rendition.hand_over.ppi)
    if have < want * _ENOUGH:
        notes.append(
            f"The picture gives only {have:.0f} ppi at this size; {want:.0f} ppi can be seen from its usual distance."
        )
    sheet = rendition.sheet
    problem = fits_sheet(size, sheet.name, request.condition.margins_mm, sheet.borderless)
    return [*notes, problem] if problem else notes
