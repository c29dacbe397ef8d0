"""The ticket: each setting of a print once, for the route taken, with what is set otherwise marked in its row."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from pathlib import Path

from rehearsal.core.icc.standard import SPACES
from rehearsal.core.sheet.atprinter import feed_of
from rehearsal.core.sheet.cautions import cautions, compensation_of, compensation_words, intent_name, on_or_off
from rehearsal.core.sheet.composing import page_size
from rehearsal.core.sheet.layout import enlarged_words, enlargement, sheet_words
from rehearsal.core.sheet.queueing import is_grey, plain, set_word, wanted_word
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.values.condition import TO_TELL
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.sheet import Caption, Sheet
from rehearsal.core.values.words import counted, date_words, values_words, word

_CONVERTED = {
    "none": "no colour conversion anywhere: the file holds the printer's own values",
    "program": "the printing program converts, once; colour correction in the driver is off",
}


@dataclass(frozen=True)
class Row:
    """One setting.

    Attributes:
        value: what it should be.
        told: what is set instead; empty when it is as it should be, or nobody said.
        note: how sure ``value`` is, when it was not told by a person.
    """

    label: str
    value: str
    told: str = ""
    note: str = ""

    @property
    def text(self) -> str:
        """The row as it is read."""
        should = f"{self.value} ({self.note})" if self.note and self.value else self.value or self.note
        if not self.told:
            return should
        return f"should be {should}; set to {self.told}" if should else f"set to {self.told}"


@dataclass(frozen=True)
class Ticket:
    """Sections of rows, cautions as sentences."""

    title: str
    sections: tuple[tuple[str, tuple[Row, ...]], ...]
    cautions: tuple[str, ...]


def make_ticket(request: TicketRequest) -> Ticket:
    """Compose the ticket and check it; for a lab it is the order that goes with the file."""
    if request.condition.lab:
        return _order(request)
    sections = (
        ("The print", _print_rows(request)),
        ("Colour", _colour_rows(request)),
        ("Driver and paper", _driver_rows(request)),
        ("Before printing", _handling_rows(request)),
    )
    return Ticket(f"{request.picture} on {request.condition.paper}", sections, tuple(cautions(request)))


def _order(request: TicketRequest) -> Ticket:
    """What a lab must know, and what it must not do."""
    c, rendition = request.condition, request.rendition
    size = rendition.frame.size
    holds = f"printer-ready pixels for {request.profile_name}" if rendition.hand_over.route == "printer" else SPACES.get(
        rendition.hand_over.space, rendition.hand_over.space
    )  # fmt: skip
    asked = intent_name(c.default_intent)
    ordered = (
        Row("Picture", request.picture),
        Row("File", Path(request.file).name if request.file else "", note="" if request.file else "not written yet"),
        Row("File holds", holds, note="profile embedded"),
        Row("Profile", request.profile_name),
        Row("Intent", asked, note="as the lab prescribes" if c.prescribed else "the lab was not said to prescribe one"),
        Row("Print size", size.in_words if size is not None else "", note="" if size is not None else "no size is set"),
        Row("Resolution", f"{rendition.hand_over.ppi:.0f} ppi"),
        Row("Paper", c.paper),
        Row("Surface", c.surface),
    )
    lab = (
        Row("Lab", c.printer), Row("Space it wants", c.lab_space), Row("Price", c.lab_price), Row("Days", c.lab_days),
        Row("Please", "no corrections, no sharpening, no scaling, no second conversion"),
    )  # fmt: skip
    rows = tuple(row for row in ordered if row.value or row.note)
    sections = (
        ("The order", rows),
        ("The lab", tuple(row for row in lab if row.value)),
        ("Before it goes", _handling_rows(request)),
    )
    return Ticket(f"Order: {request.picture} on {c.paper}", sections, tuple(cautions(request)))


def _print_rows(request: TicketRequest) -> tuple[Row, ...]:
    rendition = request.rendition
    rows = [Row("Picture", request.picture)]
    size, sheet = rendition.frame.size, rendition.sheet
    if size is not None:
        width, height = (mm / 10 for mm in page_size(sheet, [size], request.condition.margins_mm))
        larger = enlarged_words(enlargement(request.pixels[0], size.width_cm, rendition.hand_over.ppi))
        rows += [
            Row("Print size", size.in_words),
            Row("Sheet", f"{sheet_words(sheet.name)}, {width:.1f} × {height:.1f} cm"),
            Row("Resolution", f"{rendition.hand_over.ppi:.0f} ppi{f', {larger}' if larger else ''}"),
        ]
        rows += [Row("On the sheet", laid_words(sheet)), Row("Written on it", written_words(sheet.caption))]
    if rendition.hand_over.queue:
        rows.append(Row("Printed at", rendition.hand_over.queue))
    if rendition.hand_over.copies > 1:
        rows.append(Row("Copies", f"{rendition.hand_over.copies}"))
    if rendition.hand_over.sharpens:
        rows.append(Row("Sharpened", sharpening_words(rendition.hand_over)))
    rows.append(Row("Tuning", "; ".join(recipe_words(rendition.recipe)) or "none"))
    if request.file:
        rows.append(Row("File", Path(request.file).name))
    rows.append(Row("Ticket of", f"{date_words(date.today().isoformat())} {date.today().year}"))
    return tuple(row for row in rows if row.value)


def laid_words(sheet: Sheet) -> str:
    """How a print lies on its sheet; empty for one in the middle, alone."""
    foot = sheet.place.removeprefix("foot:")
    if sheet.place == "centre":
        where = ""
    elif foot != sheet.place:
        where = f"foot {foot} % higher"
    else:
        where = f"{sheet.place.replace(',', ' and ')} mm from left and top"
    mat, several = sheet.mat, sheet.several
    held = {
        "over": f"under a mat that lies {mat.overlap:g} mm over it",
        "float": f"floating in a mat, {mat.show:g} mm of paper round it",
    }
    many = {
        "grid": f"{several.columns} × {several.rows} of it, {several.gap:g} mm apart", "most": f"as many as fit, {several.gap:g} mm apart",
        "packed": f"with {counted(len(several.takes), 'other picture')}",
    }  # fmt: skip
    parts = [where, held.get(mat.way, ""), many.get(several.way, "")]
    return "; ".join(part for part in parts if part)


def written_words(caption: Caption) -> str:
    """What is written on a sheet."""
    mark = Path(caption.mark).name if caption.mark else caption.signature
    return ", ".join(part for part in (caption.number, caption.text, mark) if part)


def sharpening_words(hand_over: HandOver) -> str:
    """How a print is sharpened for its paper."""
    return f"{hand_over.sharpen:.0f} % for a spread of {hand_over.sigma_um:.0f} µm; half of it where the picture is sharpened already"


def recipe_words(recipe: Recipe) -> list[str]:
    """What a recipe does, for the ticket: everywhere, then at its places."""
    return [*values_words(recipe.total), *(f"at a place: {', '.join(values_words(s.values))}" for s in recipe.placed)]


def _colour_rows(request: TicketRequest) -> tuple[Row, ...]:
    hand_over, rendering = request.rendition.hand_over, request.rendition.rendering
    intent, compensation = intent_name(rendering.intent), on_or_off(compensation_of(request))
    needed = "none" if hand_over.route == "printer" else "program"
    told = word("converter", hand_over.converts) if hand_over.converts != needed else ""
    if hand_over.route == "printer":
        return (
            Row("File holds", f"printer-ready pixels for {request.profile_name}"),
            Row("Converted", f"here, once, {intent}"),
            Row("Compensation", compensation_words(compensation), note=_fixed(request)),
            Row("When printing", _CONVERTED["none"], told),
        )
    other = hand_over.program_intent
    switch = hand_over.program_compensation
    return (
        Row("File holds", f"pixels in {SPACES.get(hand_over.space, hand_over.space)}, profile embedded"),
        Row("Converts", _CONVERTED["program"], told),
        Row("Profile there", request.profile_name),
        Row("Intent there", intent, intent_name(other) if other and other != rendering.intent else ""),
        Row(
            "Compensation there",
            compensation_words(compensation),
            compensation_words(switch) if switch and switch != compensation and not request.fixed else "",
            _fixed(request),
        ),
    )


def _fixed(request: TicketRequest) -> str:
    return "no choice with this profile and intent" if request.fixed else ""


def _driver_rows(request: TicketRequest) -> tuple[Row, ...]:
    c, hand_over = request.condition, request.rendition.hand_over
    if not c.is_ours:
        return (Row("Given to", c.paper),)
    wanted = feed_of(c, request.rendition.sheet.name)
    scale = "" if abs(hand_over.scale_percent - 100) <= 0.01 else f"{hand_over.scale_percent:g} %"
    borderless = request.rendition.sheet.borderless
    rows = (
        Row("Printer", c.printer, note=_note(request, "printer")),
        Row("Paper", c.paper),
        Row(
            "Media setting", c.media_setting, _used(request, "media", c.media_setting), _note(request, "media_setting")
        ),
        Row("Preset", c.preset),
        Row("Printer's panel", c.panel_setting),
        Row("Quality", c.quality, _used(request, "quality", c.quality), _note(request, "quality")),
        Row("Driver's resolution", c.resolution, note=_note(request, "resolution")),
        Row(
            "High speed",
            c.high_speed,
            _used(request, "speed", c.high_speed),
            "usual, nobody has told it" if c.state("high_speed") == "usual" else "",
        ),
        Row("Mode", "", _grey_mode(request)),
        Row("Ink set", c.ink_set),
        Row("Black ink", c.ink or c.black_mode, _used(request, "ink", c.ink or c.black_mode), _note(request, "ink")),
        Row("Gloss coat", c.gloss_coat, _used(request, "coat", c.gloss_coat)),
        Row("Feed", wanted, _used(request, "feed", wanted), "" if wanted != c.feed else _note(request, "feed")),
        Row("Scale", "100 %, not scaled to fit", scale),
        Row("Borderless", "no", "borderless" if borderless and not c.borderless else ""),
    )
    if borderless and c.borderless:
        rows = (*rows[:-1], Row("Borderless", "yes"))
    return tuple(row for row in rows if row.value or row.told or row.note)


def _used(request: TicketRequest, role: str, should: str) -> str:
    """What is sent, or set in the driver, where it is something else than the card tells."""
    hand_over, c, queue = request.rendition.hand_over, request.condition, request.queue
    if queue is None or queue.option(role) is None:
        told = str(getattr(hand_over, role))
        return told if told and told != should else ""
    word = set_word(role, hand_over, c, queue)
    same = word == wanted_word(role, c, queue) or plain(word) == plain(should)
    return "" if same or not word else word


def _grey_mode(request: TicketRequest) -> str:
    """A black-and-white mode that is on; empty in colour."""
    hand_over, queue = request.rendition.hand_over, request.queue
    if queue is None or queue.option("mode") is None:
        return "black and white" if hand_over.mode == "grey" else ""
    word = set_word("mode", hand_over, request.condition, queue)
    return word if is_grey(word) else ""


def _note(request: TicketRequest, field: str) -> str:
    state = request.condition.state(field)
    return {"read": "only read from a name", "empty": "nobody has told this"}.get(state, "") if field in TO_TELL else ""


def _dry_words(hours: float) -> str:
    return f"let it dry for {hours:g} hours before judging" if hours else "let it dry before judging"


def _handling_rows(request: TicketRequest) -> tuple[Row, ...]:
    condition = request.condition
    if not condition.is_ours:
        return (Row("Check", "that the lab converts as its own notes say, and does not correct the picture"),)
    steps = condition.steps
    rows = [Row(f"Loading {i}" if len(steps) > 1 else "Loading", step) for i, step in enumerate(steps, start=1)]
    rows.append(Row("Check", "nozzles; coated side to the head; one sheet, dust-free"))
    rows.append(
        Row(
            "Afterwards",
            f"{_dry_words(condition.dry_hours)}; coat or frame only as the maker's sheet and local rules say",
        )
    )
    return tuple(rows)
