"""What can be set of each way to lay a page, and of what is written on it: one panel each."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from rehearsal.core.sheet.evenborder import USUAL_MM
from rehearsal.core.values.sheet import Caption, Mat, Several
from rehearsal.desk import theme
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.widgets import button, choice, quiet, show_choice
from rehearsal.session.session import Session

_USUAL_WORDS = ("6 mm", "¼ in", "10 mm", "50 mm", "2 in")


class Panel(QWidget):
    """Rows of controls of one way."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.lines = QVBoxLayout(self)
        self.lines.setContentsMargins(0, 0, 0, 0)
        self.lines.setSpacing(theme.px(4))
        self.build()
        self.lines.addStretch(1)

    def build(self) -> None:
        """Make the controls."""
        raise NotImplementedError(type(self).__name__)

    def refresh(self) -> None:
        """Follow the session."""

    def line(self, *parts: QWidget) -> None:
        """A row of parts, the rest of it empty."""
        row = QHBoxLayout()
        row.setSpacing(theme.px(6))
        for part in parts:
            row.addWidget(part)
        row.addStretch(1)
        self.lines.addLayout(row)


class CentrePanel(Panel):
    """In the middle, or at a place of its own."""

    def build(self) -> None:
        """Words, and as large as it can be."""
        self._words = quiet("In the middle both ways. Drag the picture or a side; near the middle it snaps.", wrap=True)
        self.lines.addWidget(self._words)
        self.line(button("As large as ink reaches", self.session.sheets.largest))


class FootPanel(Panel):
    """A heavier foot."""

    def build(self) -> None:
        """By how much."""
        self.foot = NumberField(0, 60, 0, "%")
        self.foot.setFixedWidth(theme.px(84))
        self.foot.setAccessibleName("How much higher the foot is")
        self.foot.valueChanged.connect(lambda v: self.session.sheets.place(f"foot:{v:g}"))
        self.line(QLabel("Foot higher than the top by"), self.foot)
        self.lines.addWidget(quiet("Equal at the sides; room to sign below.", wrap=True))

    def refresh(self) -> None:
        """The take's own, or 15 per cent."""
        take = self.session.now.take
        place = "" if take is None else take.sheet.place
        self.foot.show_value(float(place.removeprefix("foot:")) if place.startswith("foot:") else 15.0)


class EvenPanel(Panel):
    """The same border all round."""

    def build(self) -> None:
        """How wide; what is usual; none on purpose."""
        self.border = NumberField(0, 400, 1, "mm")
        self.border.setFixedWidth(theme.px(84))
        self.border.setAccessibleName("Even border")
        self.border.valueChanged.connect(self.session.sheets.even_border)
        self._usual = choice([("usual…", -1.0), *zip(_USUAL_WORDS, USUAL_MM, strict=True)])
        self._usual.setAccessibleName("Usual borders")
        self._usual.activated.connect(lambda _i: self._take_usual())
        self.line(QLabel("All round"), self.border, self._usual)
        self.line(button("Fill the sheet, without a border", lambda: self.session.sheets.even_border(0.0)))
        self.lines.addWidget(quiet("The picture is cut to what is left of the sheet.", wrap=True))

    def _take_usual(self) -> None:
        value = self._usual.currentData()
        self._usual.setCurrentIndex(0)
        if value >= 0:
            self.session.sheets.even_border(value)

    def refresh(self) -> None:
        """The narrowest border there is."""
        page = self.session.sheets.page
        if page is not None:
            self.border.show_value(round(max(min(page.borders), 0.0), 1))


