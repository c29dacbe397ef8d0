"""A print at a queue: what its settings are called there, and every one of them named when it is sent."""

from __future__ import annotations

import re
from collections.abc import Sequence

from rehearsal.core.errors import QueueError
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.queue import QueueOffers, QueueOption, QueueWord

#: What other names common sheets go by, without signs (PWG 5101.1 and Debian's drivers).
_ALIASES = {
    "A3+": ("a3plus", "supera3", "a3wide", "13x19", "superb", "a3super"), "13 × 19 in": ("13x19", "13x19in", "superb"),
    "17 × 22 in": ("17x22", "17x22in", "ansic"), "Letter": ("letter", "usletter", "naletter"),
}  # fmt: skip
_SIZED = re.compile(r"_(\d+(?:\.\d+)?)x(\d+(?:\.\d+)?)(mm|in)$")
_COLOUR, _GREY = ("colo", "rgb", "cmy", "srgb"), ("gr", "mono", "black", "bw", "b&w")
_OFF = ("off", "false", "no", "none", "0", "normal")
_NEAR_MM = 1.5
#: Fields of the card and of the hand-over for each role.
CARD_FIELD = {
    "media": "media_setting",
    "feed": "feed",
    "quality": "quality",
    "speed": "high_speed",
    "coat": "gloss_coat",
    "ink": "ink",
}
#: What must be known by its name at a queue before anything is sent.
MUST_BE_KNOWN = ("media", "feed")


#: What the print service calls the number of copies (RFC 8011, 5.2.5).
COPIES = "copies"


def plain(text: str) -> str:
    """Letters and figures alone, small; a plus sign as a word."""
    return re.sub(r"[^a-z0-9]", "", text.lower().replace("+", "plus").replace("×", "x"))


def size_word(offers: QueueOffers, sheet: str, width_mm: float, height_mm: float, borderless: bool = False) -> str:
    """What a queue calls a sheet; its own way of saying a free size where it has none for it, empty where it takes none.

    Args:
        width_mm, height_mm: of the sheet as it is fed, short side across.
    """
    option = offers.option("size")
    if option is None:
        return ""
    wanted = {plain(sheet), *_ALIASES.get(sheet, ())} - {""}
    found = [c for c in option.choices if _size_fits(c, wanted, width_mm, height_mm)]
    found.sort(key=lambda c: ("borderless" in c.lower() or "fullbleed" in c.lower()) != borderless)
    if found:
        return found[0]
    if any(choice.lower().startswith("custom") for choice in option.choices):
        return f"Custom.{width_mm:.1f}x{height_mm:.1f}mm"
    return ""


def _size_fits(choice: str, wanted: set[str], width_mm: float, height_mm: float) -> bool:
    sized = _SIZED.search(choice)
    if sized:
        factor = 25.4 if sized.group(3) == "in" else 1.0
        sides = sorted(float(v) * factor for v in sized.group(1, 2))
        own = sorted((width_mm, height_mm))
        return all(abs(a - b) <= _NEAR_MM for a, b in zip(sides, own, strict=True))
    bare = plain(choice)
    for tail in ("borderless", "fullbleed"):
        bare = bare.removesuffix(tail)
    return bare in wanted


def wanted_word(role: str, condition: PrintCondition, offers: QueueOffers) -> str:
    """What a setting of a paper's card is called at a queue: as it was told, else by the same name; empty while nobody said.

    High speed and a black-and-white mode are wanted off, whatever their words are.
    """
    option = offers.option(role)
    if option is None:
        return ""
    told = next((w.word for w in condition.queue_words if (w.queue, w.role) == (offers.name, role)), "")
    if told in option.choices:
        return told
    if role == "mode":
        return next((c for c in option.choices if _begins(c, _COLOUR)), option.default)
    field = "" if role not in CARD_FIELD else str(getattr(condition, CARD_FIELD[role]))
    if role == "speed" and field in ("", "off"):
        return next((c for c in option.choices if plain(c) in _OFF), option.default)
    mine = plain(field)
    same = next((c for c in option.choices if plain(c) == mine), "")
    return same or ("" if mine or role in MUST_BE_KNOWN else option.default)


def _begins(choice: str, signs: Sequence[str]) -> bool:
    bare = plain(choice)
    return any(bare.startswith(plain(sign)) for sign in signs)


def is_grey(choice: str) -> bool:
    """True for the name of a black-and-white mode."""
    return _begins(choice, _GREY)


def set_word(role: str, hand_over: HandOver, condition: PrintCondition, offers: QueueOffers) -> str:
    """What is set for a role at a queue: as the take has it, else what is wanted."""
    option, told = offers.option(role), str(getattr(hand_over, role, ""))
    return told if option is not None and told in option.choices else wanted_word(role, condition, offers)


def left_on(condition: PrintCondition, offers: QueueOffers) -> list[QueueOption]:
    """Settings with which the queue stands otherwise than this print wants: as the last job left it."""
    roles = ("quality", "mode", "speed", "coat", "ink")
    found = [(o, wanted_word(o.role, condition, offers)) for o in offers.options if o.role in roles]
    return [o for o, wanted in found if wanted and o.default != wanted]


def with_word(condition: PrintCondition, queue: str, role: str, word: str) -> PrintCondition:
    """The card with what a setting is called at a queue."""
    rest = tuple(w for w in condition.queue_words if (w.queue, w.role) != (queue, role))
    return condition.touched(queue_words=(*rest, QueueWord(queue, role, word)))


def job_options(
    hand_over: HandOver, condition: PrintCondition, offers: QueueOffers, sheet: str, fed_mm: tuple[float, float],
    borderless: bool = False,
) -> list[tuple[str, str]]:  # fmt: skip
    """Every setting of the queue by name, for one page.

    Args:
        fed_mm: width and height of the sheet as it is fed.

    Raises:
        QueueError: the queue has no such sheet, or nobody has said what medium or feed are called there.
    """
    made = []
    for option in offers.options:
        if option.role == "size":
            word = size_word(offers, sheet, *fed_mm, borderless)
            if not word:
                named = f"{sheet or 'this sheet'}, {fed_mm[0]:.0f} × {fed_mm[1]:.0f} mm"
                raise QueueError(
                    f"the queue {offers.name} has no sheet of that size", named, "choose another sheet or queue"
                )
        elif option.role:
            word = set_word(option.role, hand_over, condition, offers)
            if not word and option.role in MUST_BE_KNOWN:
                card = str(getattr(condition, CARD_FIELD[option.role])) or "nothing on the card"
                raise QueueError(
                    f"nobody has said what {card} is called at the queue {offers.name}", option.words,
                    f"choose one of {', '.join(option.choices)}",
                )  # fmt: skip
        else:
            word = option.default
        if word:
            made.append((option.key, word))
    if hand_over.copies > 1:
        made.append((COPIES, str(hand_over.copies)))
    return made
