"""The line between pictures and verdict: what was done with its next step, and what is being done with Stop."""

from __future__ import annotations

from collections.abc import Callable
from html import escape

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QSizePolicy, QWidget

from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.parts.widgets import Words, link, quiet, show_page
from rehearsal.session.bus import Said
from rehearsal.session.jobs import Job
from rehearsal.session.session import Session

_STAYS_MS = 12_000
_HEIGHT, _PROGRESS, _BAR = 24, 300, 84


class _Line(Words):
    """Words in one line, shortened where there is no room; ``is_short`` tells that."""

    def __init__(self) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Preferred)
        self.setMinimumWidth(1)  # a long message never keeps the window from being made narrower
        self.is_short = False

    def say(self, text: str, room: int) -> None:
        """Show words in so many pixels."""
        fitting = self.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room)
        self.is_short = fitting != text
        self.setText(fitting)
        self.setToolTip(text if self.is_short else "")


class MessageLine(QWidget):
    """A message stays for a while; an error until it was seen, the next one after it. Progress has its fixed place at the right.

    Args:
        acts: what the actions of messages do, by their keys.
    """

    def __init__(self, session: Session, acts: dict[str, Callable[[str], object]]) -> None:
        super().__init__()
        self._session, self._acts = session, acts
        self.setObjectName("message")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(theme.px(_HEIGHT))
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.px(16), 0, theme.px(16), 0)
        row.setSpacing(theme.px(10))
        self._words = _Line()
        self._words.setProperty("quiet", True)
        self._words.setAccessibleName("Message")
        self._action = link("", self._act)
        self._all = link("All of it", self._show_all, "Read the whole message")
        self._away = link("Seen", self._seen, "Take the message away")
        row.addWidget(self._words)
        row.addWidget(self._all)
        row.addWidget(self._action)
        row.addWidget(self._away)
        row.addStretch(1)
        row.addWidget(self._make_progress())
        self._said = Said("")
        #: Errors that wait until the one before them was seen.
        self._waiting: list[Said] = []
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_STAYS_MS)
        self._timer.timeout.connect(self.clear)
        self._job: Job | None = None
        session.jobs.progressed.connect(self._on_progress)
        session.jobs.ended.connect(self._on_end)
        session.bus.said.connect(self.say)
        self.clear()

    def _make_progress(self) -> QWidget:
        self._at_work = QWidget()
        self._at_work.setFixedWidth(theme.px(_PROGRESS))
        row = QHBoxLayout(self._at_work)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(8))
        self._doing = quiet()
        self._bar = QProgressBar()
        self._bar.setFixedWidth(theme.px(_BAR))
        self._bar.setTextVisible(False)
        self._stop = link("Stop", self._stop_work, "Stop the work")
        row.addWidget(self._doing, 1)
        row.addWidget(self._bar)
        row.addWidget(self._stop)
        self._show_progress(False)
        return self._at_work

    # ---- messages

    def say(self, said: Said) -> None:
        """Show a message in the place of the old one; while an error is not seen, errors wait and mere messages go by."""
        if self._said.is_error:
            if said.is_error and said != self._said:
                self._waiting.append(said)
                self._lay()
            return
        self._show(said)

    def _show(self, said: Said) -> None:
        self._said = said
        self._action.setText(word("action", said.action) if said.action else "")
        self._action.setAccessibleName(self._action.text())
        self._action.setVisible(bool(said.action))
        self._away.setVisible(bool(said.text) and said.is_error)
        self._lay()
        self._timer.stop() if said.is_error else self._timer.start()

    def _lay(self) -> None:
        """As many words as there is room for beside what can be pressed and the progress."""
        self._away.setText(f"Seen, {len(self._waiting)} more" if self._waiting else "Seen")
        pressed = sum(w.sizeHint().width() + theme.px(10) for w in (self._action, self._away) if not w.isHidden())
        room = self.width() - theme.px(_PROGRESS + 120) - pressed
        self._words.say(self._said.text, max(room, theme.px(80)))
        self._all.setVisible(self._words.is_short)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The words follow the room."""
        super().resizeEvent(event)
        self._lay()

    def _show_all(self) -> None:
        show_page(self, "Message", f"<p>{escape(self._said.text)}</p>", "The whole message", 520, 260)

    def _seen(self) -> None:
        """The next error, or none."""
        self.clear()
        if self._waiting:
            self._show(self._waiting.pop(0))

    def clear(self) -> None:
        """Nothing is said any more."""
        self._show(Said(""))
        self._timer.stop()

    def go_on(self) -> None:
        """The user has gone on: what was merely said is over."""
        if not self._said.is_error and self._said.action != "folder":
            self.clear()

    def forget(self, about: str) -> None:
        """What was said of something is over."""
        if not self._said.is_error and self._said.about == about:
            self.clear()

    def _act(self) -> None:
        said = self._said
        self.clear()
        self._acts[said.action](said.about)

    @property
    def text(self) -> str:
        """What is said."""
        return self._said.text

    # ---- progress

    def _show_progress(self, on: bool) -> None:
        for part in (self._doing, self._bar, self._stop):
            part.setVisible(on)

    def _on_progress(self, step: tuple[Job, float, str]) -> None:
        self._job, share, text = step
        self._bar.setValue(round(share * 100))
        self._bar.setAccessibleName(f"Progress: {text}")
        self._doing.setText(f"{word('job', self._job.kind)}, {share * 100:.0f} %")
        self._doing.setToolTip(text)
        self._show_progress(True)

    def _on_end(self, job: Job) -> None:
        if job == self._job:
            self._show_progress(False)

    def _stop_work(self) -> None:
        if self._job is not None:
            self._session.jobs.stop(self._job)
