"""The page of the open take, drawn to scale with hands on it, and the ways to lay it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from PyQt6.QtGui import QColor, QImage, QResizeEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.composing import Page
from rehearsal.core.sheet.evenborder import with_even_border
from rehearsal.core.sheet.layout import ROLLS, SHEETS, has_size, roll_width_cm, sheet_words
from rehearsal.core.sheet.trueplace import true_place_words
from rehearsal.core.values.frame import Crop, PrintSize
from rehearsal.core.values.sheet import Mat, Several, Sheet
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.boards.pageoptions import (
    CaptionPanel,
    CentrePanel,
    EvenPanel,
    FootPanel,
    MatPanel,
    Panel,
    SeveralPanel,
)
from rehearsal.desk.boards.trueplace import TruePlacePanel
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.pagedrawing import UNITS, PageDrawing
from rehearsal.desk.parts.waycard import WayCard
from rehearsal.desk.parts.widgets import button, choice, quiet, scrolled, show_choice
from rehearsal.session.session import Session

#: Ways to lay a page: key and title.
WAYS = (
    ("centre", "Centred"), ("foot", "Heavier foot"), ("even", "Even border"), ("over", "Under a mat"), ("float", "Floating in a mat"),
    ("several", "Several"),
)  # fmt: skip
_EVEN_MM, _FOOT = 25.0, 15.0
#: Width of the ways, and their share of a narrow board.
_SIDE, _LEAST_SIDE, _SIDE_SHARE = 480, 300, 0.5


def way_of(sheet: Sheet, page: Page | None) -> str:
    """The way a sheet is laid; empty for a place of its own."""
    if sheet.several.way:
        return "several"
    if sheet.mat.way:
        return sheet.mat.way
    if sheet.place.startswith("foot:"):
        return "foot"
    if sheet.place != "centre":
        return ""
    even = page is not None and max(page.borders) - min(page.borders) < 0.2
    return "even" if even else "centre"


class _Panels(QStackedWidget):
    """As high as the panel that is shown wants to be: the others want nothing meanwhile."""

    def __init__(self) -> None:
        super().__init__()
        self.currentChanged.connect(self._share)

    def addWidget(self, widget: QWidget | None) -> int:
        """One more panel."""
        made = super().addWidget(widget)
        self._share()
        return made

    def _share(self, _index: int = 0) -> None:
        wants, nothing = QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Ignored
        for i in range(self.count()):
            panel = self.widget(i)
            if panel is not None:
                panel.setSizePolicy(wants, wants if panel is self.currentWidget() else nothing)
        self.updateGeometry()


class PageBoard(Board):
    """The page at the left; at the right the ways to lay it, and what can be set of the chosen one."""

    title = "The page"
    with_tray = True
    follows = ("take", "picture", "conditions", "takes", "littles", "facts")

    def build(self) -> None:
        """Head, drawing, ways, panels."""
        self.sheet = QComboBox()
        self.sheet.setEditable(True)
        self.sheet.setAccessibleName("Sheet")
        self.sheet.setMinimumWidth(theme.px(128))
        self.sheet.activated.connect(lambda _i: self._choose_sheet())
        self.sheet.lineEdit().editingFinished.connect(self._choose_sheet)
        self.unit = choice([(name, name) for name in UNITS])
        self.unit.setAccessibleName("Unit of lengths")
        self.unit.activated.connect(lambda _i: self._choose_unit())
        self.head(self.sheet, self.unit)
        self.size_words = quiet("")
        self._head.insertWidget(1, self.size_words)
        self.drawing = PageDrawing()
        sheets = self.session.sheets
        self.drawing.moved.connect(sheets.put_at)
        self.drawing.resized.connect(sheets.resize)
        self.drawing.border_typed.connect(sheets.set_border)
        self.drawing.cut.connect(self._cut)
        row = QHBoxLayout()
        row.setSpacing(theme.px(12))
        left = QVBoxLayout()
        left.setSpacing(2)
        left.addWidget(self.drawing, 1)
        self.under = quiet("", wrap=True)
        left.addWidget(self.under)
        row.addLayout(left, 1)
        row.addWidget(self._build_side())
        self.rows.addLayout(row, 1)
        self.sentence.hide()
        self._pictures: dict[int, QImage] = {}
        self._paper = QColor(0xEC, 0xEC, 0xEC)
        self._asked: object = None

    def _build_side(self) -> QWidget:
        side = QWidget()
        rows = QVBoxLayout(side)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(theme.px(6))
        grid = QGridLayout()
        grid.setSpacing(theme.px(6))
        self.cards: dict[str, WayCard] = {}
        for i, (key, title) in enumerate(WAYS):
            card = self.cards[key] = WayCard(title)
            card.clicked.connect(lambda _on=False, k=key: self.take_way(k))
            grid.addWidget(card, i // 3, i % 3)
        rows.addLayout(grid, 3)
        self.panels = _Panels()
        self._panel: dict[str, Panel] = {
            "centre": CentrePanel(self.session), "foot": FootPanel(self.session), "even": EvenPanel(self.session),
            "over": MatPanel(self.session, "over"), "float": MatPanel(self.session, "float"), "several": SeveralPanel(self.session),
            "caption": CaptionPanel(self.session), "true": TruePlacePanel(self.session),
        }  # fmt: skip
        for panel in self._panel.values():
            self.panels.addWidget(panel)
        area: QScrollArea = scrolled(self.panels)
        area.setMinimumHeight(theme.px(58))
        area.setMaximumHeight(theme.px(184))
        rows.addWidget(area, 2)
        rows.addLayout(self._build_buttons())
        self._side = side
        return side

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The ways give way to the drawing where there is little room."""
        super().resizeEvent(event)
        self._side.setFixedWidth(round(min(max(self.width() * _SIDE_SHARE, theme.px(_LEAST_SIDE)), theme.px(_SIDE))))

    def _build_buttons(self) -> QHBoxLayout:
        self.recrop = button(
            "Recrop on the sheet", self._toggle_recrop, "Drag sides over the picture, or the picture under them"
        )
        self.caption = button("Caption, signature", lambda: self.show_panel("caption"))
        self.true = button("True place", lambda: self.show_panel("true"), "Where this printer really puts a page")
        row = QHBoxLayout()
        row.setSpacing(theme.px(6))
        for each in (self.recrop, self.caption, self.true):
            each.setCheckable(True)
            row.addWidget(each, 1)
        return row

    # ---- ways

    def take_way(self, way: str) -> None:
        """Lay the page so, as one change; a way it is laid already only shows its panel."""
        take = self.session.now.take
        if take is None:
            return
        self.show_panel(way)
        if way == way_of(take.sheet, self.session.sheets.page) and take.frame.size is not None:
            self.refresh()
            return
        sheets, sheet = self.session.sheets, take.sheet
        plain = replace(sheet, mat=Mat(), several=Several())
        work: dict[str, Callable[[], object]] = {
            "centre": lambda: sheets.lay(replace(plain, place="centre")),
            "foot": lambda: sheets.lay(replace(plain, place=f"foot:{_FOOT:g}")),
            "even": lambda: sheets.even_border(self._even_mm()),
            "over": lambda: sheets.mat(replace(sheet.mat, way="over")),
            "float": lambda: sheets.mat(replace(sheet.mat, way="float")),
            "several": lambda: sheets.lay_several(replace(sheet.several, way="grid", takes=())),
        }
        work[way]()
        self.refresh()

    def _even_mm(self) -> float:
        """The even border that is offered: the narrowest the print has now, within reason."""
        page = self.session.sheets.page
        narrow = min(page.borders) if page is not None else _EVEN_MM
        return round(min(max(narrow, 5.0), 60.0))

    def show_panel(self, key: str) -> None:
        """The controls of a way, of the lettering or of the true place; pressed again, those of the way go on."""
        take = self.session.now.take
        again = key in ("caption", "true") and self.panels.currentWidget() is self._panel[key]
        if again and take is not None:
            key = way_of(take.sheet, self.session.sheets.page) or "centre"
        self.panels.setCurrentWidget(self._panel[key])
        self._panel[key].refresh()
        self.caption.setChecked(key == "caption")
        self.true.setChecked(key == "true")

    # ---- sheet, unit, recrop

    def _choose_sheet(self) -> None:
        take = self.session.now.take
        name = self.sheet.currentText().strip()
        known = next((n for n in (*SHEETS, *ROLLS, "") if sheet_words(n).lower() == name.lower()), name)
        if take is None or known == take.sheet.name:
            return
        if known and not has_size(known) and not roll_width_cm(known):
            self.session.bus.say(f"“{known}” is no sheet: write it like 30x40cm, or roll 610mm.")
            self._show_sheet(take.sheet.name)
            return
        self.session.takes.choose_sheet(known)

    def _show_sheet(self, name: str) -> None:
        if self.sheet.lineEdit().hasFocus() and self.sheet.lineEdit().isModified():
            return
        condition = self.session.now.condition
        own = [n for n in (condition.sheets if condition else ()) if n in SHEETS]
        names = list(dict.fromkeys([*own, *SHEETS, *ROLLS, name]))
        if [self.sheet.itemText(i) for i in range(self.sheet.count())] != [sheet_words(n) for n in names]:
            self.sheet.blockSignals(True)
            self.sheet.clear()
            self.sheet.addItems([sheet_words(n) for n in names])
            self.sheet.blockSignals(False)
        self.sheet.setCurrentText(sheet_words(name))

    def _choose_unit(self) -> None:
        self.session.book.remember("sheet unit", self.unit.currentData())
        self.refresh()

    def _toggle_recrop(self) -> None:
        self.drawing.recrops = self.recrop.isChecked()
        self._show_whole()
        self.drawing.update()

    def _around(self) -> Box | None:
        """Where the whole picture would lie on the page, at the print's scale."""
        take, box = self.session.now.take, self.drawing.box
        if take is None or box is None:
            return None
        crop = take.frame.crop
        wide, high = box.width / crop.width, box.height / crop.height
        return Box(box.left - crop.x * wide, box.top - crop.y * high, wide, high)

    def _show_whole(self) -> None:
        master = self.session.now.master
        rgb = None if master is None else self.session.inquiries.littles.get(master.digest)
        self.drawing.show_whole(None if rgb is None else rgb_image(rgb), self._around())

    def _cut(self, box: Box, what: str) -> None:
        """A new crop, at the scale the print had; the place on the sheet stays where the hands left it."""
        around, take = self._around(), self.session.now.take
        if around is None or take is None:
            return
        crop = Crop(
            (box.left - around.left) / around.width, (box.top - around.top) / around.height, box.width / around.width,
            box.height / around.height,
        )  # fmt: skip
        size = PrintSize(round(box.width / 10, 2), round(box.height / 10, 2))
        page = self.session.sheets.page
        room = None if page is None or page.mat is None else page.mat.outside
        left, top = (box.left, box.top) if room is None else (box.left - room.left, box.top - room.top)
        place = take.sheet.place if what == "move" else f"{max(left, 0):.1f},{max(top, 0):.1f}"
        self.session.sheets.recrop(crop, size, place)

    # ---- following

    def subject(self) -> object:
        """The open take."""
        take = self.session.now.take
        return None if take is None else take.id

    def open(self) -> None:
        """Ask for the print's look, show the panel of its way."""
        take, master = self.session.now.take, self.session.now.master
        self.unit.setCurrentIndex(max(0, self.unit.findData(self.session.book.recall("sheet unit", "mm"))))
        self._asked = None
        self._pictures = {}
        if master is not None:
            self.session.inquiries.ask_littles([master], 240, 240)
        if take is not None:
            self.show_panel(way_of(take.sheet, self.session.sheets.page) or "centre")
        self.refresh()

    def refresh_pictures(self) -> None:
        """The take looks different."""
        self._ask_picture()

    def _ask_picture(self) -> None:
        rendition, look = self.session.now.rendition, self.session.roads.look
        key = None if rendition is None or look is None else (rendition.look, look.view, look.screen.digest, look.light)
        if key is None or key == self._asked:
            return
        self._asked = key

        def answer(found: tuple[np.ndarray, np.ndarray]) -> None:
            if self._asked != key:
                return  # another take, or another look of it, is wanted by now
            self._pictures = {**self._pictures, 0: rgb_image(found[0])}
            self._paper = QColor(*(round(float(v) * 255) for v in found[1]))
            self.refresh()

        self.session.inquiries.ask_page_picture(answer)

    def refresh(self) -> None:
        """Follow the session."""
        take = self.session.now.take
        if take is None:
            return
        self._ask_picture()
        self._take_others()
        page = self.session.sheets.page
        self.drawing.set_unit(self.unit.currentData())
        self.drawing.show_page(page, self._pictures, self._paper)
        self._show_whole()
        self._show_sheet(take.sheet.name)
        show_choice(self.unit, self.unit.currentData())
        self.recrop.setEnabled(page is not None and len(page.laid) == 1)
        if not self.recrop.isEnabled() and self.recrop.isChecked():
            self.recrop.setChecked(False)
            self.drawing.recrops = False
        self.under.setText(under_words(self.session))
        self.size_words.setText(size_words(page))
        way = way_of(take.sheet, page)
        for key, card in self.cards.items():
            card.setChecked(key == way and page is not None)
            shown = page if key == way and page is not None else self._as(key)
            card.show_way(shown, way_words(key, shown), self._pictures, self._paper)
        panel = self.panels.currentWidget()
        if isinstance(panel, Panel):
            panel.refresh()

    def _as(self, way: str) -> Page | None:
        """The page as it would be laid another way."""
        take, picture = self.session.now.take, self.session.now.picture
        if take is None or picture is None:
            return None
        alone = replace(take.sheet, mat=Mat(), several=Several())
        frame = self.session.sheets.own_frame() or take.frame
        sheet = alone
        if way == "even":
            try:
                frame, sheet = with_even_border(frame, alone, self._even_mm(), *picture.size)
            except RehearsalError:
                return None
        elif way == "several":
            return self.session.sheets.as_grid(replace(take.sheet.several, way="grid", takes=()))
        else:
            sheet = {
                "centre": replace(alone, place="centre"),
                "foot": replace(alone, place=f"foot:{_FOOT:g}"),
                "over": replace(alone, mat=replace(take.sheet.mat, way="over")),
                "float": replace(alone, mat=replace(take.sheet.mat, way="float")),
            }[way]
        return self.session.sheets.page_of(sheet, frame)

    def _take_others(self) -> None:
        """Pictures of the other takes on a packed sheet."""
        others = [take for _size, take in self.session.sheets.others()]
        masters = [m for t in others if (m := self.session.takes.master_of(t)) is not None]
        self.session.inquiries.ask_littles(masters, 240, 240)
        mine = self._pictures.get(0)
        self._pictures = {} if mine is None else {0: mine}
        for number, (take, master) in enumerate(zip(others, masters, strict=False), start=1):
            rgb = self.session.inquiries.littles.get(master.digest)
            if rgb is not None:
                h, w = rgb.shape[:2]
                x, y, cw, ch = take.frame.crop.pixels(w, h)
                self._pictures[number] = rgb_image(rgb[y : y + ch, x : x + cw])

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        super().set_room(room)
        self.drawing.room = room
        self.drawing.update()
        for card in self.cards.values():
            card.room = room
            card.update()


