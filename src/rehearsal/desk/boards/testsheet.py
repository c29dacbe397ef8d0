"""The test sheet itself: every field a live proof with its number and values; what is pointed at is large beside it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QStackedWidget, QWidget

from rehearsal.core.testsheets.pieces import of_crop, within
from rehearsal.core.testsheets.words import plan_words
from rehearsal.core.values.frame import Crop
from rehearsal.core.values.testplan import PatchSaid
from rehearsal.core.values.words import date_words
from rehearsal.desk import theme
from rehearsal.desk.boards.base import ProofBoard, pane
from rehearsal.desk.parts.focus import dress
from rehearsal.desk.parts.images import paper_colour, rgb_image
from rehearsal.desk.parts.paperanswers import PaperAnswer
from rehearsal.desk.parts.pieceview import PieceView
from rehearsal.desk.parts.testdrawing import TestDrawing
from rehearsal.desk.parts.widgets import quiet
from rehearsal.tasks.testsheets import WorkedOut

#: Papers beside each other.
_ACROSS = 3


class TestSheetBoard(ProofBoard):
    """At the left the untouched print with its pieces, or what is pointed at; at the right the sheet as it will be printed, or was."""

    __test__ = False

    title = "Test sheet"
    with_tray = True
    follows = (
        "take",
        "picture",
        "conditions",
        "takes",
        "test_plan",
        "test_look",
        "test_point",
        "test_sheets",
        "look",
        "road",
        "judgement",
    )

    def build(self) -> None:
        """Two panes under their names."""
        self.sentence.hide()
        self.left_name, self.left_state = QLabel(), quiet()
        self.right_name, self.right_state = QLabel(), quiet()
        self.view = PieceView()
        self.view.placed.connect(self._place)
        self.drawing = TestDrawing()
        testing = self.session.testing
        self.drawing.pointed.connect(testing.point)
        self.drawing.chosen.connect(self._choose)
        self.papers = QWidget()
        self._grid = QGridLayout(self.papers)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(theme.px(10))
        self.answers: list[PaperAnswer] = []
        self.problem = quiet("", wrap=True)
        self.problem.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.pages = QStackedWidget()
        for page in (self.drawing, self.papers, self.problem):
            self.pages.addWidget(page)
        row = QHBoxLayout()
        row.setSpacing(theme.px(12))
        row.addLayout(pane(self.left_name, self.left_state, self.view), 1)
        row.addLayout(pane(self.right_name, self.right_state, self.pages), 1)
        self.rows.addLayout(row, 1)

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        super().set_room(room)
        dress(room, (self.view, self.drawing))

    # ---- hands

    def _choose(self, numbers: tuple[int, ...]) -> None:
        """On a printed sheet the best field, or the gap it lies in; a plan is only looked at."""
        sheet = self.session.testing.sheet
        if sheet is not None:
            self.session.tested.choose(sheet, numbers)
        elif self.session.testing.planned is not None:
            self.session.bus.say("This sheet is not printed yet: write and print it, let it dry, then choose on it.")

    def _place(self, number: int, piece: Crop) -> None:
        """A piece was moved by hand."""
        rendition, made = self.session.now.rendition, self.session.testing.made
        if rendition is None or made is None or self.session.testing.sheet is not None:
            return
        crop = rendition.frame.crop
        pieces = [*made.pieces]
        pieces[number] = within(piece, crop)
        self.session.testing.wish(pieces=tuple(pieces), whole=False)

    # ---- following

    def refresh(self) -> None:
        """Sheet, print, names."""
        testing = self.session.testing
        if self.session.now.take is None:
            return
        made = testing.made
        self._show_right(made)
        self._show_left(made)

    def _show_right(self, made: WorkedOut | None) -> None:
        testing, sheet = self.session.testing, self.session.testing.sheet
        self.right_name.setText(testing.title)
        self.right_state.setText("" if sheet is None else f"written {date_words(sheet.when[:10])}")
        if made is None:
            trouble = testing.trouble
            self.problem.setText(trouble.words() if trouble is not None else "Working out the steps…")
            self.pages.setCurrentWidget(self.problem)
        elif made.planned.plan.kind == "papers" and made.planned.is_ready:
            self._show_papers(made)
            self.pages.setCurrentWidget(self.papers)
        elif made.page is None:
            proof = made.planned.plan.kind == "proof"
            self.problem.setText("A small proof of the whole was written." if proof else plan_words(made.planned))
            self.pages.setCurrentWidget(self.problem)
        else:
            self.pages.setCurrentWidget(self.drawing)
            best = () if sheet is None else sheet.looked.chosen
            per_mm = self.drawing.scale_of(made.page).per_mm * self.drawing.devicePixelRatioF()
            self.drawing.show_sheet(made, testing.look(per_mm), testing.pointed, best)

    def _show_left(self, made: WorkedOut | None) -> None:
        testing, rendition = self.session.testing, self.session.now.rendition
        picture, condition = self.session.now.picture, self.session.now.condition
        if rendition is None or picture is None or condition is None:
            self.view.show_print(None, 1.5, [], QColor(0xEC, 0xEC, 0xEC))
            return
        crop, pointed = rendition.frame.crop, testing.pointed
        pieces = () if made is None or not made.planned.is_ready else made.pieces
        lies = pointed if testing.variant_at(pointed) is not None else ()
        shown = pieces[0] if lies and pieces else crop
        w, h = picture.size
        proportion = shown.width * w / (shown.height * h)
        rgb = testing.large(lies, shown, self.view.wanted_size(proportion))
        frames = [] if lies else [of_crop(p, crop) for p in pieces]
        image = self.drawing.picture_of(lies) if rgb is None else rgb_image(rgb)
        self.view.show_print(image, proportion, frames, paper_colour(self.session.roads.road))
        master = self.session.now.master
        name = "" if master is None else master.name
        self.left_name.setText(self._pointed_words(made) if pointed else f"{name} on {condition.paper}, untouched")
        what = "its piece, large" if pieces else "the whole"
        self.left_state.setText(
            what if pointed else "drag the frame to another piece" if pieces else "as the print is now"
        )

    def _pointed_words(self, made: WorkedOut | None) -> str:
        """What is pointed at, by its number and values."""
        pointed = self.session.testing.pointed
        if made is None or any(n > len(made.labels) for n in pointed):
            return ""
        if len(pointed) == 1:
            return f"{pointed[0]}  {made.labels[pointed[0] - 1]}"
        variant = self.session.testing.variant_at(pointed)
        return f"Between {pointed[0]} and {pointed[1]}" + (
            "" if variant is not None else ": nothing lies between these two"
        )

    def _show_papers(self, made: WorkedOut) -> None:
        """A card for each paper."""
        variants = made.planned.variants
        names = [(v.number, label) for v, label in zip(variants, made.labels, strict=True)]
        if [(a.number, a.accessibleName()) for a in self.answers] != names:
            self._build_papers(names)
        sheet, crop = self.session.testing.sheet, made.planned.base.frame.crop
        picture = self.session.now.picture
        for card in self.answers:
            place = card.proof
            w, h = (3, 2) if picture is None else picture.size
            proportion = crop.width * w / (crop.height * h)
            wide = min(place.width() - 16, (place.height() - 16) * proportion)
            size = max(9, round(wide)), max(9, round(wide / proportion))
            rgb = self.session.testing.large((card.number,), crop, size)
            white = self.session.testing.paper_rgb(card.number)
            colour = QColor(0xEC, 0xEC, 0xEC) if white is None else QColor(*white)
            said = PatchSaid(card.number) if sheet is None else sheet.looked.of(card.number)
            card.show_answer(None if rgb is None else rgb_image(rgb), colour, said, sheet is not None)

    def _build_papers(self, names: list[tuple[int, str]]) -> None:
        for card in self.answers:
            self._grid.removeWidget(card)
            card.deleteLater()
        self.answers = []
        for i, (number, paper) in enumerate(names):
            card = PaperAnswer(number, paper)
            card.setAccessibleName(paper)
            card.said.connect(lambda key, n=number: self._say(n, key))
            card.why_said.connect(lambda why, n=number: self._say_why(n, why))
            self._grid.addWidget(card, i // _ACROSS, i % _ACROSS)
            self.answers.append(card)

    def _say(self, number: int, key: str) -> None:
        sheet = self.session.testing.sheet
        if sheet is not None:
            self.session.tested.say(sheet, number, key)

    def _say_why(self, number: int, why: str) -> None:
        sheet = self.session.testing.sheet
        if sheet is not None and why.strip() != sheet.looked.of(number).why:
            self.session.tested.say_why(sheet, number, why)
