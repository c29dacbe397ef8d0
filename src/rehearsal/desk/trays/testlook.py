"""What is done with a printed test sheet: it dries, is looked at, and the next sheet, or the take, follows from it."""

from __future__ import annotations

from datetime import datetime
from functools import partial

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from rehearsal.core.testsheets.wedges import STEPS, one_black_words
from rehearsal.core.values.testplan import PATCH_WORDS
from rehearsal.core.values.words import date_words, word
from rehearsal.desk import theme
from rehearsal.desk.parts.columns import Column
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.kindcard import FieldGrid
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.widgets import button, choice, quiet, show_choice
from rehearsal.session.session import Session
from rehearsal.workbook.values import TestSheet

_PLAN = "the next sheet, as planned"


class LookColumn(QObject):
    """Fills a column; ``proof_wanted`` asks for a small proof of the whole."""

    proof_wanted = pyqtSignal()

    def __init__(self, session: Session, column: Column) -> None:
        super().__init__()
        self.session = session
        self.sheets = choice([(_PLAN, 0)])
        self.sheets.setAccessibleName("Sheet that is shown")
        self.sheets.activated.connect(lambda _i: self._show_sheet(self.sheets.currentData()))
        column.beside_title(self.sheets)
        self.dryness = quiet(wrap=True)
        self.printed = button("It came out now", self._mark_printed, "From here it dries")
        state = QHBoxLayout()
        state.addWidget(self.dryness, 1)
        state.addWidget(self.printed)
        column.rows.addLayout(state)
        row = QHBoxLayout()
        row.setSpacing(theme.px(14))
        self.grid = FieldGrid()
        testing = session.testing
        self.grid.pointed.connect(testing.point)
        self.grid.chosen.connect(self._choose)
        left = QVBoxLayout()
        left.addWidget(self.grid)
        left.addStretch(1)
        row.addLayout(left)
        row.addLayout(self._build_words(), 1)
        column.rows.addLayout(row)
        column.end()

    def _build_words(self) -> QVBoxLayout:
        rows = QVBoxLayout()
        rows.setSpacing(theme.px(4))
        self.about = quiet(wrap=True)
        rows.addWidget(self.about)
        self.words = {key: button(word("patch", key), partial(self._say, key)) for key in PATCH_WORDS}
        for each in self.words.values():
            each.setCheckable(True)
        rows.addLayout(flow(*self.words.values()))
        self.up = button("Further up", lambda: self._end("further-up"))
        self.down = button("Further down", lambda: self._end("further-down"))
        self.untouched = button("Untouched was best", lambda: self._end("none-better"))
        self.give = button("Give it to the take", self._give)
        self.next = button("Plan the next sheet", self._next)
        rows.addLayout(flow(self.down, self.up, self.untouched, self.give, self.next))
        self.black_step, self.white_step = (NumberField(-1, STEPS - 1, 0, "") for _ in range(2))
        wedges: list[QWidget] = [quiet("wedges from")]
        for field, what in ((self.black_step, "black"), (self.white_step, "white")):
            field.setSpecialValueText(what)
            field.setPrefix(f"{what} ")
            field.setAccessibleName(f"First step told from {what}")
            field.setToolTip(f"Number of the first step of the wedge that is told from {what}; its first box is 0")
            field.valueChanged.connect(lambda _v: self._wedges())
            wedges.append(field)
        rows.addLayout(flow(*wedges))
        return rows

    # ---- hands

    @property
    def sheet(self) -> TestSheet | None:
        """The sheet a look is about."""
        return self.session.tested.subject

    def _show_sheet(self, number: int) -> None:
        found = next((s for s in self.session.tested.all if s.id == number), None)
        self.session.testing.look_at(found)

    def _mark_printed(self) -> None:
        if self.sheet is not None:
            self.session.tested.mark_printed(self.sheet)

    def _choose(self, numbers: tuple[int, ...]) -> None:
        sheet = self.sheet
        if sheet is not None:
            self.session.testing.look_at(sheet)
            self.session.tested.choose(sheet, numbers)

    def _say(self, key: str) -> None:
        sheet, at = self.sheet, self._field
        if sheet is not None and at:
            self.session.tested.say(sheet, at, key)

    @property
    def _field(self) -> int:
        """Number of the field words are about: the one pointed at, else the chosen one; 0 for none."""
        sheet, pointed = self.sheet, self.session.testing.pointed
        if sheet is None:
            return 0
        found = pointed if len(pointed) == 1 else sheet.looked.chosen[:1]
        return found[0] if found else 0

    def _end(self, ending: str) -> None:
        sheet = self.sheet
        if sheet is not None:
            self.session.testing.look_at(sheet)
            self.session.tested.end(sheet, ending)

    def _give(self) -> None:
        if self.sheet is not None:
            self.session.tested.apply(self.sheet)

    def _next(self) -> None:
        if self.sheet is None:
            return
        if self.session.tested.next_of(self.sheet).plan is None:
            self.proof_wanted.emit()
        else:
            self.session.tested.take_next(self.sheet)

    def _wedges(self) -> None:
        if self.sheet is not None:
            self.session.tested.see_wedges(self.sheet, round(self.black_step.value()), round(self.white_step.value()))

    # ---- following

    def refresh(self) -> None:
        """Follow the session."""
        session, sheet = self.session, self.sheet
        self._list_sheets()
        shown = sheet is not None and bool(sheet.variants) and sheet.plan.kind != "proof"
        fields = shown and sheet is not None and sheet.plan.kind != "papers"
        for widget in (self.grid, self.black_step, self.white_step, *self.words.values(), self.untouched):
            widget.setEnabled(fields)
        seen = "" if sheet is None else one_black_words(sheet.looked.wedges, self._paper())
        self.dryness.setText(f"{self._dry_words(sheet)} {seen}".strip())
        self.printed.setVisible(sheet is not None and not sheet.printed)
        bracket = fields and sheet is not None and sheet.plan.kind == "bracket"
        for widget in (self.up, self.down):
            widget.setVisible(bracket)
        if bracket and sheet is not None:
            name = sheet.names[0]
            self.up.setText(f"Further: {word('further_up', name)}")
            self.down.setText(f"Further: {word('further_down', name)}")
        self._show_choice(sheet if shown else None)
        page = session.testing.page_of(sheet) if sheet is not None and fields else None
        looked = None if sheet is None else sheet.looked
        said = frozenset() if looked is None else frozenset(s.number for s in looked.said)
        self.grid.show_fields(page, session.testing.pointed, () if looked is None else looked.chosen, said)

    def _list_sheets(self) -> None:
        entries = [(_PLAN, 0)]
        for sheet in self.session.tested.all:
            if sheet.variants:
                title = f"{self.session.testing.number_of(sheet)}: {word('test_kind', sheet.plan.kind)}, {date_words(sheet.when[:10])}"
                entries.append((title, sheet.id))
        if [(self.sheets.itemText(i), self.sheets.itemData(i)) for i in range(self.sheets.count())] != entries:
            self.sheets.blockSignals(True)
            self.sheets.clear()
            for title, number_ in entries:
                self.sheets.addItem(title, number_)
            self.sheets.blockSignals(False)
        show_choice(self.sheets, self.session.testing.looked_at or 0)

    def _dry_words(self, sheet: TestSheet | None) -> str:
        if sheet is None:
            return "No sheet of this take is written yet. Let it dry before you choose, away from the screen."
        tested, condition, now = self.session.tested, self.session.now.condition, datetime.now()
        number_ = self.session.testing.number_of(sheet)
        if wet := tested.wet_until(sheet, now):
            return f"Sheet {number_} dries until {wet} ({tested.dries(sheet, now) * 100:.0f} % done)."
        known = condition is not None and condition.dry_hours > 0
        return f"Sheet {number_} {'is dry' if known else 'may be wet: the card does not say how long it dries'}."

    def _show_choice(self, sheet: TestSheet | None) -> None:
        looked = None if sheet is None else sheet.looked
        at = self._field
        self.about.setText(
            f"A word about field {at}"
            if at
            else "Click the best field, or the gap between two; with Shift a second field"
        )
        for key, each in self.words.items():
            each.setChecked(looked is not None and bool(at) and key in looked.of(at).words)
            each.setEnabled(each.isEnabled() and bool(at))
        self.give.setEnabled(looked is not None and bool(looked.chosen))
        following = None if sheet is None or not sheet.looked.ending else self.session.tested.next_of(sheet)
        self.next.setVisible(following is not None)
        self.next.setText("Small proof…" if following is not None and following.plan is None else "Plan the next sheet")
        self.black_step.show_value(-1 if looked is None else looked.wedges.black)
        self.white_step.show_value(-1 if looked is None else looked.wedges.white)

    def _paper(self) -> str:
        condition = self.session.now.condition
        return "this paper" if condition is None else condition.paper
