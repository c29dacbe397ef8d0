"""Station 8: how prints came out, and what they teach."""

from __future__ import annotations

from PyQt6.QtWidgets import QAbstractItemView, QLineEdit, QStackedWidget

from rehearsal.core.screen.lessons import reason_words
from rehearsal.core.values.words import all_words, counted, date_words, moment_words, stops_words, word
from rehearsal.desk import theme
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.focus import dress
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.learntbars import LearntBar, LearntBars
from rehearsal.desk.parts.timeline import Timeline, TimePoint
from rehearsal.desk.parts.toldlist import Told, ToldList
from rehearsal.desk.parts.widgets import button, choice, quiet, show_choice, table
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.logprint import CostColumn, PrintColumn
from rehearsal.session.session import Session
from rehearsal.tasks.logfiles import HEADS, row_of, sentence_of
from rehearsal.workbook.learning import missing_of, same_light, teaches
from rehearsal.workbook.values import LogEntry

_STEP = 1 / 6
_SHOWN = (0, 1, 2, 3, 4, 8, 9, 10, 11, 12)


#: So many hand-overs are listed.
_HANDED = 12


class LogTray(Tray):
    """Prints along the days or as a table, what was learnt, the chosen print, cost and stock."""

    follows = ("take", "log", "screen", "past", "past_look", "littles", "conditions", "looked", "prints", "takes")

    def build(self) -> None:
        """Columns in the order of use."""
        self._build_prints()
        self._build_learnt()
        print_ = self.column("This print", 280, about=("change-log", "remove-log", "log"))
        self.print_ = PrintColumn(self.session, print_)
        self.print_.board_wanted.connect(self.board_wanted)
        handed = self.column("Handed over", 250, about=("write", "say-printed"))
        self.handed = ToldList("Handed over", legend=False)
        handed.add(self.handed)
        handed.end()
        cost = self.column("Cost and stock", 232, about=("change-condition",))
        self.cost = CostColumn(self.session, cost)

    def _build_prints(self) -> None:
        column = self.column("Prints, and what each taught", 556, 1, about=("take-in-log",))
        past = self.session.past
        self.search = QLineEdit()
        self.search.setPlaceholderText("search")
        self.search.setAccessibleName("Search the logbook")
        self.search.setMaximumWidth(theme.px(96))
        self.search.textChanged.connect(lambda text: past.show_only(search=text))
        self.this_paper = button("this paper", self._filter)
        self.this_picture = button("this picture", self._filter)
        self.this_light = button("this light", self._filter)
        self.as_table = button("As a table", self._filter)
        for each in (self.this_paper, self.this_picture, self.this_light, self.as_table):
            each.setCheckable(True)
        self.verdict = choice([("every verdict", ""), *all_words("verdict")])
        self.verdict.setAccessibleName("Only prints with this verdict")
        self.verdict.activated.connect(lambda _i: past.show_only(verdict=self.verdict.currentData()))
        column.rows.addLayout(
            flow(self.search, self.this_paper, self.this_picture, self.this_light, self.verdict, self.as_table)
        )
        self.timeline = Timeline()
        self.timeline.chosen.connect(self._choose)
        self.table = table(tuple(HEADS[i] for i in _SHOWN), "Logbook")
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.table.itemSelectionChanged.connect(self._choose_row)
        self.views = QStackedWidget()
        self.views.addWidget(self.timeline)
        self.views.addWidget(self.table)
        column.add(self.views)

    def _build_learnt(self) -> None:
        column = self.column("What was learnt", 296, about=("learnt",))
        self.from_words = quiet()
        column.beside_title(self.from_words)
        self.bars = LearntBars()
        column.add(self.bars)
        self.reason = quiet(wrap=True)
        column.add(self.reason)
        self.afresh = quiet(wrap=True)
        column.add(self.afresh)
        self.set_screen = button("Set the screen…", lambda: self.station_wanted.emit("screen"))
        self.give = button(
            "As a step", self.session.logbook.apply_lesson, "Takes it as the learnt step of the open take"
        )
        column.rows.addLayout(flow(self.set_screen, self.give))
        column.end()

    def on_stand(self, upright: bool) -> None:
        """Beside the pictures there is room for the first words only."""
        for column in range(4, len(_SHOWN)):
            self.table.setColumnHidden(column, upright)

    # ---- hands

    def _filter(self) -> None:
        take, master = self.session.now.take, self.session.now.master
        paper = take.condition if take is not None and self.this_paper.isChecked() else 0
        picture = master.name if master is not None and self.this_picture.isChecked() else ""
        self.session.past.show_only(paper=paper, picture=picture, light=self.this_light.isChecked())
        self.views.setCurrentIndex(1 if self.as_table.isChecked() else 0)

    def _choose(self, number: int, too: bool) -> None:
        found = next((e for e in self.session.past.shown if e.id == number), None)
        self.session.past.choose(found, too)

    def _choose_row(self) -> None:
        entries, rows = list(reversed(self.session.past.shown)), self.table.selectionModel().selectedRows()
        chosen = [entries[row.row()] for row in rows if row.row() < len(entries)]
        if not chosen:
            return
        # the one chosen already stays the first of two; of more than two rows the last counts
        first = next((e for e in chosen if self.session.past.chosen[:1] == (e.id,)), chosen[0])
        self.session.past.choose(first)
        if len(chosen) > 1:
            self.session.past.choose(next(e for e in reversed(chosen) if e is not first), True)

    # ---- following

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        dress(room, (self.timeline, self.bars, self.handed))

    def refresh(self) -> None:
        """Follow the session."""
        self._ask_littles()
        self._show_prints()
        self._show_learnt()
        self.print_.refresh()
        self.handed.show_rows(handed_rows(self.session))
        self.cost.refresh()

    def _ask_littles(self) -> None:
        wanted = {e.rendition.master for e in self.session.past.shown if e.rendition is not None}
        masters = [m for m in self.session.takes.masters if m.digest in wanted]
        self.session.inquiries.ask_littles(masters, theme.px(96), theme.px(64))

    def _show_prints(self) -> None:
        session, past = self.session, self.session.past
        shown, littles = past.shown, session.inquiries.littles
        screen = session.screen.record
        points = [_point(e, teaches(e) and same_light(e, screen.lux, screen.kelvin, screen.white)) for e in shown]
        line = [(p.entry.when, -p.stops, p.doubt) for p in session.logbook.lesson_line]
        pictures = {digest: rgb_image(rgb) for digest, rgb in littles.items() if any(p.key == digest for p in points)}
        self.timeline.show_prints(points, line, pictures, past.chosen)
        cells = [row_of(e) for e in reversed(shown)]
        self.table.fill([[row[i] for i in _SHOWN] for row in cells])
        show_choice(self.verdict, past.verdict)

    def _show_learnt(self) -> None:
        session = self.session
        reason, condition = session.logbook.reason, session.now.condition
        self.bars.show_rows(learnt_rows(self))
        words = "Nothing yet: the first verdict in this light begins to teach."
        if reason is not None and condition is not None:
            words = reason_words(reason, condition.paper)
        self.from_words.setText(f"{counted(len(session.logbook.teachers), 'print')} in this light; how light")
        self.reason.setText(words)
        self.afresh.setText(session.logbook.left_out.words)
        self.set_screen.setVisible(reason is not None and reason.set_to > 0)
        if reason is not None and reason.set_to > 0:
            self.set_screen.setText(f"Set the screen to {reason.set_to:.0f} cd/m²…")
        self.give.setVisible(session.logbook.lesson is not None)


