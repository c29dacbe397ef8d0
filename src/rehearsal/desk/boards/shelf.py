"""The shelf: print conditions as cards, and the profiles found on this machine to make more of."""

from __future__ import annotations

import functools
from pathlib import Path

from PyQt6.QtCore import QPoint, QRectF, Qt, QUrl
from PyQt6.QtGui import QDesktopServices, QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QScrollArea,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from rehearsal.core.errors import RehearsalError
from rehearsal.core.papers.surface import family, good_for
from rehearsal.core.proof.beyond import Lost
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import share_words
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board, show_choosing
from rehearsal.desk.boards.card import MADE_BY
from rehearsal.desk.parts.offer import Offer
from rehearsal.desk.parts.papertile import LookedButton, ShelfLight
from rehearsal.desk.parts.widgets import button, heading, quiet
from rehearsal.tasks.conditions import Facts, NoFacts, condition_from
from rehearsal.tasks.finding import FoundProfile, matches

_CARD_HEIGHT = 219
_COLUMNS = 3
_ASIDE = "Set aside"


class ConditionCard(LookedButton):
    """One print condition: its paper's white and black as swatches, what was measured, what was told."""

    def __init__(self, condition: PrintCondition, facts: Facts | NoFacts | None, room: theme.Room) -> None:
        super().__init__()
        self.condition, self._facts, self.room = condition, facts, room
        self._lost: Lost | None = None
        self._light = ShelfLight((), room.lightest)
        self.setFixedHeight(_CARD_HEIGHT)
        self.setMinimumWidth(220)
        self.setAccessibleName(condition.name)
        self.show_lost(None, self._light)

    def show_lost(self, lost: Lost | None, light: ShelfLight) -> None:
        """What the paper costs the open picture (None while it is not known), and the light all papers are drawn in."""
        self._lost, self._light = lost, light
        rows = condition_rows(self.condition, self._facts, lost=lost)
        self.setAccessibleDescription("; ".join(f"{a} {b}" for a, b in rows))
        long = condition_rows(self.condition, self._facts, short=False, lost=lost)
        self.setToolTip("\n".join(f"{a}: {b}" for a, b in long))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Swatches, name, rows."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.room.colour("ribbon"))
        self._paint_swatches(painter)
        strong, small = theme.font(theme.NORMAL, strong=True), theme.font(theme.SMALL)
        painter.setFont(strong)
        painter.setPen(self.room.colour("text"))
        name = QFontMetricsF(strong).elidedText(self.condition.paper, Qt.TextElideMode.ElideRight, self.width() - 74)
        painter.drawText(QRectF(62, 7, self.width() - 70, 17), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setFont(small)
        painter.setPen(self.room.colour("quiet"))
        own = dict((v, k) for k, v in MADE_BY).get(self.condition.made_by, "") if self.condition.made_by else ""
        under = ", ".join(part for part in (self.condition.printer, f"profile by {own}" if own else "") if part)
        under = QFontMetricsF(small).elidedText(under, Qt.TextElideMode.ElideRight, self.width() - 70)
        painter.drawText(QRectF(62, 24, self.width() - 68, 15), Qt.AlignmentFlag.AlignVCenter, under)
        self._paint_rows(painter, small)
        self.paint_marks(painter)

    def _paint_swatches(self, painter: QPainter) -> None:
        facts = self._facts
        if not isinstance(facts, Facts):
            return
        painter.fillRect(QRectF(8, 8, 46, 32), self._light.colour(facts.white))
        painter.fillRect(QRectF(31, 8, 23, 32), self._light.colour(facts.black))

    def _paint_rows(self, painter: QPainter, font) -> None:  # type: ignore[no-untyped-def]
        metrics = QFontMetricsF(font)
        for i, (label, value) in enumerate(condition_rows(self.condition, self._facts, lost=self._lost)[:11]):
            y = 46 + i * 15
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(QRectF(8, y, self.width() - 16, 15), Qt.AlignmentFlag.AlignVCenter, label)
            painter.setPen(self.room.colour("text"))
            room = self.width() - 24 - metrics.horizontalAdvance(label)
            value = metrics.elidedText(value, Qt.TextElideMode.ElideRight, room)  # noqa: PLW2901
            painter.drawText(
                QRectF(8, y, self.width() - 16, 15), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, value
            )


def condition_rows(
    c: PrintCondition, facts: Facts | NoFacts | None, short: bool = True, lost: Lost | None = None
) -> list[tuple[str, str]]:
    """Rows of a condition: what is lost, measured, the trade's rule, then what was told; all of them for the long form."""
    measured: list[tuple[str, str]] = []
    if facts is None:
        measured = [("measured", "…")]
    elif isinstance(facts, NoFacts):
        measured = [("profile", "missing")]
    elif not facts.is_paper:
        measured = [("working space", "no paper")]
    else:
        notes = len(facts.notes)
        measured = [
            ("contrast", f"{facts.contrast:.0f} : 1, Dmax {facts.dmax:.2f}"),
            ("white", f"L* {facts.white[0]:.1f}, b* {facts.white[2]:+.1f}"),
            ("health", "nothing odd" if not notes else "1 note" if notes == 1 else f"{notes} notes"),
        ]
    if lost is not None:
        measured.insert(0, ("lost of the picture", f"{share_words(lost.share)}, ΔE₀₀ {lost.mean:.1f}"))
    rule = good_for("" if c.space else family(c.surface, c.texture)).split(";")[0]
    if rule:
        measured.append(("the trade's rule", rule))
    intent = c.default_intent + (", prescribed by the lab" if c.prescribed else "")
    told = [
        ("media setting", c.media_setting), ("quality", c.quality), ("resolution", c.resolution),
        ("black ink", c.ink or c.black_mode), ("feed", c.feed),
        ("intent", intent if not c.space else ""),
    ]  # fmt: skip
    if not short:
        if isinstance(facts, Facts) and facts.is_paper:
            measured.append(("gamut", f"{facts.volume / 1000:.0f} 000 Lab³"))
        told += [
            ("preset", c.preset), ("printer's panel", c.panel_setting), ("gloss coat", c.gloss_coat),
            ("high speed", _said(c, "high_speed", c.high_speed)),
            ("margins", _said(c, "margins_mm", "{:g}, {:g}, {:g}, {:g} mm".format(*c.margins_mm))),
            ("borderless", _said(c, "borderless", "allowed" if c.borderless else "no")),
            ("sheets", _said(c, "sheets", ", ".join(c.sheets))), ("surface", c.surface), ("texture", c.texture), ("weight", c.weight),
            ("loading", "; ".join(c.steps)), ("ink set", c.ink_set), ("brightener", c.brightener),
            ("dry after", f"{c.dry_hours:g} hours" if c.dry_hours else ""),
            ("instruction sheet", Path(c.instructions).name if c.instructions else ""), ("notes", c.notes),
        ]  # fmt: skip
    return measured + [(label, value) for label, value in told if value]


def _said(c: PrintCondition, field: str, words: str) -> str:
    """What is only usual, as such."""
    return f"{words} (usual, nobody has told it)" if c.is_ours and c.state(field) == "usual" else words


class ShelfBoard(Board):
    """Cards at the left, found profiles at the right."""

    title = "Shelf of print conditions"
    follows = (*Board.follows, "looked", "lost")

    def build(self) -> None:
        """Cards, found profiles, search."""
        body = QHBoxLayout()
        body.setSpacing(16)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        body.addWidget(self._area, 1)
        body.addLayout(self._found_column())
        self.rows.addLayout(body, 1)
        self._choose_button = Offer()
        self._edit = button("Its card", functools.partial(self.other_wanted.emit, "card"), "All its fields: F7")
        self._drop = button("Take off the shelf", self._remove_current)
        self._sheet = button("Its instruction sheet", self._open_sheet)
        self._back = button("Put it back", self.session.shelf.restore)
        self.head(self._choose_button, self._edit, self._drop, self._back, self._sheet)
        self.cards: list[ConditionCard] = []
        self._on_cards: list[tuple[PrintCondition, Facts | NoFacts | None]] = []

    def _found_column(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(5)
        column.addWidget(heading("Profiles on this machine"))
        self._search = QLineEdit()
        self._search.setPlaceholderText("Search: paper, printer, surface")
        self._search.setAccessibleName("Search the profiles")
        self._search.setClearButtonEnabled(True)
        self._search.textChanged.connect(lambda _t: self._fill_found())
        column.addWidget(self._search)
        self.tree = QTreeWidget()
        self.tree.setHeaderHidden(True)
        self.tree.setAccessibleName("Profiles on this machine")
        self.tree.setFixedWidth(350)
        self.tree.setRootIsDecorated(False)
        self.tree.setIndentation(12)
        self.tree.setUniformRowHeights(True)
        self.tree.itemActivated.connect(lambda _i, _c: self._add_selected())
        column.addWidget(self.tree, 1)
        row = QHBoxLayout()
        row.addWidget(button("Put on the shelf…", self._add_selected))
        row.addWidget(button("Look in a folder…", self._add_folder))
        self._leave = button("Leave a folder…", self._leave_folder, "Do not look through an added folder any more")
        row.addWidget(self._leave)
        row.addStretch(1)
        column.addLayout(row)
        self._count = quiet(wrap=True)
        self._count.setFixedWidth(350)
        column.addWidget(self._count)
        return column

    def open(self) -> None:
        """Look through the folders, and count what each paper costs."""
        self.session.costs.ask_lost()
        self.session.library.look()
        self.refresh()

    def refresh(self) -> None:
        """Cards by printer, found profiles."""
        self._fill_cards()
        self._fill_found()
        current = self.session.now.card
        show_choosing(self._choose_button, self.session)
        for widget in (self._edit, self._drop):
            widget.setEnabled(current is not None)
        self._leave.setVisible(bool(self.session.library.added))
        removed = self.session.shelf.removed
        self._back.setVisible(removed is not None)
        if removed is not None:
            self._back.setText(f"Put {removed.paper} back")
        self._sheet.setVisible(current is not None and bool(current.instructions))
        self.sentence.setText(
            "A profile belongs to one printer, one paper and one media setting. A click looks at it; Enter or a double click chooses."
        )

    def _fill_cards(self) -> None:
        """New cards only when there is something new on them, so that the focus stays where it is."""
        conditions, facts = self.session.shelf.conditions, self.session.shelf.facts
        shown = [(c, facts.get(c.id)) for c in conditions]
        if shown != self._on_cards:
            self._on_cards = shown
            self._make_cards()
        current, looked = self.session.now.condition, self.session.now.looked
        known = [f.white for _c, f in shown if isinstance(f, Facts) and f.is_paper]
        light = ShelfLight(known, self.room.lightest)
        for card in self.cards:
            card.show_lost(self.session.costs.lost_on(card.condition), light)
            card.setChecked(current is not None and current.id == card.condition.id)
            card.is_looked = looked is not None and looked.id == card.condition.id
            card.update()

    def _make_cards(self) -> None:
        body = QWidget()
        grid = QGridLayout(body)
        grid.setContentsMargins(0, 0, 8, 0)
        grid.setSpacing(8)
        groups: dict[str, list[PrintCondition]] = {}
        for condition in self.session.shelf.conditions:
            groups.setdefault(condition.printer or ("files" if condition.space else "printer not told"), []).append(
                condition
            )
        self.cards, row = [], 0
        for printer, conditions in groups.items():
            grid.addWidget(quiet(printer), row, 0, 1, _COLUMNS)
            row += 1
            for i, condition in enumerate(conditions):
                card = ConditionCard(condition, self.session.shelf.facts.get(condition.id), self.room)
                card.looked.connect(lambda seen=condition: self.session.now.look_at(seen))
                card.chosen.connect(lambda chosen=condition: self.session.takes.choose(chosen))
                self.cards.append(card)
                grid.addWidget(card, row + i // _COLUMNS, i % _COLUMNS)
            row += -(-len(conditions) // _COLUMNS)
        grid.setRowStretch(row, 1)
        place = self._area.verticalScrollBar().value()
        self._area.setWidget(body)
        self._area.verticalScrollBar().setValue(place)

    def _fill_found(self) -> None:
        words, on_shelf = self._search.text(), {c.profile_digest for c in self.session.shelf.conditions}
        printers = self.session.shelf.printers
        read = (f if f.reason else f.among(printers) for f in self.session.library.found)
        found = [f for f in read if matches(f, words)]
        self.tree.clear()
        groups: dict[str, QTreeWidgetItem] = {}
        for each in found:
            group = _ASIDE if each.reason else each.printer
            if group not in groups:
                groups[group] = QTreeWidgetItem([group])
                groups[group].setFont(0, theme.font(theme.NORMAL, strong=True))
                self.tree.addTopLevelItem(groups[group])
            item = QTreeWidgetItem([_found_words(each, each.digest in on_shelf)])
            item.setData(0, Qt.ItemDataRole.UserRole, each)
            item.setToolTip(0, f"{each.description}\n{each.path}")
            groups[group].addChild(item)
        for name, group_item in groups.items():
            group_item.setExpanded(name != _ASIDE or bool(words))
            group_item.setText(0, f"{name} ({group_item.childCount()})")
        good = sum(not f.reason for f in found)
        self._count.setText(
            f"{good} can be used, {len(found) - good} set aside with the reason. Archives can be dropped here."
        )

    def expand_all(self) -> None:
        """Show what was set aside as well."""
        self.tree.expandAll()

    def _selected(self) -> FoundProfile | None:
        item = self.tree.currentItem()
        value = item.data(0, Qt.ItemDataRole.UserRole) if item else None
        return value if isinstance(value, FoundProfile) else None

    def _add_selected(self) -> None:
        found = self._selected()
        if found is None:
            self.session.bus.say("Choose a profile in the list first.")
        elif found.reason:
            self.session.bus.say(f"{Path(found.path).name} is set aside: {found.reason}.")
        else:
            self.add(found)

    def add(self, found: FoundProfile) -> None:
        """A new condition for a found profile; its card opens, with the suggestions out of its names to look at."""
        try:
            condition = condition_from(found)
        except RehearsalError as error:
            self.session.bus.say_error(error)
            return
        self.session.incoming.add(condition)
        self.other_wanted.emit("card")

    def _add_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Look for profiles in a folder", str(Path.home()))
        if name:
            self.session.library.add_folder(Path(name))

    def _leave_folder(self) -> None:
        menu = QMenu(self)
        for folder in self.session.library.added:
            menu.addAction(str(folder), lambda gone=folder: self.session.library.remove_folder(gone))
        menu.popup(self._leave.mapToGlobal(QPoint(0, self._leave.height())))

    def _remove_current(self) -> None:
        condition = self.session.now.card
        if condition is not None:
            self.session.bus.say(self.session.shelf.remove(condition))

    def _open_sheet(self) -> None:
        condition = self.session.now.card
        if condition is not None and condition.instructions:
            QDesktopServices.openUrl(QUrl.fromLocalFile(condition.instructions))

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        super().set_room(room)
        for card in self.cards:
            card.room = room
            card.update()


def _found_words(found: FoundProfile, on_shelf: bool) -> str:
    if found.reason:
        return f"{Path(found.path).name}: {found.reason}"
    parts = [found.guess.paper, found.guess.surface, found.guess.quality]
    text = ", ".join(
        part for part in parts if (part and part.lower() not in found.guess.paper.lower()) or part == parts[0]
    )
    return f"{text}  (on the shelf)" if on_shelf else text
