"""The rack: pictures and their takes; folds away to a strip."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PyQt6.QtCore import QPointF, QRect, QSignalBlocker, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QIcon, QImage, QPainter, QPixmap
from PyQt6.QtWidgets import QFileDialog, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.boards.takes import figures_words
from rehearsal.desk.parts.edge import Edge
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.rings import paint_ring
from rehearsal.desk.parts.widgets import button, heading
from rehearsal.session.session import Session
from rehearsal.workbook.values import Master, Take

_WIDE = 384
_LITTLE = QSize(60, 40)


class Rack(QWidget):
    """All pictures and takes of the workbook."""

    folded = pyqtSignal(bool)
    #: What it shows, as a change record names it.
    follows = ("take", "takes", "masters", "log", "littles", "standing")

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        #: The folded rack; it keeps its place while the list lies over the pictures.
        self.edge = Edge("Unfold the rack", "Unfold the rack (E)")
        self.edge.clicked.connect(lambda: self.fold(not self.is_folded))
        self.setObjectName("rack")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._make_list()
        self.is_folded = False
        self.fold(True)

    def _make_list(self) -> None:
        rows = QVBoxLayout(self)
        rows.setContentsMargins(10, 10, 8, 10)
        rows.addWidget(heading("Pictures and takes"))
        self._tree = QTreeWidget()
        self._tree.setHeaderHidden(True)
        self._tree.setRootIsDecorated(False)
        self._tree.setAccessibleName("Pictures and their takes")
        self._tree.setIconSize(QSize(theme.px(_LITTLE.width()), theme.px(_LITTLE.height())))
        self._tree.currentItemChanged.connect(self._on_item)
        rows.addWidget(self._tree)
        self._back = button("Put it back", self._session.takes.restore)
        off = button("Take this picture off", self._remove_picture, "Its file is left alone; it can be put back")
        rows.addLayout(
            flow(
                button("Open pictures…", self.open_dialog, "Ctrl+O"),
                button("New take from this one", self._session.takes.duplicate, "Ctrl+T"),
                button("Take this take off", self._remove), off, self._back, button("Fold the rack", lambda: self.fold(True), "E"),
            )
        )  # fmt: skip

    def fold(self, on: bool) -> None:
        """Away, or over the pictures."""
        self.is_folded = on
        self.setVisible(not on)
        if not on:
            self._ask_littles()
            self.raise_()
            self._tree.setFocus()
        self.folded.emit(on)

    def _ask_littles(self) -> None:
        size = _LITTLE * 2
        self._session.inquiries.ask_littles(self._session.takes.masters, size.width(), size.height())

    def lie_over(self, area: QRect) -> None:
        """At the left of the area of the pictures."""
        self.setGeometry(area.x(), area.y(), min(theme.px(_WIDE), area.width()), area.height())

    def open_dialog(self) -> None:
        """Choose pictures (or profiles) to open."""
        start = self._session.book.recall("open folder") or str(Path.home())
        names, _ = QFileDialog.getOpenFileNames(
            self, "Open pictures", start, "Pictures and profiles (*.tif *.tiff *.jpg *.jpeg *.png *.icc *.icm *.zip)"
        )
        if names:
            self._session.book.remember("open folder", str(Path(names[0]).parent))
            self._session.incoming.open_files(names)

    def _remove(self) -> None:
        take = self._session.now.take
        if take is not None:
            self._session.takes.remove(take)

    def _remove_picture(self) -> None:
        master = self._session.now.master
        if master is not None:
            self._session.takes.remove_picture(master)

    def _on_item(self, item: QTreeWidgetItem | None, _old: QTreeWidgetItem | None) -> None:
        value = item.data(0, Qt.ItemDataRole.UserRole) if item else None
        take = self._session.now.take
        if isinstance(value, Master):
            if take is None or take.master != value.id:
                self._session.takes.open_master(value)
        elif isinstance(value, Take) and (take is None or take.id != value.id):
            self._session.takes.open(value)

    def refresh(self) -> None:
        """Follow the session."""
        takes, open_take = self._session.takes, self._session.now.take
        masters, removed, count = takes.masters, takes.removed, 0
        self._back.setVisible(bool(removed))
        if removed:
            self._back.setText(f"Put {removed} back")
        with QSignalBlocker(self._tree):
            self._tree.clear()
            for master in masters:
                top = QTreeWidgetItem([master.name])
                top.setData(0, Qt.ItemDataRole.UserRole, master)
                top.setFont(0, theme.font(theme.NORMAL, strong=True))
                top.setSizeHint(0, QSize(0, theme.px(_LITTLE.height() + 4)))
                little = self._session.inquiries.littles.get(master.digest)
                top.setIcon(0, _icon(little))
                self._tree.addTopLevelItem(top)
                for take in takes.of(master.id):
                    count += 1
                    size = f", {take.frame.size.in_words}" if take.frame.size else ""
                    station = word("station", self._session.logbook.furthest(take))
                    item = QTreeWidgetItem([f"{station}: {takes.name_of(take)}{size}"])
                    item.setData(0, Qt.ItemDataRole.UserRole, take)
                    item.setSizeHint(0, QSize(0, theme.px(28)))
                    far = self._session.logbook.furthest(take)
                    item.setIcon(0, _ring(far == "log", self.edge.room))
                    figures = figures_words(self._session.standing.of(take))
                    item.setToolTip(0, f"{item.text(0)}: come to {word('station', far)}. {figures}")
                    top.addChild(item)
                    if open_take is not None and take.id == open_take.id:
                        self._tree.setCurrentItem(item)
                top.setExpanded(True)
        pictures = "1 picture" if len(masters) == 1 else f"{len(masters)} pictures"
        counted = "1 take" if count == 1 else f"{count} takes"
        self.edge.setText(f"Rack: {pictures}, {counted}")
        if not self.is_folded:
            self._ask_littles()


def _icon(rgb: np.ndarray | None) -> QIcon:
    """A little picture in the middle of its place; an empty place while there is none."""
    wide, high = theme.px(_LITTLE.width()), theme.px(_LITTLE.height())
    pixmap = QPixmap(wide, high)
    pixmap.fill(Qt.GlobalColor.transparent)
    if rgb is not None:
        h, w = rgb.shape[:2]
        image = QImage(rgb.tobytes(), w, h, w * 3, QImage.Format.Format_RGB888)
        scaled = image.scaled(
            wide, high, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        )
        painter = QPainter(pixmap)
        painter.drawImage((wide - scaled.width()) // 2, (high - scaled.height()) // 2, scaled)
        painter.end()
    icon = QIcon(pixmap)
    icon.addPixmap(pixmap, QIcon.Mode.Selected)
    return icon


def _ring(full: bool, room: theme.Room) -> QIcon:
    """Full for a take that was printed, half for one on its way; the same when its row is chosen."""
    size, sharp = theme.px(24), QGuiApplication.primaryScreen().devicePixelRatio()
    pixmap = QPixmap(round(size * sharp), round(size * sharp))
    pixmap.setDevicePixelRatio(sharp)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint_ring(painter, QPointF(size / 2, size / 2), theme.px(6), "full" if full else "half", room)
    painter.end()
    icon = QIcon(pixmap)
    icon.addPixmap(pixmap, QIcon.Mode.Selected)
    return icon
