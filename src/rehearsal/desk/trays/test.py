"""Station 6: a test sheet before the large print."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QGridLayout

from rehearsal.core.sheet.layout import SHEETS
from rehearsal.core.testsheets.families import STRENGTH
from rehearsal.core.testsheets.variants import LEAST, MOST, stepped
from rehearsal.core.testsheets.visiblestep import Bracket
from rehearsal.core.testsheets.words import plan_words
from rehearsal.core.tuning.summing import origin_words, step_words
from rehearsal.core.values.adjustments import ADJUSTMENTS, Adjustment
from rehearsal.core.values.testplan import KINDS, LAYOUTS, MOST_PIECES
from rehearsal.core.values.words import in_row, word
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import dress
from rehearsal.desk.parts.kindcard import Choices, Members, MiniCard
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.stepline import StepLine
from rehearsal.desk.parts.widgets import Form, button, choice, quiet, show_choice
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.testlook import LookColumn
from rehearsal.tasks.testsheets import WorkedOut

#: What a step by hand is counted in, by the control's unit.
_UNITS = {"stop": " × ⅙ stop", "percent": " %", "mired": " mired", "lightness": " L*"}
_SHORT = {"stop": "{:+.2f} stop", "percent": "{:+.0f} %", "mired": "{:+.0f} mired", "lightness": "{:+.0f} L*"}
_BY_HAND = "by hand"
#: What some kinds are, where there is nothing else to say.
_ABOUT = {
    "papers": "Small on A4 or less, 1 cm round it; each with its own profile and intent, a file and a ticket each.",
    "takes": "Each take as it is, on this paper.",
    "mixed": "Untouched, a curve in three strengths, contrast less and more, a stop less and more, and black.",
    "sharpening": "What the paper takes, given back by none, half, all and half more of it.",
    "renderings": "The take in each rendering that differs on this paper.",
}


class TestTray(Tray):
    """The kind of sheet, its steps, the piece, how it lies; then what the dry sheet shows."""

    __test__ = False
    follows = (
        "take",
        "picture",
        "test_sheets",
        "test_plan",
        "test_point",
        "test_look",
        "conditions",
        "takes",
        "judgement",
    )

    def build(self) -> None:
        """Columns in the order of use."""
        self._build_kinds()
        self._build_steps()
        self._build_piece()
        self._build_sheet()
        look = self.column("After drying", 340, 1, about=("test-looked", "test-printed", "variant"))
        self.look = LookColumn(self.session, look)
        self.look.proof_wanted.connect(self.small_proof)

    # ---- columns

    def _build_kinds(self) -> None:
        column = self.column("Kind", 232)
        grid = QGridLayout()
        grid.setSpacing(theme.px(5))
        self.kinds = {key: MiniCard(key, word("test_kind", key)) for key in KINDS}
        for i, (key, card) in enumerate(self.kinds.items()):
            card.clicked.connect(lambda _on=False, k=key: self.session.testing.wish(kind=k))
            grid.addWidget(card, i % 4, i // 4)
        column.rows.addLayout(grid)
        self._order = quiet(wrap=True)
        column.add(self._order)
        column.end()

    def _build_steps(self) -> None:
        column = self.column("Steps", 196)
        testing = self.session.testing
        form = self._form = Form()
        controls = [(word("adjustment_short", each.name), each.name) for each in stepped()]
        self._first, self._second = choice(controls), choice(controls)
        self._first.activated.connect(lambda _i: testing.wish(first=self._first.currentData()))
        self._second.activated.connect(lambda _i: testing.wish(second=self._second.currentData()))
        self._step_of = choice([])
        self._step_of.activated.connect(lambda _i: testing.wish(step_number=self._step_of.currentData()))
        form.row("across", self._first)
        form.row("down", self._second)
        form.row("step", self._step_of)
        self._count = NumberField(LEAST, MOST, 0, "")
        self._count.valueChanged.connect(lambda v: testing.wish(count=round(v)))
        form.row("fields, at most", self._count)
        column.rows.addLayout(form)
        self._apart = Choices("Visible steps apart", (("½", 0.5), ("1", 1.0), ("2", 2.0), (_BY_HAND, 0.0)))
        self._apart.setToolTip(
            "1 step: neighbours differ by a median ΔE₀₀ of 1.5 over what the control moves in this piece"
        )
        self._apart.chosen.connect(self._take_apart)
        self._apart_words = quiet("visible steps apart")
        column.add(self._apart_words)
        column.add(self._apart)
        self._by_hand = NumberField(1, 25, 0, "")
        self._by_hand.setAccessibleName("Step by hand")
        self._by_hand.valueChanged.connect(lambda v: testing.wish(step=v * self._stepped().test_unit))
        column.add(self._by_hand)
        self.lines = StepLine(), StepLine()
        for line in self.lines:
            column.add(line)
        self._said = quiet(wrap=True)
        column.add(self._said)
        self.members = Members("On the sheet")
        self.members.toggled.connect(self._toggle_member)
        column.add(self.members)
        column.end()

    def _build_piece(self) -> None:
        column = self.column("Piece", 128)
        testing = self.session.testing
        self._many = Choices("Pieces", tuple((str(n), n) for n in range(1, MOST_PIECES + 1)))
        self._many.chosen.connect(lambda n: testing.wish(many=n, whole=False))
        column.add(self._many)
        self._covered = quiet(wrap=True)
        column.add(self._covered)
        tip = "The one that shows most tones and areas"
        self._offered = button("Offer a piece", lambda: testing.wish(pieces=(), whole=False), tip)
        self._whole = button("Whole picture", lambda: testing.wish(whole=not testing.plan.whole, pieces=()))
        self._whole.setCheckable(True)
        column.add(self._offered)
        column.add(self._whole)
        column.end()

    def _build_sheet(self) -> None:
        column = self.column("On the sheet", 148, about=("test-sheet",))
        testing = self.session.testing
        self.layouts = {key: MiniCard(key, key.replace("x", " × "), on_paper=True) for key in LAYOUTS}
        for key, card in self.layouts.items():
            card.clicked.connect(lambda _on=False, k=key: testing.wish(layout=k if testing.plan.layout != k else ""))
            column.add(card)
        self._sheet = choice([("smallest sheet", ""), *((name, name) for name in SHEETS)])
        self._sheet.setAccessibleName("Sheet")
        self._sheet.activated.connect(lambda _i: testing.wish(sheet=self._sheet.currentData()))
        column.add(self._sheet)
        self.write_button = button("Write the sheet…", self._write)
        self.write_button.setProperty("advice", True)
        column.add(self.write_button)
        self.print_button = button(
            "Print the sheet", self.session.tested.send, "At the take's queue, every setting named"
        )
        column.add(self.print_button)
        self.proof_button = button(
            "Small proof…", self.small_proof, "Shift+P: the whole picture on A4 or less, marked a proof"
        )
        column.add(self.proof_button)
        column.end()

    # ---- hands

    def _stepped(self) -> Adjustment:
        return ADJUSTMENTS[self.session.testing.plan.first]

    def _take_apart(self, apart: object) -> None:
        if apart:
            self.session.testing.wish(apart=apart, step=0.0)
        else:
            self.session.testing.wish(step=self._stepped().test_step)

    def _toggle_member(self, number_: int) -> None:
        """Take a take, or a paper, off the sheet, or put it back."""
        testing = self.session.testing
        every = [n for n, _name in testing.candidates]
        chosen = set(testing.plan.members or every) ^ {number_}
        if len(chosen) > 1:
            testing.wish(members=() if chosen == set(every) else tuple(n for n in every if n in chosen))
        else:
            self.refresh()

    def _write(self) -> None:
        testing = self.session.testing
        if testing.plan.kind == "papers":
            folder = QFileDialog.getExistingDirectory(self, "Write the picture on each paper into", str(Path.home()))
            if folder:
                self.session.tested.write_papers(Path(folder))
            return
        path = self._asked("Write the test sheet", testing.suggested_name())
        if path is not None:
            self.write_to(path)

    def write_to(self, path: Path) -> None:
        """Write the planned sheet in the background."""
        self.session.tested.write(path)

    def small_proof(self) -> None:
        """Ask where the small proof of the whole goes, and write it."""
        path = self._asked("Write the small proof", self.session.testing.suggested_name().replace("_test_", "_proof_"))
        if path is not None:
            self.session.tested.small_proof(path)

    def _asked(self, title: str, name: str) -> Path | None:
        if self.session.now.condition is None or self.session.now.picture is None:
            return None
        path, _ = QFileDialog.getSaveFileName(self, title, str(Path.home() / name), "TIFF (*.tif)")
        return Path(path) if path else None

    # ---- following

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        dress(room, (*self.kinds.values(), *self.layouts.values(), *self.lines, self.look.grid))

    def refresh(self) -> None:
        """Follow the session."""
        testing = self.session.testing
        for key, card in self.kinds.items():
            card.setChecked(key == testing.plan.kind)
        made = testing.made
        self._show_steps(made)
        self._show_piece(made)
        self._show_sheet(made)
        self._order.setText(self._order_words())
        self.look.refresh()

    def _order_words(self) -> str:
        """Where the take stands in the usual order: papers small, fields, a small proof of the whole, the large sheet."""
        settled = self.session.tested.settled()
        if settled and self.session.testing.plan.first in settled:
            names = in_row([word("adjustment_short", n) for n in sorted(settled)])
            return f"Settled: {names}. Next: {word('adjustment_short', self.session.tested.offered_control())}, or a small proof."
        done = [s.plan.kind for s in self.session.tested.all if s.variants]
        if not done:
            return "Usual order: papers small, one control, a small proof of the whole, the large sheet."
        if done[-1] == "papers":
            return "Next: one control on the paper that was chosen."
        return "Next: the large sheet." if done[-1] == "proof" else "Next: choose when it is dry, then a small proof."

    def _show_steps(self, made: WorkedOut | None) -> None:
        plan = self.session.testing.plan
        show_choice(self._first, plan.first)
        show_choice(self._second, plan.second)
        self._count.show_value(plan.count)
        self._show_step_names()
        candidates = self.session.testing.candidates
        self.members.show_members(candidates, plan.members or tuple(n for n, _name in candidates))
        kind = plan.kind
        rows = (
            ("across", self._first, ("bracket", "two")), ("down", self._second, ("two",)), ("step", self._step_of, ("strength",)),
            ("fields, at most", self._count, ("bracket", "strength")),
        )  # fmt: skip
        for name, field, kinds in rows:
            self._form.labels[name].setVisible(kind in kinds)
            field.setVisible(kind in kinds)
        self._form.labels["across"].setText("across" if kind == "two" else "control")
        for each in (self._apart, self._apart_words):
            each.setVisible(kind in ("bracket", "two", "strength"))
        self._apart.buttons[3][0].setVisible(kind == "bracket")
        self._apart.show_value(0.0 if plan.step else plan.apart)
        self._by_hand.setVisible(kind == "bracket" and bool(plan.step))
        self._by_hand.show_value((plan.step or self._stepped().test_step) / self._stepped().test_unit)
        self._by_hand.setSuffix(_UNITS.get(self._stepped().unit, ""))
        planned = None if made is None else made.planned
        brackets = () if planned is None or planned.problem else planned.brackets
        for i, line in enumerate(self.lines):
            line.setVisible(i < len(brackets))
            if i < len(brackets):
                line.show_values(*_on_line(brackets[i]))
        coming = "Working out the steps…" if self.session.now.opened is not None else "The picture is not there yet."
        trouble = self.session.testing.trouble
        said = coming if planned is None else plan_words(planned) or _ABOUT.get(kind, "")
        self._said.setText(trouble.words() if trouble is not None else said)

    def _show_step_names(self) -> None:
        take = self.session.now.take
        steps = () if take is None else take.recipe.steps
        names = [f"{origin_words(s)}: {step_words(s)}" for s in steps]
        if [self._step_of.itemText(i) for i in range(self._step_of.count())] != names:
            self._step_of.clear()
            for i, name in enumerate(names):
                self._step_of.addItem(name, i)
        at = self.session.testing.plan.step_number
        show_choice(self._step_of, at % len(steps) if steps else -1)

    def _show_piece(self, made: WorkedOut | None) -> None:
        plan = self.session.testing.plan
        self._many.show_value(0 if plan.whole else plan.many)
        self._whole.setChecked(plan.whole)
        self._offered.setEnabled(bool(plan.pieces) or plan.whole)
        for each in (self._many, self._offered, self._whole):
            each.setVisible(plan.kind != "papers")
        self._covered.setText(_covered_words(made))

    def _show_sheet(self, made: WorkedOut | None) -> None:
        plan, page = self.session.testing.plan, None if made is None else made.page
        for key, card in self.layouts.items():
            card.setChecked(page is not None and page.layout == key)
            mine = page if page is not None and page.layout == key else None
            card.say_under("" if mine is None else f"{mine.name}, {mine.piece[0]:.0f} × {mine.piece[1]:.0f} mm")
            card.setVisible(plan.kind != "papers")
        show_choice(self._sheet, plan.sheet)
        self._sheet.setVisible(plan.kind != "papers")
        printed = self.session.testing.sheet is not None
        self.write_button.setEnabled(made is not None and made.planned.is_ready and not printed)
        self.write_button.setText("Write all papers…" if plan.kind == "papers" else "Write the sheet…")
        self.print_button.setVisible(bool(self.session.tested.queue) and plan.kind != "papers")
        self.print_button.setEnabled(self.write_button.isEnabled())
        self.proof_button.setEnabled(self.session.now.opened is not None)


def _on_line(made: Bracket) -> tuple[tuple[str, ...], int, tuple[float, ...]]:
    """Values of a bracket as they stand on a line: what they add to the untouched one."""
    unit = "" if made.name == STRENGTH else ADJUSTMENTS[made.name].unit
    words = tuple(
        f"{v * 100:.0f} %" if made.name == STRENGTH else "0" if v == made.untouched
        else _SHORT.get(unit, "{:+.0f}").format(v - made.untouched).replace("-", "−")
        for v in made.values
    )  # fmt: skip
    middle = made.values.index(made.untouched) if made.untouched in made.values else -1
    return words, middle, made.differences


def _covered_words(made: WorkedOut | None) -> str:
    """What the pieces show, or at what scale the whole lies there."""
    if made is None or made.page is None:
        return ""
    small = " Too small to compare: take a larger sheet." if made.small else ""
    if made.covered is None and made.pieces:
        return "At the print's own size."
    if made.covered is None:
        return f"The whole picture, at {made.scale * 100:.0f} % of the print.{small}"
    c = made.covered
    areas = f", {c.areas} of {c.of_areas} areas beyond the paper" if c.of_areas else ""
    return f"At the print's own size: {c.tones} of {c.of_tones} tenths of the tones{areas}.{small}"