class MatPanel(Panel):
    """A mat that covers the print's edge, or leaves paper round it."""

    def __init__(self, session: Session, way: str) -> None:
        self._way = way
        super().__init__(session)

    def build(self) -> None:
        """Outside, and how far the opening lies from the print."""
        over = self._way == "over"
        self.width_, self.height_ = (NumberField(0, 2000, 0, "mm") for _ in range(2))
        for field, name in ((self.width_, "Width of the mat"), (self.height_, "Height of the mat")):
            field.setSpecialValueText("as the sheet")
            field.setFixedWidth(theme.px(96))
            field.setAccessibleName(name)
            field.valueChanged.connect(lambda _v: self._changed())
        self.line(QLabel("Outside"), self.width_, QLabel("×"), self.height_)
        self.gap = NumberField(0, 200, 1, "mm")
        self.gap.setFixedWidth(theme.px(84))
        self.gap.setAccessibleName(
            "How far the mat lies over the print" if over else "Paper to be seen round the print"
        )
        self.gap.valueChanged.connect(lambda _v: self._changed())
        self.line(QLabel("Opening lies over the print by" if over else "Paper seen round the print"), self.gap)
        self.opening = quiet("", wrap=True)
        self.lines.addWidget(self.opening)
        self.lines.addWidget(quiet("Cut mats with a guarded blade on a firm board, away from your hand.", wrap=True))

    def _changed(self) -> None:
        mat = self._mat()
        sides = {"width": self.width_.value(), "height": self.height_.value()}
        gap = {"overlap" if self._way == "over" else "show": self.gap.value()}
        self.session.sheets.mat(replace(mat, way=self._way, **sides, **gap))  # type: ignore[arg-type]

    def _mat(self) -> Mat:
        take = self.session.now.take
        return Mat() if take is None else take.sheet.mat

    def refresh(self) -> None:
        """The take's own."""
        mat, page = self._mat(), self.session.sheets.page
        self.width_.show_value(mat.width)
        self.height_.show_value(mat.height)
        self.gap.show_value(mat.overlap if self._way == "over" else mat.show)
        if page is not None and page.mat is not None:
            box = page.mat.opening
            self.opening.setText(f"Opening {box.width:.0f} × {box.height:.0f} mm.")


class SeveralPanel(Panel):
    """More than one print on the sheet."""

    def build(self) -> None:
        """Which way, how many, how far apart, which pictures."""
        ways = [("a grid", "grid"), ("as many as fit", "most"), ("different pictures", "packed")]
        self.way = choice(ways)
        self.way.setAccessibleName("How several are laid")
        self.way.activated.connect(lambda _i: self._changed())
        self.columns, self.rows = (NumberField(1, 12, 0, "") for _ in range(2))
        for field, name in ((self.columns, "Columns"), (self.rows, "Rows")):
            field.setFixedWidth(theme.px(44))
            field.setAccessibleName(name)
            field.valueChanged.connect(lambda _v: self._changed())
        self._times = QLabel("×")
        self.pictures = QPushButton("Which…")
        self.pictures.setAccessibleName("Which pictures share the sheet")
        self._menu = QMenu(self.pictures)
        self.pictures.setMenu(self._menu)
        self.line(self.way, self.columns, self._times, self.rows, self.pictures)
        self.gap, self.edge = (NumberField(0, 100, 1, "mm") for _ in range(2))
        for field, name in ((self.gap, "Gap between prints"), (self.edge, "Least border of the sheet")):
            field.setFixedWidth(theme.px(76))
            field.setAccessibleName(name)
            field.valueChanged.connect(lambda _v: self._changed())
        self.line(QLabel("Gap"), self.gap, QLabel("edge"), self.edge)
        self.marks = QCheckBox("cut marks")
        self.marks.clicked.connect(lambda _on: self._changed())
        self.line(self.marks, quiet("Cut with a sharp blade along a steel rule, fingers behind it."))

    def _several(self) -> Several:
        take = self.session.now.take
        return Several() if take is None else take.sheet.several

    def _changed(self) -> None:
        made = replace(
            self._several(), way=self.way.currentData(), columns=round(self.columns.value()), rows=round(self.rows.value()),
            gap=self.gap.value(), edge=self.edge.value(), cut_marks=self.marks.isChecked(),
        )  # fmt: skip
        self.session.sheets.lay_several(made)

    def refresh(self) -> None:
        """The take's own."""
        several = self._several()
        show_choice(self.way, several.way or "grid")
        for field, value in (
            (self.columns, several.columns), (self.rows, several.rows), (self.gap, several.gap), (self.edge, several.edge),
        ):  # fmt: skip
            field.show_value(value)
        with QSignalBlocker(self.marks):
            self.marks.setChecked(several.cut_marks)
        grid, packed = several.way in ("", "grid"), several.way == "packed"
        for part in (self.columns, self.rows, self._times):
            part.setVisible(grid)
        self.pictures.setVisible(packed)
        if packed:
            self._fill_menu(several)

    def _fill_menu(self, several: Several) -> None:
        """Takes on the same paper, each to be ticked."""
        self._menu.clear()
        found = self.session.sheets.can_share()
        for take, name in found:
            action = self._menu.addAction(name)
            action.setCheckable(True)
            action.setChecked(take.id in several.takes)
            action.toggled.connect(lambda on, n=take.id: self._share(n, on))
        self.pictures.setText(f"{len(several.takes)} more…" if several.takes else "Which…")
        self.pictures.setEnabled(bool(found))

    def _share(self, number_: int, on: bool) -> None:
        several = self._several()
        rest = tuple(n for n in several.takes if n != number_)
        self.session.sheets.lay_several(replace(several, takes=(*rest, number_) if on else rest))


