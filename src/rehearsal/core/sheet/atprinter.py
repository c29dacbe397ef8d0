"""What is set otherwise at the printer than this print wants, and what experience warns of there.

The rules of weight and feed, black ink and coat, speed, and idle days are common practice, no source.
"""

from __future__ import annotations

import re

from rehearsal.core.papers.surface import family
from rehearsal.core.sheet.caution import Caution
from rehearsal.core.sheet.composing import page_size
from rehearsal.core.sheet.layout import roll_width_cm, sheet_words
from rehearsal.core.sheet.queueing import CARD_FIELD, MUST_BE_KNOWN, is_grey, left_on, set_word, size_word, wanted_word
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.queue import QueueOffers, QueueOption
from rehearsal.core.values.words import counted, word

#: From this weight on a sheet is fed singly from the rear, g/m².
HEAVY_GSM = 290.0
#: After so many days nozzles are looked at before a large sheet; from this area on a sheet is large, cm².
IDLE_DAYS, LARGE_CM2 = 7, 1200.0
_GSM = re.compile(r"(\d+(?:[.,]\d+)?)\s*(?:g|gsm)")


def printer_cautions(request: TicketRequest) -> list[Caution]:
    """What is set otherwise where it is printed, and what paper, ink and sheet want."""
    condition, queue = request.condition, request.queue
    if not condition.is_ours:
        return _set_cautions(request) if not condition.lab else []
    at_queue = [] if queue is None else _queue_cautions(request, queue)
    return [
        *(at_queue if queue is not None else _set_cautions(request)),
        *_scale_cautions(request),
        *_paper_cautions(request),
        *_before_cautions(request),
    ]


def _both_roll(one: str, two: str) -> bool:
    return "roll" in one.lower() and "roll" in two.lower()


def feed_of(condition: PrintCondition, sheet: str) -> str:
    """How the paper goes in: as its card tells; a roll from the roll, whatever the card tells of sheets."""
    if not roll_width_cm(sheet) or "roll" in condition.feed.lower():
        return condition.feed
    return "roll"


def _set_cautions(request: TicketRequest) -> list[Caution]:
    """A driver that was set by hand."""
    hand_over, c = request.rendition.hand_over, request.condition
    notes = []
    if hand_over.media and hand_over.media != c.media_setting:
        notes.append(
            Caution(
                "media",
                f"The media setting is “{hand_over.media}”, but the profile was made for “{c.media_setting or 'not known'}”.",
                "media-as-card",
            )
        )
    wanted_feed = feed_of(c, request.rendition.sheet.name)
    if hand_over.feed and wanted_feed and hand_over.feed != wanted_feed and not _both_roll(hand_over.feed, wanted_feed):
        notes.append(
            Caution("feed", f"This paper is fed from “{wanted_feed}”, not from “{hand_over.feed}”.", "feed-as-card")
        )
    for field, mine, wanted in (
        ("quality", hand_over.quality, c.quality), ("ink", hand_over.ink, c.ink or c.black_mode), ("coat", hand_over.coat, c.gloss_coat),
    ):  # fmt: skip
        if mine and wanted and mine != wanted:
            name = word("field_set", field)
            notes.append(Caution(field, f"{name} is set to “{mine}”; the card tells “{wanted}”.", f"{field}-as-card"))
    if hand_over.speed == "on" and c.high_speed in ("", "off"):
        notes.append(Caution("speed", "High speed is on: it can show bands, and prints both ways.", "speed-as-card"))
    if hand_over.mode == "grey":
        notes.append(
            Caution(
                "mode",
                "The black-and-white mode is still on: it does not use the profile. Switch it off.",
                "mode-as-card",
            )
        )
    return notes


