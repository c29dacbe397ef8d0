"""Station 3: the print condition."""

from __future__ import annotations

import functools

from PyQt6.QtCore import QSignalBlocker, Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QFileDialog, QHeaderView, QPushButton

from rehearsal.core.papers.plain import Plain, greys, room_for_colour, steps
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import capital
from rehearsal.desk import theme
from rehearsal.desk.parts.conditiondialog import edit_condition
from rehearsal.desk.parts.greys import GreysStrip
from rehearsal.desk.parts.toldlist import Told, ToldList
from rehearsal.desk.parts.widgets import button, quiet, scrolled, show_page, table
from rehearsal.desk.trays.base import Tray
from rehearsal.tasks.conditions import Facts, NoFacts

#: A printer's name has so much room at the most; the paper's name has the rest.
_PRINTER = 80
_HEADS = ("paper", "printer", "contrast", "black", "white")


class PaperTray(Tray):
    """The shelf of print conditions with what was measured from their profiles, and the card of the chosen one."""

    follows = ("take", "conditions", "facts", "looked")

    def build(self) -> None:
        """Shelf at the left, card, health, and ways to look closer."""
        shelf = self.column(
            "Print conditions", 476, 1, about=("condition", "add-condition", "remove-condition", "change-condition")
        )
        self._table = table(_HEADS, "Print conditions")
        self._table.horizontalHeader().setStretchLastSection(False)
        self._table.right_align(2, 3, 4)
        self._table.horizontalHeader().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self._table.horizontalHeader().setSectionResizeMode(1, QHeaderView.ResizeMode.Fixed)
        self._table.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self._table.currentCellChanged.connect(self._on_row)
        self._table.itemDoubleClicked.connect(lambda _item: self.session.takes.choose_looked())
        for press in (Qt.Key.Key_Return, Qt.Key.Key_Enter):  # not "activated": some desktops mean a single click by it
            enter = QShortcut(QKeySequence(press), self._table, context=Qt.ShortcutContext.WidgetShortcut)
            enter.activated.connect(self.session.takes.choose_looked)
        shelf.add(self._table)
        self._choose = button("Choose this paper", self.session.takes.choose_looked, "Enter in the list does the same")
        over_tip = "The tuning and the print file were made for the chosen paper"
        self._over = button("This take over to it", self._take_over, over_tip)
        self._back = button("Back", lambda: self.session.now.look_at(None), "Back to the chosen paper: Esc")
        self._add_button = button("Add profiles…", self.add_profiles)
        self._edit = button("Edit this condition…", lambda: edit_condition(self.session, self))
        shelf.pair(self._choose, self._over, self._back, self._add_button, self._edit)
        card = self.column("Told and read", 246)
        self.card = ToldList()
        card.add(scrolled(self.card))
        notes = self.column("Its greys, and what its profile says", 246)
        self.greys = GreysStrip()
        notes.add(self.greys)
        self._notes = quiet(wrap=True)
        said = scrolled(self._notes)
        said.setMinimumHeight(theme.px(40))
        notes.add(said)
        self._more = button("More…", self._show_figures, "All measured figures", "All figures of this paper")
        notes.pair(self._more)
        closer = self.column("Look closer", 178)
        self._boards: dict[str, QPushButton] = {}
        for name, text, key in (
            ("shelf", "Shelf of cards", "Q"), ("scout", "On all papers", "O"), ("reach", "The reach", "C"),
            ("two", "Two profiles", "X"),
        ):  # fmt: skip
            item = button(f"{text}   {key}", functools.partial(self.board_wanted.emit, name), name=f"Board: {text}")
            item.setCheckable(True)
            self._boards[name] = item
            closer.add(item)
        closer.end()
        self._shown: list[PrintCondition] = []

    def on_stand(self, upright: bool) -> None:
        """Beside the pictures there is room for the first figures only."""
        for column in (1, 4):
            self._table.setColumnHidden(column, upright)

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow the room."""
        for part in (self.greys, self.card):
            part.room = room
            part.update()

    def show_board(self, name: str) -> None:
        """Mark the board that is shown."""
        for each, item in self._boards.items():
            item.setChecked(each == name)

    def _on_row(self, row: int, _column: int, _old: int, _old_column: int) -> None:
        if 0 <= row < len(self._shown):
            self.session.now.look_at(self._shown[row])

    def _take_over(self) -> None:
        looked = self.session.now.looked
        if looked is not None:
            self.session.takes.choose_condition(looked)

    def add_profiles(self) -> None:
        """Ask for profiles, which become print conditions."""
        names, _ = QFileDialog.getOpenFileNames(
            self, "Add printer profiles", "/usr/share/color/icc", "Profiles and archives of them (*.icc *.icm *.zip)"
        )
        if names:
            self.session.incoming.open_files(names)

    def refresh(self) -> None:
        """Follow the session."""
        self._shown = self.session.shelf.conditions
        current, looked = self.session.now.card, self.session.now.looked
        with QSignalBlocker(self._table):
            self._table.setRowCount(len(self._shown))
            for row, condition in enumerate(self._shown):
                cells = self._cells(condition)
                tip = f"{cells[0]} on {condition.printer}" if condition.printer else condition.name
                self._table.put(row, cells, [tip] * len(cells))
                if current is not None and condition.id == current.id:
                    self._table.setCurrentCell(row, 0)
                    self._table.scrollToItem(self._table.item(row, 0))
        printers = [self._table.sizeHintForColumn(1), theme.px(60)]
        self._table.setColumnWidth(1, min(max(printers), theme.px(_PRINTER)))
        if current is not None:
            self.card.show_rows(told_rows(current))
            self._notes.setText(self._profile_text(current))
            facts = self.session.shelf.facts_of(current.id)
            self.greys.show_greys(facts.greys if facts is not None and facts.is_paper else ())
            self._more.setEnabled(facts is not None and facts.is_paper and not current.space)
        self._show_choosing(looked)

    def _show_choosing(self, looked: PrintCondition | None) -> None:
        """Ways from looking to choosing, while there is something to choose."""
        worked, has_take = self.session.takes.is_worked, self.session.now.take is not None
        for each in (self._choose, self._over, self._back):
            each.setVisible(looked is not None and has_take)
        self._choose.setText("New take on it" if worked else "Choose this paper")
        self._add_button.setVisible(looked is None or not has_take)
        self._over.setVisible(looked is not None and worked)

    def _cells(self, condition: PrintCondition) -> tuple[str, ...]:
        own = ", own profile" if condition.made_by == "own" else ""
        facts = self.session.shelf.facts.get(condition.id)
        if facts is None:
            return condition.paper + own, condition.printer, "measuring…", "", ""
        if isinstance(facts, NoFacts):
            return condition.paper + own, condition.printer, "profile missing", "", ""
        if not facts.is_paper:
            return condition.paper, "", "no paper", "", ""
        white, black = facts.white, facts.black
        return (
            condition.paper + own, condition.printer, f"{facts.contrast:.0f} : 1", f"L* {black[0]:.1f}",
            f"L* {white[0]:.1f}, b* {white[2]:+.1f}",
        )  # fmt: skip

    def _profile_text(self, condition: PrintCondition) -> str:
        facts = self.session.shelf.facts.get(condition.id)
        if facts is None:
            return "Measuring…"
        if isinstance(facts, NoFacts):
            return f"{facts.reason}\nEdit this condition to choose the profile again."
        notes = [capital(w) + "." for w in (note.words for note in facts.notes)] or ["Nothing odd found."]
        if condition.space or not facts.is_paper:
            return "\n".join(
                ["A working space as destination: this shows what the space cuts off, not ink and paper.", notes[0]]
            )
        said = [f"{capital(plain.words)}." for plain in self._plain(condition, facts)]
        return "\n".join([*said, *notes])

    def _plain(self, condition: PrintCondition, facts: Facts) -> list[Plain]:
        """What the facts mean: greys, steps, room for colour against the other papers of the shelf."""
        shelf = self.session.shelf
        papers = [(c, shelf.facts.get(c.id)) for c in shelf.conditions if c.id != condition.id and not c.space]
        others = [(c.paper, f.volume) for c, f in papers if isinstance(f, Facts) and f.is_paper]
        all_known = all(f is not None for _c, f in papers)  # the largest may be one that is still being measured
        room = room_for_colour(facts.volume, others) if all_known else None
        made = [greys(facts.drift_chroma, facts.drift_lightness), steps(facts.noise, facts.notes)]
        return [*made, room] if room else made

    def _show_figures(self) -> None:
        """All raw figures of the paper that is shown."""
        current = self.session.now.card
        facts = None if current is None else self.session.shelf.facts_of(current.id)
        if current is not None and facts is not None:
            show_page(self, f"Figures of {current.paper}", figures_html(facts), "Figures of this paper", 520, 380)


def figures_html(facts: Facts) -> str:
    """The measured figures of a paper as a table."""
    rows = (
        ("white, absolute", "L* {:.1f}, a* {:+.1f}, b* {:+.1f}".format(*facts.white)),
        ("black, absolute", "L* {:.1f}, a* {:+.1f}, b* {:+.1f}".format(*facts.black)),
        ("contrast", f"{facts.contrast:.0f} : 1"),
        ("density of the black, Dmax", f"{facts.dmax:.2f}"),
        ("volume of the gamut", f"{facts.volume / 1000:.0f} 000 Lab³"),
        ("table noise, median", f"ΔE₀₀ {facts.noise:.2f}"),
        ("printed greys, largest chroma", f"{facts.drift_chroma:.1f} at L* {facts.drift_lightness:.0f}"),
        ("intents with a table", ", ".join(facts.intents)),
    )
    return "<table cellspacing='6'>" + "".join(f"<tr><td>{a}</td><td>{b}</td></tr>" for a, b in rows) + "</table>"


def told_rows(c: PrintCondition) -> list[Told]:
    """A condition's card: what was told, what was only read from a name, what nobody said."""
    asked = (("media setting", "media_setting"), ("quality", "quality"), ("resolution", "resolution"), ("feed", "feed"))
    rows = [Told(label, str(getattr(c, name)), _state(c, name)) for label, name in asked] if c.printer else []
    if c.printer:
        rows.insert(2, Told("black ink", c.ink or c.black_mode, _state(c, "ink")))
        rows.append(Told("margins", "{:.0f}, {:.0f}, {:.0f}, {:.0f} mm".format(*c.margins_mm)))
        rows.append(Told("borderless", "allowed" if c.borderless else "no"))
    told = (("preset", c.preset), ("panel", c.panel_setting), ("gloss coat", c.gloss_coat), ("notes", c.notes))
    rows.append(Told("intent", c.default_intent + (", as the lab prescribes" if c.prescribed else ", by habit")))
    rows += [Told(label, value) for label, value in told if value]
    if c.unread:
        rows.append(Told("in its name", f"“{c.unread}” is not understood", "read"))
    return rows


def _state(c: PrintCondition, field: str) -> str:
    state = c.state(field)
    return state if state in ("empty", "read") else "told"
