"""Station 6: a test sheet before the large print."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from rehearsal.core.sheet.layout import SHEETS
from rehearsal.core.sheet.testsheet import STEPS, variants
from rehearsal.core.tuning.values import RANGES
from rehearsal.desk.parts import Form, button, choice, number, quiet, show_choice, show_number
from rehearsal.desk.trays.base import Tray
from rehearsal.tasks.printing import write_test_sheet


class TestTray(Tray):
    """Which adjustment to step, by how much; write the sheet; apply what won."""

    __test__ = False

    def build(self) -> None:
        """Columns: what to try, the variants, the winner."""
        column = self.column("What to try", 280)
        form = Form()
        self._what = choice([(label, name) for name, (label, _step) in STEPS.items()])
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
        shown = self.column("Variants on the sheet", 330)
        self._list = quiet(wrap=True)
        shown.add(self._list)
        shown.end()
        won = self.column("After drying, in the light it will hang in", 330)
        self._winner = number(1, 6, 1, "", 0.5)
        form = Form()
        form.row("Best variant (3.5 is between two)", self._winner)
        won.rows.addLayout(form)
        won.pair(button("Apply this variant", self._apply), button("None is better", self._none))
        won.add(
            quiet("Let the sheet dry before you choose. The black patch shows how deep this paper goes.", wrap=True)
        )
        won.end()
        self._choose_what()

    def _choose_what(self) -> None:
        show_number(self._step, STEPS[self._what.currentData()][1])
        self.refresh()

    def _variants(self) -> list:  # type: ignore[type-arg]
        take = self.model.take
        return variants(take.tuning, self._what.currentData(), self._step.value()) if take else []

    def refresh(self) -> None:
        """Follow the model."""
        if hasattr(self, "_list"):
            self._list.setText("\n".join(v.label for v in self._variants()))

    def _write(self) -> None:
        take, condition, loaded = self.model.take, self.model.condition, self.model.loaded
        if take is None or condition is None or loaded is None:
            return
        name = f"{Path(loaded.picture.info.path).stem}_test_{condition.paper}.tif".replace(" ", "-")
        path, _ = QFileDialog.getSaveFileName(self, "Write the test sheet", str(Path.home() / name), "TIFF (*.tif)")
        if path:
            self.write_to(Path(path))

    def write_to(self, path: Path) -> None:
        """Write the sheet in the background."""
        take, loaded, setup = self.model.take, self.model.loaded, self.model.setup()
        if take is None or loaded is None or setup is None:
            return
        patches, sheet = self._variants(), self._sheet.currentData()

        def done(_result: object) -> None:
            tests = [*(self.model.workbook.setting("tests") or []), f"test {take.id}"]
            self.model.workbook.set_setting("tests", tests)
            self.model.said.emit(f"Test sheet written: {path}")
            self.model.lists_changed.emit()

        self.model.jobs.run(
            "write", lambda p: write_test_sheet(loaded, take, setup.paper, sheet, patches, path, p), done
        )

    def _apply(self) -> None:
        take = self.model.take
        patches = self._variants()
        if take is None or not patches:
            return
        name, place = self._what.currentData(), self._winner.value() - 1
        low, high = int(place), min(int(place) + 1, len(patches) - 1)
        part = place - low
        value = (1 - part) * getattr(patches[low].tuning, name) + part * getattr(patches[high].tuning, name)
        self.model.change(tuning=take.tuning.with_value(name, value))
        limits = RANGES[name]
        self.model.said.emit(
            f"{STEPS[name][0].capitalize()} set to {value:+.0f} (of {limits[0]:.0f} to {limits[1]:.0f})."
        )

    def _none(self) -> None:
        self.model.said.emit("Nothing changed: the take stays as it was.")