def _queue_cautions(request: TicketRequest, queue: QueueOffers) -> list[Caution]:
    """A queue, as it stands and as this print sets it."""
    hand_over, c, sheet = request.rendition.hand_over, request.condition, request.rendition.sheet
    notes = []
    if queue.stopped:
        notes.append(
            Caution("queue-stopped", f"Nothing goes through {queue.name} now: {queue.stopped}.", can_be_ticked=True)
        )
    size = request.rendition.frame.size
    if size is not None:
        sides = sorted(page_size(sheet, [size], c.margins_mm))
        if not size_word(queue, sheet.name, sides[0], sides[1], sheet.borderless):
            notes.append(Caution("queue-size", f"{queue.name} has no sheet like {sheet_words(sheet.name)}."))
    for role in ("media", "feed", "quality", "coat", "ink", "speed", "mode"):
        option = queue.option(role)
        if option is not None:
            notes += _role_cautions(request, queue, option)
    ticked = {o.role for o in left_on(c, queue)}
    for option in (o for o in queue.options if o.role in ticked):
        used = set_word(option.role, hand_over, c, queue)
        if used != option.default:
            notes.append(
                Caution(
                    f"left-{option.role}",
                    f"{option.words} stands at “{option.default}” from the last job; this print is sent with “{used}”.",
                    can_be_ticked=True,
                )
            )
    return notes


def _role_cautions(request: TicketRequest, queue: QueueOffers, option: QueueOption) -> list[Caution]:
    hand_over, c, role = request.rendition.hand_over, request.condition, option.role
    wanted, used = wanted_word(role, c, queue), set_word(role, hand_over, c, queue)
    card = str(getattr(c, CARD_FIELD[role])) if role in CARD_FIELD else ""
    if not used and role in MUST_BE_KNOWN:
        meant = f"“{card}”" if card else "this paper"
        what = f"Nobody has said which {option.words.lower()} of {queue.name} {meant} is: choose it once, at the left."
        return [Caution(f"unknown-{role}", what)]
    if wanted and used and used != wanted:
        text = f"{option.words} here is “{used}”; this paper wants “{wanted}”{f' ({card})' if card and card != wanted else ''}."
        if role == "mode" and is_grey(used):
            text = f"“{used}” is a black-and-white mode: it does not use the profile. This print wants “{wanted}”."
        return [Caution(role, text, f"{role}-as-card")]
    return []


def _scale_cautions(request: TicketRequest) -> list[Caution]:
    hand_over, queue = request.rendition.hand_over, request.queue
    scale = hand_over.scale_percent if queue is None else queue.scale
    if abs(scale - 100) <= 0.01:
        return []
    if queue is not None:
        how = "fits pages to the sheet" if scale == 0 else f"scales to {scale:g} %"
        return [
            Caution(
                "scale", f"{queue.name} {how}: the print will not have its size. Set it to 100 %.", "queue-unscaled"
            )
        ]
    return [
        Caution(
            "scale",
            f"The driver is set to {scale:g} %: the print will not have its size. Set it to 100 %.",
            "scale-100",
        )
    ]


