"""Pages of the Judge station: the ranked areas, a line across the picture, kept pins."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPoint, QSignalBlocker, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QInputDialog, QMenu, QTableWidgetItem, QVBoxLayout, QWidget

from rehearsal.core.colour.lab import chroma, hue_degrees
from rehearsal.core.proof.areas import Area, cause_in_words
from rehearsal.core.proof.line import LineReading
from rehearsal.core.proof.modelling import in_words
from rehearsal.core.values.words import all_words, hue_words, share_words, word
from rehearsal.desk import theme
from rehearsal.desk.pair.state import PairState
from rehearsal.desk.parts.plots import Plot, Trace
from rehearsal.desk.parts.widgets import button, quiet, table
from rehearsal.session.session import Session
from rehearsal.tasks.maps import PixelReading


def _layout(page: QWidget) -> QVBoxLayout:
    rows = QVBoxLayout(page)
    rows.setContentsMargins(0, 0, 0, 0)
    rows.setSpacing(4)
    return rows


class AreasPage(QWidget):
    """Areas, largest first; those that are fine as they are come last with the word why."""

    area_chosen = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        rows = _layout(self)
        heads = ("hue", "cause", "share", "ΔE₀₀", "worst", "shading")
        self.table = table(heads, "Areas beyond the paper", 20)
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        for i, width in enumerate((108, 104, 50, 36, 42)):
            self.table.setColumnWidth(i, width)
        self.table.itemSelectionChanged.connect(self._on_area)
        rows.addWidget(self.table)
        foot = QHBoxLayout()
        self._specks = quiet()
        foot.addWidget(self._specks, 1)
        self._fine = button("Fine as it is…", self._ask_why, "Remember for this paper, hue and cause")
        foot.addWidget(self._fine)
        rows.addLayout(foot)
        self._order: list[int] = []
        #: Areas beyond the paper, and the near-whites it cannot show.
        self._areas: tuple[Area, ...] = ()

    def chosen(self) -> Area | None:
        """The selected area."""
        row, result = self.table.currentRow(), self._session.judging.judgement
        if result is None or not self.table.selectedItems() or not 0 <= row < len(self._order):
            return None
        return self._areas[self._order[row]]

    def _on_area(self) -> None:
        area = self.chosen()
        self._show_button(area)
        self.area_chosen.emit(area.box if area else None)

    def _show_button(self, area: Area | None) -> None:
        self._fine.setEnabled(area is not None)
        known = area is not None and (area.hue, area.cause) in self._accepted()
        self._fine.setText("Not fine after all" if known else "Fine as it is…")

    def _accepted(self) -> dict[tuple[str, str], str]:
        take = self._session.now.take
        return {} if take is None else self._session.shelf.accepted_on(take.condition)

    def _accept(self, area: Area, why: str) -> None:
        take = self._session.now.take
        if take is not None:
            self._session.shelf.accept(take.condition, area.hue, area.cause, why)

    def _ask_why(self) -> None:
        area, take = self.chosen(), self._session.now.take
        if area is None or take is None:
            return
        if (area.hue, area.cause) in self._accepted():
            self._session.shelf.reject(take.condition, area.hue, area.cause)
            return
        menu = QMenu(self)
        for text, key in all_words("reason"):
            menu.addAction(text, lambda why=key: self._accept(area, why))
        menu.addAction("another word…", lambda: self._type_why(area))
        menu.popup(self._fine.mapToGlobal(QPoint(0, self._fine.height())))

    def _type_why(self, area: Area) -> None:
        why, ok = QInputDialog.getText(self, "Fine as it is", f"Why is the {hue_words(area.hue)} fine as it is?")
        if ok and why.strip():
            self._accept(area, why.strip())

    def refresh(self) -> None:
        """Follow the judgement and what was accepted."""
        result, fine = self._session.judging.judgement, self._accepted()
        areas = self._areas = (
            () if result is None else (*result.areas, *([result.near_white] if result.near_white else ()))
        )
        self._order = sorted(range(len(areas)), key=lambda i: ((areas[i].hue, areas[i].cause) in fine, i))
        with QSignalBlocker(self.table):
            self.table.clearSelection()
            self.table.setRowCount(len(areas))
            for row, i in enumerate(self._order):
                self._fill(row, areas[i], fine.get((areas[i].hue, areas[i].cause)))
        self._show_button(None)
        if result is None:
            self._specks.setText("Judging…" if self._session.judging.is_coming else "")
        elif result.areas:
            self._specks.setText(f"and {share_words(result.specks)} in specks; choose one to see it")
        else:
            self._specks.setText(f"No area; {share_words(result.specks)} in specks.")

    def _fill(self, row: int, area: Area, why: str | None) -> None:
        kept = in_words(area.modelling) if why is None else f"fine: {word('reason', why)}"
        cells = (
            hue_words(area.hue),
            cause_in_words(area),
            share_words(area.share),
            f"{area.median:.1f}",
            f"{area.p99:.1f}",
            kept,
        )
        contrast = "" if area.contrast_kept is None else f"\ncontrast kept {area.contrast_kept:.2f} of that elsewhere"
        modelling = "" if area.modelling is None else f"\nmodelling {area.modelling:.2f}"
        reason = f"\nfine: {word('reason', why)}" if why else ""
        tip = f"{cells[0]}, {cells[1]}\nmedian ΔE₀₀ {area.median:.1f}, worst {area.p99:.1f} (99 % are below){modelling}{contrast}{reason}"
        for column, text in enumerate(cells):
            item = QTableWidgetItem(text)
            item.setToolTip(tip)
            self.table.setItem(row, column, item)


class LinePage(QWidget):
    """L*, C* and h of picture (solid) and take (dashed) along a line; hatched where the take goes flat."""

    def __init__(self, session: Session, state: PairState) -> None:
        super().__init__()
        self._session = session
        rows = _layout(self)
        plots = QHBoxLayout()
        plots.setSpacing(8)
        self.plots = {"L": Plot("L*"), "C": Plot("C*"), "h": Plot("h", "degrees")}
        for plot in self.plots.values():
            plots.addWidget(plot)
        rows.addLayout(plots, 1)
        foot = QHBoxLayout()
        self._words = quiet()
        foot.addWidget(self._words, 1)
        foot.addWidget(button("Draw a line   V", lambda: state.draw_line(True), name="Draw a line"))
        self._away = button("Remove", lambda: session.takes.mark(line=()), name="Remove the line")
        foot.addWidget(self._away)
        rows.addLayout(foot)
        self.reading: LineReading | None = None

    def refresh(self) -> None:
        """Read the line again, away from the interface."""
        take = self._session.now.take
        self._away.setEnabled(take is not None and bool(take.marks.line))
        if not self._session.inquiries.ask_line(self._show):
            self.reading = None
            for plot in self.plots.values():
                plot.show_traces([])
            self._words.setText("Draw a line across a fold or a gradient.")

    def _show(self, reading: LineReading) -> None:
        self.reading = reading
        at = np.arange(len(reading.flat), dtype=float)
        for name, plot in self.plots.items():
            one, two = reading.rows(name)
            plot.show_traces(
                [Trace("picture", at, one), Trace("take", at, two, (4.0, 2.5))],
                spans=_spans(reading.flat),
                ends=("A", "B"),
            )
        flat = reading.flat_share
        text = "nothing flat" if flat < 1 else f"{flat:.0f} % flat"
        self._words.setText(f"solid: picture, dashed: take; {text}")

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        for plot in self.plots.values():
            plot.room = room
            plot.update()


def _spans(flat: np.ndarray) -> list[tuple[float, float]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flat.astype(int), [0]])))
    return [(float(a), float(b - 1)) for a, b in zip(edges[::2], edges[1::2], strict=True)]


class PinsPage(QWidget):
    """Kept readings: picture and take as L*, C*, h, their difference, the cause."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        rows = _layout(self)
        self.table = table(("", "picture L* C* h", "take L* C* h", "ΔE₀₀", "beyond"), "Pins", 20)
        rows.addWidget(self.table)
        foot = QHBoxLayout()
        foot.addWidget(quiet("Point at the picture and press D, or Shift and click."), 1)
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
            self.table.setRowCount(0)
            return
        self.table.setRowCount(len(pins))
        w, h = picture.size
        for row, (x, y) in enumerate(pins):
            reading = self._session.inquiries.read(x * w, y * h)
            cells = ("", "", "", "") if reading is None else pin_cells(reading)
            for column, text in enumerate((str(row + 1), *cells)):
                self.table.setItem(row, column, QTableWidgetItem(text))


def pin_cells(reading: PixelReading) -> tuple[str, str, str, str]:
    """Cells of a pin's row."""

    def words(lab: np.ndarray) -> str:
        return f"{lab[0]:.1f}  {float(chroma(lab)):.1f}  {float(hue_degrees(lab)):.0f}°"

    beyond = f"{word('cause', reading.cause)}, {reading.delta:.1f}" if reading.cause else ""
    return words(reading.master), words(reading.printed), f"{reading.change:.1f}", beyond
