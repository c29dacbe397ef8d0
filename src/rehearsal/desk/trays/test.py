"""Station 6: a test sheet before the large print."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from rehearsal.core.sheet.layout import SHEETS
from rehearsal.core.sheet.testsheet import COUNT, Variant, stepped, variants
from rehearsal.core.values.adjustments import ADJUSTMENTS, Adjustment, Values
from rehearsal.core.values.words import date_words, values_words, word
from rehearsal.desk.parts.widgets import Form, button, choice, number, quiet, show_choice, show_number
from rehearsal.desk.trays.base import Tray
from rehearsal.workbook.values import TestSheet


class TestTray(Tray):
    """Which adjustment to step, by how much; write the sheet; apply what won."""

    __test__ = False
    follows = ("take", "test_sheets")

    def build(self) -> None:
        """Columns: what to try, the variants, the winner."""
        column = self.column("What to try", 280)
        form = Form()
        self._what = choice([(word("adjustment_short", each.name), each.name) for each in stepped()])
        self._what.activated.connect(self._choose_what)
        form.row("Step", self._what)
        self._step = number(1, 25, 0, "")
        self._step.valueChanged.connect(lambda _v: self.refresh())
        form.row("By", self._step)
        self._sheet = choice([(name, name) for name in SHEETS])
        show_choice(self._sheet, "A4")
        form.row("Sheet", self._sheet)
        column.rows.addLayout(form)
        column.pair(button("Write the test sheet…", self._write))
        column.end()
        shown = self.column("Variants on the sheet", 330, 1)
        self._list = quiet(wrap=True)
        shown.add(self._list)
        shown.end()
        won = self.column("After drying, in the light it will hang in", 330, about=("test-sheet",))
        self._winner = number(1, COUNT, 1, "", 0.5)
        form = Form()
        form.row("Best variant (3.5 is between two)", self._winner)
        won.rows.addLayout(form)
        self._apply_button = button("Apply this variant", self._apply)
        won.pair(self._apply_button, button("None is better", self._none))
        self._printed = quiet(wrap=True)
        won.add(self._printed)
        won.end()
        self._choose_what()

    def _stepped(self) -> Adjustment:
        return ADJUSTMENTS[self._what.currentData()]

    def _choose_what(self) -> None:
        each = self._stepped()
        show_number(self._step, each.test_step / each.test_unit)
        self.refresh()

    def _variants(self) -> list[Variant]:
        take, each = self.session.now.take, self._stepped()
        return variants(take.recipe, each.name, self._step.value() * each.test_unit) if take else []

    def refresh(self) -> None:
        """Follow the session."""
        if not hasattr(self, "_printed"):
            return
        self._list.setText("\n".join(v.label for v in self._variants()))
        sheet = self.session.printing.test_sheet
        printed = sheet is not None and bool(sheet.values)
        self._apply_button.setEnabled(printed)
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
        each = self._stepped()
        step = self._step.value() * each.test_unit
        self.session.printing.write_test_sheet(each.name, step, self._sheet.currentData(), path)

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


def printed_words(sheet: TestSheet) -> str:
    """What the variants of a written test sheet were printed with."""
    name = sheet.adjustment
    values = [Values.of({name: v}) for v in sheet.values]
    first, last = ("; ".join(values_words(v)) or "0" for v in (values[0], values[-1]))
    return f"On the sheet of {date_words(sheet.when)}: {len(values)} variants from {first} to {last}."
