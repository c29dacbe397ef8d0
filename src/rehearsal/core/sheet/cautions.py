"""What a ticket will not be silent about."""

from __future__ import annotations

from collections.abc import Sequence

from rehearsal.core.picture.reduce import viewing_distance, wanted_ppi
from rehearsal.core.sheet.atprinter import printer_cautions
from rehearsal.core.sheet.caution import Caution
from rehearsal.core.sheet.layout import effective_ppi, sheet_words
from rehearsal.core.sheet.onpage import page_cautions
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.words import counted, in_row, share_words, word

#: Fewer pixels than this share of what the eye can use are named.
_ENOUGH = 0.97
#: A working space that changes less of the print than this, per cent, is not spoken of.
_LEAST_CUT = 0.1
#: Widest space: 8 bits in it show steps (common practice, no source).
_TOO_WIDE_FOR_8_BIT = "ROMM"


def looked_at(request: TicketRequest) -> list[Caution]:
    """What needs a look before paper is used, each with what mends it; what was ticked off is left out."""
    found = [
        *_file_cautions(request),
        *_conversion_cautions(request),
        *_lab_cautions(request),
        *_space_cautions(request),
        *_judged_cautions(request),
        *_field_cautions(request.condition),
        *printer_cautions(request),
        *page_cautions(request),
        *_size_cautions(request),
    ]
    return [caution for caution in found if caution.key not in request.ticked or not caution.can_be_ticked]


def cautions(request: TicketRequest) -> list[str]:
    """What the ticket will not be silent about, as sentences."""
    return [caution.text for caution in looked_at(request)]


#: What wastes the sheet, the worst first; it is named when a print is asked about.
_COSTLY = (
    "mode",
    "media",
    "two-converters",
    "driver-decides",
    "scale",
    "feed",
    "ink",
    "borderless",
    "margins",
    "untested",
)


def print_question(request: TicketRequest, found: Sequence[Caution]) -> str:
    """What is asked once before paper is used: what would waste it, how much more needs a look, and where it is printed."""
    costly = sorted((c for c in found if c.key in _COSTLY), key=lambda c: _COSTLY.index(c.key))
    first = costly[0] if costly else None
    more = len(found) - (first is not None)
    rest = f"{counted(more, 'thing' if first is None else 'more thing')} to look at. " if more else ""
    sheet = sheet_words(request.rendition.sheet.name)
    same = " all the same" if found else ""
    count = request.rendition.hand_over.copies
    copies = f" {counted(count, 'copy', 'copies')}" if count > 1 else ""
    return f"{f'{first.text} ' if first else ''}{rest}Print{copies} on {sheet} {request.condition.paper}{same}?"


def intent_name(intent: str) -> str:
    """Standard name of an intent, without its compensation."""
    return f"{intent} colorimetric" if intent in ("relative", "absolute") else intent


def on_or_off(on: bool) -> str:
    """A switch in a word."""
    return "on" if on else "off"


def compensation_words(state: str) -> str:
    """Compensation, ``on`` or ``off``, by its name."""
    return f"black point compensation {state}"


def compensation_of(request: TicketRequest) -> bool:
    """What the compensation really is: with absolute never, and where the profile leaves no choice always."""
    rendering = request.rendition.rendering
    if rendering.intent == "absolute":
        return False
    return True if request.fixed else rendering.compensate


def _file_cautions(request: TicketRequest) -> list[Caution]:
    """Picture or profile are not what they were."""
    notes = []
    if request.file_state == "changed":
        notes.append(
            Caution("file-changed", "The picture's file has changed since it was judged. Judge again.", "judge-changed")
        )
    if request.profile_missing:
        notes.append(
            Caution("profile-missing", "The paper's profile cannot be opened: nothing can be printed.", "go-paper")
        )
    return notes


def _conversion_cautions(request: TicketRequest) -> list[Caution]:
    hand_over = request.rendition.hand_over
    who = hand_over.converts
    notes = []
    if hand_over.route == "printer" and who == "program":
        notes.append(
            Caution(
                "two-converters",
                "Two converters: the file is already in the printer's space. Switch colour conversion off in the printing "
                "program (naming the very same profile at both ends does nothing twice).",
                "convert-once",
            )
        )
    if who == "driver":
        notes.append(
            Caution(
                "driver-decides",
                "The driver is left to decide about colour: it may convert a second time, or differently. Switch it off.",
                "convert-once",
            )
        )
    if hand_over.route == "space" and who == "none":
        notes.append(
            Caution(
                "nobody-converts",
                "Nobody converts: a working-space file sent unconverted prints wrong. Let the printing program convert.",
                "convert-once",
            )
        )
    return notes


