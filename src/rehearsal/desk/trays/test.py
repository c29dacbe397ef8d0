"""Station 6: a test sheet before the large print."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from rehearsal.core.sheet.layout import SHEETS
from rehearsal.core.sheet.testsheet import LEAST, MOST, Variant, stepped
from rehearsal.core.sheet.visiblestep import Bracket, bracket_words
from rehearsal.core.values.adjustments import ADJUSTMENTS, Adjustment, Values
from rehearsal.core.values.words import date_words, values_words, word
from rehearsal.desk.parts.widgets import Form, button, choice, number, quiet, show_choice, show_number
from rehearsal.desk.trays.base import Tray
from rehearsal.workbook.values import TestSheet

#: What a step by hand is counted in, by the control's unit.
_UNITS = {"stop": " × ⅙ stop", "percent": " %", "mired": " mired", "lightness": " L*"}
_BY_EYE, _BY_HAND = "visible steps", "a step of"


class TestTray(Tray):
    """Which adjustment to step, by how much; write the sheet; apply what won."""

    __test__ = False
    follows = ("take", "picture", "test_sheets", "test_plan")

    def build(self) -> None:
        """Columns: what to try, the variants, the winner."""
        column = self.column("What to try", 280)
        form = Form()
        self._what = choice([(word("adjustment_short", each.name), each.name) for each in stepped()])
        self._what.activated.connect(lambda _i: self.session.testing.wish(self._what.currentData(), step=self._asked()))
        form.row("Try", self._what)
        self._by = choice([(_BY_EYE, False), (_BY_HAND, True)])
        self._by.setToolTip(
            "Visible: neighbours differ by a median ΔE₀₀ of 1.5 over what the control moves in this picture"
        )
        self._by.activated.connect(lambda _i: self.session.testing.wish(step=self._asked()))
        form.row("By", self._by)
        self._step = number(1, 25, 0, "")
        self._step.setAccessibleName("Step by hand")
        self._step.valueChanged.connect(lambda v: self.session.testing.wish(step=v * self._stepped().test_unit))
        form.row("", self._step)
        self._count = number(LEAST, MOST, 0, "")
        self._count.valueChanged.connect(lambda v: self.session.testing.wish(count=round(v)))
        form.row("Variants, at most", self._count)
        self._sheet = choice([(name, name) for name in SHEETS])
        show_choice(self._sheet, "A4")
        form.row("Sheet", self._sheet)
        column.rows.addLayout(form)
        self._write_button = button("Write the test sheet…", self._write)
        column.pair(self._write_button)
        column.end()
        shown = self.column("Variants on the sheet", 330, 1)
        self._list = quiet(wrap=True)
        shown.add(self._list)
        self._said = quiet(wrap=True)
        shown.add(self._said)
        shown.end()
        won = self.column("After drying, in the light it will hang in", 330, about=("test-sheet",))
        self._winner = number(1, MOST, 1, "", 0.5)
        form = Form()
        form.row("Best variant (3.5 is between two)", self._winner)
        won.rows.addLayout(form)
        self._apply_button = button("Apply this variant", self._apply)
        won.pair(self._apply_button, button("None is better", self._none))
        self._printed = quiet(wrap=True)
        won.add(self._printed)
        won.end()

    def _stepped(self) -> Adjustment:
        return ADJUSTMENTS[self._what.currentData()]

    def _asked(self) -> float:
        """The step asked for in the control's own unit; 0 for visible steps. The usual one when it is first asked for."""
        return self._stepped().test_step if self._by.currentData() else 0.0

    def refresh(self) -> None:
        """Follow the session."""
        plan = self.session.testing
        show_choice(self._what, plan.name)
        show_choice(self._by, bool(plan.step))
        show_number(self._step, (plan.step or self._stepped().test_step) / self._stepped().test_unit)
        self._step.setEnabled(bool(plan.step))
        self._step.setSuffix(_UNITS.get(self._stepped().unit, ""))
        show_number(self._count, plan.count)
        made = plan.planned
        self._list.setText("\n".join(_label(v, made) for v in plan.variants))
        coming = "Working out the steps…" if self.session.now.opened is not None else "The picture is not there yet."
        self._said.setText(coming if made is None else bracket_words(made, plan.count))
        self._write_button.setEnabled(made is not None and len(made.values) > 1)
        sheet = self.session.printing.test_sheet
        printed = sheet is not None and bool(sheet.values)
        self._apply_button.setEnabled(printed)
        self._winner.setMaximum(len(sheet.values) if sheet is not None and printed else MOST)
        first = "Write and print a test sheet first." if sheet is None or not printed else printed_words(sheet)
        dry = "Let the sheet dry before you choose. The black patch shows how deep this paper goes."
        self._printed.setText(f"{first}\n{dry}")

    def _write(self) -> None:
        condition, picture = self.session.now.condition, self.session.now.picture
        if condition is None or picture is None:
            return
        name = f"{Path(picture.picture.info.path).stem}_test_{condition.paper}.tif".replace(" ", "-")
        path, _ = QFileDialog.getSaveFileName(self, "Write the test sheet", str(Path.home() / name), "TIFF (*.tif)")
        if path:
            self.write_to(Path(path))

    def write_to(self, path: Path) -> None:
        """Write the sheet in the background."""
        made = self.session.testing.planned
        if made is not None:
            self.session.printing.write_test_sheet(made.name, made.values, self._sheet.currentData(), path)

    def _apply(self) -> None:
        sheet = self.session.printing.test_sheet
        value = self.session.printing.apply_variant(self._winner.value())
        if sheet is None or value is None:
            return
        each = ADJUSTMENTS[sheet.adjustment]
        name, unit = word("adjustment_short", each.name).capitalize(), each.test_unit
        self.session.bus.say(f"{name} set to {value / unit:+.0f} (of {each.low / unit:.0f} to {each.high / unit:.0f}).")

    def _none(self) -> None:
        self.session.bus.say("Nothing changed: the take stays as it was.")


def _label(variant: Variant, made: Bracket | None) -> str:
    here = made is not None and variant.recipe.total[made.name] == made.untouched
    return f"{variant.label}, as it is now" if here and not variant.label.endswith("untouched") else variant.label


def printed_words(sheet: TestSheet) -> str:
    """What the variants of a written test sheet were printed with."""
    name = sheet.adjustment
    values = [Values.of({name: v}) for v in sheet.values]
    first, last = ("; ".join(values_words(v)) or "0" for v in (values[0], values[-1]))
    return f"On the sheet of {date_words(sheet.when)}: {len(values)} variants from {first} to {last}."