def _paper_cautions(request: TicketRequest) -> list[Caution]:
    """Ink, coat, weight and edge against the paper."""
    c, hand_over = request.condition, request.rendition.hand_over
    kind, notes = family(c.surface, c.texture), []
    if request.rendition.sheet.borderless and not c.borderless:
        known = c.state("borderless") == "told"
        text = (
            "This paper must not be printed borderless."
            if known
            else "Nobody has told whether this paper may be printed borderless: most thick papers may not (common practice). Look "
            "it up, and tell it on the card."
        )
        notes.append(Caution("borderless", text, "not-borderless", can_be_ticked=not known))
    black = (hand_over.ink or c.ink or c.black_mode).lower()
    if "photo" in black and kind in ("matte", "textured"):
        notes.append(
            Caution(
                "photo-on-matte",
                "Photo black on a matte surface prints grey and rubs off: use the matte black.",
                "open-card",
            )
        )
    if "matte" in black and kind in ("gloss", "lustre"):
        notes.append(
            Caution(
                "matte-on-gloss",
                "Matte black on a glossy surface stays dull and can smear: use the photo black.",
                "open-card",
            )
        )
    coat = (hand_over.coat or c.gloss_coat).lower()
    if coat and coat not in ("off", "none", "no") and kind in ("matte", "textured"):
        notes.append(
            Caution("coat-on-matte", "A gloss coat does nothing good on a matte surface: switch it off.", "coat-off")
        )
    if coat in ("off", "none", "no") and kind == "gloss":
        notes.append(
            Caution("coat-missing", "Without its gloss coat this surface shows the ink's own sheen.", "open-card", True)
        )
    notes += _weight_cautions(request)
    others = [inks for inks in request.inks if c.ink_set and inks and inks != c.ink_set]
    if others:
        notes.append(
            Caution(
                "ink-set",
                f"The profile was made with {c.ink_set}; another card of this printer tells {others[0]}. Look which inks are in.",
                "open-card", can_be_ticked=True,
            )
        )  # fmt: skip
    if c.stock == 0:
        notes.append(Caution("stock", f"No sheet of {c.paper} is left, by the count on its card.", "open-card", True))
    return notes


def _weight_cautions(request: TicketRequest) -> list[Caution]:
    c, hand_over, queue = request.condition, request.rendition.hand_over, request.queue
    feed = (hand_over.feed or c.feed) if queue is None else (set_word("feed", hand_over, c, queue) or c.feed)
    weight = weight_gsm(c.weight) if not roll_width_cm(request.rendition.sheet.name) else 0.0  # of sheets
    low = feed.lower()
    singly = any(sign in low for sign in ("rear", "single", "manual"))
    if weight >= HEAVY_GSM and not singly and ("top" in low or "above" in low or "cassette" in low or "tray" in low):
        return [
            Caution(
                "heavy", f"{weight:.0f} g/m² from “{feed}”: sheets so heavy go singly from the rear.", "feed-as-card", can_be_ticked=True,
            )
        ]  # fmt: skip
    return []


def weight_gsm(text: str) -> float:
    """Weight in g/m² as a card tells it; 0 for none."""
    found = _GSM.search(text)
    return float(found.group(1).replace(",", ".")) if found else 0.0


def is_large(request: TicketRequest) -> bool:
    """True for a sheet that is dear: A3 and larger, or its like."""
    size = request.rendition.frame.size
    if size is None:
        return False
    wide, high = page_size(request.rendition.sheet, [size], request.condition.margins_mm)
    return wide * high / 100 >= LARGE_CM2


def _before_cautions(request: TicketRequest) -> list[Caution]:
    """Nozzles after idle days, before any sheet; before a large one something smaller first."""
    notes, idle, paper = [], request.idle_days, request.condition.paper
    if idle is not None and idle >= IDLE_DAYS:
        notes.append(
            Caution(
                "nozzles",
                f"{counted(idle, 'day')} since {request.condition.printer} last printed: a nozzle page first, "
                "cleaning only if it shows gaps.",
                can_be_ticked=True,
            )
        )
    if is_large(request) and not request.tested:
        notes.append(
            Caution(
                "untested", f"A large sheet of {paper}, and nothing of this take was tested on it.", can_be_ticked=True
            )
        )
    return notes


def hand_steps(condition: PrintCondition, sheet: str = "") -> tuple[str, ...]:
    """What hands do at the printer with a sheet or roll, in their order, to be ticked off; none for a lab."""
    if not condition.is_ours:
        return ()
    panel = f"Printer's panel: {condition.panel_setting}." if condition.panel_setting else ""
    last = (
        "Coated side to the head; the roll wound tight, its end cut straight, dust-free."
        if roll_width_cm(sheet)
        else "Coated side to the head; one sheet, dust-free."
    )
    return tuple(step for step in (*condition.steps, panel, last) if step)
