"""The verdict in a sentence, and the readout under the pointer."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QWidget

from rehearsal.core.colour.lab import chroma, hue_degrees
from rehearsal.core.proof.advice import rendering_name
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.proof.saying import first_sentence, looked_sentence, verdict_sentence
from rehearsal.core.values.words import share_words, word
from rehearsal.desk import theme
from rehearsal.desk.parts.widgets import Words, button, link, quiet, show_page
from rehearsal.session.jobs import Job
from rehearsal.session.session import Session
from rehearsal.tasks.maps import PixelReading

_MESSAGE_MS = 12_000
_HEIGHT = 60


def why_html(result: Judgement) -> str:
    """The figures behind the verdict."""
    rows = ["<h3>Why</h3><ul>"]
    rows += [f"<li>{escape(reason)}</li>" for reason in result.advice.reasons]
    rows.append("</ul><table cellspacing='6'><tr><td></td><td>score</td><td>felt change ΔE₀₀</td><td>modelling</td>"
                "<td>strong parts</td><td>gone flat</td><td>deepest L*</td><td>dark steps kept</td></tr>")  # fmt: skip
    for c in result.candidates:
        modelling, strong = ("–" if v is None else f"{v:.2f}" for v in (c.modelling, c.strong))
        rows.append(
            f"<tr><td>{rendering_name(c.rendering)}</td><td>{c.score:.2f}</td><td>{c.felt_change:.2f}</td>"
            f"<td>{modelling}</td><td>{strong}</td><td>{escape(share_words(c.flat))}</td><td>{c.black_depth:.1f}</td>"
            f"<td>{c.shadow_separation} of 20</td></tr>"
        )
    f, g = result.change, result.fitted_change
    rows.append(
        f"</table><p>{' '.join(c.words for c in result.compensation)}</p>"
        "<p>Score: mean felt change + 0.2 × per cent of detail gone flat; the lowest wins when it wins by more "
        f"than 0.3.</p><p>Change in this rendering: mean {f.mean:.1f}, 95 % below {f.p95:.1f} ΔE₀₀; with the blacks "
        f"fitted: mean {g.mean:.1f}, 95 % below {g.p95:.1f}.</p><p>{escape(share_words(result.shadow_share))} of the picture is "
        f"darker than L* 20. {escape(share_words(result.colder))} is near-white and colder or lighter than the bare paper.</p>"
    )
    if result.screen_master is not None and result.screen_print is not None:
        rows.append(
            f"<p>This screen cannot show {escape(share_words(result.screen_master))} of the picture and "
            f"{escape(share_words(result.screen_print))} of the print.</p>"
        )
    return "".join(rows)


class _Sentence(Words):
    """A sentence in the largest type in which all of it can be read."""

    def say(self, text: str) -> None:
        """Show a sentence."""
        self.setText(text)
        self._fit()

    def _fit(self) -> None:
        for size in (theme.LARGE, theme.NORMAL, theme.SMALL):
            self.setStyleSheet(f"font-size: {size}pt")
            if self.heightForWidth(self.width()) <= _HEIGHT - 8:
                return

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The type follows the room."""
        super().resizeEvent(event)
        self._fit()


