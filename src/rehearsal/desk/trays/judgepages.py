"""Pages of the Judge station: the ranked areas, a line across the picture, kept pins."""

from __future__ import annotations

import functools

import numpy as np
from PyQt6.QtCore import QPoint, QSignalBlocker, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QHBoxLayout, QInputDialog, QMenu, QPushButton, QVBoxLayout, QWidget

from rehearsal.core.colour.lab import chroma, hue_degrees
from rehearsal.core.proof.areas import Area, cause_in_words, cause_key
from rehearsal.core.proof.grouping import AreaGroup, grouped
from rehearsal.core.proof.line import LineReading
from rehearsal.core.proof.modelling import in_words
from rehearsal.core.values.words import all_words, hue_words, share_words, word
from rehearsal.desk import theme
from rehearsal.desk.pair.state import PairState
from rehearsal.desk.parts.areatable import AreaRow, AreaTable
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.plots import Plot, Trace
from rehearsal.desk.parts.widgets import button, quiet, table
from rehearsal.session.session import Session
from rehearsal.tasks.maps import PixelReading

#: What is plotted along a line, with its unit.
_QUANTITIES = {"L": ("L*", ""), "C": ("C*", ""), "h": ("h", "degrees")}
#: Modelling as one short word.
_FOLDS = {"kept": "kept", "softened": "soft", "going flat": "flat"}


def _layout(page: QWidget) -> QVBoxLayout:
    rows = QVBoxLayout(page)
    rows.setContentsMargins(0, 0, 0, 0)
    rows.setSpacing(4)
    return rows