def handed_rows(session: Session) -> list[Told]:
    """What was handed over, the newest first, in its three states; the one the log asks about is marked."""
    held, rings = session.verdicts.held, {"printed": "told", "sent": "read", "written": "empty"}
    rows = []
    for one in reversed(session.handed.all[-_HANDED:]):
        asked = held is not None and bool(held.printed) and (held.take, held.printed) == (one.take, one.when)
        words = f"{one.picture} on {one.paper}: {word('handed', one.state)}{'; asked about' if asked else ''}"
        rows.append(Told(moment_words(one.when), words, rings[one.state]))
    return rows


def learnt_rows(tray: LogTray) -> list[LearntBar]:
    """What is shared, then each paper that was printed on in this light, the open one strong."""
    session = tray.session
    take = session.now.take
    if take is None:
        return []
    found = session.logbook.estimates_for(take.condition).get("lightness")
    if found is None:
        return []
    rows = [LearntBar("this screen", -found.shared * _STEP, found.shared_doubt * _STEP, _size(-found.shared), True)]
    for condition in dict.fromkeys([take.condition, *(e.condition for e in session.logbook.teachers)]):
        card = session.shelf.get(condition)
        own = session.logbook.estimates_for(condition).get("lightness")
        if card is not None and own is not None:
            rows.append(LearntBar(card.paper, -own.own * _STEP, own.own_doubt * _STEP, _size(-own.own)))
    return rows[:4]


def _size(steps: float) -> str:
    """A part in words: under half a step it is about nothing."""
    if abs(steps) < 0.5:
        return "about 0"
    return f"{stops_words(steps * _STEP)} {'lighter' if steps > 0 else 'darker'}"


def _point(e: LogEntry, counts: bool) -> TimePoint:
    words = f"{date_words(e.when)}, {e.picture} on {e.condition_name}: {sentence_of(e)}; {word('verdict', e.verdict)}"
    if e.cause:
        words += f"; {word('print_cause', e.cause)}"
    key = "" if e.rendition is None else e.rendition.master
    return TimePoint(e.id, e.when, -missing_of(e, "lightness") * _STEP, key, words, counts)