class Verdict(QWidget):
    """Sentence, why, messages, progress with stop, readout."""

    #: What the sentence depends on, as a change record names it.
    follows = ("take", "picture", "judgement", "first", "accepted", "facts", "screen", "looked", "conditions")

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("verdict")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(_HEIGHT)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 16, 4)
        row.setSpacing(14)
        self._sentence = _Sentence()
        self._sentence.setProperty("sentence", True)
        self._sentence.setWordWrap(True)
        self._sentence.setAccessibleName("Verdict")
        row.addWidget(self._sentence, 1)
        self._why = link("Why?", self.show_why, "Why this verdict")
        row.addWidget(self._why)
        self._progress = QProgressBar()
        self._progress.setFixedWidth(90)
        self._progress.setTextVisible(False)
        self._stop = button("Stop", self._stop_work)
        row.addWidget(self._progress)
        row.addWidget(self._stop)
        self._readout = quiet()
        self._readout.setFixedWidth(330)
        self._readout.setAccessibleName("Under the pointer")
        row.addWidget(self._readout)
        self._job: Job | None = None
        self._message = QTimer(self)
        self._message.setSingleShot(True)
        self._message.setInterval(_MESSAGE_MS)
        self._message.timeout.connect(self.refresh)
        session.jobs.progressed.connect(self._on_progress)
        session.jobs.ended.connect(self._on_end)
        session.bus.said.connect(self.say)
        self._show_progress(False)
        self.point(None)

    def _show_progress(self, on: bool) -> None:
        self._progress.setVisible(on)
        self._stop.setVisible(on)

    def _on_progress(self, step: tuple[Job, float, str]) -> None:
        self._job, share, text = step
        self._progress.setValue(round(share * 100))
        self._progress.setToolTip(text)
        self._progress.setAccessibleName(f"Progress: {text}")
        self._show_progress(True)

    def _on_end(self, job: Job) -> None:
        if job == self._job:
            self._show_progress(False)
        if job.kind == "judge":
            self.refresh()

    def _stop_work(self) -> None:
        if self._job is not None:
            self._session.jobs.stop(self._job)

    def say(self, text: str) -> None:
        """Show a message in the verdict's place for a while, or until the next change of the take."""
        self._sentence.say(text)
        self._why.hide()
        self._message.start()

    def end_message(self) -> None:
        """The user has gone on: show the verdict again."""
        self._message.stop()

    def refresh(self) -> None:
        """Show the verdict of the open take, unless a message is being shown."""
        if self._message.isActive():
            return
        session, take = self._session, self._session.now.take
        result, first = session.judging.judgement, session.judging.first
        looked = session.now.looked
        self._why.setVisible(result is not None and looked is None)
        if looked is not None:
            chosen = session.now.condition
            first_looked = session.judging.first_looked
            self._sentence.say(looked_sentence(looked.name, "" if chosen is None else chosen.name, first_looked))
        elif take is None:
            self._sentence.say("Open a picture to begin.")
        elif session.now.trouble is not None and session.now.trouble.kind != "untagged":
            self._why.hide()
            self._sentence.say("Nothing can be judged yet.")
        elif result is not None:
            fine = session.shelf.accepted_on(take.condition)
            said = verdict_sentence(result, fine, session.logbook.light_words)
            self._sentence.say(said if session.judging.is_current else self._while_judging(result, said))
        else:
            self._sentence.say("Judging…" if first is None else first_sentence(first, "this paper"))

    def _while_judging(self, old: Judgement, said: str) -> str:
        """What is shown while new figures are made: of another paper or intent nothing, of the same its old sentence, as such."""
        now = self._session.now
        rendition, condition = now.rendition, now.condition
        if rendition is None or condition is None:
            return "Judging…"
        if not self._session.judging.is_coming:
            return "Not judged since the last change: judging was stopped. Any change begins it again."
        if (rendition.destination, rendition.rendering) == (old.rendition.destination, old.rendition.rendering):
            return f"Judging again. Before the last change: {said}"
        first = self._session.judging.first
        if first is not None and rendition.destination != old.rendition.destination:
            return first_sentence(first, condition.paper)
        return f"Judging {condition.paper}, {rendering_name(rendition.rendering)}…"

    @property
    def text(self) -> str:
        """What is shown."""
        return self._sentence.text()

    def show_why(self) -> None:
        """Open the figures behind the verdict."""
        result = self._session.judging.judgement
        if result is None:
            return
        show_page(self, "Why?", why_html(result), "Figures behind the verdict", 720, 470)

    def point(self, place: tuple[int, int] | None) -> None:
        """Read the picture at a full-resolution pixel."""
        reading = None if place is None else self._session.inquiries.read(*place)
        if reading is None:
            self._readout.setText("Point at the picture to read its colours.")
        else:
            self._readout.setText(readout_text(reading))


def readout_text(reading: PixelReading) -> str:
    """Two lines: picture and print."""
    m, p = reading.master, reading.printed

    def line(name: str, lab) -> str:  # type: ignore[no-untyped-def]
        return f"{name}  L {lab[0]:5.1f}  C {float(chroma(lab)):5.1f}  h {float(hue_degrees(lab)):3.0f}°"

    beyond = f", {word('cause', reading.cause)} by {reading.delta:.1f}" if reading.cause else ""
    return f"{line('picture', m)}\n{line('print   ', p)}   ΔE₀₀ {reading.change:.1f}{beyond}"
