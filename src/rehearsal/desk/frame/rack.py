"""The rack: pictures and their takes; folds away to a strip."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QRect, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.edge import Edge
from rehearsal.desk.parts.widgets import button, heading
from rehearsal.session.session import Session
from rehearsal.workbook.values import Master, Take

_WIDE = 320


class Rack(QWidget):
    """All pictures and takes of the workbook."""

    folded = pyqtSignal(bool)
    #: What it shows, as a change record names it.
    follows = ("take", "takes", "masters")

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

    def fold(self, on: bool) -> None:
        """Away, or over the pictures."""
        self.is_folded = on
        self.setVisible(not on)
        if not on:
            self.raise_()
            self._tree.setFocus()
        self.folded.emit(on)

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
        self.edge.setText(f"Rack: {pictures}, {counted}")
