"""Where the printer really puts a page: the sheet of crosses, and the distances measured on it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QGridLayout, QLabel

from rehearsal.core.sheet.trueplace import ASKED, NEEDED, planned, true_place_words
from rehearsal.desk import theme
from rehearsal.desk.boards.pageoptions import Panel
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.widgets import button, quiet

_SHEET = "A4"


class TruePlacePanel(Panel):
    """Eight distances, four of which are enough."""

    def build(self) -> None:
        """Words, fields in two columns, what is done with them."""
        self.known = quiet("", wrap=True)
        self.lines.addWidget(self.known)
        grid = QGridLayout()
        grid.setHorizontalSpacing(theme.px(6))
        grid.setVerticalSpacing(theme.px(3))
        self.fields = {}
        for i, (corner, edge) in enumerate(ASKED):
            field = NumberField(0, 2000, 1, "mm", 0.1)
            field.setSpecialValueText("–" if i >= NEEDED else "measure")
            field.setFixedWidth(theme.px(78))
            field.setAccessibleName(f"{corner} cross to the {edge}")
            self.fields[corner, edge] = field
            row, column = i % NEEDED, 2 * (i // NEEDED)
            label = QLabel(f"{i + 1}  {corner} → {edge}")
            label.setProperty("quiet", True)
            grid.addWidget(label, row, column)
            grid.addWidget(field, row, column + 1)
        grid.setColumnStretch(4, 1)
        self.lines.addLayout(grid)
        self.forget = button(
            "Forget it", self.session.sheets.forget_true_place, "Pages are sent as they are planned again"
        )
        self.line(
            button("Write the sheet of crosses…", self._write, "A4, to be printed like a picture: unscaled, same tray and paper"),
            button("Keep what was measured", self.keep), self.forget,
        )  # fmt: skip

    def _write(self) -> None:
        path, _ = QFileDialog.getSaveFileName(
            self, "Write the sheet of crosses", str(Path.home() / "crosses.pdf"), "PDF (*.pdf)"
        )
        if path:
            self.session.printing.write_crosses(Path(path), _SHEET)

    def keep(self) -> None:
        """With the paper's card."""
        measured = {ask: field.value() for ask, field in self.fields.items() if field.value() > 0}
        self.session.sheets.keep_true_place(_SHEET, measured)

    def refresh(self) -> None:
        """What is known; what each distance would be on a printer without fault, as a hint."""
        condition = self.session.now.condition
        if condition is None:
            return
        width, height, at = self.session.sheets.cross_places(condition, _SHEET)
        for ask, mm in planned(width, height, at).items():
            self.fields[ask].setToolTip(f"planned: {mm:.1f} mm")
        place = condition.true_place
        if place is None:
            self.known.setText(
                "Print the sheet of crosses on this paper from its tray, then measure 1 to 4; 5 to 8 tell the doubt."
            )
        else:
            doubt = f" In doubt by {place.doubt:.2f} mm." if place.doubt else ""
            self.known.setText(f"{true_place_words(place)}{doubt}")
        self.forget.setEnabled(place is not None)