class CaptionPanel(Panel):
    """What is written on the sheet."""

    def build(self) -> None:
        """Text, edition, name or mark, where and how strong."""
        self.text = self._words("Under the print", "Text under the print", "text")
        self.signature = self._words("Signed", "Name that signs", "signature")
        self.edition, self.of = (NumberField(0, 9999, 0, "") for _ in range(2))
        for field, name in ((self.edition, "Number of this print"), (self.of, "Number of all prints")):
            field.setFixedWidth(theme.px(52))
            field.setSpecialValueText("–")
            field.setAccessibleName(name)
            field.valueChanged.connect(lambda _v: self._changed())
        self.opacity = NumberField(5, 100, 0, "%", 5)
        self.opacity.setFixedWidth(theme.px(64))
        self.opacity.setAccessibleName("How strong name or mark is")
        self.opacity.valueChanged.connect(lambda _v: self._changed())
        self.line(QLabel("Print"), self.edition, QLabel("of"), self.of, QLabel("strength"), self.opacity)
        self.inside, self.hidden = QCheckBox("in the print"), QCheckBox("under the mat")
        for box in (self.inside, self.hidden):
            box.clicked.connect(lambda _on: self._changed())
        self.mark = button("Sign with a mark…", self._choose_mark)
        self.line(
            self.inside,
            self.hidden,
            self.mark,
            button("Nothing", lambda: self.session.sheets.caption(Caption()), name="Write nothing"),
        )

    def _words(self, label: str, name: str, field: str) -> QLineEdit:
        made = QLineEdit()
        made.setAccessibleName(name)
        made.setMinimumWidth(theme.px(180))
        made.editingFinished.connect(self._changed)
        made.setProperty("field", field)
        self.line(QLabel(label), made)
        return made

    def _caption(self) -> Caption:
        take = self.session.now.take
        return Caption() if take is None else take.sheet.caption

    def _changed(self) -> None:
        self.session.sheets.caption(
            replace(
                self._caption(), text=self.text.text().strip(), signature=self.signature.text().strip(),
                edition=round(self.edition.value()), of=round(self.of.value()), opacity=self.opacity.value(),
                inside=self.inside.isChecked(), hidden=self.hidden.isChecked(),
            )
        )  # fmt: skip

    def _choose_mark(self) -> None:
        if self._caption().mark:
            self.session.sheets.caption(replace(self._caption(), mark="", mark_digest=""))
            return
        path, _ = QFileDialog.getOpenFileName(
            self, "Sign with a mark", str(Path.home()), "Pictures (*.png *.tif *.tiff *.jpg *.jpeg)"
        )
        if path:
            self.session.sheets.choose_mark(Path(path))

    def refresh(self) -> None:
        """The take's own."""
        caption = self._caption()
        for line, words in ((self.text, caption.text), (self.signature, caption.signature)):
            if not line.hasFocus():
                line.setText(words)
        for field, value in ((self.edition, caption.edition), (self.of, caption.of), (self.opacity, caption.opacity)):
            field.show_value(value)
        take = self.session.now.take
        for box, on in ((self.inside, caption.inside), (self.hidden, caption.hidden)):
            with QSignalBlocker(box):
                box.setChecked(on)
        self.hidden.setEnabled(take is not None and bool(take.sheet.mat.way))
        self.mark.setText("Without the mark" if caption.mark else "Sign with a mark…")
