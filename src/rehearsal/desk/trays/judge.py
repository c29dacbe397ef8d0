"""Station 4: intents side by side, paper views, areas beyond the paper, lines on the print."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtGui import QAction, QColor, QCursor, QIcon, QImage, QPainter, QPixmap
from PyQt6.QtWidgets import QBoxLayout, QGridLayout, QHBoxLayout, QLabel, QMenu, QPushButton, QWidget

from rehearsal.core.colour.table import srgb_decode, srgb_encode
from rehearsal.core.proof.advice import CANDIDATES
from rehearsal.core.proof.chain import VIEWS as VIEW_ORDER
from rehearsal.core.proof.chain import switch_is_fixed
from rehearsal.core.proof.grouping import HARDLY, telling
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import capital
from rehearsal.desk import theme
from rehearsal.desk.pair.maplines import HANDS, NEAR_WHITE, Hand, legend_pixmap
from rehearsal.desk.parts.cards import IntentCard, RowNames
from rehearsal.desk.parts.columns import Column, Pages
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.widgets import button, choice, link, quiet, show_choice
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.judgepages import AreasPage, LinePage, PinsPage
from rehearsal.desk.words import INTENT_KEYS, VIEWS
from rehearsal.session.bus import Change
from rehearsal.session.jobs import Job

#: From this width on, in pixels at the usual type, line and pins stand beside the areas.
_WIDE = 1700
_TILE = QSize(20, 14)
_MAPS = (
    ("beyond", "Beyond this paper", "Beyond", "B", ("by 1.5", "by 4", "colder than paper")),
    ("moved", "Moved by the print", "Moved", "M", ("by 2", "by 5")),
    ("screen", "Beyond this screen", "Screen", "N", ("all",)),
)


class JudgeTray(Tray):
    """Everything to judge by. ``areas_pointed`` tells the numbers of the areas that are pointed at."""

    area_chosen = pyqtSignal(object)
    areas_pointed = pyqtSignal(object)
    #: A way to look at the pictures is wanted, by its key's action.
    way_wanted = pyqtSignal(str)
    follows = ("take", "picture", "judgement", "accepted", "look", "figures")

    def build(self) -> None:
        """Intents, views, areas, lines."""
        #: The lightest grey to draw with; samples of lines with their kind and level.
        self._light = theme.ROOMS["mid"].lightest
        self._samples: list[tuple[QLabel, Hand]] = []
        #: Ways to look at the pictures that the window offers: action, words and key.
        self.offered: tuple[tuple[str, str, str], ...] = ()
        self.pair.state.maps_changed.connect(self._show_maps)
        self._build_intents()
        self._build_views()
        self._build_areas()
        self._build_maps()
        self.session.jobs.ended.connect(self._on_end)

    # ---- intents

    def _build_intents(self) -> None:
        column = self.column("Rendering intent", about=("rendering",))
        self._heading = quiet("shorter is better")
        column.beside_title(self._heading)
        self._cards_row = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._cards_row.setSpacing(4)
        self._names = RowNames()
        self._cards_row.addWidget(self._names)
        self._cards: list[IntentCard] = []
        #: The little pictures wait for the judgement.
        self._owed = False
        for rendering, title, key in INTENT_KEYS[: len(CANDIDATES)]:
            card = IntentCard(rendering, title, key)
            card.clicked.connect(lambda _c, r=rendering: self.choose(r))
            self._cards.append(card)
            self._cards_row.addWidget(card)
        self._cards_row.addStretch(1)
        column.rows.addLayout(self._cards_row)
        self._others = choice([("other intents", None), ("saturation", "saturation"), ("absolute", "absolute")])
        self._others.setAccessibleName("Other rendering intents")
        self._others.setToolTip("saturation (Alt+4), absolute (Alt+5)")
        self._others.activated.connect(self._choose_other)
        self._fixed = quiet()
        self._wide = button(
            "Side by side", lambda: self.board_wanted.emit("intents"), "Large (I)", "Intents side by side, large"
        )
        self._wide.setCheckable(True)
        column.pair(self._wide, self._others, self._fixed)
        column.end()

    def show_board(self, name: str) -> None:
        """Mark the board that is shown."""
        self._wide.setChecked(name == "intents")

    def choose(self, rendering: Rendering) -> None:
        """Use a rendering for the take."""
        self.session.takes.render(rendering)
        self.refresh()

    def _choose_other(self) -> None:
        name = self._others.currentData()
        if name:
            self.choose(Rendering(name, name != "absolute"))

    # ---- views

    def _build_views(self) -> None:
        column = self.column("Show the print", 172, about=("view",))
        column.beside_title(link("look…", self.show_ways, "Ways to look at the pictures"))
        self._view_grid = QGridLayout()
        self._view_grid.setSpacing(4)
        self._view_buttons: list[QPushButton] = []
        for view in VIEW_ORDER:
            text, key, tip = VIEWS[view]
            item = self._view_button(text, f"{tip} ({key})", f"Show the print: {text}")
            item.clicked.connect(lambda _c, v=view: self._choose_view(v))
        self._unmanaged = self._view_button(
            "What if unconverted", "What prints when the picture's numbers reach the printer unconverted (U)",
            "Show the unconverted numbers, a warning",
        )  # fmt: skip
        self._unmanaged.clicked.connect(self.session.roads.set_unmanaged)
        column.rows.addLayout(self._view_grid)
        self._lay_views(1)
        column.end()

    def ways(self) -> QMenu:
        """Ways to look at the pictures, each with its key; those that are on are ticked."""
        state, menu = self.pair.state, QMenu(self)
        on = {
            "large": state.mode == "large", "curtain": state.mode == "curtain", "soft": state.soft,
            "hold": self.session.roads.hold,
        }  # fmt: skip
        for name, words, key in self.offered:
            action = QAction(f"{capital(words)}\t{key}", menu)
            action.setCheckable(name in on)
            action.setChecked(on.get(name, False))
            action.triggered.connect(lambda _on, n=name: self.way_wanted.emit(n))
            menu.addAction(action)
        return menu

    def show_ways(self) -> None:
        """Offer them under the pointer."""
        self.ways().popup(QCursor.pos())

    def _choose_view(self, view: str) -> None:
        self.session.takes.change("view", view=view)
        self.refresh()

    def _view_button(self, text: str, tip: str, name: str) -> QPushButton:
        item = QPushButton(text)
        item.setCheckable(True)
        item.setToolTip(tip)
        item.setAccessibleName(name)
        item.setIconSize(QSize(theme.px(_TILE.width()), theme.px(_TILE.height())))
        item.setProperty("words", text)
        self._view_buttons.append(item)
        return item

    def _lay_views(self, columns: int) -> None:
        for i, item in enumerate(self._view_buttons):
            words = str(item.property("words"))
            item.setText(words if columns == 1 else words.replace(" to the screen", "").replace("What if u", "U"))
            self._view_grid.addWidget(item, i // columns, i % columns)

    def _show_tiles(self) -> None:
        """Each view's own white and black before its words."""
        for view, item in zip(VIEW_ORDER, self._view_buttons, strict=False):
            ends = self.session.roads.ends_of(view)
            if ends is not None:
                white, black = (_under(rgb, self._light) for rgb in ends)
                item.setIcon(_tile(white, black, self._names.room.colour("border")))

    # ---- areas, line, pins

    def _build_areas(self) -> None:
        column = self.column("", 400, 1, about=("accept", "reject", "marks"))
        self.areas, self.line, self.pins = (
            AreasPage(self.session),
            LinePage(self.session, self.pair.state),
            PinsPage(self.session),
        )
        self.areas.area_chosen.connect(self.area_chosen)
        self.areas.area_pointed.connect(self.areas_pointed)
        self.pages = Pages()
        for name, page in (("Areas", self.areas), ("Along a line", self.line), ("Pins", self.pins)):
            self.pages.add(name, page)
        column.rows.addWidget(self.pages)
        column.title = "Areas, line, pins"
        self._areas_column = column

    def show_page(self, at: int) -> None:
        """Areas (0), the line (1) or the pins (2)."""
        self.bring_forward(self._areas_column)
        self.pages.show_page(at)

    # ---- lines on the print

    def _build_maps(self) -> None:
        column: Column = self.column("Lines on the print", 150)
        self._map_buttons: dict[str, QPushButton] = {}
        self._map_grid = QGridLayout()
        self._map_grid.setSpacing(3)
        self._legends: list[QWidget] = []
        for kind, text, _short, key, legends in _MAPS:
            item = QPushButton(text)
            item.setCheckable(True)
            item.setToolTip(f"Hold {key} to look, press it to keep")
            item.setAccessibleName(f"Map: {text}")
            item.clicked.connect(lambda _c, k=kind: self.pair.state.toggle_map(k))
            self._map_buttons[kind] = item
            self._legends.append(self._legend(kind, legends))
        column.rows.addLayout(self._map_grid)
        self._lay_maps(1)
        self._hold = quiet("Hold B, M or N to look; press it to keep.", wrap=True)
        self._hold.setToolTip(
            "Hatch inside the lines: level strokes too dark, dots too light, slanted strokes too strong"
        )
        column.add(self._hold)
        column.end()

    def _lay_maps(self, columns: int) -> None:
        for i, (item, legend) in enumerate(zip(self._map_buttons.values(), self._legends, strict=True)):
            row, at = (2 * i, 0) if columns == 1 else (0, i)
            _kind, text, short, _key, _legends = _MAPS[i]
            item.setText(text if columns == 1 else short)
            self._map_grid.addWidget(item, row, at)
            self._map_grid.addWidget(legend, row + 1, at)

    def _legend(self, kind: str, texts: tuple[str, ...]) -> QWidget:
        """What the hands of a kind of lines mean."""
        holder = QWidget()
        parts: list[QWidget] = []
        for level, text in enumerate(texts):
            part = QWidget()
            row = QHBoxLayout(part)
            row.setContentsMargins(0, 0, 0, 0)
            row.setSpacing(4)
            sample, hand = QLabel(), (*HANDS[kind], NEAR_WHITE)[level]
            sample.setPixmap(legend_pixmap(hand, self._light, 24, 2.0))
            self._samples.append((sample, hand))
            row.addWidget(sample)
            row.addWidget(quiet(text))
            parts.append(part)
        holder.setLayout(flow(*parts))
        return holder

    # ---- room

    def on_stand(self, upright: bool) -> None:
        """Cards as rows, views in two columns."""
        down, across = QBoxLayout.Direction.TopToBottom, QBoxLayout.Direction.LeftToRight
        self._cards_row.setDirection(down if upright else across)
        self._names.setVisible(not upright)
        for card in self._cards:
            card.stand(upright)
        self._lay_views(2 if upright else 1)
        self._lay_maps(3 if upright else 1)
        self._hold.setVisible(not upright)
        self.areas.table.set_narrow(upright)
        self.pages.spread(False)
        self._show_cards()

    def arrange(self) -> None:
        """Line and pins beside the areas where there is room."""
        self.pages.spread(not self.stands and self.width() >= theme.px(_WIDE))
        super().arrange()

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        for card in self._cards:
            card.room = room
            card.update()
        self._names.room = self.areas.table.room = room
        self._names.update()
        self.areas.table.viewport().update()
        self.line.set_room(room)
        self._light = room.lightest
        for sample, hand in self._samples:
            sample.setPixmap(legend_pixmap(hand, self._light, 24, 2.0))
        self._show_tiles()

    # ---- following

    def _show_maps(self) -> None:
        for kind, item in self._map_buttons.items():
            item.setChecked(kind in self.pair.state.maps)

    def refresh(self) -> None:
        """Follow the session."""
        take, paper = self.session.now.take, self.session.now.paper
        if take is None:
            return
        self._show_cards()
        intent = take.rendering.intent
        show_choice(self._others, intent if intent in ("saturation", "absolute") else None)
        for view, item in zip(VIEW_ORDER, self._view_buttons, strict=False):
            item.setChecked(view == take.view)
        fixed = "" if paper is None else switch_is_fixed(intent, paper)
        self._fixed.setText("compensation is fixed here" if fixed else "")
        self._fixed.setToolTip(fixed)
        self._unmanaged.setChecked(self.session.roads.unmanaged)
        self._show_tiles()
        self.areas.refresh()
        self.pins.refresh()
        self.line.refresh()

    def _show_cards(self) -> None:
        """Only the rows that differ to the eye."""
        take, result = self.session.now.take, self.session.judging.standing
        by_rendering = {f.rendering: f for f in result.candidates} if result else {}
        among = [by_rendering[c.rendering] for c in self._cards if c.rendering in by_rendering]
        differing = telling(among)
        rows = differing or list(HARDLY if among else ())
        advised = result.advice.named if result else None
        self._names.show_rows(rows)
        what = "" if self.stands else "only what differs; " if differing else "they hardly differ; "
        self._heading.setText(f"{what}shorter is better" if rows else "")
        for card in self._cards:
            card.setChecked(take is not None and card.rendering == take.rendering)
            card.show_figures(by_rendering.get(card.rendering), advised == card.rendering, rows, among)

    def follow(self, change: Change) -> None:
        """Figures with the judgement, little pictures with the road."""
        super().follow(change)
        judging = self.session.judging
        first = judging.judgement is None and judging.is_coming  # the figures come first: they are waited for
        if change.about("road") and not self.session.roads.previews:
            self._show_tiles()
            self.areas.recolour()
            self._owed = first
            if not first:
                self.refresh_pictures()

    def _on_end(self, job: Job) -> None:
        """Judged, failed or stopped: what waited for it comes now."""
        if job.kind == "judge" and self._owed:
            self._owed = False
            self.refresh_pictures()

    def opened(self) -> None:
        """The little pictures may be those of another take."""
        self.refresh_pictures()

    def refresh_pictures(self) -> None:
        """Ask for the little pictures of the three renderings."""
        if self.isVisible():
            self.session.inquiries.ask_cards(self._on_pictures)
        if self.session.now.opened is None:  # no old proof stands where there can be none
            for card in self._cards:
                card.show_picture(None)

    def _on_pictures(self, pictures: list[np.ndarray]) -> None:
        if self.session.now.opened is None:
            return  # asked for before the profile was lost
        for card, rgb in zip(self._cards, pictures, strict=True):
            h, w = rgb.shape[:2]
            card.show_picture(QImage(rgb.tobytes(), w, h, w * 3, QImage.Format.Format_RGB888).copy())


def _tile(white: QColor, black: QColor, edge: QColor) -> QIcon:
    """A view's white and black, side by side."""
    ratio, wide, high = 2.0, theme.px(_TILE.width()), theme.px(_TILE.height())
    pixmap = QPixmap(round(wide * ratio), round(high * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(white)
    painter = QPainter(pixmap)
    painter.fillRect(wide // 2, 0, wide - wide // 2, high, black)
    painter.setPen(edge)  # a white shows on light ground too
    painter.drawRect(0, 0, wide - 1, high - 1)
    painter.end()
    return QIcon(pixmap)


def _under(rgb: tuple[int, int, int], light: int) -> QColor:
    """A colour brought down, in linear light, so that white is as light as the lightest grey."""
    scaled = srgb_encode(srgb_decode(np.array(rgb) / 255) * srgb_decode(np.array(light / 255)))
    red, green, blue = np.round(scaled * 255).astype(int).tolist()
    return QColor(red, green, blue)
