"""The rack: pictures and their takes; folds away to a strip."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QFileDialog, QStackedLayout, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.widgets import button, heading
from rehearsal.session.session import Session
from rehearsal.workbook.values import Master, Take

_NARROW, _WIDE = 26, 250


class _Strip(QWidget):
    """The folded rack: its words, standing."""

    pressed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.words = ""
        self.room = theme.ROOMS["mid"]
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Unfold the rack")
        self.setToolTip("Unfold the rack (E)")

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.room.colour("rack"))
        painter.setPen(self.room.colour("quiet"))
        painter.setFont(theme.font(theme.SMALL))
        painter.translate(QPointF(self.width(), 0))
        painter.rotate(90)
        painter.drawText(QRectF(12, 0, self.height() - 20, self.width()), Qt.AlignmentFlag.AlignVCenter, self.words)

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        self.pressed.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.pressed.emit()
        else:
            super().keyPressEvent(event)


class Rack(QWidget):
    """All pictures and takes of the workbook."""

    folded = pyqtSignal(bool)
    #: What it shows, as a change record names it.
    follows = ("take", "takes", "masters")

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("rack")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._layout = QStackedLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._strip = _Strip()
        self._strip.pressed.connect(lambda: self.fold(False))
        self._layout.addWidget(self._strip)
        self._layout.addWidget(self._make_list())
        self.fold(True)

    def _make_list(self) -> QWidget:
        page = QWidget()
        rows = QVBoxLayout(page)
        rows.setContentsMargins(10, 10, 8, 10)
        rows.addWidget(heading("Pictures and takes"))
        self._tree = QTreeWidget()
        self._tree.setHeaderHidden(True)
        self._tree.setRootIsDecorated(False)
        self._tree.setAccessibleName("Pictures and their takes")
        self._tree.currentItemChanged.connect(self._on_item)
        rows.addWidget(self._tree)
        rows.addWidget(button("Open pictures…", self.open_dialog, "Ctrl+O"))
        rows.addWidget(button("New take from this one", self._session.takes.duplicate, "Ctrl+T"))
        rows.addWidget(button("Take this take off", self._remove))
        rows.addWidget(
            button("Take this picture off", self._remove_picture, "Its file is left alone; it can be put back")
        )
        self._back = button("Put it back", self._session.takes.restore)
        rows.addWidget(self._back)
        rows.addWidget(button("Fold the rack", lambda: self.fold(True), "E"))
        return page

    def fold(self, on: bool) -> None:
        """Fold to a strip, or open."""
        self._layout.setCurrentIndex(0 if on else 1)
        self.setFixedWidth(_NARROW if on else _WIDE)
        self.folded.emit(on)

    @property
    def is_folded(self) -> bool:
        """True when only the strip shows."""
        return self._layout.currentIndex() == 0

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self._strip.room = room
        self._strip.update()

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
                self._tree.addTopLevelItem(top)
                for take in takes.of(master.id):
                    count += 1
                    size = f", {take.frame.size.in_words}" if take.frame.size else ""
                    item = QTreeWidgetItem([f"{take.name}{size}"])
                    item.setData(0, Qt.ItemDataRole.UserRole, take)
                    top.addChild(item)
                    if open_take is not None and take.id == open_take.id:
                        self._tree.setCurrentItem(item)
                top.setExpanded(True)
        pictures = "1 picture" if len(masters) == 1 else f"{len(masters)} pictures"
        counted = "1 take" if count == 1 else f"{count} takes"
        self._strip.words = f"Rack: {pictures}, {counted}"
        self._strip.update()