class AreasPage(QWidget):
    """Areas beyond the paper, those of one name and cause in one row, largest first; what is fine as it is comes last.

    ``area_chosen`` tells the box of the chosen row's largest area, or None; ``area_pointed`` the areas under the pointer.
    """

    area_chosen = pyqtSignal(object)
    area_pointed = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        rows = _layout(self)
        self.table = AreaTable()
        self.table.itemSelectionChanged.connect(self._on_area)
        self.table.pointed.connect(self._on_pointed)
        rows.addWidget(self.table)
        self._specks = quiet()
        self._fine = button("Fine as it is…", self._ask_why, "Remember for this paper, hue and cause")
        rows.addLayout(flow(self._fine, self._specks))
        self._groups: list[AreaGroup] = []
        #: Areas beyond the paper, and the near-whites it cannot show.
        self._areas: tuple[Area, ...] = ()

    def chosen(self) -> AreaGroup | None:
        """The selected row."""
        row, result = self.table.currentRow(), self._session.judging.standing
        if result is None or not self.table.selectedItems() or not 0 <= row < len(self._groups):
            return None
        return self._groups[row]

    def areas_of(self, row: int) -> tuple[Area, ...]:
        """Areas of a row, largest first."""
        return tuple(self._areas[i] for i in self._groups[row].members) if 0 <= row < len(self._groups) else ()

    def _on_area(self) -> None:
        group = self.chosen()
        self._show_button(group)
        self.area_chosen.emit(self._areas[group.members[0]].box if group else None)

    def _on_pointed(self, row: int) -> None:
        """Outlines of a row's areas; the near-whites have no outline of their own."""
        result = self._session.judging.standing
        count = 0 if result is None else len(result.areas)
        members = self._groups[row].members if 0 <= row < len(self._groups) else ()
        numbers = [i + 1 for i in members if i < count]
        self.area_pointed.emit(numbers)

    def _show_button(self, group: AreaGroup | None) -> None:
        self._fine.setEnabled(group is not None)
        known = group is not None and (group.hue, group.cause) in self._accepted()
        self._fine.setText("Not fine after all" if known else "Fine as it is…")

    def _accepted(self) -> dict[tuple[str, str], str]:
        take = self._session.now.take
        return {} if take is None else self._session.shelf.accepted_on(take.condition)

    def _accept(self, group: AreaGroup, why: str) -> None:
        take = self._session.now.take
        if take is not None:
            self._session.shelf.accept(take.condition, group.hue, group.cause, why)

    def _ask_why(self) -> None:
        group, take = self.chosen(), self._session.now.take
        if group is None or take is None:
            return
        if (group.hue, group.cause) in self._accepted():
            self._session.shelf.reject(take.condition, group.hue, group.cause)
            return
        menu = QMenu(self)
        for text, key in all_words("reason"):
            menu.addAction(text, lambda why=key: self._accept(group, why))
        menu.addAction("another word…", lambda: self._type_why(group))
        menu.popup(self._fine.mapToGlobal(QPoint(0, self._fine.height())))

    def _type_why(self, group: AreaGroup) -> None:
        why, ok = QInputDialog.getText(self, "Fine as it is", f"Why is the {hue_words(group.hue)} fine as it is?")
        if ok and why.strip():
            self._accept(group, why.strip())

    def refresh(self) -> None:
        """Follow the judgement and what was accepted."""
        result, fine = self._session.judging.standing, self._accepted()
        areas = self._areas = (
            () if result is None else (*result.areas, *([result.near_white] if result.near_white else ()))
        )
        beyond = 0 if result is None else len(result.areas)  # the near-whites come after what is beyond
        self._groups = sorted(grouped(areas), key=lambda g: ((g.hue, g.cause) in fine, g.members[0] >= beyond))
        most = max((g.share for g in self._groups), default=1.0)
        with QSignalBlocker(self.table):
            self.table.show_rows([self._row(g, most, fine.get((g.hue, g.cause))) for g in self._groups])
        self._show_button(None)
        if result is None:
            self._specks.setText("Judging…" if self._session.judging.is_coming else "")
        elif result.areas:
            self._specks.setText(f"{share_words(result.specks)} more in specks")
        else:
            self._specks.setText(f"No area; {share_words(result.specks)} in specks.")

    def recolour(self) -> None:
        """The picture on the screen looks different: the swatches follow, what is chosen stays."""
        self.table.recolour([self._colours(self._areas[g.members[0]]) for g in self._groups])

    def _row(self, group: AreaGroup, most: float, why: str | None) -> AreaRow:
        first = self._areas[group.members[0]]
        hue = hue_words(group.hue)
        names = (hue,) if group.count == 1 else (f"{hue}, {group.count} places", f"{hue} × {group.count}", hue)
        kept = "fine" if why is not None else "–" if group.modelling is None else _FOLDS[in_words(group.modelling)]
        modelling = "" if group.modelling is None else f"\nfolds and shading kept {group.modelling * 100:.0f} %"
        reason = f"\nfine: {word('reason', why)}" if why else ""
        cause = cause_in_words(first)
        middle = "median" if group.count == 1 else "mean of their medians"
        tip = f"{names[0]}, {cause}\n{middle} ΔE₀₀ {group.median:.1f}, worst {group.worst:.1f} (99 % are below){modelling}{reason}"
        return AreaRow(
            colours=self._colours(first), names=names, cause=group.cause, why=word("cause_short", cause_key(first)),
            share=group.share, most=most,
            figures=(share_words(group.share), f"{group.median:.1f}", f"{group.worst:.1f}", kept), tip=tip,
        )  # fmt: skip

    def _colours(self, area: Area) -> tuple[QColor, QColor]:
        """Typical colours of picture and print there, each as the screen has it in the pane."""
        now, take = self._session.now, self._session.now.take
        grey = QColor(0x7D, 0x7D, 0x7D)
        if now.picture is None or take is None:
            return grey, grey
        x, y, w, h = take.frame.crop.pixels(*now.picture.size)
        painted = self._session.roads.colours_of(int(x + area.place[0] * w), int(y + area.place[1] * h))
        return (grey, grey) if painted is None else (QColor(*painted[0]), QColor(*painted[1]))


