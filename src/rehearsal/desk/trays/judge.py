"""Station 4: intents side by side, paper views, areas beyond the paper, maps."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QPushButton,
)

from rehearsal.core.proof.advice import CANDIDATES, CandidateFigures, rendering_name
from rehearsal.core.proof.chain import VIEWS as VIEW_ORDER
from rehearsal.core.proof.chain import switch_is_fixed
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import share_words
from rehearsal.desk import theme
from rehearsal.desk.pair.maplines import legend_pixmap
from rehearsal.desk.parts.widgets import Column, Pages, button, choice, quiet, show_choice
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.judgepages import AreasPage, LinePage, PinsPage
from rehearsal.desk.words import VIEWS
from rehearsal.session.bus import Change
from rehearsal.session.jobs import Job

_CARD = QSize(126, 150)


class IntentCard(QAbstractButton):
    """A live little picture in one rendering with the same rows of figures as its neighbours."""

    def __init__(self, rendering: Rendering, title: str, key: str, room: theme.Room) -> None:
        super().__init__()
        self.rendering, self._title, self._key, self.room = rendering, title, key, room
        self._picture: QImage | None = None
        self._rows: list[str] = []
        self.advised = False
        self.setCheckable(True)
        self.setFixedSize(_CARD)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"Render {rendering_name(rendering)}")
        self.setToolTip(f"{rendering_name(rendering)}, key {key}")

    def show_picture(self, image: QImage | None) -> None:
        """The take in this rendering."""
        self._picture = image
        self.update()

    def show_figures(self, figures: CandidateFigures | None, advised: bool) -> None:
        """Change, modelling, black and flat."""
        self.advised = advised
        self._rows = []
        if figures is not None:
            shading = "–" if figures.modelling is None else f"{figures.modelling * 100:.0f} %"
            self._rows = [
                f"differs by {figures.felt_change:.1f}",
                f"shading kept {shading}",
                f"detail lost {share_words(figures.flat)}",
            ]
        self.setAccessibleDescription("; ".join(self._rows))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Picture, name, rows; a light frame when chosen."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), self.room.colour("ribbon"))
        if self._picture is not None:
            box = QRectF(6, 6, self.width() - 12, 76)
            size = self._picture.size().scaled(box.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
            target = QRectF(0, 0, size.width(), size.height())
            target.moveCenter(box.center())
            painter.drawImage(target, self._picture)
        painter.setPen(self.room.colour("text"))
        painter.setFont(theme.font(theme.SMALL, strong=True))
        painter.drawText(QRectF(7, 86, self.width() - 12, 16), Qt.AlignmentFlag.AlignVCenter, self._title)
        painter.setFont(theme.font(theme.SMALL))
        painter.drawText(
            QRectF(7, 86, self.width() - 14, 16), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, self._key
        )
        painter.setPen(self.room.colour("quiet"))
        painter.setFont(theme.font(7.9))
        for i, row in enumerate(self._rows):
            painter.drawText(QRectF(7, 102 + i * 15, self.width() - 10, 15), Qt.AlignmentFlag.AlignVCenter, row)
        if self.advised:
            painter.fillRect(QRectF(self.width() - 56, 6, 50, 15), self.room.colour("ribbon"))
            painter.setPen(self.room.colour("text"))
            painter.drawText(QRectF(self.width() - 56, 6, 50, 15), Qt.AlignmentFlag.AlignCenter, "advised")
        if self.isChecked() or self.hasFocus():
            painter.setPen(
                QPen(
                    self.room.colour("text"),
                    1.2 if self.isChecked() else 1,
                    Qt.PenStyle.SolidLine if self.isChecked() else Qt.PenStyle.DotLine,
                )
            )
            painter.drawRect(QRectF(0.5, 0.5, self.width() - 1.5, self.height() - 1.5))


class JudgeTray(Tray):
    """Everything to judge by."""

    area_chosen = pyqtSignal(object)
    follows = ("take", "picture", "judgement", "accepted", "look", "figures")

    def build(self) -> None:
        """Intents, views, areas, maps."""
        self.pair.state.maps_changed.connect(self._show_maps)
        self._build_intents()
        self._build_views()
        self._build_areas()
        self._build_maps()
        self.session.jobs.ended.connect(self._on_end)

    def _build_intents(self) -> None:
        column = self.column("Rendering intent")
        row = QHBoxLayout()
        row.setSpacing(7)
        self._cards = []
        #: The little pictures wait for the judgement.
        self._owed = False
        titles = (("Relative, comp.", "1"), ("Relative", "2"), ("Perceptual", "3"))
        for rendering, (title, key) in zip(CANDIDATES, titles, strict=True):
            card = IntentCard(rendering, title, key, theme.ROOMS["mid"])
            card.clicked.connect(lambda _c, r=rendering: self.choose(r))
            self._cards.append(card)
            row.addWidget(card)
        column.rows.addLayout(row)
        self._others = choice([("other intents", None), ("saturation  4", "saturation"), ("absolute  5", "absolute")])
        self._others.setAccessibleName("Other rendering intents")
        self._others.activated.connect(self._choose_other)
        self._fixed = quiet()
        self._wide = button(
            "Side by side   I", lambda: self.board_wanted.emit("intents"), name="Intents side by side, large"
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

    def _build_views(self) -> None:
        column = self.column("Show the print", 176)
        column.rows.setSpacing(3)
        self._views = QButtonGroup(self)
        for i, view in enumerate(VIEW_ORDER):
            text, key, tip = VIEWS[view]
            item = QPushButton(f"{text}   {key}")
            item.setCheckable(True)
            item.setToolTip(tip)
            item.setAccessibleName(f"Show the print: {text}")
            item.clicked.connect(lambda _c, v=view: self.session.takes.change("view", view=v))
            self._views.addButton(item, i)
            column.add(item)
        self._unmanaged = QPushButton("Unconverted numbers   U")
        self._unmanaged.setCheckable(True)
        self._unmanaged.setToolTip("What prints when the picture's numbers reach the printer unconverted")
        self._unmanaged.setAccessibleName("Show the unconverted numbers, a warning")
        self._unmanaged.clicked.connect(self.session.roads.set_unmanaged)
        column.add(self._unmanaged)
        column.end()

    def _build_areas(self) -> None:
        column = self.column("", 412)
        self.areas, self.line, self.pins = (
            AreasPage(self.session),
            LinePage(self.session, self.pair.state),
            PinsPage(self.session),
        )
        self.areas.area_chosen.connect(self.area_chosen)
        self.pages = Pages()
        for name, page in (("Areas beyond the paper", self.areas), ("Along a line", self.line), ("Pins", self.pins)):
            self.pages.add(name, page)
        column.rows.addWidget(self.pages)

    def show_page(self, at: int) -> None:
        """Areas (0), the line (1) or the pins (2)."""
        self.pages.show_page(at)

    def _build_maps(self) -> None:
        column: Column = self.column("Lines on the take", 176)
        self._map_buttons: dict[str, QPushButton] = {}
        rows = (
            ("beyond", "Beyond the paper   B", ("by ΔE₀₀ 1.5", "by 4", "white colder than paper")),
            ("moved", "Moved by the print   M", ("by ΔE₀₀ 2", "by 5")),
            ("screen", "Beyond this screen   N", ("what it cannot show",)),
        )
        for kind, text, legends in rows:
            item = QPushButton(text)
            item.setCheckable(True)
            item.setAccessibleName(f"Map: {text.split('   ')[0]}")
            item.clicked.connect(lambda _c, k=kind: self.pair.state.toggle_map(k))
            self._map_buttons[kind] = item
            column.add(item)
            for first in range(0, len(legends), 2):
                column.rows.addLayout(self._legend(kind, legends[first : first + 2], first))
        hatch = quiet("hatch: level dark, slanted colour")
        hatch.setToolTip("Level strokes: too dark; dots: too light; slanted strokes: too saturated")
        column.add(hatch)
        column.end()

    @staticmethod
    def _legend(kind: str, texts: tuple[str, ...], first: int) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(5)
        for i, text in enumerate(texts, start=first):
            sample = QLabel()
            sample.setPixmap(legend_pixmap(kind, i, theme.ROOMS["mid"].colour("text"), 26, 2.0))
            row.addWidget(sample)
            row.addWidget(quiet(text))
        row.addStretch(1)
        return row

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        for card in self._cards:
            card.room = room
            card.update()
        self.line.set_room(room)

    def _show_maps(self) -> None:
        for kind, item in self._map_buttons.items():
            item.setChecked(kind in self.pair.state.maps)

    def refresh(self) -> None:
        """Follow the session."""
        take, result, paper = self.session.now.take, self.session.judging.judgement, self.session.now.paper
        if take is None:
            return
        by_rendering = {f.rendering: f for f in result.candidates} if result else {}
        advised = result.advice.rendering if result else None
        for card in self._cards:
            card.setChecked(card.rendering == take.rendering)
            card.show_figures(by_rendering.get(card.rendering), advised == card.rendering)
        intent = take.rendering.intent
        show_choice(self._others, intent if intent in ("saturation", "absolute") else None)
        self._views.button(VIEW_ORDER.index(take.view)).setChecked(True)
        fixed = "" if paper is None else switch_is_fixed(intent, paper)
        self._fixed.setText("compensation is fixed here" if fixed else "")
        self._fixed.setToolTip(fixed)
        self._unmanaged.setChecked(self.session.roads.unmanaged)
        self.areas.refresh()
        self.pins.refresh()
        self.line.refresh()

    def follow(self, change: Change) -> None:
        """Figures with the judgement, little pictures with the road."""
        super().follow(change)
        judging = self.session.judging
        first = judging.judgement is None and judging.is_coming  # the figures come first: they are waited for
        if change.about("road") and not self.session.roads.previews:
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