def way_words(way: str, page: Page | None) -> str:
    """What a way means, in a few words."""
    if page is None:
        return "not on this sheet"
    if not page.laid:
        return "there is no room"
    top, _right, foot, left = page.borders
    box = page.laid[0].box
    opening = page.mat.opening if page.mat is not None else box
    return {
        "centre": f"{top:.1f} and {left:.1f} mm bare",
        "foot": f"{(foot / top - 1) * 100:.0f} % more below" if top > 0.05 else "no border above",
        "even": f"{top:.0f} mm, picture cut to it",
        "over": f"opening {opening.width:.0f} × {opening.height:.0f} mm",
        "float": f"opening {opening.width:.0f} × {opening.height:.0f} mm",
    }.get(way, f"{len(page.laid)}, {box.width:.0f} × {box.height:.0f} mm")


def size_words(page: Page | None) -> str:
    """How large the sheet is, and what hands can do."""
    if page is None:
        return ""
    hands = ", drag the picture or a side" if len(page.laid) == 1 else ""
    return f"{page.width / 10:.1f} × {page.height / 10:.1f} cm{hands}"


def under_words(session: Session) -> str:
    """What the drawing means, and how much of the sheet is used."""
    page, take, condition = session.sheets.page, session.now.take, session.now.condition
    if page is None or take is None:
        return ""
    parts = ["Hatched: no ink reaches it." if page.mat is None and page.inked != page.paper else ""]
    roll = roll_width_cm(take.sheet.name)
    if roll:
        parts.append(f"{page.fed[1] / 10:.1f} cm of the roll are used. Mind its curl: it can spring back.")
    parts.append(f"{page.bare * 100:.0f} % of the sheet stays bare.")
    if page.left_out:
        parts.append(f"{len(page.left_out)} not on it.")
    if condition is not None and condition.true_place is not None:
        parts.append(true_place_words(condition.true_place))
    if page.mat is not None:
        parts.append("A large frame is heavy: hang it from two hooks in a wall that holds it.")
    return " ".join(part for part in parts if part)