class LinePage(QWidget):
    """One of L*, C* and h of picture (solid) and print (dashed) along a line, as one large plot; hatched where the print goes flat."""

    def __init__(self, session: Session, state: PairState) -> None:
        super().__init__()
        self._session = session
        rows = _layout(self)
        self.plot = Plot("along the line")
        rows.addWidget(self.plot, 1)
        self._words = quiet()
        self._names: dict[str, QPushButton] = {}
        for name, text in (("L", "Lightness"), ("C", "Strength"), ("h", "Hue")):
            item = self._names[name] = button(
                text, functools.partial(self.choose, name), name=f"Along the line: {text}"
            )
            item.setCheckable(True)
        self._away = button("Remove", lambda: session.takes.mark(line=()), name="Remove the line")
        draw = button("Draw a line", lambda: state.draw_line(True), "Key V")
        rows.addLayout(flow(*self._names.values(), draw, self._away, self._words))
        self.reading: LineReading | None = None
        self.chosen = "L"

    def choose(self, name: str) -> None:
        """Plot L, C or h."""
        self.chosen = name
        self._draw()

    def refresh(self) -> None:
        """Read the line again, away from the interface."""
        take = self._session.now.take
        self._away.setEnabled(take is not None and bool(take.marks.line))
        if not self._session.inquiries.ask_line(self._show):
            self.reading = None
            self._draw()

    def _show(self, reading: LineReading) -> None:
        self.reading = reading
        self._draw()

    def _draw(self) -> None:
        for name, item in self._names.items():
            item.setChecked(name == self.chosen)
        reading = self.reading
        self.plot.title, self.plot.unit = _QUANTITIES[self.chosen]
        if reading is None:
            self.plot.show_traces([])
            self._words.setText("Draw a line across a fold or a gradient.")
            return
        at = np.arange(len(reading.flat), dtype=float)
        one, two = reading.rows(self.chosen)
        self.plot.show_traces(
            [Trace("picture", at, one), Trace("print", at, two, (4.0, 2.5))],
            spans=_spans(reading.flat), ends=("A", "B"), band=True,
        )  # fmt: skip
        flat = reading.flat_share
        text = "nothing flat" if flat < 1 else f"{flat:.0f} % flat"
        self._words.setText(f"solid: picture, dashed: print; {text}")

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        self.plot.room = room
        self.plot.update()


def _spans(flat: np.ndarray) -> list[tuple[float, float]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flat.astype(int), [0]])))
    return [(float(a), float(b - 1)) for a, b in zip(edges[::2], edges[1::2], strict=True)]


class PinsPage(QWidget):
    """Kept readings: picture and take as L*, C*, h, their difference, the cause."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        rows = _layout(self)
        self.table = table(("", "picture L* C* h", "take L* C* h", "ΔE₀₀", "beyond"), "Pins")
        self.table.right_align(1, 2, 3)
        rows.addWidget(self.table)
        foot = QHBoxLayout()
        foot.addWidget(quiet("Point at the picture and press D, or Shift and click.", wrap=True), 1)
        self._away = button("Remove this pin", self._remove)
        foot.addWidget(self._away)
        rows.addLayout(foot)

    def _remove(self) -> None:
        take, row = self._session.now.take, self.table.currentRow()
        if take is not None and 0 <= row < len(take.marks.pins):
            self._session.takes.mark(pins=tuple(p for i, p in enumerate(take.marks.pins) if i != row))

    def refresh(self) -> None:
        """Read all pins."""
        take, picture = self._session.now.take, self._session.now.picture
        pins = take.marks.pins if take else ()
        self._away.setEnabled(bool(pins))
        if picture is None:
            self.table.fill([])
            return
        w, h = picture.size
        readings = [self._session.inquiries.read(x * w, y * h) for x, y in pins]
        cells = [("", "", "", "") if reading is None else pin_cells(reading) for reading in readings]
        self.table.fill([[str(number), *words] for number, words in enumerate(cells, 1)])


def pin_cells(reading: PixelReading) -> tuple[str, str, str, str]:
    """Cells of a pin's row."""

    def words(lab: np.ndarray) -> str:
        return f"{lab[0]:.1f}  {float(chroma(lab)):.1f}  {float(hue_degrees(lab)):.0f}°"

    beyond = f"{word('cause', reading.cause)}, {reading.delta:.1f}" if reading.cause else ""
    return words(reading.master), words(reading.printed), f"{reading.change:.1f}", beyond
