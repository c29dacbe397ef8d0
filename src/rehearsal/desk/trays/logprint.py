"""The chosen print of the logbook: put right, held against now, printed again; what prints of its paper cost."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImageReader, QPixmap
from PyQt6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QLabel, QLineEdit

from rehearsal.core.sheet.cost import stock_words
from rehearsal.core.sheet.layout import SHEETS
from rehearsal.core.values.words import all_words, date_words, word
from rehearsal.desk import theme
from rehearsal.desk.parts.columns import Column
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.widgets import button, choice, quiet, show_choice
from rehearsal.session.session import Session
from rehearsal.tasks.logfiles import sentence_of
from rehearsal.workbook.values import LogEntry

_PHOTO = 54


class PrintColumn(QObject):
    """Fills a column; ``board_wanted`` names a board."""

    board_wanted = pyqtSignal(str)

    def __init__(self, session: Session, column: Column) -> None:
        super().__init__()
        self.session = session
        head = QHBoxLayout()
        self.about = quiet(wrap=True)
        self.photo = QLabel()
        self.photo.setAccessibleName("Photograph of the print")
        head.addWidget(self.about, 1)
        head.addWidget(self.photo)
        column.rows.addLayout(head)
        row = QHBoxLayout()
        row.setSpacing(theme.px(6))
        self.verdict = choice(all_words("verdict"))
        self.verdict.setAccessibleName("Verdict")
        self.verdict.activated.connect(lambda _i: self._change(verdict=self.verdict.currentData()))
        self.words = QLineEdit()
        self.words.setPlaceholderText("in words")
        self.words.setAccessibleName("Verdict in words")
        self.words.editingFinished.connect(lambda: self._change(words=self.words.text().strip()))
        self.cost = NumberField(-0.01, 100_000, 2, "", 0.1)
        self.cost.setPrefix("cost ")
        self.cost.setSpecialValueText("cost not known")
        self.cost.setAccessibleName("Cost of the print")
        self.cost.setToolTip("By its sheet and its ink's coverage, or typed as the printer's own reading says")
        self.cost.valueChanged.connect(lambda v: self._change(cost=v if v >= 0 else -1.0))
        row.addWidget(self.verdict)
        row.addWidget(self.words, 1)
        row.addWidget(self.cost)
        column.rows.addLayout(row)
        self.then = quiet(wrap=True)
        column.add(self.then)
        self.again = button("Print it again", self._again)
        self.wrong = button("What went wrong…", lambda: self.board_wanted.emit("causes"))
        self.compare = button(
            "Compare two", lambda: self.board_wanted.emit("twoprints"), "Choose a second print with Ctrl"
        )
        self.attach = button("Photograph…", self._attach)
        self.remove = button("Take it out", self._remove)
        self.last = button("As last time", self._as_last, "Key A: settings of the last print on the open take's paper")
        column.rows.addLayout(flow(self.again, self.wrong, self.compare, self.attach, self.remove, self.last))
        column.end()

    @property
    def entry(self) -> LogEntry | None:
        """The chosen print."""
        return self.session.past.entry

    def _change(self, **fields: object) -> None:
        if self.entry is not None:
            self.session.past.change(self.entry, **fields)

    def _again(self) -> None:
        entry = self.entry
        if entry is None or self.session.past.print_again(entry):
            return
        path, _ = QFileDialog.getSaveFileName(
            self.about, "Write the file again", str(Path.home() / "again.tif"), "TIFF (*.tif)"
        )
        if path:
            self.session.past.write_again(entry, Path(path), self.session.printing.protected())

    def _attach(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self.about, "Photograph of the print", str(Path.home()), "Pictures (*.jpg *.jpeg *.png *.tif)"
        )
        if path:
            self._change(photo=path)

    def _as_last(self) -> None:
        self.session.last_time.take_over()

    def _remove(self) -> None:
        if self.entry is not None:
            self.session.past.remove(self.entry)

    def refresh(self) -> None:
        """Follow the session."""
        entry, past = self.entry, self.session.past
        for widget in (self.verdict, self.words, self.cost, self.again, self.wrong, self.attach, self.remove):
            widget.setEnabled(entry is not None)
        self.compare.setEnabled(len(past.entries) == 2)
        if entry is None:
            self.about.setText("No print is in the logbook yet.")
            self.then.setText("")
            self.photo.hide()
            return
        cause = f"; {word('print_cause', entry.cause)}" if entry.cause else ""
        light = (
            f"{word('light', entry.light)}, {entry.lux:.0f} lux{f', {entry.kelvin:.0f} K' if entry.kelvin > 0 else ''}"
        )
        self.about.setText(
            f"{date_words(entry.when)}, {entry.picture} on {entry.condition_name}: {sentence_of(entry)}{cause}. {light}."
        )
        show_choice(self.verdict, entry.verdict)
        self.cost.show_value(entry.cost if entry.cost >= 0 else -0.01)
        if not self.words.hasFocus():
            self.words.setText(entry.words)
            self.words.setCursorPosition(0)
        self._show_then(entry)
        self._show_photo(entry)

    def _show_then(self, entry: LogEntry) -> None:
        then = self.session.past.then(entry)
        if entry.rendition is None:
            self.then.setText("It is not known what was printed.")
        else:
            self.then.setText("Holding it against now…" if then is None else then.words)
        self.again.setEnabled(then is not None and then.same)

    def _show_photo(self, entry: LogEntry) -> None:
        self.photo.setVisible(bool(entry.photo))
        if not entry.photo:
            return
        reader = QImageReader(entry.photo)
        size = reader.size()
        if size.isValid():
            reader.setScaledSize(
                size.scaled(QSize(theme.px(_PHOTO), theme.px(_PHOTO)), Qt.AspectRatioMode.KeepAspectRatio)
            )
        image = reader.read()
        if image.isNull():
            self.photo.setText("photograph gone")
        else:
            self.photo.setPixmap(QPixmap.fromImage(image))
        self.photo.setToolTip(entry.photo)


class CostColumn:
    """What prints on the open take's paper cost, what is left of it; the logbook as files."""

    def __init__(self, session: Session, column: Column) -> None:
        self.session = session
        grid = QGridLayout()
        grid.setSpacing(theme.px(4))
        self.price = NumberField(0, 10_000, 2, "", 0.1)
        self.price.setPrefix("sheet ")
        self.price.setAccessibleName("Price of a sheet")
        self.price.valueChanged.connect(lambda v: self._tell(sheet_price=v))
        self.sold = choice([(f"of {name}", name) for name in SHEETS])
        self.sold.setAccessibleName("Sheet the price is of")
        self.sold.activated.connect(lambda _i: self._tell(sheet_sold=self.sold.currentData()))
        self.ink_price, self.ink_ml = NumberField(0, 1_000, 2, "a ml", 0.05), NumberField(0, 200, 0, "ml/m²", 1)
        self.ink_price.setPrefix("ink ")
        self.ink_price.setAccessibleName("Price of a millilitre of ink")
        self.ink_ml.setAccessibleName("Ink of a square metre of the deepest black")
        self.ink_price.valueChanged.connect(lambda v: self._tell(ink_price=v))
        self.ink_ml.valueChanged.connect(lambda v: self._tell(ink_ml=v))
        self.ink_ml.setToolTip("Ink a square metre of the deepest black takes, as read at the printer")
        self.stock = NumberField(-1, 10_000, 0, "left")
        self.stock.setSpecialValueText("sheets not counted")
        self.stock.setAccessibleName("Sheets left")
        self.stock.valueChanged.connect(lambda v: self._tell(stock=round(v)))
        self.roll = NumberField(-0.1, 200, 1, "m of roll", 0.5)
        self.roll.setSpecialValueText("no roll")
        self.roll.setAccessibleName("Metres of a roll left")
        self.roll.valueChanged.connect(lambda v: self._tell(roll_m=v))
        for i, field in enumerate((self.price, self.sold, self.ink_price, self.ink_ml, self.stock, self.roll)):
            grid.addWidget(field, i // 2, i % 2)
        column.rows.addLayout(grid)
        self.said = quiet(wrap=True)
        column.add(self.said)
        self.out = button("Write the logbook…", self._write, ".csv, .json or .pdf, as it is shown")
        self.into = button("Take a logbook in…", self._take_in)
        column.rows.addLayout(flow(self.out, self.into))
        column.end()

    def _tell(self, **fields: object) -> None:
        condition = self.session.now.condition
        if condition is not None:
            self.session.shelf.change(replace(condition, **fields))  # type: ignore[arg-type]

    def _write(self) -> None:
        kinds = "CSV (*.csv);;JSON (*.json);;PDF (*.pdf)"
        path, kind = QFileDialog.getSaveFileName(self.out, "Write the logbook", str(Path.home() / "logbook.csv"), kinds)
        if path:
            found = Path(path)
            named = found if found.suffix else found.with_suffix(f".{kind.split()[0].lower()}")
            self.session.past.write(named, self.session.printing.protected())

    def _take_in(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self.into, "Take a logbook in", str(Path.home()), "JSON (*.json)")
        if path:
            self.session.past.take_in(Path(path))

    def refresh(self) -> None:
        """Follow the session."""
        condition = self.session.now.condition
        fields = (self.price, self.sold, self.ink_price, self.ink_ml, self.stock, self.roll)
        for field in fields:
            field.setEnabled(condition is not None)
        if condition is None:
            return
        self.price.show_value(condition.sheet_price)
        show_choice(self.sold, condition.sheet_sold)
        self.ink_price.show_value(condition.ink_price)
        self.ink_ml.show_value(condition.ink_ml)
        self.stock.show_value(condition.stock)
        self.roll.show_value(condition.roll_m)
        account = self.session.past.account(condition.id)
        said = [f"{account.sheets} sheets so far, {account.good} signed."]
        if account.per_print is not None:
            good = f", {account.per_good:.2f} a good one" if account.per_good is not None else ""
            said.append(f"{account.per_print:.2f} a print{good}.")
        left = stock_words(account.needed, condition.stock)
        said += [f"The next good print {left}."] if left else []
        self.said.setText(" ".join(said))
