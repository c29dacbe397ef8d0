"""Station 3: the print condition."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QHeaderView,
    QLineEdit,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from rehearsal.core.errors import RehearsalError
from rehearsal.desk.parts import Form, button, choice, quiet, show_choice, table
from rehearsal.desk.trays.base import Tray
from rehearsal.tasks.desk_work import new_condition, with_profile
from rehearsal.workbook.values import PrintCondition

_MADE_BY = (("the paper's maker", "maker"), ("ourselves, for this printer", "own"), ("a service, from our chart", "service"),
            ("the lab", "lab"), ("a standard space", "standard"))  # fmt: skip
_HEADS = ("paper", "printer", "contrast", "black", "white", "gamut")


class PaperTray(Tray):
    """The shelf of print conditions with what was measured from their profiles, and the card of the chosen one."""

    def build(self) -> None:
        """Shelf at the left, card at the right."""
        shelf = self.column("Print conditions", 610)
        self._table = table(_HEADS, "Print conditions", 21)
        self._table.horizontalHeader().setStretchLastSection(False)
        self._table.horizontalHeader().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self._table.currentCellChanged.connect(self._on_row)
        shelf.add(self._table)
        shelf.pair(button("Add a profile…", self._add), button("Edit this condition…", self._edit))
        card = self.column("This condition", 300)
        self._card = quiet(wrap=True)
        card.add(self._card)
        card.end()
        notes = self.column("From its profile", 270)
        self._notes = quiet(wrap=True)
        notes.add(self._notes)
        notes.end()
        self._shown: list[PrintCondition] = []

    def _on_row(self, row: int, _column: int, _old: int, _old_column: int) -> None:
        if 0 <= row < len(self._shown):
            self.model.choose_condition(self._shown[row])

    def _add(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(
            self, "Add printer profiles", "/usr/share/color/icc", "Profiles (*.icc *.icm)"
        )
        for name in names:
            self.add_file(name)

    def add_file(self, name: str) -> None:
        """A new condition for a profile file; chosen at once."""
        try:
            kept = self.model.add_condition(new_condition(Path(name)))
        except RehearsalError as error:
            text = error.sentence()
            self.model.said.emit(text[:1].upper() + text[1:] + ".")
            return
        self.model.choose_condition(kept)

    def _edit(self) -> None:
        condition = self.model.condition
        if condition is None:
            return
        dialog = ConditionDialog(condition, self)
        if dialog.exec():
            self.model.change_condition(dialog.value())
            self.model.refresh_road()

    def refresh(self) -> None:
        """Follow the model."""
        self._shown = self.model.conditions
        current = self.model.condition
        with QSignalBlocker(self._table):
            self._table.setRowCount(len(self._shown))
            for row, condition in enumerate(self._shown):
                for column, text in enumerate(self._cells(condition)):
                    item = QTableWidgetItem(text)
                    item.setToolTip(condition.name)
                    self._table.setItem(row, column, item)
                if current is not None and condition.id == current.id:
                    self._table.setCurrentCell(row, 0)
        if current is not None:
            self._card.setText(_card_text(current))
            self._notes.setText(self._profile_text(current))

    def _cells(self, condition: PrintCondition) -> tuple[str, ...]:
        own = ", own profile" if condition.made_by == "own" else ""
        facts = self.model.facts.get(condition.id)
        if facts is None:
            return condition.paper + own, condition.printer, "measuring…", "", "", ""
        if "error" in facts:
            return condition.paper + own, condition.printer, "profile missing", "", "", ""
        if facts["contrast"] > 10000:
            return condition.paper, "", "no paper", "", "", f"{facts['volume'] / 1000:.0f} 000"
        white, black = facts["white"], facts["black"]
        return (
            condition.paper + own, condition.printer, f"{facts['contrast']:.0f} : 1", f"L* {black[0]:.1f}",
            f"L* {white[0]:.1f}, b* {white[2]:+.1f}", f"{facts['volume'] / 1000:.0f} 000 Lab³",
        )  # fmt: skip

    def _profile_text(self, condition: PrintCondition) -> str:
        facts = self.model.facts.get(condition.id)
        if facts is None:
            return "Measuring…"
        if "error" in facts:
            return f"{facts['error']}\nEdit this condition to choose the profile again."
        drift = facts["drift"]
        lines = [
            f"Intents with a table: {', '.join(facts['intents'])}",
            f"Dmax {facts['dmax']:.2f}, table noise ΔE₀₀ {facts['noise']:.2f}",
            f"Neutral ramp drifts by chroma {drift[0]:.1f} at L* {drift[1]:.0f}",
        ]
        lines += [w[:1].upper() + w[1:] + "." for w in facts["warnings"]] or ["Nothing odd found."]
        if condition.profile_path.startswith("space:") or facts["contrast"] > 10000:
            lines = [
                "A working space as destination: this shows what the space cuts off, not ink and paper.",
                *lines[3:4],
            ]
        return "\n".join(lines)


def _card_text(c: PrintCondition) -> str:
    rows = (
        ("media setting", c.media_setting), ("preset", c.preset), ("panel", c.panel_setting), ("quality", c.quality),
        ("ink", c.ink), ("gloss coat", c.gloss_coat), ("feed", c.feed),
        ("margins", "" if not c.printer else "{:.0f}, {:.0f}, {:.0f}, {:.0f} mm".format(*c.margins_mm)),
        ("borderless", "allowed" if c.borderless else "no" if c.printer else ""),
        ("intent", c.default_intent + (", as the lab prescribes" if c.prescribed else ", by habit")), ("notes", c.notes),
    )  # fmt: skip
    return "\n".join(f"{label}: {value}" for label, value in rows if value)


class ConditionDialog(QDialog):
    """All fields of a print condition."""

    def __init__(self, condition: PrintCondition, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._condition = condition
        self.setWindowTitle("Print condition")
        self.setMinimumWidth(560)
        rows = QVBoxLayout(self)
        form = Form()
        rows.addLayout(form)
        self._lines: dict[str, QLineEdit] = {}
        for name, label in (
            ("paper", "Paper"), ("printer", "Printer"), ("media_setting", "Driver's media setting"), ("preset", "Preset"),
            ("panel_setting", "Setting on the printer's panel"), ("quality", "Quality"), ("ink", "Ink"),
            ("gloss_coat", "Gloss coat"), ("high_speed", "High speed or direction"), ("feed", "Feed"),
            ("loading", "Loading steps"), ("notes", "Notes"),
        ):  # fmt: skip
            self._lines[name] = QLineEdit(getattr(condition, name))
            form.row(label, self._lines[name])
        self._margins = QLineEdit(", ".join(f"{m:g}" for m in condition.margins_mm))
        form.row("Unprintable margins, mm (top, right, bottom, left)", self._margins)
        self._intent = choice([(n, n) for n in ("relative", "perceptual", "saturation", "absolute")])
        show_choice(self._intent, condition.default_intent)
        form.row("Default intent", self._intent)
        self._made_by: QComboBox = choice(list(_MADE_BY))
        show_choice(self._made_by, condition.made_by)
        form.row("Profile made by", self._made_by)
        self._checks = {
            name: QCheckBox(text) for name, text in (
                ("default_compensate", "black point compensation"), ("prescribed", "the lab prescribes this intent"),
                ("borderless", "the paper may be printed borderless"),
            )
        }  # fmt: skip
        for name, box in self._checks.items():
            box.setChecked(getattr(condition, name))
            rows.addWidget(box)
        rows.addWidget(button("Choose another profile file…", self._choose))
        buttons = QDialogButtonBox()
        buttons.addButton("Keep", QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.addButton("Leave as it was", QDialogButtonBox.ButtonRole.RejectRole)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        rows.addWidget(buttons)

    def _choose(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Choose a printer profile", "", "Profiles (*.icc *.icm)")
        if path:
            try:
                self._condition = with_profile(self._condition, Path(path))
            except RehearsalError as error:
                from PyQt6.QtWidgets import QMessageBox

                QMessageBox.information(self, "Print condition", error.sentence())

    def value(self) -> PrintCondition:
        """The condition as edited."""
        margins = self._condition.margins_mm
        parts = [p for p in self._margins.text().replace(";", ",").split(",") if p.strip()]
        if len(parts) == 4:
            try:
                top, right, bottom, left = (float(p) for p in parts)
                margins = (top, right, bottom, left)
            except ValueError:
                pass
        texts: dict[str, Any] = {name: line.text().strip() for name, line in self._lines.items()}
        checks: dict[str, Any] = {name: box.isChecked() for name, box in self._checks.items()}
        return replace(
            self._condition, margins_mm=margins, default_intent=self._intent.currentData(),
            made_by=self._made_by.currentData(), **texts, **checks,
        )  # fmt: skip
