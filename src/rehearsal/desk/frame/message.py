"""The line between pictures and verdict: what was done with its next step, and what is being done with Stop."""

from __future__ import annotations

from collections.abc import Callable
from html import escape

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QSizePolicy, QWidget

from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.frame.stations import AT_WORK
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
    """The newest message, for a while; errors and questions wait, with their number, until they were seen or answered.

    Progress has its fixed place at the right.

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
        self._more = link("", self._show_next, "Read what waits")
        for part in (self._words, self._all, self._action, self._away, self._more):
            row.addWidget(part)
        row.addStretch(1)
        row.addWidget(self._make_progress())
        self._said = Said("")
        #: Errors and questions that were not seen or answered yet, oldest first; what is shown may be one of them.
        self._unread: list[Said] = []
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_STAYS_MS)
        self._timer.timeout.connect(self._over)
        self._job: Job | None = None
        self._station = ""
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
        """Show the newest message; what waits is counted beside it."""
        if said.waits and said not in self._unread:
            self._unread.append(said)
        self._show(said)

    def _show(self, said: Said) -> None:
        self._said = said
        self._action.setText(word("action", said.action) if said.action else "")
        self._action.setAccessibleName(self._action.text())
        self._action.setVisible(bool(said.action))
        self._away.setText("Not now" if said.is_question else "Seen")
        self._away.setVisible(said.waits)
        self._lay()
        self._timer.stop() if said.waits else self._timer.start()

    @property
    def waiting(self) -> list[Said]:
        """What waits besides what is shown, oldest first."""
        return [s for s in self._unread if s != self._said]

    def _lay(self) -> None:
        """As many words as there is room for beside what can be pressed and the progress."""
        wait = len(self.waiting)
        self._more.setText(f"{wait} not read yet" if wait else "")
        self._more.setAccessibleName(self._more.text())
        self._more.setVisible(bool(wait))
        ends = (self._action, self._away, self._more)
        pressed = sum(w.sizeHint().width() + theme.px(10) for w in ends if not w.isHidden())
        room = self.width() - theme.px(_PROGRESS + 120) - pressed
        self._words.say(self._said.text, max(room, theme.px(80)))
        self._all.setVisible(self._words.is_short)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The words follow the room."""
        super().resizeEvent(event)
        self._lay()

    def _show_all(self) -> None:
        show_page(self, "Message", f"<p>{escape(self._said.text)}</p>", "The whole message", 520, 260)

    def _show_next(self) -> None:
        """What has waited longest; what was shown goes on waiting if it does."""
        self._show(self.waiting[0])

    def _seen(self) -> None:
        """This one was seen: what has waited longest is next."""
        self._unread = self.waiting
        self._show(self._unread[0] if self._unread else Said(""))

    def _over(self) -> None:
        """What was merely said is over."""
        self._show(Said(""))
        self._timer.stop()

    def clear(self) -> None:
        """Nothing is said any more, and nothing waits."""
        self._unread = []
        self._over()

    def go_on(self) -> None:
        """The user has gone on: what was merely said is over."""
        if not self._said.waits and self._said.action != "folder":
            self._over()

    def forget(self, about: str) -> None:
        """What was said of something is over."""
        if not self._said.waits and self._said.about == about:
            self._over()

    def answered(self, action: str) -> None:
        """A question was answered elsewhere: it does not wait any more."""
        self._unread = [s for s in self._unread if not (s.is_question and s.action == action)]
        if self._said.is_question and self._said.action == action:
            self._over()
        self._lay()

    def _act(self) -> None:
        said = self._said
        self._seen()
        self._acts[said.action](said.about)

    @property
    def text(self) -> str:
        """What is said."""
        return self._said.text

    # ---- progress

    def _show_progress(self, on: bool) -> None:
        for part in (self._doing, self._bar, self._stop):
            part.setVisible(on)

    def set_station(self, station: str) -> None:
        """Another station is open: its own work is shown before what another one began."""
        self._station = station

    def _is_behind(self, job: Job) -> bool:
        """True for another station's work while the open one has work of its own under way."""
        own = any(AT_WORK.get(j.kind) == self._station for j in self._session.jobs.running)
        return own and AT_WORK.get(job.kind) != self._station

    def _on_progress(self, step: tuple[Job, float, str]) -> None:
        if self._is_behind(step[0]):
            return
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
            self._session.jobs.stop_by_hand(self._job)