def _lab_cautions(request: TicketRequest) -> list[Caution]:
    """The file against what the lab asks for."""
    wanted, hand_over = request.condition.space_wanted, request.rendition.hand_over
    holds = hand_over.via or "printer"
    if not wanted or wanted == holds:
        return []
    in_file = f"pixels in {holds}" if hand_over.via else "printer-ready pixels"
    asked = "pixels converted with its profile" if wanted == "printer" else f"a file in {wanted}"
    return [Caution("lab-space", f"The lab asks for {asked}; this file holds {in_file}.", "as-lab-wants")]


def _space_cautions(request: TicketRequest) -> list[Caution]:
    hand_over, cut = request.rendition.hand_over, request.cut
    if hand_over.route != "space":
        return []
    notes = []
    if cut is not None and cut.share >= _LEAST_CUT:
        notes.append(
            Caution(
                "space-cuts",
                f"{hand_over.space} cuts colours off before the printer's profile sees them: {share_words(cut.share)} of the "
                f"print differs visibly for it, at worst by {cut.p99:.1f} (CIEDE2000). It is proofed so. Take a larger space, "
                "or printer-ready pixels.",
                "printer-ready",
            )
        )
    if hand_over.file.depth == 8 and hand_over.space.startswith(_TOO_WIDE_FOR_8_BIT):
        notes.append(
            Caution(
                "8-bit-wide",
                f"8 bits in {hand_over.space} can show steps in skies and greys. Take the 16 bit TIFF.",
                "take-16-bit",
            )
        )
    return notes


def _judged_cautions(request: TicketRequest) -> list[Caution]:
    rendition, judged = request.rendition, request.judged
    intent = rendition.rendering.intent
    notes = []
    if rendition.recipe.is_old:
        notes.append(
            Caution(
                "old-arithmetic",
                "The take was tuned by an earlier arithmetic: the same numbers give another print now. Look at it at Tune first.",
                "go-tune",
            )
        )
    elif judged is None:
        notes.append(Caution("not-judged", "This take has not been judged yet.", "go-judge"))
    elif judged != rendition:
        notes.append(Caution("judged-otherwise", f"{_what_differs(judged, rendition)} Judge again.", "go-judge"))
    notes += _program_cautions(request)
    if request.condition.prescribed and intent != request.condition.default_intent:
        notes.append(
            Caution(
                "prescribed",
                f"The lab prescribes {intent_name(request.condition.default_intent)}; this take uses {intent_name(intent)}.",
                "take-prescribed",
            )
        )
    return notes


def _program_cautions(request: TicketRequest) -> list[Caution]:
    """The printing program is set to something else than was judged."""
    hand_over, intent = request.rendition.hand_over, request.rendition.rendering.intent
    if hand_over.route != "space":
        return []
    judged, compensation = on_or_off(compensation_of(request)), hand_over.program_compensation
    notes = []
    if hand_over.program_intent and hand_over.program_intent != intent:
        notes.append(
            Caution(
                "program-intent",
                f"The printing program is set to {intent_name(hand_over.program_intent)}, but {intent_name(intent)} was judged.",
                "program-as-judged",
            )
        )
    if compensation and compensation != judged and not request.fixed:
        notes.append(
            Caution(
                "program-compensation",
                f"Black point compensation is {compensation} in the printing program, but was judged with it {judged}.",
                "program-as-judged",
            )
        )
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


def _field_cautions(condition: PrintCondition) -> list[Caution]:
    """Fields nobody has told, and those that were only read from a name."""
    notes = []
    empty, read = condition.fields_that_are("empty"), condition.fields_that_are("read")
    if empty:
        notes.append(
            Caution(
                "untold",
                f"Nobody has told {in_row([word('field', f) for f in empty])}: fill it in on the paper's card.",
                "open-card",
            )
        )
    if read:
        notes.append(
            Caution(
                "only-read",
                f"Only read from the profile's name, please check at Paper: {in_row([word('field', f) for f in read])}.",
                "open-card",
            )
        )
    return notes


def _size_cautions(request: TicketRequest) -> list[Caution]:
    """Too few pixels for the size."""
    rendition = request.rendition
    size = rendition.frame.size
    if size is None:
        return [Caution("no-size", "No print size is set.", "go-picture")]
    have = effective_ppi(request.pixels[0], size.width_cm)
    want = min(wanted_ppi(viewing_distance(size.width_cm, size.height_cm)), rendition.hand_over.ppi)
    if have >= want * _ENOUGH:
        return []
    return [
        Caution(
            "few-pixels",
            f"The picture gives only {have:.0f} ppi at this size; {want:.0f} ppi can be seen from its usual distance.",
            "go-picture", can_be_ticked=True,
        )
    ]  # fmt: skip
