"""Where a print goes: a file or a queue, and who converts on the way."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox

from rehearsal.core.icc.standard import SPACES
from rehearsal.core.picture.reduce import sharp_from
from rehearsal.core.sheet.layout import ROLLS, SHEETS, effective_ppi, enlarged_words, enlargement, sheet_words
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.handover import PAGE_FORMATS, PRINT_FORMATS, HandOver
from rehearsal.core.values.words import capital, word
from rehearsal.desk.parts.chain import ChainDrawing
from rehearsal.desk.parts.columns import Column
from rehearsal.desk.parts.goodfor import distance_words
from rehearsal.desk.parts.widgets import Form, choice, link, quiet, show_choice
from rehearsal.session.session import Session
from rehearsal.workbook.values import Take

#: Routes into a file by key: what they mean for a hand-over.
FILES: dict[str, dict[str, object]] = {
    "print": {"route": "printer", "whole": False}, "page": {"route": "printer", "whole": True}, "space": {"route": "space", "whole": False},
}  # fmt: skip


def route_of(hand_over: HandOver) -> str:
    """Key of a hand-over's route: one of FILES, or a queue's name."""
    if hand_over.queue:
        return f"queue:{hand_over.queue}"
    return "space" if hand_over.route == "space" else "page" if hand_over.whole else "print"


class RouteColumn:
    """The chain, the route, and what the file is like."""

    def __init__(self, session: Session, column: Column, lay: Callable[[], object]) -> None:
        self._session = session
        self.chain = ChainDrawing()
        column.add(self.chain)
        form = self._form = Form()
        change = session.takes.change_hand_over
        self.route = choice([])
        self.route.activated.connect(lambda _i: self._choose(self.route.currentData()))
        form.row("Route", self.route)
        self.space = choice([(title.replace(" ISO 22028-2", ""), key) for key, title in SPACES.items()])
        self.space.activated.connect(lambda _i: change(space=self.space.currentData()))
        form.row("Working space", self.space)
        self.format = choice([])
        self.format.activated.connect(lambda _i: change(format=self.format.currentData()))
        form.row("Format", self.format)
        self.sheet = choice([(name, name) for name in SHEETS])
        self.sheet.activated.connect(lambda _i: session.takes.choose_sheet(self.sheet.currentData()))
        form.row("Sheet", self.sheet)
        column.rows.addLayout(form)
        self.borderless = QCheckBox("borderless")
        self.borderless.clicked.connect(lambda on: session.takes.change_sheet(borderless=on))
        column.pair(self.borderless, link("lay it out…", lay, "Lay out the page (F11)"))
        self.large = quiet(wrap=True)
        column.add(self.large)
        column.end()

    def _choose(self, key: str) -> None:
        """Another route; a format it does not know becomes its first."""
        session, take = self._session, self._session.now.take
        if take is None:
            return
        if key.startswith("queue:"):
            session.sheets.choose_queue(key.removeprefix("queue:"))
            return
        formats = PAGE_FORMATS if key == "page" else PRINT_FORMATS
        made = {} if take.hand_over.format in formats else {"format": formats[0]}
        session.takes.change_hand_over(**FILES[key], queue="", converter="", **made)

    def refresh(self, take: Take, condition: PrintCondition) -> None:
        """Follow the take."""
        hand_over = take.hand_over
        self.chain.show_chain(hand_over)
        names = list(dict.fromkeys([*self._session.queues.names, *([hand_over.queue] if hand_over.queue else [])]))
        keys = [*FILES, *(f"queue:{name}" for name in names)]
        if [self.route.itemData(i) for i in range(self.route.count())] != keys:
            with QSignalBlocker(self.route):
                self.route.clear()
                for key in keys:
                    queue = key.removeprefix("queue:") if key.startswith("queue:") else ""
                    self.route.addItem(f"print at {queue}" if queue else word("file_route", key), key)
        show_choice(self.route, route_of(hand_over))
        show_choice(self.space, hand_over.space)
        self.space.setEnabled(hand_over.route == "space" and not hand_over.queue)
        self._fill_formats(hand_over)
        self._fill_sheets(take.sheet.name, condition)
        self.borderless.setChecked(take.sheet.borderless)
        self.large.setText(self._enlarged(take))

    def _enlarged(self, take: Take) -> str:
        """By how much the picture is enlarged, and from where that holds; nothing when it is not."""
        picture, size = self._session.now.picture, take.frame.size
        if picture is None or size is None:
            return ""
        _x, _y, w, _h = take.frame.crop.pixels(*picture.size)
        words = enlarged_words(enlargement(w, size.width_cm, take.hand_over.ppi))
        far = distance_words(sharp_from(effective_ppi(w, size.width_cm)))
        return f"{capital(words)}: holds from {far} on." if words else ""

    def _fill_formats(self, hand_over: HandOver) -> None:
        formats = PAGE_FORMATS if hand_over.whole else PRINT_FORMATS
        if [self.format.itemData(i) for i in range(self.format.count())] != list(formats):
            with QSignalBlocker(self.format):
                self.format.clear()
                for key in formats:
                    self.format.addItem(word("format", key), key)
        show_choice(self.format, hand_over.format)
        self.format.setEnabled(not hand_over.queue)

    def _fill_sheets(self, chosen: str, condition: PrintCondition) -> None:
        """The condition's own sheets first, the others after them."""
        own = [name for name in condition.sheets if name in SHEETS]
        names = list(dict.fromkeys([*own, *SHEETS, *ROLLS, chosen]))
        if [self.sheet.itemData(i) for i in range(self.sheet.count())] != names:
            with QSignalBlocker(self.sheet):
                self.sheet.clear()
                for name in names:
                    at_hand = name in own or not own or name not in SHEETS
                    self.sheet.addItem(sheet_words(name) if at_hand else f"{sheet_words(name)} (not at hand)", name)
        show_choice(self.sheet, chosen)
