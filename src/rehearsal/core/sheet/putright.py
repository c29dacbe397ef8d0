"""What a caution's button does to a print: one change for each key, and all of them together."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from rehearsal.core.sheet.composing import goes_in_left, page_size
from rehearsal.core.sheet.layout import fit_size, roll_width_cm
from rehearsal.core.sheet.onsheet import turned_margins
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.sheet import Caption, Mat, Several, Sheet


@dataclass(frozen=True)
class Parts:
    """The parts of a take that can be put right.

    Attributes:
        pixels: width and height of the picture.
    """

    frame: Frame
    sheet: Sheet
    hand_over: HandOver
    rendering: Rendering
    pixels: tuple[int, int]


def _hand(**fields: object) -> Callable[[Parts, PrintCondition], Parts]:
    return lambda parts, _c: replace(parts, hand_over=replace(parts.hand_over, **fields))  # type: ignore[arg-type]


def _sheet(**fields: object) -> Callable[[Parts, PrintCondition], Parts]:
    return lambda parts, _c: replace(parts, sheet=replace(parts.sheet, **fields))  # type: ignore[arg-type]


def _coat_off(parts: Parts, condition: PrintCondition) -> Parts:
    off = condition.gloss_coat if condition.gloss_coat.lower() in ("off", "none", "no") else "off"
    return replace(parts, hand_over=replace(parts.hand_over, coat=off))


def _prescribed(parts: Parts, condition: PrintCondition) -> Parts:
    return replace(parts, rendering=condition.default)


def _sheet_room(size: PrintSize, sheet: Sheet, condition: PrintCondition) -> PrintSize:
    """What ink reaches of a sheet, about its middle."""
    width, height = page_size(replace(sheet, several=Several(), borderless=False), [size], condition.margins_mm)
    top, right, foot, left = turned_margins(condition.margins_mm, goes_in_left(sheet.name, width, height))
    return PrintSize((width - 2 * max(left, right)) / 10, (height - 2 * max(top, foot)) / 10)


def _roll_room(size: PrintSize, sheet: str, condition: PrintCondition) -> PrintSize | None:
    """What ink reaches across a roll, for the print's shorter side: along it there is always enough; None for sheets."""
    _top, right, _foot, left = condition.margins_mm
    across = roll_width_cm(sheet) - 2 * max(left, right) / 10
    if across <= 0:
        return None
    share = across / min(size.width_cm, size.height_cm)
    return PrintSize(size.width_cm * share, size.height_cm * share)


def _fitted(parts: Parts, condition: PrintCondition) -> Parts:
    """As large as it can be where ink reaches, in the middle; all round it is as bare as the widest edge of that side wants."""
    _x, _y, w, h = parts.frame.crop.pixels(*parts.pixels)
    size = parts.frame.size or PrintSize(w, h)
    room = _roll_room(size, parts.sheet.name, condition) or _sheet_room(size, parts.sheet, condition)
    fitted = fit_size(room, w, h)
    smaller = fitted if fitted.width_cm < size.width_cm else size
    return replace(
        parts, frame=replace(parts.frame, size=smaller), sheet=replace(parts.sheet, place="centre", borderless=False)
    )


def _single(parts: Parts, _condition: PrintCondition) -> Parts:
    """One print, in its own size and crop."""
    sheet = replace(parts.sheet, several=Several(), place="centre")
    return replace(parts, sheet=sheet, frame=parts.frame.before_any("way"))


def _as_lab_wants(parts: Parts, condition: PrintCondition) -> Parts:
    """The file holds what the lab asks for."""
    wanted = condition.space_wanted
    if not wanted:
        return parts
    if wanted == "printer":
        return replace(parts, hand_over=replace(parts.hand_over, route="printer", converter=""))
    return replace(parts, hand_over=replace(parts.hand_over, route="space", space=wanted, converter=""))


#: What each key does; keys that are missing here are of the session or the window.
MENDS: dict[str, Callable[[Parts, PrintCondition], Parts]] = {
    "convert-once": _hand(converter=""),
    "as-lab-wants": _as_lab_wants,
    "printer-ready": _hand(route="printer", converter=""),
    "take-16-bit": _hand(format="tiff16"),
    "take-prescribed": _prescribed,
    "program-as-judged": _hand(program_intent="", program_compensation=""),
    **{
        f"{field}-as-card": _hand(**{field: ""})
        for field in ("media", "feed", "quality", "ink", "coat", "speed", "mode")
    },
    "scale-100": _hand(scale_percent=100.0),
    "not-borderless": _sheet(borderless=False),
    "coat-off": _coat_off,
    "fit-the-page": _fitted,
    "lay-single": _single,
    "no-mat": _sheet(mat=Mat()),
    "no-caption": _sheet(caption=Caption()),
}


def put_right(mend: str, parts: Parts, condition: PrintCondition) -> Parts:
    """The parts with one thing put right; raises KeyError for a key that is not of the print alone."""
    return MENDS[mend](parts, condition)
