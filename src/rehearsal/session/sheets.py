"""Named operations on the open take's sheet: where the print lies, what is round it, what puts a caution right."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from pathlib import Path

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.caution import Caution
from rehearsal.core.sheet.cautions import looked_at
from rehearsal.core.sheet.composing import Page, compose, grid_cell
from rehearsal.core.sheet.evenborder import with_even_border
from rehearsal.core.sheet.framing import with_size
from rehearsal.core.sheet.layout import fit_size
from rehearsal.core.sheet.onsheet import on_sheet
from rehearsal.core.sheet.putright import MENDS, Parts, put_right
from rehearsal.core.sheet.queueing import with_word
from rehearsal.core.sheet.trueplace import Asked, crosses, find_true_place
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.sheet import Caption as SheetCaption
from rehearsal.core.values.sheet import Mat, Several, Sheet
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, Jobs
from rehearsal.session.now import Now
from rehearsal.session.printing import Printing
from rehearsal.session.queues import Queues
from rehearsal.session.shelf import Shelf
from rehearsal.session.takes import Takes
from rehearsal.tasks.paging import mark_digest
from rehearsal.tasks.surface import measure_edge
from rehearsal.workbook.values import Master, Take


class Sheets:
    """What can be done with the sheet of the open take."""

    def __init__(
        self, book: Book, bus: Bus, jobs: Jobs, shelf: Shelf, now: Now, takes: Takes, printing: Printing, queues: Queues
    ) -> None:
        self._book, self._bus, self._jobs, self._shelf, self._now = book, bus, jobs, shelf, now
        self._takes, self._printing, self._queues = takes, printing, queues

    # ---- the page

    @property
    def margins(self) -> tuple[float, float, float, float]:
        """Edge no ink reaches of the open take's paper, as it is fed; none for a file nobody prints here."""
        condition = self._now.condition
        return (0.0, 0.0, 0.0, 0.0) if condition is None or not condition.is_ours else condition.margins_mm

    @property
    def page(self) -> Page | None:
        """The page of the open take, composed; None without a size, or when it cannot be (the caution says why)."""
        take = self._now.take
        return None if take is None else self.page_of(take.sheet)

    def page_of(self, sheet: Sheet, frame: Frame | None = None) -> Page | None:
        """The page with another sheet or frame, as it would be; None when it cannot be."""
        take = self._now.take
        frame = frame or (None if take is None else take.frame)
        if frame is None or frame.size is None:
            return None
        try:
            return compose(sheet, [frame.size, *(size for size, _t in self.others(sheet))], self.margins)
        except RehearsalError:
            return None

    def others(self, sheet: Sheet | None = None) -> list[tuple[PrintSize, Take]]:
        """Sizes of the other takes on a packed sheet, with the takes; those without a size are not there."""
        take = self._now.take
        sheet = sheet or (None if take is None else take.sheet)
        if sheet is None or sheet.several.way != "packed":
            return []
        found = [t for n in sheet.several.takes if (t := self._book.get(Take, n)) is not None]
        return [(t.frame.size, t) for t in found if t.frame.size is not None]

    def can_share(self) -> list[tuple[Take, str]]:
        """Takes on the same paper that could lie on the open one's sheet, with the names of their pictures."""
        take = self._now.take
        if take is None:
            return []
        found = [t for t in self._book.all(Take) if t.condition == take.condition and t.id != take.id and t.frame.size]
        named = [(t, self._book.get(Master, t.master)) for t in found]
        return [(t, f"{m.name}, {self._takes.name_of(t)}") for t, m in named if m is not None]

    # ---- where the print lies

    def place(self, place: str) -> None:
        """Another place on the sheet: ``centre``, ``foot:15`` or ``30,45``."""
        self._change("place", place=place)

    def put_at(self, left: float, top: float) -> None:
        """The print's upper left corner, mm from the sheet's; it stays on it."""
        page, take = self.page, self._now.take
        if page is None or take is None or len(page.laid) != 1:
            return
        room = page.paper if page.mat is None else page.mat.outside
        box = page.laid[0].box
        left = min(max(left - room.left, 0.0), max(room.width - box.width, 0.0))
        top = min(max(top - room.top, 0.0), max(room.height - box.height, 0.0))
        self.place(f"{left:.1f},{top:.1f}")

    def set_border(self, side: str, mm: float) -> None:
        """A border typed in: in the middle and with a heavier foot the print grows or shrinks with it; else it is moved."""
        take, page = self._now.take, self.page
        if take is None or page is None or take.frame.size is None or len(page.laid) != 1:
            return
        top, right, foot, left = page.borders
        box = page.laid[0].box
        if "," in take.sheet.place:
            at = {
                "top": (left, mm), "foot": (left, page.height - mm - box.height), "left": (mm, top),
                "right": (page.width - mm - box.width, top),
            }[side]  # fmt: skip
            self.put_at(*at)
            return
        now = {"top": top, "right": right, "foot": foot, "left": left}[side]
        self.resize(
            box.width + 2 * (now - mm)
            if side in ("left", "right")
            else box.width * (1 + self._taller(side, now, mm, page))
        )

    @staticmethod
    def _taller(side: str, now: float, mm: float, page: Page) -> float:
        """By what share of its height the print grows when the border at its top or foot becomes so wide."""
        box = page.laid[0].box
        other = page.borders[2] if side == "top" else page.borders[0]
        share = other / now if now > 0.05 else 1.0
        return (now - mm) * (1 + share) / box.height

    def resize(self, width_mm: float) -> None:
        """Another width of the print, its proportions kept; it stays where its place says, and on its sheet."""
        take, page = self._now.take, self.page
        if take is None or take.frame.size is None or page is None:
            return
        size = take.frame.size
        most = min(page.width / (size.width_cm * 10), page.height / (size.height_cm * 10))
        factor = min(max(width_mm / (size.width_cm * 10), 10 / (size.width_cm * 10)), most)
        made = PrintSize(round(size.width_cm * factor, 2), round(size.height_cm * factor, 2))
        self._takes.change("frame", frame=replace(take.frame, size=made))

    def largest(self) -> None:
        """As large as it can be where ink reaches, in the middle."""
        take, frame = self._now.take, self.largest_frame()
        if take is not None and frame is not None:
            self._takes.change("frame", frame=frame, sheet=replace(take.sheet, place="centre"))

    def largest_frame(self) -> Frame | None:
        """The open take's frame with the print as large as it can be in the middle of where ink reaches; None without a picture."""
        take, picture = self._now.take, self._now.picture
        if take is None or picture is None:
            return None
        _x, _y, w, h = take.frame.crop.pixels(*picture.size)
        like = take.frame.size or PrintSize(w, h)
        try:
            page = compose(replace(take.sheet, place="centre", several=Several(), mat=Mat()), [like], self.margins)
        except RehearsalError:
            return None
        inked = page.inked
        wide = min(page.width / 2 - inked.left, inked.right - page.width / 2) * 2
        high = min(page.height / 2 - inked.top, inked.foot - page.height / 2) * 2
        made = fit_size(PrintSize(wide / 10, high / 10), w, h)
        return replace(take.frame, size=PrintSize(round(made.width_cm - 0.005, 2), round(made.height_cm - 0.005, 2)))

    def even_border(self, mm: float) -> None:
        """The same border all round (0: none, on purpose); the picture is cut to what is left."""
        take, picture = self._now.take, self._now.picture
        if take is None or picture is None:
            return
        try:
            frame, sheet = with_even_border(
                take.frame, replace(take.sheet, several=Several(), mat=Mat()), mm, *picture.size
            )
        except RehearsalError as error:
            self._bus.say_error(error)
            return
        self._takes.change("border", frame=frame, sheet=sheet)

    def recrop(self, crop: Crop, size: PrintSize, place: str) -> None:
        """Another part of the picture on the sheet, at the scale it had."""
        take = self._now.take
        if take is not None:
            frame = replace(take.frame, crop=crop, size=size, fit="crop")
            self._takes.change("recrop", frame=frame, sheet=replace(take.sheet, place=place))

    # ---- what is round it

    def mat(self, mat: Mat) -> None:
        """Another mat; several on a sheet have none."""
        take = self._now.take
        if take is not None:
            self._put("mat", replace(take.sheet, mat=mat, several=Several()), own=True)

    def caption(self, caption: SheetCaption) -> None:
        """Other lettering."""
        self._change("caption", caption=caption)

    def choose_mark(self, path: Path) -> None:
        """A picture that signs."""
        take = self._now.take
        if take is None:
            return
        try:
            digest = mark_digest(str(path))
        except RehearsalError as error:
            self._bus.say_error(error)
            return
        self.caption(replace(take.sheet.caption, mark=str(path), mark_digest=digest))

    def lay_several(self, several: Several) -> None:
        """More than one print on the sheet, or one again; a grid gives the print its cell's size."""
        take, picture = self._now.take, self._now.picture
        if take is None or picture is None:
            return
        sheet = replace(take.sheet, several=several, **({"mat": Mat(), "place": "centre"} if several.way else {}))  # type: ignore[arg-type]
        frame = take.frame.before_any("way")
        if several.way == "grid":
            try:
                cell = grid_cell(sheet, self._like(frame, picture.size), self.margins)
            except RehearsalError as error:
                self._bus.say_error(error)
                return
            frame = frame.lent("way", with_size(frame, cell, *picture.size))
        self._takes.change("several", frame=frame, sheet=sheet)

    @staticmethod
    def _like(frame: Frame, pixels: tuple[int, int]) -> PrintSize:
        return frame.size or PrintSize(frame.crop.width * pixels[0], frame.crop.height * pixels[1])

    def as_grid(self, several: Several) -> Page | None:
        """The page with a grid of prints in their cells' size, as it would be; None when it cannot be."""
        take, picture = self._now.take, self._now.picture
        if take is None or picture is None:
            return None
        sheet, frame = replace(take.sheet, several=several, mat=Mat(), place="centre"), take.frame.before_any("way")
        try:
            cell = grid_cell(sheet, self._like(frame, picture.size), self.margins)
        except RehearsalError:
            return None
        return self.page_of(sheet, with_size(frame, cell, *picture.size))

    def lay(self, sheet: Sheet) -> None:
        """Another way to lay the print: from its own size and crop."""
        self._put("place", sheet, own=True)

    def _change(self, operation: str, **fields: object) -> None:
        take = self._now.take
        if take is not None:
            self._put(operation, replace(take.sheet, **fields))  # type: ignore[arg-type]

    def own_frame(self) -> Frame | None:
        """The print's own size and crop, whatever way it is laid; the largest there is where it has no size yet."""
        take, picture = self._now.take, self._now.picture
        if take is None:
            return None
        own, name = take.frame.before_any("way"), take.sheet.name
        if own.size is None or picture is None:
            return self.largest_frame() or own
        return on_sheet(own, name, name, *picture.size)

    def _put(self, operation: str, sheet: Sheet, own: bool = False) -> None:
        """Another sheet; a print that has no size yet becomes as large as it can be there."""
        take = self._now.take
        if take is not None:
            frame = take.frame if take.frame.size is not None and not own else self.own_frame() or take.frame
            self._takes.change(operation, frame=frame, sheet=sheet)

    # ---- cautions

    @property
    def cautions(self) -> list[Caution]:
        """What needs a look before paper is used."""
        request = self._printing.ticket_request()
        return [] if request is None else looked_at(request)

    def cautions_of(self, takes: list[Take]) -> list[tuple[str, Caution]]:
        """What needs a look at several takes, each sentence once, with the first picture it is about; no take is opened for it."""
        found: dict[str, tuple[str, Caution]] = {}
        for take in takes:
            request = self._printing.request_of(take)
            for caution in [] if request is None else looked_at(request):
                found.setdefault(caution.text, (request.picture if request is not None else "", caution))
        return list(found.values())

    def mend(self, keys: list[str]) -> None:
        """Put things right, as one change; what is not of the print alone is left to who asks."""
        take, condition, picture = self._now.take, self._now.condition, self._now.picture
        if take is None or condition is None or picture is None:
            return
        parts = Parts(take.frame, take.sheet, take.hand_over, take.rendering, picture.size)
        for key in dict.fromkeys(k for k in keys if k in MENDS):
            parts = put_right(key, parts, condition)
        if "queue-unscaled" in keys:
            self._queues.unscale(take.hand_over.queue)
        self._takes.change(
            "mend", frame=parts.frame, sheet=parts.sheet, hand_over=parts.hand_over, rendering=parts.rendering
        )

    def tick(self, key: str, on: bool = True) -> None:
        """Tick a caution or a step of the hands off for this print."""
        take = self._now.take
        if take is not None:
            rest = tuple(k for k in take.ticked if k != key)
            self._takes.change("tick", ticked=(*rest, key) if on else rest)

    # ---- the surface

    def measure_surface(self, scan: Path) -> None:
        """Measure the open take's paper at a slanted edge in a scan; kept with its card, and the take is sharpened for it."""
        condition = self._now.condition
        if condition is None:
            return

        def answer(sigma: float) -> None:
            fresh = self._shelf.get(condition.id)
            if fresh is None or not self._book.do("surface", [replace(fresh, sigma_um=round(sigma, 1))]):
                return
            self._bus.tell("conditions")
            self._resharpen(condition.id)
            self._bus.say(f"Spread of {fresh.paper}: {sigma:.0f} µm, the scanner's own blur in it.", "undo")

        self._jobs.run(Job("surface", (condition.id, str(scan))), lambda _p: measure_edge(scan), answer)

    def _resharpen(self, condition: int) -> None:
        take = self._now.take
        if take is not None and take.condition == condition and take.hand_over.sharpen:
            self._takes.sharpen(take.hand_over.sharpen)

    # ---- queues

    def choose_queue(self, name: str) -> None:
        """Send this take to a queue; an empty name: it is written into a file."""
        fields = {"queue": name, "media": "", "feed": "", "quality": "", "mode": "", "speed": "", "coat": "", "ink": ""}
        if name:
            fields |= {"route": "printer", "converter": ""}
            self._queues.ask(name)
        self._takes.change_hand_over(**fields)

    def tell_word(self, role: str, word: str) -> None:
        """What a setting of the open take's card is called at its queue."""
        take, condition = self._now.take, self._now.condition
        if take is None or condition is None or not take.hand_over.queue:
            return
        made = with_word(condition, take.hand_over.queue, role, word)
        if made != condition and self._book.do("queue-word", [made]):
            self._bus.tell("conditions")

    # ---- where the printer puts it

    def cross_places(
        self, condition: PrintCondition, sheet: str
    ) -> tuple[float, float, dict[str, tuple[float, float]]]:
        """Width and height of a sheet as it is fed, mm, and where its crosses are printed."""
        page = compose(Sheet(sheet), [PrintSize(2, 3)])
        return page.width, page.height, crosses(page.width, page.height, condition.margins_mm)

    def keep_true_place(self, sheet: str, measured: dict[Asked, float]) -> None:
        """Keep what was measured on the sheet of crosses with the paper's card."""
        condition = self._now.condition
        if condition is None:
            return
        width, height, at = self.cross_places(condition, sheet)
        try:
            found = find_true_place(width, height, at, measured, date.today().isoformat())
        except RehearsalError as error:
            self._bus.say_error(error)
            return
        if self._book.do("true-place", [replace(condition, true_place=found)]):
            self._bus.tell("conditions")

    def forget_true_place(self) -> None:
        """Send pages as they are planned again."""
        condition = self._now.condition
        if condition is not None and condition.true_place is not None:
            self._book.do("true-place", [replace(condition, true_place=None)])
            self._bus.tell("conditions")
