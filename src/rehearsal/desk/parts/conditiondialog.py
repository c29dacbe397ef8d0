"""All fields of a print condition, with suggestions."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMessageBox,
    QVBoxLayout,
    QWidget,
)

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.condition import PrintCondition
from rehearsal.desk.parts.widgets import Form, button, choice, keep_or_leave, quiet, show_choice
from rehearsal.session.session import Session
from rehearsal.tasks.conditions import with_profile

MADE_BY = (("nobody has said", ""), ("the paper's maker", "maker"),
           ("ourselves, for this printer", "own"), ("a service, from our chart", "service"),
           ("the lab", "lab"), ("a standard space", "standard"))  # fmt: skip
#: Suggestions per field, all common words of the trade; anything else can be typed.
SUGGESTIONS: dict[str, tuple[str, ...]] = {
    "media_setting": ("Photo gloss", "Photo semi-gloss", "Photo lustre", "Baryta", "Matte", "Fine art", "Fine art, smooth",
                      "Fine art, textured", "Canvas"),
    "quality": ("Standard", "High", "One below the highest", "Highest"),
    "resolution": ("720 dpi", "1440 dpi", "2880 dpi", "600 dpi", "1200 dpi", "2400 dpi"),
    "ink": ("matte black", "photo black"),
    "black_mode": ("matte", "photo", "photo, carbon-rich"),
    "gloss_coat": ("none", "automatic", "full", "only on ink"),
    "high_speed": ("off", "on, both directions"),
    "feed": ("top", "rear, single sheet", "front, straight", "roll", "cassette"),
    "panel_setting": ("Plain", "Thick sheet", "Fine art", "Wide platen gap"),
    "surface": ("gloss", "semi-gloss", "lustre", "baryta", "matte", "cotton", "textured", "canvas"),
    "texture": ("none", "fine", "smooth", "textured", "coarse"),
    "weight": ("190 g/m²", "260 g/m²", "285 g/m²", "310 g/m²"),
}  # fmt: skip
_LEFT = (("paper", "Paper"), ("printer", "Printer"), ("media_setting", "Driver's media setting"), ("preset", "Preset in the driver"),
         ("panel_setting", "Set on the printer's panel"), ("quality", "Quality"), ("resolution", "Resolution in the driver"),
         ("black_mode", "Black mode"), ("ink", "Black ink"), ("gloss_coat", "Gloss coat"),
         ("high_speed", "High speed or direction"))  # fmt: skip
_RIGHT = (("surface", "Surface"), ("texture", "Texture"), ("weight", "Weight"), ("feed", "Feed"), ("loading", "Loading steps"),
          ("notes", "Notes"))  # fmt: skip


class ConditionDialog(QDialog):
    """Edit a condition; fields that were only read from a name carry a mark until they are touched or said yes to."""

    def __init__(self, condition: PrintCondition, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._condition = condition
        self.setWindowTitle("Print condition")
        self.setMinimumWidth(860)
        rows = QVBoxLayout(self)
        self._labels: dict[str, QLabel] = {}
        self._touched: set[str] = set()
        if condition.unread:
            text = f"Not understood in the file's name: “{condition.unread}”. Its tail often is the media setting."
            rows.addWidget(quiet(text, wrap=True))
        self._fields: dict[str, QComboBox] = {}
        two = QHBoxLayout()
        two.setSpacing(24)
        left, right = Form(), Form()
        for form, names in ((left, _LEFT), (right, _RIGHT)):
            for name, label in names:
                form.row(label, self._field(name))
                self._name(name, form.labels[label])
        self._build_right(right)
        two.addLayout(left, 1)
        two.addLayout(right, 1)
        rows.addLayout(two)
        self._build_checks(rows)
        rows.addWidget(keep_or_leave(self, "Keep", "Leave as it was"))

    def _name(self, name: str, label: QLabel) -> None:
        self._labels[name] = label
        self._mark(name, name in self._condition.read)

    def _mark(self, name: str, read: bool) -> None:
        """A bar before the words of a field that was only read."""
        label = self._labels.get(name)
        if label is not None:
            text = label.text().removeprefix("▌ ")
            label.setText(f"▌ {text}" if read else text)
            label.setToolTip(
                "Only read from the profile's name: change it, or say below that what was read is right" if read else ""
            )

    def _on_right(self, on: bool) -> None:
        for name in self._condition.read:
            self._mark(name, not on and name not in self._touched)

    def _touch(self, name: str) -> None:
        self._touched.add(name)
        self._mark(name, False)

    def _field(self, name: str) -> QComboBox:
        field = choice([(text, text) for text in SUGGESTIONS.get(name, ())])
        field.setEditable(True)
        field.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        field.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        field.setMinimumContentsLength(16)
        field.setEditText(getattr(self._condition, name))
        field.lineEdit().setCursorPosition(0)
        field.lineEdit().textEdited.connect(lambda _t: self._touch(name))
        field.activated.connect(lambda _i: self._touch(name))
        self._fields[name] = field
        return field

    def _build_right(self, form: Form) -> None:
        c = self._condition
        self._margins = self._line(", ".join(f"{m:g}" for m in c.margins_mm))
        form.row("Unprintable edges, mm", self._margins)
        self._margins.setToolTip("top, right, bottom, left")
        self._margins.setPlaceholderText("top, right, bottom, left")
        self._sheets = self._line(", ".join(c.sheets))
        form.row("Sheets at hand", self._sheets)
        self._intent = choice([(n, n) for n in ("relative", "perceptual", "saturation", "absolute")])
        show_choice(self._intent, c.default_intent)
        form.row("Default intent", self._intent)
        self._made_by = choice(list(MADE_BY))
        show_choice(self._made_by, c.made_by)
        self._made_by.activated.connect(lambda _i: self._touch("made_by"))
        form.row("Profile made by", self._made_by)
        self._name("made_by", form.labels["Profile made by"])

    @staticmethod
    def _line(text: str):  # type: ignore[no-untyped-def]
        from PyQt6.QtWidgets import QLineEdit

        return QLineEdit(text)

    def _build_checks(self, rows: QVBoxLayout) -> None:
        self._checks = {
            name: QCheckBox(text) for name, text in (
                ("default_compensate", "black point compensation"), ("prescribed", "the lab prescribes this intent"),
                ("borderless", "may be printed borderless"), ("shortlist", "compared on all papers"),
            )
        }  # fmt: skip
        line = QHBoxLayout()
        for name, box in self._checks.items():
            box.setChecked(getattr(self._condition, name))
            line.addWidget(box)
        line.addStretch(1)
        rows.addLayout(line)
        self._right = QCheckBox("What was read from the name (▌) is right")
        self._right.setVisible(bool(self._condition.read))
        self._right.toggled.connect(self._on_right)
        rows.addWidget(self._right)
        self._profile = QLabel(Path(self._condition.profile_path).name)
        self._profile.setProperty("quiet", True)
        files = QHBoxLayout()
        files.addWidget(button("Choose another profile file…", self._choose))
        files.addWidget(self._profile)
        if self._condition.instructions:
            files.addWidget(button("Open its instruction sheet", self._open_instructions))
        files.addStretch(1)
        rows.addLayout(files)

    def _open_instructions(self) -> None:
        QDesktopServices.openUrl(QUrl.fromLocalFile(self._condition.instructions))

    def _choose(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Choose a printer profile", "", "Profiles (*.icc *.icm)")
        if path:
            try:
                self._condition = with_profile(self._condition, Path(path))
                self._profile.setText(Path(path).name)
            except RehearsalError as error:
                QMessageBox.information(self, "Print condition", error.words())

    def value(self) -> PrintCondition:
        """The condition as edited."""
        texts: dict[str, Any] = {name: field.currentText().strip() for name, field in self._fields.items()}
        checks: dict[str, Any] = {name: box.isChecked() for name, box in self._checks.items()}
        sheets = tuple(part.strip() for part in self._sheets.text().split(",") if part.strip())
        return replace(
            self._condition, margins_mm=self._margin_values(), sheets=sheets or self._condition.sheets,
            default_intent=self._intent.currentData(), made_by=self._made_by.currentData(), read=self._still_read(texts), **texts,
            **checks,
        )  # fmt: skip

    def _still_read(self, texts: dict[str, Any]) -> tuple[str, ...]:
        """Fields that nobody touched or said yes to."""
        if self._right.isChecked():
            return ()
        same = [n for n in self._condition.read if n not in self._touched]
        return tuple(n for n in same if n not in texts or texts[n] == getattr(self._condition, n))

    def _margin_values(self) -> tuple[float, float, float, float]:
        parts = [p for p in self._margins.text().replace(";", ",").split(",") if p.strip()]
        try:
            top, right, bottom, left = (float(p) for p in parts)
        except ValueError:
            return self._condition.margins_mm
        return top, right, bottom, left


def edit_condition(session: Session, parent: QWidget) -> None:
    """Edit the condition whose card is shown; the proof follows."""
    condition = session.now.card
    if condition is None:
        return
    dialog = ConditionDialog(condition, parent)
    if dialog.exec():
        session.shelf.change(dialog.value())
