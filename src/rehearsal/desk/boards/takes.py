"""All takes of the open picture as they stand, two of them as the pair, and the states the open one went through."""

from __future__ import annotations

import functools
from collections.abc import Callable
from datetime import datetime

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from rehearsal.core.values.words import capital, date_words, in_row, share_words
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.parts.widgets import button, heading, quiet, scrolled
from rehearsal.session.history import is_of
from rehearsal.session.standing import TakeFigures
from rehearsal.workbook.values import Moment, Take

_NAME, _BACK = 190, 76


def figures_words(found: TakeFigures) -> str:
    """How a take stands, as a sentence; what was not measured of it as it is now is not said."""
    said = []
    if found.near is not None:
        said.append(f"near by ΔE₀₀ {found.near:.1f}")
    if found.beyond is not None:
        said.append(f"{share_words(found.beyond)} beyond the paper")
    if found.written and not found.printed:
        said.append("written")
    said.append("printed" if found.printed else "no print of it in the logbook")
    return capital(f"{in_row(said)}.")


def when_words(iso: str, now: datetime | None = None) -> str:
    """A moment: today by the clock, earlier by the day too."""
    try:
        when = datetime.fromisoformat(iso)
    except ValueError:
        return iso
    today, clock = (now or datetime.now()).date(), f"{when:%H:%M}"
    return clock if when.date() == today else f"{date_words(when.date().isoformat(), today)}, {clock}"


class NameField(QLineEdit):
    """A name that is kept when it is left or Enter is pressed."""

    def __init__(self, name: str, own: str, otherwise: str, keep: Callable[[str], object]) -> None:
        super().__init__(own)
        self.setPlaceholderText(otherwise)
        self.setAccessibleName(name)
        self.setFixedWidth(theme.px(_NAME))
        self._kept, self._keep = own, keep
        self.editingFinished.connect(self._finish)

    def _finish(self) -> None:
        if self.text() != self._kept:
            self._kept = self.text()
            self.setModified(False)
            self._keep(self._kept)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter ends here: what has the focus afterwards is not pressed by it."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()
            QTimer.singleShot(0, self._finish)
        else:
            super().keyPressEvent(event)


class TakesBoard(Board):
    """Takes above, states below; the take stays visible at the left."""

    title = "Takes"
    beside = True
    follows = ("take", "takes", "masters", "conditions", "log", "standing", "history", "rival")

    def build(self) -> None:
        """Two lists."""
        self.head(
            button("New take", self.session.takes.duplicate, "From the open one (Ctrl+T)", "New take from this one")
        )
        self._takes, self._takes_layout = self._make_list(2)
        self.rows.addWidget(heading("States of this take"))
        self._hint = quiet(
            "Each change is a state to go back to, also after a restart. One with a name stays.", wrap=True
        )
        self.rows.addWidget(self._hint)
        _states, self._states_layout = self._make_list(3)
        self._shown: object = None

    def _make_list(self, stretch: int) -> tuple[QWidget, QVBoxLayout]:
        inner = QWidget()
        rows = QVBoxLayout(inner)
        rows.setContentsMargins(0, 0, theme.px(6), 0)
        rows.setSpacing(theme.px(4))
        self.rows.addWidget(scrolled(inner), stretch)
        return inner, rows

    def subject(self) -> object:
        """The open take."""
        take = self.session.now.take
        return None if take is None else take.id

    def open(self) -> None:
        """Anew."""
        self._shown = None
        self.refresh()

    def refresh(self) -> None:
        """Follow the session; nothing is built anew under the hands of who types a name."""
        session, take = self.session, self.session.now.take
        takes = [] if take is None else session.takes.of(take.master)
        moments = [] if take is None else session.history.of(take)
        names = [(session.takes.name_of(t), session.standing.of(t)) for t in takes]
        shown = (takes, moments, names, take, session.roads.rival_take)
        if shown == self._shown or self._is_typing:
            return
        self._shown = shown
        _clear(self._takes_layout)
        for each, (name, figures) in zip(takes, names, strict=True):
            self._takes_layout.addWidget(self._take_row(each, name, figures))
        self._takes_layout.addStretch(1)
        _clear(self._states_layout)
        for moment in reversed(moments):
            self._states_layout.addWidget(self._state_row(moment))
        self._states_layout.addStretch(1)
        self.sentence.setText("" if moments else "Nothing was changed on this take since it was begun.")
        self.sentence.setVisible(not moments)

    @property
    def _is_typing(self) -> bool:
        """True while a name is being typed: the lists wait until it is kept."""
        return any(field.hasFocus() and field.isModified() for field in self.findChildren(NameField))

    def _take_row(self, take: Take, name: str, figures: TakeFigures) -> QWidget:
        session, here = self.session, self.session.now.take
        is_open = here is not None and here.id == take.id
        made, line = _row()
        line.addWidget(NameField(f"Name of {name}", take.name, name, functools.partial(session.takes.rename, take)))
        line.addWidget(_told(figures_words(figures)), 1)
        if is_open:
            line.addWidget(_told("open"))
        else:
            rival = session.roads.rival_take
            beside = rival is not None and rival.id == take.id
            line.addWidget(button("Open", functools.partial(session.takes.open, take), name=f"Open {name}"))
            if beside:
                line.addWidget(button("End", session.roads.end_rival, name=f"Take {name} out of the pair"))
            else:
                line.addWidget(
                    button(
                        "Compare",
                        functools.partial(self._compare, take),
                        "The two takes as the pair",
                        f"Compare with {name}",
                    )
                )
        return made

    def _compare(self, take: Take) -> None:
        """Both takes in the pair: the board gives way to them."""
        self.session.side_by_side(take)
        self.closed.emit()

    def _state_row(self, moment: Moment) -> QWidget:
        session, take = self.session, self.session.now.take
        words = session.history.words(moment)
        made, line = _row()
        when = quiet(when_words(moment.when))
        when.setFixedWidth(theme.px(92))
        line.addWidget(when)
        line.addWidget(_told(words), 1)
        line.addWidget(
            NameField(
                f"Name of the state: {words}",
                moment.name,
                "no name",
                functools.partial(session.history.rename, moment),
            )
        )
        if take is not None and is_of(moment, take):
            back: QWidget = _told("now")
        else:
            back = button(
                "Go back",
                functools.partial(session.history.go_back, moment),
                "One change; it can be undone",
                f"Go back to: {words}",
            )
        back.setFixedWidth(theme.px(_BACK))
        line.addWidget(back)
        return made


def _told(text: str) -> QLabel:
    """Quiet words in the middle of a row."""
    made = quiet(text, wrap=True)
    made.setAlignment(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft)
    return made


def _row() -> tuple[QWidget, QHBoxLayout]:
    made = QWidget()
    line = QHBoxLayout(made)
    line.setContentsMargins(0, 0, 0, 0)
    line.setSpacing(theme.px(8))
    return made, line


def _clear(layout: QVBoxLayout) -> None:
    while layout.count():
        item = layout.takeAt(0)
        widget = None if item is None else item.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
